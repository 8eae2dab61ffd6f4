/**
 * Two windows of one browser on rows that it keeps, each with a grid, a form, and what says how it stands. Random keys, presses, changes by
 * code, writes, choices and reloads in both: the page says what is so, and in the end both windows have what the store has.
 */
import { afterAll, expect, test } from "@jest/globals";
import type { BrowserContext, Page } from "playwright-core";
import { seeded, times } from "../seeded.ts";
import { changing, happenAtRandom, pressing, STEPS, typing } from "./atRandom.ts";
import { closeBrowser, harnessScript, openBrowser } from "./support.ts";

afterAll(closeBrowser);

/** An address that the browser trusts with storage; nothing is asked there, since the test itself answers. */
const address = "http://localhost:1/";

const markup = `<p><button id="before">Before</button></p><p><span data-name="kept"></span>
  <button command="--save"></button><button command="--choose"></button><button command="--undo"></button></p>
  <div id="room" style="height: 220px; width: 460px"><table data-name="stock" aria-label="Stock"></table></div>
  <form name="card"><output name="tag"></output><label>Species <input name="species"></label><label>Count <input name="count"></label>
  <label>Notes <input name="notes"></label><button>Put</button><button type="reset">Reset</button></form><p role="status"></p>`;

/** Binds everything to rows under a name; again after the window was loaded again. */
async function open(page: Page, name: string, writeAfter: number | undefined): Promise<void> {
  await page.goto(address);
  await page.addScriptTag({ path: harnessScript });
  await page.waitForFunction(() => "ironwood" in globalThis);
  await page.evaluate(
    async ([at, after]) => {
      const { asGrid, asKept, bindPage, browserStore, chooseCommand, editEntry, integer, keep, model } = ironwood;
      const { newHistory, table, text, undoCommand, view, writeCommand } = ironwood;
      const plant = model(
        { tag: text({ required: true }), species: text(), count: integer({ minimum: 0 }), notes: text() },
        { key: "tag", title: "Plant" },
      );
      const history = newHistory();
      const stock = table(plant, [], { history, locale: "en" });
      const store = browserStore(at, plant);
      const state = await keep(stock, store, { writeAfter: after === 0 ? undefined : after });
      const shown = view(stock, { orderBy: "tag" });
      const card = editEntry(shown, { onLeave: "save" });
      bindPage(
        document,
        {
          ...{ card, kept: asKept(state), undo: undoCommand(stock) },
          stock: asGrid(shown, { edit: "row", unsaved: state as never }),
          save: writeCommand(state),
          choose: chooseCommand(state),
        },
        { strict: true },
      );
      const tagOf = (number: number): string => `T${number % 9}`;
      const other: Record<string, (number: number) => unknown> = {
        insert: (number) => stock.has(tagOf(number)) || stock.insert({ tag: tagOf(number), count: number }),
        species: (number) => stock.has(tagOf(number)) && stock.update(tagOf(number), { species: `S${number}` }),
        count: (number) => stock.has(tagOf(number)) && stock.update(tagOf(number), { count: number }),
        delete: (number) => number % 2 === 0 && stock.has(tagOf(number)) && stock.delete(tagOf(number)),
        undo: () => history.undo(),
        redo: () => history.redo(),
        write: () => void state.write(),
        reload: () => void state.reload(),
        revert: (number) => (number % 4 === 0 ? state.revert() : undefined),
        resolve: (number) =>
          state.conflicts.forEach(({ key }) => state.resolve(key, number % 2 === 0 ? "mine" : "theirs")),
      };
      Object.assign(kept, {
        other,
        faults(): string[] {
          const { found, differs } = newDifferences();
          const line = document.querySelector<HTMLElement>("span[data-name=kept]")!;
          // That it is being saved is shown only where it takes long.
          if (state.state !== "saving") differs("how it stands", line.textContent, state.said);
          const isTyped = state.editingCount > 0 && state.state === "saved";
          if (state.state !== "saving") differs("its state", line.dataset["kept"], isTyped ? "unsaved" : state.state);
          else if (line.dataset["kept"] === "saved") found.push("what is being saved is called saved");
          if (state.state === "saved") differs("the unsaved rows while all is saved", state.unsaved.length, 0);
          if (state.conflicts.length > 0 && state.state !== "saving") differs("the state", state.state, "conflict");
          const rows = [...document.querySelectorAll("table > tbody > tr[aria-rowindex]")];
          for (const row of rows) {
            const tag = row.querySelectorAll("td")[1]!.textContent.trim();
            if (row.matches("[data-changed], [data-gone], :focus-within") || !stock.has(tag)) continue;
            differs(`the mark of ${tag}`, row.getAttribute("data-unsaved") ?? undefined, state.unsavedOf(tag));
            differs(`the species of ${tag}`, row.querySelectorAll("td")[2]!.textContent, stock.get(tag)!.species);
          }
          for (const name of ["species", "notes"] as const) {
            const control = document.forms.namedItem("card")!.elements.namedItem(name) as HTMLInputElement;
            const field = card.fields[name];
            if (document.activeElement !== control)
              differs(name, control.value, field.unreadable ? field.text : field.display);
          }
          const choose = document.querySelector<HTMLElement>("[command='--choose']")!;
          differs("whether there is a choice to make", !choose.hidden, state.conflicts.length > 0);
          return found;
        },
        /** Puts what is open into the table, chooses, and writes, until nothing is left to do. */
        async settle(): Promise<string> {
          for (let tries = 0; tries < 60; tries++) {
            card.revert();
            for (const { key } of state.conflicts) state.resolve(key, tries % 2 === 0 ? "mine" : "theirs");
            await state.write();
            await new Promise((go) => setTimeout(go, 20));
            if (state.state === "saved" && state.unsaved.length === 0) return "";
          }
          return `${state.state}: ${state.said}`;
        },
        rows: (): string => JSON.stringify([...stock].toSorted((a, b) => (a.tag < b.tag ? -1 : 1))),
        async stored(): Promise<string> {
          const found: { tag: string }[] = [];
          for await (const each of browserStore(at, plant).read()) if (each.ok) found.push(each.row);
          return JSON.stringify(found.toSorted((a, b) => (a.tag < b.tag ? -1 : 1)));
        },
      });
    },
    [name, writeAfter ?? 0] as const,
  );
}

const keys = [
  ...["ArrowDown", "ArrowUp", "ArrowRight", "ArrowLeft", "Tab", "Shift+Tab", "Enter", "Escape", "F2", "Delete"],
  ...["Control+z", "Control+y", "Control+s", "Space", "Home", "End"],
];
const typed = ["7", "x", "Acer", "B", "12", " "];

test("at random in two windows: each says how it stands, and both end with what is stored", async () => {
  const random = seeded(Number(process.env["WINDOWS_SEED"] ?? 9101));
  const rounds = times(24, 0.05);
  for (let round = 0; round < rounds; round++) {
    const context: BrowserContext = await (await openBrowser()).newContext({ viewport: { width: 1_280, height: 800 } });
    await context.route(address, (route) =>
      route.fulfill({ contentType: "text/html", body: `<!doctype html><html lang="en"><title>test</title>${markup}` }),
    );
    const errors: string[] = [];
    const writeAfter = random.pick([undefined, 1, 60]);
    const [name, pages] = [`round ${round} of ${random.seed}`, [await context.newPage(), await context.newPage()]];
    for (const page of pages) {
      page.on("pageerror", ({ message }) => errors.push(message));
      page.on("dialog", (dialog) => void dialog.accept());
      await open(page, name, writeAfter);
      await page.focus("#before");
    }
    const inEither =
      (what: (page: Page) => () => Promise<string>): (() => Promise<string>) =>
      async () => {
        const at = random.below(2);
        return `${"AB"[at]}: ${await what(pages[at]!)()}`;
      };
    const press = (page: Page) => async (): Promise<string> => {
      const all = page.locator("body :is(input, button, td):visible");
      const control = all.nth(random.below(await all.count()));
      await control.click({ force: true, timeout: 1_000 }).catch(() => undefined);
      return "press";
    };
    const again = (page: Page) => async (): Promise<string> => {
      // What is not written is lost with its window here, since no drafts are kept.
      await page.evaluate(() => (kept["settle"] as () => Promise<string>)());
      await open(page, name, writeAfter);
      return "open again";
    };
    const done = await happenAtRandom(
      `round ${round}, ${String(writeAfter)}`,
      random,
      [
        [6, inEither((page) => pressing(page, random, keys))],
        [4, inEither((page) => typing(page, random, typed))],
        [8, inEither((page) => changing(page, random))],
        [4, inEither(press)],
        [1, inEither(again)],
      ],
      async () => {
        const faults: string[] = [];
        for (const page of pages)
          faults.push(
            ...(await page.evaluate(async () => {
              await new Promise((go) => requestAnimationFrame(() => setTimeout(go, 1)));
              return (kept["faults"] as () => string[])();
            })),
          );
        return [...faults, ...errors];
      },
    );
    const said: string[] = [];
    for (const page of [...pages, ...pages]) {
      for (let presses = 0; presses < 3; presses++) await page.keyboard.press("Escape");
      said.push(await page.evaluate(() => (kept["settle"] as () => Promise<string>)()));
    }
    await new Promise((go) => setTimeout(go, 150));
    const [a, b] = await Promise.all(pages.map((page) => page.evaluate(() => (kept["rows"] as () => string)())));
    const stored = await pages[0]!.evaluate(() => (kept["stored"] as () => Promise<string>)());
    expect([done, said, a, b]).toEqual([done, ["", "", "", ""], stored, stored]);
    await context.close();
  }
  console.info(`${rounds} times two windows, ${rounds * STEPS} steps, seed ${random.seed}`);
}, 600_000);
