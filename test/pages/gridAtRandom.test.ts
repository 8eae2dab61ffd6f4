/** Random keys, presses and changes from elsewhere on a grid: after each, the page shows the rows of the table, and the keys have a place. */
import { afterAll, expect, test } from "@jest/globals";
import type { Page } from "playwright-core";
import { seeded, times } from "../seeded.ts";
import { changing, happenAtRandom, pressing, STEPS, typing } from "./atRandom.ts";
import { closeBrowser, pageWith } from "./support.ts";

afterAll(closeBrowser);

const markup = `<p><button id="before">Before</button></p><div id="room" style="block-size: 14rem; overflow: auto">
  <table id="stock" aria-label="Stock"></table></div><p role="status"></p>`;

async function withGrid(edit: string, count: number): Promise<{ page: Page; errors: string[] }> {
  const watched = await pageWith(markup);
  await watched.page.evaluate(
    ([ways, size]) => {
      const { bindGrid, bindPage, boolean, command, date, integer, model, newEntry, newHistory, oneOf } = ironwood;
      const { someOf, table, text, view } = ironwood;
      const plant = model(
        {
          tag: text({ required: true }),
          species: oneOf(["Acer campestre", "Betula pendula", "Tilia cordata"]),
          count: integer({ minimum: 0, maximum: 50 }),
          planted: date(),
          potted: boolean(),
          hazards: someOf(["leaning", "cavity"]),
          notes: text({ maxLength: 5 }),
          twice: integer(),
        },
        { key: "tag" },
      ).calculated({ twice: (row) => row.count! * 2 });
      const rows = Array.from({ length: Number(size) }, (_, at) => ({
        tag: `T${String(at).padStart(3, "0")}`,
        species: (["Acer campestre", "Betula pendula", "Tilia cordata"] as const)[at % 3],
        count: (at * 7) % 50,
        planted: at % 5 === 0 ? undefined : `2026-03-${String(1 + (at % 28)).padStart(2, "0")}`,
        potted: at % 4 === 0,
        hazards: at % 6 === 0 ? ["cavity"] : [],
        notes: "",
      }));
      const stock = table(plant, rows as never, { locale: "en", history: newHistory() });
      const shown = view(stock, { orderBy: "species" });
      bindPage(document, {}, { strict: false });
      const columns = ["tag", "species", "count", "planted", "potted", "hazards", "notes", "twice"] as const;
      const sell = command(plant, {
        title: ({ tag }) => `Sell ${tag}`,
        allowed: (row) => row.count! > 0 || "None is left.",
        run: ({ row }) => void stock.update(row.tag, { count: row.count! - 1 }),
      });
      const mode = newEntry(model({ locked: boolean() }));
      const bind = (): { stop(): void } =>
        bindGrid(document.querySelector("#stock")!, shown, {
          edit: ways as "row",
          columns: [...columns, { command: sell, title: "Sell" }],
          totals: ["count"],
          readOnly: () => mode.values.locked && "Closed.",
        });
      let binding = bind();
      const first = JSON.stringify([...stock]);
      const other: Record<string, (number: number) => void> = {
        insert: (number) =>
          void stock.insert({ tag: `N${number}`, species: "Acer campestre", count: number % 50 } as never),
        delete: (number) => {
          const key = shown.keys()[number % Math.max(1, shown.length)];
          if (key !== undefined) stock.delete(key);
        },
        update: (number) => {
          const key = shown.keys()[number % Math.max(1, shown.length)];
          if (key !== undefined) stock.update(key, { count: number % 50, species: "Tilia cordata" });
        },
        order: (number) =>
          (shown.orderBy = (["species", "count desc", "tag", ["potted", "planted"], undefined] as const)[
            number % 5
          ] as never),
        where: (number) => (shown.where = number % 3 === 0 ? undefined : (row) => row.count! % (number % 3) === 0),
        search: (number) => (shown.search = ["", "acer", "t0", "1"][number % 4]!),
        locale: (number) => (stock.locale = ["en", "de"][number % 2]!),
        locked: (number) => (mode.values.locked = number % 3 === 0),
        bindAgain: (number) => {
          if (number % 3 > 0) return;
          binding.stop();
          binding = bind();
        },
        few: (number) =>
          ironwood.transaction(() => {
            for (const key of shown.keys().slice(0, number % 30)) stock.delete(key);
          }),
      };
      Object.assign(kept, {
        other,
        /** What is wrong with the page as it is now. */
        faults(hadFocus: boolean): string[] {
          const found: string[] = [];
          const grid = document.querySelector<HTMLTableElement>("#stock")!;
          if (hadFocus && !grid.contains(document.activeElement) && !document.activeElement?.contains(grid))
            found.push(`the focus is at ${document.activeElement?.outerHTML.slice(0, 80)}`);
          if (hadFocus && document.activeElement === document.body) found.push("the focus is nowhere");
          if (grid.getAttribute("aria-rowcount") !== String(shown.length + 2))
            found.push(`${grid.getAttribute("aria-rowcount")} rows are told, and there are ${shown.length + 2}`);
          const isSelected = new Set(shown.selectedKeys);
          const seen = new Set<string>();
          for (const line of grid.tBodies[0]!.querySelectorAll<HTMLTableRowElement>("tr[aria-rowindex]")) {
            const place = Number(line.getAttribute("aria-rowindex")) - 2;
            const row = shown.at(place);
            if (seen.has(String(place))) found.push(`row ${place} is there twice`);
            seen.add(String(place));
            if (row === undefined) {
              found.push(`row ${place} of ${shown.length} is in the page`);
              continue;
            }
            const key = stock.keyOf(row);
            if ((line.getAttribute("aria-selected") === "true") !== isSelected.has(key))
              found.push(`row ${place} is selected otherwise`);
            // A row that is being edited shows what was entered.
            if (
              line.querySelector("input, select, textarea, [aria-invalid=true]") !== null ||
              line.hasAttribute("data-changed") ||
              line.querySelector("[data-changed]") !== null
            )
              continue;
            // Delete in a heading hides its column.
            const named = [...grid.tHead!.querySelectorAll("th")]
              .slice(1)
              .map((th) => th.textContent.replace(/\W/g, "").toLowerCase());
            const right = named
              .map((title) => [...columns, "sell" as const].find((name) => title.startsWith(name))!)
              .map((name) => {
                if (name === "sell") return `Sell ${row.tag}`;
                const value = (name === "twice" ? stock.valueOf(row, "twice") : row[name]) as never;
                return name === "twice"
                  ? String((value as number | undefined) ?? "")
                  : plant.kindOf(name)!.show(value, stock.locale);
              });
            const texts = [...line.cells].slice(1).map((cell) => (cell.querySelector("button") ?? cell).textContent);
            // Blanks alone are shown as nothing.
            if (texts.join("|") !== right.map((each) => each.replace(/^\s+$/, "")).join("|"))
              found.push(`row ${place} shows ${texts.join("|")}, and is ${right.join("|")}`);
          }
          return found;
        },
        undoAll(): boolean {
          for (let steps = 0; steps < 500 && stock.history!.undo().ok; steps++);
          return JSON.stringify([...stock].sort((a, b) => (a.tag < b.tag ? -1 : 1))) === first;
        },
      });
    },
    [edit, String(count)],
  );
  return watched;
}

const keys = [
  ...["ArrowDown", "ArrowUp", "ArrowRight", "ArrowLeft", "ArrowDown", "ArrowDown", "PageDown", "PageUp", "Home", "End"],
  ...["Control+Home", "Control+End", "Shift+ArrowDown", "Shift+ArrowUp", "Control+a", "Shift+Space", "Control+Space"],
  ...["Enter", "Shift+Enter", "Tab", "Shift+Tab", "Escape", "F2", "Delete", "Space", "Enter", "Tab", "Escape"],
  ...["Control+z", "Control+y", "Control+c", "Control+v", "Alt+Enter"],
];
const typed = ["7", "x", "12", "B", "a very long note", "3/4/2026", "T001", "y", " "];
test("at random: what is shown is what the rows are, the focus stays in the grid, and undo leads back", async () => {
  const random = seeded(Number(process.env["GRID_SEED"] ?? 6001));
  const rounds = times(24, 0.125);
  for (let round = 0; round < rounds; round++) {
    const { page, errors } = await withGrid(random.pick(["row", "cell", "none"]), random.pick([3, 40, 150]));
    await page.focus("#before");
    await page.keyboard.press("Tab");
    let hadFocus = true;
    const press = async (): Promise<string> => {
      const room = (await page.locator("#room").boundingBox())!;
      const [x, y, clickCount] = [random.below(400), random.below(180), 1 + random.below(2)];
      await page.mouse.click(room.x + x, room.y + y, { clickCount });
      return `press at ${x}, ${y}`;
    };
    const done = await happenAtRandom(
      `round ${round}`,
      random,
      [
        [11, pressing(page, random, keys)],
        [4, typing(page, random, typed)],
        [3, changing(page, random)],
        [2, press],
      ],
      async (did) => {
        // Tab may lead out, and a press beside the grid too: then nobody is in it.
        const isIn = hadFocus && !/^(Tab|Shift\+Tab|press|Escape|bindAgain)/.test(did);
        const faults = await page.evaluate(async (had) => {
          await new Promise((go) => requestAnimationFrame(() => setTimeout(go)));
          return (kept["faults"] as (had: boolean) => string[])(had);
        }, isIn);
        hadFocus = await page.evaluate(() => document.querySelector("#stock")!.contains(document.activeElement));
        if (!hadFocus) await page.focus("#stock [tabindex='0'], #before");
        return [...faults, ...errors];
      },
    );
    for (let presses = 0; presses < 3; presses++) await page.keyboard.press("Escape");
    const isBack = await page.evaluate(() => (kept["undoAll"] as () => boolean)());
    expect([round, done, isBack]).toEqual([round, done, true]);
    await page.context().close();
  }
  console.info(`${rounds} grids, ${rounds * STEPS} steps, seed ${random.seed}`);
}, 600_000);
