/** Commands, questions and conditions on a page of any form. */
import { afterAll, describe, expect, test } from "@jest/globals";
import type { Page } from "playwright-core";
import { accessibilityViolations, closeBrowser, pageWith } from "./support.ts";

afterAll(closeBrowser);

const status = (page: Page): Promise<string> => page.locator("[role=status]").innerText();
const focused = (page: Page): Promise<string> =>
  page.evaluate(
    () => document.activeElement!.id || document.activeElement!.textContent || document.activeElement!.localName,
  );

describe("buttons of commands", () => {
  test("the caption and the icon follow the state, beside a picture that stays; a title that is a text is for buttons without one", async () => {
    const { page } = await pageWith(
      `<button command="--gate"><svg width="8" height="8"></svg> Gate</button><button command="--print">Print it</button><button command="--copy"></button>`,
    );
    const buttons = () =>
      page
        .locator("button")
        .evaluateAll((all) =>
          all.map(
            (each) => `${each.textContent.trim()} ${each.getAttribute("data-icon") ?? ""} ${each.children.length}`,
          ),
        );
    await page.evaluate(() => {
      const { bindPage, boolean, command, model, newEntry } = ironwood;
      const gate = newEntry(model({ open: boolean({ saved: false }) }));
      bindPage(document, {
        gate: command({
          title: () => (gate.values.open ? "Shut the gate" : "Open the gate"),
          icon: () => (gate.values.open ? "open" : "shut"),
          run: () => void (gate.values.open = !gate.values.open),
        }),
        print: command({ title: "Print", run: () => undefined }),
        copy: command({ title: "Copy", run: () => undefined }),
      });
    });
    expect(await buttons()).toEqual(["Open the gate shut 1", "Print it  0", "Copy  0"]);
    await page.locator("button").first().click();
    expect(await buttons()).toEqual(["Shut the gate open 1", "Print it  0", "Copy  0"]);
  });

  test("keys run a command wherever the focus is, unless it is not there, or a control uses the key itself", async () => {
    const { page } = await pageWith(
      `<form name="card"><input name="tag" id="tag"></form><button command="--fell">Fell</button><button command="--help">Help</button><p role="status"></p>`,
    );
    await page.evaluate(() => {
      const { bindPage, command, model, newEntry, text } = ironwood;
      const card = newEntry(model({ tag: text({ tidy: { trim: true, letters: "upper" } }) }));
      bindPage(document, {
        card,
        fell: command({
          keyShortcuts: "Control+Delete Alt+F",
          relevant: () => card.values.tag !== "OAK",
          run: () => `Felled ${card.values.tag}.`,
        }),
        help: command({ keyShortcuts: "?", allowed: () => "There is no help.", run: () => undefined }),
      });
    });
    expect(await page.getAttribute("[command='--fell']", "aria-keyshortcuts")).toBe("Control+Delete Alt+F");
    await page.fill("#tag", " elm ");
    await page.press("#tag", "Alt+f");
    expect(await status(page)).toBe("Felled ELM.");
    await page.press("#tag", "Control+Shift+Delete");
    await page.press("#tag", "Shift+?");
    expect([await page.inputValue("#tag"), await status(page)]).toEqual([" elm ?", "Felled ELM."]);
    await page.locator("#tag").blur();
    await page.keyboard.press("Shift+?");
    expect(await status(page)).toBe("There is no help.");
    await page.fill("#tag", "oak");
    await page.press("#tag", "Control+Delete");
    expect([await status(page), await page.isVisible("[command='--fell']")]).toEqual(["There is no help.", false]);
  });

  test("Enter runs the default command, which need not save, with what was typed", async () => {
    const { page } = await pageWith(
      `<form name="search"><input name="tag" id="tag"><button type="submit" command="--find">Find</button><button>Save</button></form><p role="status"></p>`,
    );
    await page.evaluate(() => {
      const { bindPage, command, model, newEntry, text } = ironwood;
      const search = newEntry(model({ tag: text({ tidy: { trim: true } }) }), { save: () => "Saved." });
      bindPage(document, { search, find: command({ run: () => `Found "${search.values.tag}".` }) });
    });
    await page.locator("#tag").focus();
    await page.keyboard.type(" AB-1 ");
    await page.keyboard.press("Enter");
    await page.waitForFunction(() => document.querySelector("[role=status]")!.textContent !== "");
    expect(await status(page)).toBe('Found "AB-1".');
    await page.getByText("Save").click();
    await page.waitForFunction(() => document.querySelector("[role=status]")!.textContent === "Saved.");
  });

  test("the same command on several buttons and from code is one: busy everywhere, once, with its progress in the form", async () => {
    const { page } = await pageWith(
      `<form name="card"><input name="tag" aria-label="Tag"><progress data-name="load" aria-label="Loading"></progress><span data-name="load"></span><button command="--load">Load</button></form><button command="--load">Load too</button><p role="status"></p>`,
    );
    await page.evaluate(() => {
      const { bindPage, command, model, newEntry, text } = ironwood;
      const times: number[] = [];
      const load = command({
        async run({ signal, progress }) {
          times.push(1);
          progress(0.25, "a quarter of the beds");
          await new Promise((done) => signal.addEventListener("abort", done as () => void));
          throw new Error("Stopped by the keeper.");
        },
      });
      kept["load"] = { load, times };
      kept["bound"] = bindPage(document, { card: newEntry(model({ tag: text() })), load });
    });
    await page.getByText("Load too").click();
    await page.getByText("Load", { exact: true }).click();
    const states = () =>
      page.evaluate(() => [
        ...[...document.querySelectorAll("button")].map((each) => each.getAttribute("aria-busy")),
        document.querySelector("progress")!.hidden || document.querySelector("progress")!.value,
        document.querySelector("span")!.textContent,
        (kept["load"] as { times: number[] }).times.length,
        (kept["bound"] as { verdicts: unknown[] }).verdicts.length,
      ]);
    expect(await states()).toEqual(["true", "true", 0.25, "a quarter of the beds", 1, 0]);
    const result = await page.evaluate(async () => {
      const { load } = kept["load"] as { load: { run(): Promise<unknown>; stop(): void } };
      const same = load.run();
      load.stop();
      return same;
    });
    expect(result).toEqual({ ok: false, said: "Stopped by the keeper." });
    expect((await states()).slice(0, 3)).toEqual([null, null, true]);
  });
});

describe("questions", () => {
  const asking = async (): Promise<Page> => {
    const { page } = await pageWith(`<button id="from">From here</button><p role="status"></p>`);
    await page.evaluate(() => {
      kept["bound"] = ironwood.bindPage(document, {});
      document.querySelector<HTMLElement>("#from")!.focus();
    });
    return page;
  };

  test("an answer is one of those that were given; Escape is none; the focus comes back; text is never markup", async () => {
    const page = await asking();
    const answer = page.evaluate(() =>
      ironwood.ask("Move <b>12</b> trees?", { move: "Move them", copy: "Copy them" }, { title: "Trees & beds" }),
    );
    const dialog = page.getByRole("alertdialog", { name: "Trees & beds" });
    await dialog.waitFor();
    expect(await dialog.innerText()).toBe("Trees & beds\n\nMove <b>12</b> trees?\n\nMove themCopy them");
    expect(await focused(page)).toBe("Move them");
    expect(await accessibilityViolations(page)).toEqual([]);
    await page.keyboard.press("Tab");
    await page.keyboard.press("Enter");
    expect([await answer, await focused(page), await page.locator("dialog").count()]).toEqual(["copy", "from", 0]);
    const none = page.evaluate(() => ironwood.ask("Move?", { move: "Move" }));
    await page.getByRole("alertdialog").waitFor();
    await page.keyboard.press("Escape");
    expect([await none, await focused(page)]).toEqual([undefined, "from"]);
  });

  test("a message waits until it was read; a yes is a yes; a signal takes the question away", async () => {
    const page = await asking();
    const read = page.evaluate(() => ironwood.tell("The lorry is full."));
    await page.getByRole("button", { name: "OK" }).click();
    await read;
    const yes = page.evaluate(() => ironwood.confirmed("Fell it?", { yes: "Fell" }));
    await page.getByRole("button", { name: "Fell" }).click();
    expect(await yes).toBe(true);
    const gone = await page.evaluate(async () => {
      const controller = new AbortController();
      const asked = ironwood.confirmed("Fell it?", { signal: controller.signal });
      setTimeout(() => controller.abort(), 50);
      return [await asked, document.querySelectorAll("dialog").length];
    });
    expect(gone).toEqual([false, 0]);
  });

  test("a value that is asked for is read and checked as in a form", async () => {
    const page = await asking();
    const bed = page.evaluate(() =>
      ironwood.askFor("Which bed do these go to?", ironwood.integer({ title: "Bed", minimum: 1, required: true })),
    );
    const field = page.getByRole("textbox", { name: "Bed" });
    await field.waitFor();
    expect(await focused(page)).toBe("answer");
    await page.keyboard.type("none");
    await page.keyboard.press("Enter");
    await page.waitForSelector("[data-problem]");
    expect(await page.locator("dialog [data-problem]").innerText()).toMatch(/not a whole number/);
    expect(await accessibilityViolations(page)).toEqual([]);
    await field.fill("7");
    await page.keyboard.press("Enter");
    expect([await bed, await focused(page)]).toEqual([7, "from"]);
    const none = page.evaluate(() => ironwood.askFor("Which?", ironwood.oneOf(["a", "b"], { title: "Bed" })));
    await page.getByRole("combobox", { name: "Bed" }).waitFor();
    await page.getByRole("button", { name: "Cancel" }).click();
    expect(await none).toBeUndefined();
  });

  test("once the page is released nobody asks any more, and nothing is left", async () => {
    const page = await asking();
    const outcome = await page.evaluate(async () => {
      (kept["bound"] as { stop(): void }).stop();
      return ironwood.confirmed("Fell it?").catch((error: unknown) => (error as Error).message);
    });
    expect(outcome).toMatch(/Nobody is there to ask/);
  });

  test("leaving asks save, leave or stay", async () => {
    const { page } = await pageWith(
      `<form name="card"><input name="tag" id="tag" aria-label="Tag"></form><p role="status"></p>`,
    );
    await page.evaluate(() => {
      const { bindPage, model, newEntry, text } = ironwood;
      const card = newEntry(model({ tag: text({ required: true }) }, { title: "Tree card" }), { save: () => "Kept." });
      kept["card"] = card;
      bindPage(document, { card });
    });
    await page.fill("#tag", "AB-1");
    const leave = () => page.evaluate(() => ironwood.mayLeave(kept["card"] as never));
    const stays = leave();
    await page.getByRole("button", { name: "Stay here" }).click();
    expect(await stays).toBe(false);
    const saves = leave();
    await page.getByRole("button", { name: "Save", exact: true }).click();
    expect([await saves, await status(page)]).toEqual([true, "Kept."]);
    expect(await leave()).toBe(true);
  });
});

describe("what matters only in some cases", () => {
  const surveyed = `
    <form name="site">
      <input type="checkbox" name="wet" id="wet" aria-label="Wet">
      <fieldset id="water"><legend>Water</legend>
        <fieldset name="drain" id="drain"><legend>Drain</legend>
          <label for="depth">Depth</label><input name="depth" id="depth" aria-describedby="hint"><p id="hint">In metres</p>
        </fieldset>
        <label><input type="radio" name="pump" value="yes"> Yes</label><label><input type="radio" name="pump" value="no"> No</label>
      </fieldset>
      <input name="plot" id="plot" aria-label="Plot"><select name="soil" id="soil" aria-label="Soil"></select>
      <button>Save</button>
    </form><p id="crane">A crane is needed.</p><p role="status"></p>`;

  test("a group and a container of several go with what is in them, hints and all", async () => {
    const { page } = await pageWith(surveyed);
    await page.evaluate(() => {
      const { bindPage, bindRelevant, boolean, group, model, newEntry, number, oneOf, text } = ironwood;
      const site = newEntry(
        model({
          wet: boolean(),
          drain: group({ depth: number() }),
          pump: oneOf(["yes", "no"]),
          plot: text(),
          soil: oneOf(["clay"]),
        }).relevant({ drain: (s) => s.wet, pump: (s) => s.wet }),
        { save: () => "Kept." },
      );
      kept["site"] = site;
      bindPage(document, { site });
      kept["crane"] = bindRelevant(document.querySelector("#crane")!, () => (site.values.drain.depth ?? 0) > 3);
    });
    const there = () =>
      page.evaluate(() =>
        ["water", "drain", "depth", "hint", "crane"].filter((id) => document.getElementById(id)!.checkVisibility()),
      );
    expect(await there()).toEqual([]);
    await page.check("#wet");
    expect(await there()).toEqual(["water", "drain", "depth", "hint"]);
    await page.fill("#depth", "4");
    expect(await there()).toEqual(["water", "drain", "depth", "hint", "crane"]);
    await page.evaluate(() => (kept["crane"] as { stop(): void }).stop());
    await page.fill("#depth", "1");
    expect(await there()).toContain("crane");
  });

  test("what may only be looked at gives its reason, one by one and as a whole, and can be reached", async () => {
    const { page } = await pageWith(surveyed);
    await page.evaluate(() => {
      const { bindPage, boolean, group, model, newEntry, number, oneOf, text } = ironwood;
      const desk = newEntry(model({ closed: boolean({ saved: false }) }));
      const site = newEntry(
        model({
          wet: boolean(),
          drain: group({ depth: number() }),
          pump: oneOf(["yes", "no"]),
          plot: text(),
          soil: oneOf(["clay"]),
        }).readOnly({ plot: (s) => s.wet && "A wet plot keeps its number." }),
        { readOnly: () => desk.values.closed && "This survey is closed.", save: () => "Kept." },
      );
      kept["site"] = { site, desk };
      bindPage(document, { site });
    });
    const state = (selector: string) =>
      page.locator(selector).evaluate((element: HTMLInputElement) => {
        const ids = (element.getAttribute("aria-describedby") ?? "").split(" ");
        const described = ids.map((id) => document.getElementById(id)?.textContent).join(" ");
        return [element.readOnly || element.ariaDisabled === "true", element.disabled, element.title, described];
      });
    expect(await state("#plot")).toEqual([false, false, "", ""]);
    await page.check("#wet");
    const reason = "A wet plot keeps its number.";
    expect(await state("#plot")).toEqual([true, false, reason, reason]);
    await page.evaluate(() => {
      (kept["site"] as { desk: { values: { closed: boolean } } }).desk.values.closed = true;
    });
    const closed = "This survey is closed.";
    expect(await state("#plot")).toEqual([true, false, closed, closed]);
    expect(await state("#soil")).toEqual([true, false, closed, closed]);
    expect((await state("#depth"))[3]).toBe(`In metres ${closed}`);
    await page.locator("#wet").click({ force: true });
    expect(await page.isChecked("#wet")).toBe(true);
    await page.getByText("Save").click();
    expect(await status(page)).toBe(closed);
    await page.evaluate(() => {
      (kept["site"] as { desk: { values: { closed: boolean } } }).desk.values.closed = false;
    });
    await page.uncheck("#wet");
    expect(await state("#plot")).toEqual([false, false, "", ""]);
    expect(await state("#soil")).toEqual([false, false, "", ""]);
  });
});

describe("steps that the page and the code do not agree on", () => {
  test("each is said with its place, the nearest name, and what there is", async () => {
    const { page } = await pageWith(
      `<form name="site"><section data-name="route.plase"><input name="plot" aria-label="Plot"></section><ol data-name="route"></ol>
       <button command="--route-next">Next</button><button command="--route-end">End</button></form>`,
    );
    const verdicts = await page.evaluate(() => {
      const { bindPage, model, newEntry, steps, text } = ironwood;
      globalThis.reportError = () => undefined;
      const site = newEntry(model({ plot: text() }));
      const route = steps(site, { place: ["plot"], summary: [] });
      return bindPage(document, { site, route }).verdicts.map(
        ({ code, message, place }) => `${code} ${place} ${message}`,
      );
    });
    expect(verdicts).toEqual([
      'unknownName <section data-name="route.plase"> The steps "route" have no step "plase". Did you mean "place"? The names are: place, summary.',
      'unknownName the page The page has no element for the step "summary". It would have data-name="route.summary".',
      'unknownCommand <button command="--route-end"> No command was given under the name "routeEnd" for command="--route-end". Did you mean "routeNext"? The names are: routeNext, routeBack, routeFinish.',
    ]);
  });

  test("steps that are released leave the page and the browser's history as they were", async () => {
    const { page } = await pageWith(
      `<form name="site"><section data-name="route.place"><input name="plot" aria-label="Plot"></section><section data-name="route.summary"><dl data-name="route"></dl></section><ol data-name="route"></ol><button command="--route-next">Next</button></form>`,
    );
    const before = await page.evaluate(() => document.querySelector("form")!.innerHTML);
    const after = await page.evaluate(() => {
      const { bindPage, model, newEntry, steps, text } = ironwood;
      const site = newEntry(model({ plot: text() }));
      const bound = bindPage(document, { site, route: steps(site, { place: ["plot"], summary: [] }) });
      const during: unknown = history.state;
      bound.stop();
      return [document.querySelector("form")!.innerHTML, during, history.state as unknown] as const;
    });
    expect(after[0].replace(/ (type|hidden|title|id)="[^"]*"/g, "")).toBe(before);
    expect(after.slice(1)).toEqual([{ route: "place" }, null]);
  });
});
