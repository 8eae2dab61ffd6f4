/** Keys of other layouts, input methods, keys that are held, presses that never end: what people do that no mouse click and no plain key is. */
import { afterAll, describe, expect, test } from "@jest/globals";
import type { Page } from "playwright-core";
import { closeBrowser, eventually, pageWith } from "./support.ts";

afterAll(closeBrowser);

const status = (page: Page): Promise<string> => page.locator("[role=status]").innerText();

/** Presses a key as a layout gives it: what it types, and where it is. */
const pressAs = (page: Page, key: string, code: string, more: Readonly<Record<string, boolean>> = { ctrlKey: true }) =>
  page.evaluate(
    ([name, place, held]) =>
      document.activeElement!.dispatchEvent(
        new KeyboardEvent("keydown", { key: name, code: place, bubbles: true, cancelable: true, ...held }),
      ),
    [key, code, more] as const,
  );

describe("keys", () => {
  async function withForm() {
    const watched = await pageWith(
      `<form name="card"><label>Name <input name="name"></label><label>Count <input name="count" type="number"></label><button>Save</button></form><button command="--check">Check</button><p role="status"></p>`,
    );
    await watched.page.evaluate(() => {
      const { bindPage, command, integer, model, newEntry, newHistory, text } = ironwood;
      const card = newEntry(model({ name: text(), count: integer() }), {
        locale: "en",
        history: newHistory(),
        save: () => {
          kept["saves"] = ((kept["saves"] as number | undefined) ?? 0) + 1;
          card.values.name = `${card.values.name}+`;
        },
      });
      const check = command({
        title: "Check",
        keyShortcuts: "Control+K",
        run: () => void (kept["checks"] = Number(kept["checks"] ?? 0) + 1),
      });
      Object.assign(kept, { card });
      bindPage(document, { card, check });
    });
    return watched;
  }
  const value = (page: Page, name: string) => page.locator(`[name=${name}]`).inputValue();

  for (const [layout, z, a, k] of [
    ["Russian", "я", "ф", "л"],
    ["Greek", "ζ", "α", "κ"],
    ["Arabic", "ئ", "ش", "ن"],
    ["Caps Lock", "Z", "A", "K"],
  ] as const) {
    test(`undo and a shortcut of a command by the keys of a layout: ${layout}`, async () => {
      const { page } = await withForm();
      await page.locator("[name=name]").fill("Alder");
      await page.locator("[name=name]").focus();
      await pressAs(page, z, "KeyZ");
      expect(await value(page, "name")).toBe("");
      await pressAs(page, z, "KeyZ", { ctrlKey: true, shiftKey: true });
      expect(await value(page, "name")).toBe("Alder");
      await pressAs(page, k, "KeyK");
      expect(await page.evaluate(() => kept["checks"])).toBe(1);
    });

    test(`all rows of a grid are selected by the keys of a layout: ${layout}`, async () => {
      const { page } = await pageWith(`<div><table aria-label="Stock"></table></div><p role="status"></p>`);
      await page.evaluate(() => {
        const { bindGrid, model, table, text, view } = ironwood;
        const shown = view(table(model({ name: text() }), [{ name: "a" }, { name: "b" }]));
        Object.assign(kept, { shown });
        bindGrid(document.querySelector("table")!, shown);
      });
      await page.click("tbody td >> nth=2");
      await pressAs(page, a, "KeyA");
      expect(await page.evaluate(() => (kept["shown"] as { selectedCount: number }).selectedCount)).toBe(2);
    });
  }

  test("a layout that has another Latin letter there is respected: Z of a French layout is where W is", async () => {
    const { page } = await withForm();
    await page.locator("[name=name]").fill("Alder");
    await page.locator("[name=name]").focus();
    await pressAs(page, "w", "KeyZ");
    expect(await value(page, "name")).toBe("Alder");
    await pressAs(page, "z", "KeyW");
    expect(await value(page, "name")).toBe("");
  });

  test("arrow keys of an input method are not those of a spinner", async () => {
    const { page } = await withForm();
    await page.locator("[name=count]").fill("3");
    await page.evaluate(() => {
      const box = document.querySelector<HTMLInputElement>("[name=count]")!;
      for (const more of [{ isComposing: true }, { keyCode: 229 }])
        box.dispatchEvent(new KeyboardEvent("keydown", { key: "ArrowUp", bubbles: true, cancelable: true, ...more }));
    });
    expect(await value(page, "count")).toBe("3");
    await page.locator("[name=count]").press("ArrowUp");
    expect(await value(page, "count")).toBe("4");
  });

  test("Enter that is held saves once, and runs a command once; pressed again it saves again", async () => {
    const { page } = await withForm();
    await page.locator("[name=name]").fill("Alder");
    await page.locator("[name=name]").focus();
    for (let each = 0; each < 4; each++) await page.keyboard.down("Enter");
    await page.keyboard.up("Enter");
    expect(await eventually(() => page.evaluate(() => kept["saves"]), 1)).toBe(1);
    await page.keyboard.press("Enter");
    expect(await eventually(() => page.evaluate(() => kept["saves"]), 2)).toBe(2);
    await page.keyboard.down("Control");
    for (let each = 0; each < 4; each++) await page.keyboard.down("k");
    await page.keyboard.up("k");
    await page.keyboard.up("Control");
    expect(await page.evaluate(() => kept["checks"])).toBe(1);
    await page.locator("[command]").focus();
    for (let each = 0; each < 4; each++) await page.keyboard.down("Enter");
    await page.keyboard.up("Enter");
    expect(await page.evaluate(() => kept["checks"])).toBe(2);
  });
});

describe("presses", () => {
  test("one that a menu of the platform swallows does not keep problems from showing", async () => {
    const { page } = await pageWith(
      `<form name="card"><label>Name <input name="name"></label><label>Count <input name="count"></label></form><p role="status"></p>`,
    );
    await page.evaluate(() => {
      const { bindPage, integer, model, newEntry, text } = ironwood;
      bindPage(document, {
        card: newEntry(model({ name: text(), count: integer() }), { locale: "en", save: () => undefined }),
      });
    });
    await page.locator("[name=count]").fill("many");
    await page.evaluate(() => document.body.dispatchEvent(new PointerEvent("pointerdown", { bubbles: true })));
    await page.keyboard.press("Shift+Tab");
    expect(await page.locator("[data-problem]").allInnerTexts()).toEqual([expect.stringContaining("number")]);
  });

  test("a slider that is pressed where it stands has that value; a press on its label sets nothing", async () => {
    const { page } = await pageWith(
      `<form name="card"><label for="it">Height</label> <input id="it" type="range" name="height"></form><p role="status"></p>`,
    );
    await page.evaluate(() => {
      const { bindPage, integer, model, newEntry } = ironwood;
      const card = newEntry(model({ height: integer({ minimum: 0, maximum: 100 }) }), {
        locale: "en",
        save: () => undefined,
      });
      Object.assign(kept, { card });
      bindPage(document, { card });
    });
    const height = () => page.evaluate(() => (kept["card"] as { values: { height?: number } }).values.height);
    await page.click("label");
    expect(await height()).toBeUndefined();
    const box = (await page.locator("#it").boundingBox())!;
    await page.mouse.click(box.x + 6, box.y + box.height / 2);
    expect(await height()).toBe(0);
  });

  test("sliders, spinners and meters end where right values end", async () => {
    const { page } = await pageWith(
      `<form name="card"><label>Height <input type="range" name="height"></label><label>Price <input type="number" name="price"></label>
      <label>Girth <input type="number" name="girth"></label><meter data-name="height"></meter></form><p role="status"></p>`,
    );
    await page.evaluate(() => {
      const { bindPage, decimal, integer, model, newEntry, number } = ironwood;
      const card = newEntry(
        model({
          height: integer({ exclusiveMinimum: 0, exclusiveMaximum: 100, multipleOf: 5 }),
          price: decimal({ exclusiveMinimum: "0", maximum: "2.30", multipleOf: "0.25" }),
          girth: number({ exclusiveMinimum: 0, maximum: 400 }),
        }),
        { locale: "en", save: () => undefined },
      );
      bindPage(document, { card });
    });
    const attributes = (selector: string, ...names: string[]): Promise<(string | null)[]> =>
      page.$eval(selector, (element, all) => all.map((name) => element.getAttribute(name)), names);
    expect(await attributes("[name=height]", "min", "max", "step")).toEqual(["5", "95", "5"]);
    expect(await attributes("meter", "min", "max")).toEqual(["5", "95"]);
    expect(await attributes("[name=price]", "aria-valuemin", "aria-valuemax")).toEqual(["0.25", "2.25"]);
    expect(await attributes("[name=girth]", "aria-valuemin", "aria-valuemax")).toEqual(["0", "400"]);
    await page.focus("[name=price]");
    for (const [key, value] of [
      ["ArrowUp", "0.25"],
      ["ArrowDown", "0.25"],
      ["PageUp", "2.25"],
      ["ArrowUp", "2.25"],
    ] as const) {
      await page.keyboard.press(key);
      expect([key, await page.inputValue("[name=price]")]).toEqual([key, value]);
    }
    await page.focus("[name=height]");
    await page.keyboard.press("End");
    await page.keyboard.press("ArrowRight");
    expect([await page.inputValue("[name=height]"), await page.locator("[data-problem]").count()]).toEqual(["95", 0]);
  });

  test("several files for one are refused in words, and the one before stays", async () => {
    const { page } = await pageWith(
      `<form name="card"><label>Picture <input type="file" name="picture" multiple></label></form><p role="status"></p>`,
    );
    await page.evaluate(() => {
      const { bindPage, file, model, newEntry } = ironwood;
      const card = newEntry(model({ picture: file() }), { locale: "en", save: () => undefined });
      Object.assign(kept, { card });
      bindPage(document, { card }, { strict: false });
    });
    const picked = (...names: string[]) =>
      names.map((name) => ({ name, mimeType: "text/plain", buffer: Buffer.from(name) }));
    const picture = () =>
      page.evaluate(() => (kept["card"] as { values: { picture?: { name: string } } }).values.picture?.name);
    await page.setInputFiles("[type=file]", picked("a.txt"));
    expect(await picture()).toBe("a.txt");
    await page.setInputFiles("[type=file]", picked("b.txt", "c.txt"));
    expect(await status(page)).toBe("Choose only one file. None of these was taken.");
    expect(await picture()).toBe("a.txt");
    expect(await page.evaluate(() => document.querySelector<HTMLInputElement>("[type=file]")!.files![0]!.name)).toBe(
      "a.txt",
    );
  });
});

describe("a combo box", () => {
  async function withCombo(extra = "") {
    const watched = await pageWith(
      `<form name="card"><label>Species <input name="species"></label><label>Notes <input name="notes"></label><button>Save</button></form><p role="status"></p>`,
    );
    await watched.page.evaluate((what) => {
      const { bindPage, choiceSearch, model, newEntry, oneOf, text } = ironwood;
      const all = Array.from({ length: 60 }, (_, at) => ({
        const: `s${at}`,
        title: `Species ${at} with a caption that is longer than any field of this form is wide`,
      }));
      const asked: string[] = [];
      const species =
        what === "service"
          ? oneOf(
              choiceSearch(async (typed: string) => {
                asked.push(typed);
                await new Promise((done) => setTimeout(done, 120));
                return all.filter(({ const: value }) => value === typed);
              }) as never,
            )
          : oneOf(all as never);
      const card = newEntry(model({ species: species as never, notes: text() }), {
        locale: "en",
        save: (row: object) => void ((kept["saved"] as object[] | undefined) ??= []).push(row),
      });
      Object.assign(kept, { card, asked });
      bindPage(document, { card });
    }, extra);
    return watched;
  }
  const here = (page: Page) => page.evaluate(() => (document.activeElement as HTMLInputElement).name);

  test("Tab goes to the next control while its list scrolls, and takes what is marked", async () => {
    const { page } = await withCombo();
    await page.locator("[name=species]").focus();
    await page.keyboard.press("ArrowDown");
    await page.locator("[role=option] >> nth=3").waitFor();
    await page.keyboard.press("ArrowDown");
    await page.keyboard.press("Tab");
    expect(["notes", ""]).toContain(await here(page));
    expect(await page.evaluate(() => (kept["card"] as { values: { species?: string } }).values.species)).toBe("s1");
    expect(await page.evaluate(() => document.activeElement !== document.body)).toBe(true);
  });

  test("a long caption is one line of its own: no two overlap, and the list is as wide as it needs", async () => {
    const { page } = await withCombo();
    await page.addStyleTag({ content: "[role=option] { white-space: normal; }" });
    await page.locator("[name=species]").click();
    await page.locator("[role=option] >> nth=3").waitFor();
    const boxes = await page.locator("[role=option]:visible").evaluateAll((all) =>
      all.map((each) => ({
        top: each.getBoundingClientRect().top,
        bottom: each.getBoundingClientRect().top + each.scrollHeight,
      })),
    );
    for (const [at, { top }] of boxes.entries())
      if (at > 0) expect(top).toBeGreaterThanOrEqual(boxes[at - 1]!.bottom - 1);
    const cut = await page.locator("[role=option] >> nth=0").evaluate((each) => each.scrollWidth > each.clientWidth);
    expect(cut).toBe(false);
  });

  test("a scanner's text with Enter at once is looked for first, and then saved", async () => {
    const { page } = await withCombo("service");
    await page.locator("[name=species]").focus();
    await page.waitForTimeout(200);
    await page.keyboard.type("s7");
    await page.keyboard.press("Enter");
    await page.waitForFunction(() => kept["saved"] !== undefined);
    expect(await page.evaluate(() => kept["saved"])).toEqual([{ species: "s7", notes: "" }]);
  });

  test("keys that are pressed while its list is loaded are kept and applied", async () => {
    const { page } = await withCombo();
    await page.evaluate(() => {
      const box = document.querySelector<HTMLInputElement>("[name=species]")!;
      box.focus();
      for (const key of ["ArrowDown", "ArrowDown", "Enter"])
        box.dispatchEvent(new KeyboardEvent("keydown", { key, bubbles: true, cancelable: true }));
    });
    const species = () => page.evaluate(() => (kept["card"] as { values: { species?: string } }).values.species);
    expect(await eventually(species, "s1")).toBe("s1");
  });
});

describe.each([1, 4])("a select of %d lines", (size) => {
  test("shows what its field holds after each key, where nobody may choose and where the choice is answered with another", async () => {
    for (const isLocked of [true, false]) {
      const { page } = await pageWith(
        `<form name="card"><select name="species" size="${size}" aria-label="Species"></select></form>`,
      );
      await page.evaluate((locked) => {
        const { bindPage, follow, model, newEntry, oneOf } = ironwood;
        const card = newEntry(model({ species: oneOf(["Acer", "Betula", "Tilia"]) }), {
          values: { species: "Tilia" },
          readOnly: () => locked,
          save: () => undefined,
        });
        follow(
          () => card.values.species,
          (species) => {
            if (species === "Betula" || species === "Acer") card.values.species = "Tilia";
          },
        );
        bindPage(document, { card });
        kept["card"] = card;
      }, isLocked);
      const [shows, holds] = [
        () => page.locator("select").inputValue(),
        () => page.evaluate(() => (kept["card"] as { values: { species: string | undefined } }).values.species),
      ];
      await page.focus("select");
      if (size > 1) await page.click("option:has-text('Acer')", { force: true });
      // A key may find the choice that was pressed, of which the platform tells nothing any more.
      for (const key of ["A", "c", "e", "ArrowUp", "Home", "B", "e", "t"]) {
        await page.keyboard.press(key);
        const now = await holds();
        expect([isLocked, key, await shows()]).toEqual([isLocked, key, now ?? ""]);
        if (isLocked) expect([key, now]).toEqual([key, "Tilia"]);
      }
    }
  });
});
