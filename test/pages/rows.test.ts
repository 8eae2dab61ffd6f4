/** Rows of a table on a page. */
import { afterAll, describe, expect, test } from "@jest/globals";
import type { Page } from "playwright-core";
import { closeBrowser, pageWith } from "./support.ts";

afterAll(closeBrowser);

const list = `<ul id="beds"><template><li><b data-name="code">no code</b> <span data-name="plants">none</span> <i data-name="each"></i> <button>Dig</button></li></template></ul>`;
const lines = (page: Page): Promise<string[]> => page.locator("#beds > li").allInnerTexts();

async function withBeds(): Promise<{ page: Page; errors: string[] }> {
  const watched = await pageWith(list);
  await watched.page.evaluate(() => {
    const { bindRows, model, number, oneOf, table, text, view } = ironwood;
    const bed = model(
      {
        code: text({ required: true }),
        plants: number({ unit: "liter" }),
        soil: oneOf([{ const: "c", title: "Clay" }]),
        each: number({ display: { maximumFractionDigits: 1 } }),
      },
      { key: "code", title: "Bed" },
    ).calculated({ each: (b) => (b.plants ?? 0) / 3 });
    const beds = table(
      bed,
      [
        { code: "B", plants: 10, soil: undefined, each: 0 },
        { code: "A", plants: undefined, soil: "c", each: 0 },
      ] as never,
      {
        locale: "de",
      },
    );
    const sorted = view(beds, { orderBy: "code" });
    kept["beds"] = beds;
    kept["sorted"] = sorted;
    kept["bound"] = bindRows(document.querySelector("#beds")!, sorted);
  });
  return watched;
}

describe("rows by a template", () => {
  test("each is shown in the table's language, in the order of the view, with the stand-in of the page where it is blank", async () => {
    const { page, errors } = await withBeds();
    expect(await lines(page)).toEqual(["A none 0 Dig", "B 10 l 3,3 Dig"]);
    expect(errors).toEqual([]);
  });

  test("a change moves and fills only what it concerns: copies stay with their rows, and so does the focus", async () => {
    const { page } = await withBeds();
    const outcome = await page.evaluate(() => {
      const beds = kept["beds"] as {
        insert(row: object): unknown;
        update(key: string, row: object): unknown;
        delete(key: string): void;
      };
      const items = () => [...document.querySelectorAll("#beds > li")];
      const [a, b] = items();
      a!.querySelector("button")!.focus();
      beds.insert({ code: "AB" });
      beds.update("B", { code: "0", plants: 7 });
      const after = items();
      return [
        after.map((item) => item.textContent.replace(/\s+/g, " ").trim()),
        after[1] === a,
        after.includes(b!),
        document.activeElement === a!.querySelector("button"),
      ];
    });
    expect(outcome).toEqual([["0 7 l 2,3 Dig", "A none 0 Dig", "AB none 0 Dig"], true, true, true]);
  });

  test("a transaction is shown once, what is released is gone, and nothing follows any more", async () => {
    const { page } = await withBeds();
    const outcome = await page.evaluate(async () => {
      const { transaction } = ironwood;
      const beds = kept["beds"] as { insert(row: object): unknown; delete(key: string): void };
      let changes = 0;
      const watching = new MutationObserver((records) => (changes += records.length));
      watching.observe(document.querySelector("#beds")!, { childList: true });
      transaction(() => {
        beds.insert({ code: "C" });
        beds.delete("C");
        beds.insert({ code: "D" });
      });
      await new Promise((done) => setTimeout(done));
      const shown = changes;
      (kept["bound"] as { stop(): void }).stop();
      beds.insert({ code: "E" });
      return [shown, document.querySelectorAll("#beds > li").length];
    });
    expect(outcome).toEqual([1, 0]);
  });

  test("a row without controls is chosen by a press and by keys, stays chosen where it goes, and leaves the focus to the next", async () => {
    const { page } = await withBeds();
    await page.evaluate(() => {
      const { bindRows } = ironwood;
      const beds = kept["beds"] as { insert(row: object): void };
      for (const code of ["C", "D"]) beds.insert({ code });
      (kept["bound"] as { stop(): void }).stop();
      kept["bound"] = bindRows(document.querySelector("#beds")!, kept["sorted"] as never, { choose: true });
    });
    const state = (): Promise<unknown> =>
      page.evaluate(() => [
        (kept["sorted"] as { currentKey: string | undefined }).currentKey,
        document.querySelector("#beds > [aria-current]")?.querySelector("b")?.textContent,
        document.activeElement?.querySelector(":scope > b")?.textContent,
        [...document.querySelectorAll<HTMLElement>("#beds > li")].map(({ tabIndex }) => tabIndex).join(),
      ]);
    expect(await state()).toEqual([undefined, undefined, undefined, "0,-1,-1,-1"]);
    await page.locator("#beds b", { hasText: "B" }).click();
    expect(await state()).toEqual(["B", "B", "B", "-1,0,-1,-1"]);
    const keys = ["ArrowDown", "ArrowDown", "ArrowDown", "Home", "ArrowUp", "End", "ArrowUp"];
    const seen: unknown[] = [];
    for (const key of keys) {
      await page.keyboard.press(key);
      seen.push(((await state()) as unknown[])[0]);
    }
    expect(seen).toEqual(["C", "D", "D", "A", "A", "D", "C"]);
    // A button inside is pressed as before, and its row is the current one.
    await page.locator("#beds > li", { hasText: "A" }).locator("button").click();
    expect(((await state()) as unknown[])[0]).toBe("A");
    await page.keyboard.press("ArrowDown");
    expect(((await state()) as unknown[])[0]).toBe("A");
    await page.locator("#beds b", { hasText: "C" }).click();
    await page.evaluate(() => (kept["beds"] as { delete(key: string): void }).delete("C"));
    await page.waitForFunction(() => document.activeElement?.querySelector("b")?.textContent === "D");
    expect(await state()).toEqual(["D", "D", "D", "-1,-1,0"]);
    await page.evaluate(() => {
      (kept["sorted"] as { currentKey: string | undefined }).currentKey = undefined;
    });
    expect(((await state()) as unknown[])[3]).toBe("0,-1,-1");
    const refused = await page.evaluate(() => {
      const host = document.createElement("ul");
      host.innerHTML = `<template><li><input name="plants"></li></template>`;
      try {
        ironwood.bindRows(host, kept["sorted"] as never, { choose: true });
        return "";
      } catch (error) {
        return String(error);
      }
    });
    expect(refused).toMatch(/choose: true.*a template with no controls/);
  });

  test("hostile text is text; a mistake in the template is named with its place and the nearest name", async () => {
    const { page } = await withBeds();
    const outcome = await page.evaluate(() => {
      const { bindRows } = ironwood;
      (kept["beds"] as { insert(row: object): unknown }).insert({ code: "<img src=x onerror=alert(1)>" });
      const beds = document.querySelector("#beds")!;
      const failed = (html: string): string => {
        const other = document.createElement("ul");
        other.id = "other";
        other.innerHTML = html;
        try {
          bindRows(other, kept["sorted"] as never);
          return "bound";
        } catch (error) {
          return (error as Error).message;
        }
      };
      return [
        beds.querySelectorAll("img").length,
        failed("<template><li data-name='cod'></li></template>"),
        failed("<li></li>"),
      ];
    });
    expect(outcome[0]).toBe(0);
    expect(outcome[1]).toMatch(/"cod".*<ul id="other">.*code/s);
    expect(outcome[2]).toMatch(/<ul id="other"> has no template.*<template> right inside it, with one element/s);
  });
});

const tasks = `
  <form name="order"><label>What <input name="what"></label><label>Place <input name="place"></label>
    <ul id="tasks"><template><li>
      <details name="more"><summary>More</summary></details><label for="t">Task</label> <input id="t" name="what" aria-describedby="hint"> <small id="hint">Say it in short.</small>
      <label><input type="checkbox" name="done"> Done</label>
      <span role="radiogroup" aria-label="When"><label><input type="radio" name="when" value="am"> am</label>
        <label><input type="radio" name="when" value="pm"> pm</label></span>
      <input name="minutes" aria-label="Minutes"> <output data-name="hours"></output>
      <button type="button" command="--strike"></button>
    </li></template></ul>
    <button>Save</button></form><p role="status"></p>`;

interface Tasks {
  get(key: number): Record<string, unknown> | undefined;
  insert(row: object): unknown;
  update(key: number, changes: object): unknown;
  readonly history: { undo(): unknown } | undefined;
}

async function withTasks(options: { edit?: "row" | "cell"; html?: string } = {}) {
  const watched = await pageWith(options.html ?? tasks);
  const { page } = watched;
  await page.evaluate(({ edit }) => {
    const {
      bindPage,
      bindRows,
      boolean,
      command,
      integer,
      model,
      newEntry,
      newHistory,
      number,
      oneOf,
      table,
      text,
      view,
    } = ironwood;
    const task = model(
      {
        id: integer({ required: true }),
        place: integer(),
        what: text({ title: "What", required: true }),
        done: boolean(),
        when: oneOf(["am", "pm"]),
        minutes: number({ title: "Minutes", minimum: 1 }),
      },
      { title: "Task", key: "id" },
    ).calculated({ hours: (t) => (t.minutes ?? 0) / 60 });
    const rows = ["Dig", "Plant", "Water"].map((what, place) => ({
      id: place + 1,
      place: place + 1,
      what,
      done: false,
    }));
    const all = table(task, rows as never, { locale: "en", history: newHistory() });
    const shown = view(all, { orderBy: "place" });
    const strike = command(task, { title: ({ what }) => `Strike ${what}`, run: ({ row }) => void all.delete(row.id) });
    const order = newEntry(model({ what: text(), place: text() }), { save: (row) => void (kept["saved"] = row) });
    Object.assign(kept, { all, shown, order, strike });
    kept["bound"] = bindRows(document.querySelector("#tasks")!, shown, { edit, commands: { strike } });
    kept["page"] = bindPage(document, { order });
  }, options);
  const row = (id: number): Promise<Record<string, unknown> | undefined> =>
    page.evaluate((key) => (kept["all"] as Tasks).get(key), id);
  const item = (place: number) => page.locator("#tasks > li").nth(place);
  return { ...watched, row, item };
}

describe("rows that are edited in a template", () => {
  test("text, tick, radio buttons and numbers are in the table once the row is left, not before", async () => {
    const { item, row, errors } = await withTasks();
    await item(0).locator("[name=what]").fill("Dig holes");
    await item(0).getByRole("checkbox").check();
    await item(0).getByRole("radio", { name: "pm" }).check();
    await item(0).locator("[name=minutes]").fill("90");
    expect(await row(1)).toMatchObject({ what: "Dig", done: false });
    expect(await item(0).getAttribute("data-changed")).toBe("");
    expect(await item(0).getByRole("status").innerText()).toBe("1.5");
    await item(1).locator("[name=what]").focus();
    expect(await row(1)).toMatchObject({ what: "Dig holes", done: true, when: "pm", minutes: 90 });
    expect(await item(0).getAttribute("data-changed")).toBeNull();
    expect([await item(0).getAttribute("aria-current"), await item(1).getAttribute("aria-current")]).toEqual([
      null,
      "true",
    ]);
    expect(errors).toEqual([]);
  });

  test("each copy has radio groups, ids and references of its own", async () => {
    const { page, item, row } = await withTasks({ edit: "cell" });
    for (const place of [0, 1, 2])
      await item(place)
        .getByRole("radio", { name: place === 1 ? "am" : "pm" })
        .check();
    expect(await page.locator("#tasks input[type=radio]:checked").count()).toBe(3);
    expect([(await row(1))?.["when"], (await row(2))?.["when"], (await row(3))?.["when"]]).toEqual(["pm", "am", "pm"]);
    const facts = await page.evaluate(() => {
      const inputs = [...document.querySelectorAll<HTMLInputElement>("#tasks [name=what]")];
      const ids = [...document.querySelectorAll("[id]")].map(({ id }) => id);
      return {
        labelled: inputs.every((input) => input.labels?.[0]?.textContent === "Task"),
        described: inputs.map((input) =>
          document.getElementById(input.getAttribute("aria-describedby")!)?.closest("li"),
        ),
        own: inputs.every((input) =>
          input.closest("li")!.contains(document.getElementById(input.getAttribute("aria-describedby")!)),
        ),
        unique: new Set(ids).size === ids.length,
      };
    });
    expect(facts).toMatchObject({ labelled: true, own: true, unique: true });
  });

  test("what can't be read or is missing stays in the row, marked and said; Escape takes back the control, then the row", async () => {
    const { page, item, row } = await withTasks();
    await item(1).locator("[name=what]").fill("");
    await item(1).locator("[name=minutes]").fill("soon");
    await item(0).locator("[name=what]").focus();
    expect(await row(2)).toMatchObject({ what: "Plant" });
    expect(await item(1).getAttribute("data-wrong")).toBe("");
    expect(await item(1).locator("[name=minutes]").inputValue()).toBe("soon");
    expect(await item(1).locator("[data-problem=badInput]").count()).toBe(1);
    expect(await page.locator("body > [role=status]").innerText()).toBe("Task 2 is not saved: Enter a value.");
    await item(1).locator("[name=minutes]").press("Escape");
    expect(await item(1).locator("[name=minutes]").inputValue()).toBe("");
    expect(await item(1).locator("[name=what]").inputValue()).toBe("");
    await item(1).locator("[name=minutes]").press("Escape");
    expect(await item(1).locator("[name=what]").inputValue()).toBe("Plant");
    expect(await item(1).getAttribute("data-wrong")).toBeNull();
  });

  test("names inside are relative to the row: the form round it keeps its own controls of the same names", async () => {
    const { page, item, row, errors } = await withTasks();
    await page.fill("form > label > [name=what]", "An order");
    await item(2).locator("[name=what]").fill("Water well");
    // What is added and taken out later is none of the form's business either.
    await page.evaluate(() => (kept["all"] as Tasks).insert({ id: 4, place: 4, what: "Mulch" }));
    await page.getByRole("button", { name: "Save" }).click();
    expect(await page.evaluate(() => kept["saved"])).toEqual({ what: "An order", place: "" });
    expect(await row(3)).toMatchObject({ what: "Water well" });
    expect(await item(3).locator("[name=what]").inputValue()).toBe("Mulch");
    // Enter in a row saves the form round it, and the row is in its table by then.
    await item(3).locator("[name=what]").fill("Mulch it");
    await page.keyboard.press("Enter");
    expect(await row(4)).toMatchObject({ what: "Mulch it" });
    expect(await page.inputValue("form > label > [name=what]")).toBe("An order");
    expect(errors).toEqual([]);
  });

  test("each control at once, with edit: cell; Ctrl+Z takes it back in the table", async () => {
    const { page, item, row } = await withTasks({ edit: "cell" });
    await item(0).getByRole("checkbox").check();
    expect(await row(1)).toMatchObject({ done: true });
    await item(0).locator("[name=what]").fill("Dig deep");
    await item(0).locator("[name=minutes]").focus();
    expect(await row(1)).toMatchObject({ what: "Dig deep" });
    await page.keyboard.press("Control+z");
    expect(await row(1)).toMatchObject({ what: "Dig", done: true });
    expect(await item(0).locator("[name=what]").inputValue()).toBe("Dig");
    await page.keyboard.press("Control+z");
    expect(await row(1)).toMatchObject({ done: false });
  });

  test("a button runs its command for its own row; who was in a row that is gone is in the next, and at last in the list", async () => {
    const { page, item, errors } = await withTasks();
    const strike = (name: string) => page.getByRole("button", { name: `Strike ${name}` });
    await strike("Plant").focus();
    await page.keyboard.press("Enter");
    expect(await page.locator("#tasks > li").count()).toBe(2);
    expect(await page.evaluate(() => document.activeElement?.textContent)).toBe("Strike Water");
    await page.keyboard.press("Enter");
    expect(await page.evaluate(() => document.activeElement?.textContent)).toBe("Strike Dig");
    await page.keyboard.press("Enter");
    expect(await page.evaluate(() => document.activeElement?.id)).toBe("tasks");
    expect(await item(0).count()).toBe(0);
    expect(errors).toEqual([]);
  });

  test("Escape at a button of a row takes back what was entered in the row", async () => {
    const { page, item, errors } = await withTasks();
    await item(1).locator("[name=what]").fill("Plant out");
    await item(1).getByRole("button").focus();
    await page.keyboard.press("Escape");
    expect(await item(1).locator("[name=what]").inputValue()).toBe("Plant");
    await page.keyboard.press("Escape");
    expect(errors).toEqual([]);
  });

  test("a change elsewhere is seen in the row, and what is typed meanwhile stays; a row that moves keeps the focus", async () => {
    const { page, item, row } = await withTasks();
    await item(0).locator("[name=minutes]").fill("30");
    await page.evaluate(() => (kept["all"] as Tasks).update(1, { what: "Dig here", place: 9 }));
    expect(await item(0).locator("[name=what]").inputValue()).toBe("Dig here");
    expect(await page.evaluate(() => (document.activeElement as HTMLInputElement).name)).toBe("minutes");
    await page.keyboard.press("Escape");
    // It is not held any more, and goes where it belongs.
    await page.waitForFunction(() =>
      document.querySelector("#tasks > li:last-child")?.contains(document.activeElement),
    );
    expect(await row(1)).toMatchObject({ what: "Dig here" });
    expect((await row(1))?.["minutes"]).toBeUndefined();
  });

  test("what is typed is not lost when the rows are shown by another condition, or replaced", async () => {
    const { page, item, row, errors } = await withTasks();
    await item(0).locator("[name=what]").fill("");
    await item(1).locator("[name=what]").fill("Plant trees");
    await page.evaluate(() => {
      (kept["shown"] as { where: unknown }).where = ({ id }: { id: number }) => id === 3;
    });
    const whats = () => page.$$eval("#tasks [name=what]", (all) => all.map((each) => (each as HTMLInputElement).value));
    expect(await whats()).toEqual(["", "Plant trees", "Water"]);
    await item(2).locator("[name=what]").focus();
    expect(await row(2)).toMatchObject({ what: "Plant trees" });
    expect(await whats()).toEqual(["", "Water"]);
    await page.evaluate(() =>
      (kept["all"] as { load(rows: object[]): unknown }).load([{ id: 3, place: 1, what: "New" }]),
    );
    await page.waitForFunction(() => document.querySelectorAll("#tasks > li").length === 1);
    expect(await whats()).toEqual(["New"]);
    await item(0).locator("[name=what]").fill("Newer");
    await item(0).locator("[name=minutes]").focus();
    await page.locator("form > label > [name=what]").focus();
    expect(await row(3)).toMatchObject({ what: "Newer" });
    expect(errors).toEqual([]);
  });

  test("mistakes in the template are named with place and nearest name; contradictions are reported", async () => {
    const { page } = await withTasks();
    const failed = await page.evaluate(() => {
      const { bindRows } = ironwood;
      const { shown, strike } = kept as { shown: never; strike: never };
      return [
        "<template><li><input name=wat></li></template>",
        "<template><li><button command=--stike>x</button></li></template>",
        "<template><li><select name=minutes></select><input name=what required></li></template>",
      ].map((html) => {
        const list = document.createElement("ul");
        list.id = "other";
        list.innerHTML = html;
        try {
          bindRows(list, shown, { strict: true, commands: { strike } });
          return "bound";
        } catch (error) {
          return (error as Error).message;
        }
      });
    });
    expect(failed[0]).toMatch(/"wat".*the template in <ul id="other">.*"what"/s);
    expect(failed[1]).toMatch(/"stike".*the template in <ul id="other">.*"strike"/s);
    expect(failed[2]).toMatch(/<select name="minutes">.*unsuitedControl/s);
  });

  test("what is released leaves no copy, listener or entry, and its rows are in the table", async () => {
    const { page, item, row } = await withTasks();
    await item(0).locator("[name=what]").fill("Dig on");
    const left = await page.evaluate(() => {
      const { all } = kept as { all: never };
      const before = ironwood.editEntry(all, 1 as never) as unknown;
      (kept["bound"] as { stop(): void }).stop();
      const after = ironwood.editEntry(all, 1 as never) as unknown;
      return [
        document.querySelectorAll("#tasks > li").length,
        (before as { changed: boolean }).changed,
        before === after,
      ];
    });
    expect(left).toEqual([0, false, false]);
    expect(await row(1)).toMatchObject({ what: "Dig on" });
  });
});
