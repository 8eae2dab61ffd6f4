/** A person edits in a grid or in rows while others change, sort, filter, hide and delete: random orders of all of it. */
import { afterAll, describe, expect, test } from "@jest/globals";
import { times } from "../seeded.ts";
import { closeBrowser, pageWith } from "./support.ts";

afterAll(closeBrowser);

/** What a run of sequences in the page came to. */
interface Came {
  readonly steps: number;
  readonly typed: number;
  readonly kept: number;
  readonly told: number;
  readonly faults: readonly string[];
}

/**
 * Runs in the page. Each text that a person types is one that nobody else has, so that it can be looked for afterwards: it is where it was
 * typed, or the person was told, and it is nowhere else.
 */
async function sequences({ seed, count, kind }: { seed: number; count: number; kind: "grid" | "rows" }): Promise<Came> {
  const { bindGrid, bindRows, bindPage, integer, model, newHistory, notices, table, text, view } = ironwood;
  Error.stackTraceLimit = 40;
  const { below, pick } = seeded(seed);
  const faults: string[] = [];
  let now = "";
  const fault = (what: string): void => {
    if (faults.length < 8) faults.push(`${now}: ${what}`);
  };
  addEventListener("error", (event) => fault(`uncaught ${(event.error as Error | null)?.stack ?? event.message}`));
  addEventListener("unhandledrejection", (event) => fault(`rejected ${String(event.reason)}`));
  const { error } = console;
  console.error = (...all: unknown[]) => {
    fault(`console ${all.map(String).join(" ")}`);
    error(...all);
  };
  const task = (): Promise<void> =>
    new Promise((done) => {
      const { port1, port2 } = new MessageChannel();
      port1.onmessage = () => {
        port1.close();
        done();
      };
      port2.postMessage(0);
    });
  const plants = model(
    {
      tag: text({ title: "Tag", required: true }),
      name: text({ title: "Name", maxLength: 24 }),
      count: integer({ title: "Count", minimum: 0 }),
      site: text({ title: "Site", pattern: "[^!]*" }),
    },
    { title: "Plant", key: "tag" },
  );
  let steps = 0;
  let typed = 0;
  let kept = 0;
  let told = 0;
  for (let sequence = 0; sequence < count; sequence++) {
    let added = 0;
    const rowOf = (tag: string) => ({ tag, name: `name ${below(5)}`, count: below(9), site: `site ${below(3)}` });
    const stock = table(
      plants,
      Array.from({ length: 3 + below(9) }, (_, at) => rowOf(`p${at}`)),
      {
        locale: "en",
        ...(below(2) === 0 ? {} : { history: newHistory() }),
      },
    );
    const everything = view(stock);
    let least = 0;
    const shown = view(stock, {
      where: below(2) === 0 ? undefined : (row) => (row.count ?? 0) >= least,
      orderBy: pick(["tag", "name", "count"] as const),
    });
    const room = document.querySelector<HTMLElement>("#room")!;
    const edit = pick(["row", "cell"] as const);
    let hide: (name: string, hides: boolean) => void = () => undefined;
    const begin = (): { stop(): void } => {
      if (kind === "rows") return bindRows(document.querySelector("#rows")!, shown, { edit });
      const grid = bindGrid(document.querySelector<HTMLTableElement>("#grid")!, shown, {
        edit,
        columns: ["tag", "name", "count", "site"],
      });
      hide = (name, hides) => grid.hide(name, hides);
      return grid;
    };
    const page = bindPage(document, {});
    let bound = begin();
    const log: string[] = [];
    /** Each text that was typed, and where. */
    const places = new Map<string, { key: string; column: string }>();
    const ended = new Set<string>();
    const before = new Set(notices.history);
    const focused = (): HTMLElement => document.activeElement as HTMLElement;
    const key = (name: string, more: KeyboardEventInit = {}): boolean =>
      focused().dispatchEvent(new KeyboardEvent("keydown", { key: name, bubbles: true, cancelable: true, ...more }));
    const control = (): HTMLInputElement | undefined =>
      /^(input|textarea)$/.test(focused().localName) && room.contains(focused())
        ? (focused() as HTMLInputElement)
        : undefined;
    const where = (): { key: string; column: string } | undefined => {
      const at = control();
      if (at === undefined) return undefined;
      if (kind === "rows") {
        const tag = at.closest("[data-tag], div")!.querySelector("output")!.textContent;
        return { key: tag, column: at.name.split(".").at(-1)! };
      }
      const column = at.getAttribute("aria-label")!.toLowerCase();
      return { key: at.closest("tr")!.cells[1]!.textContent, column };
    };
    const tags = (): string[] => everything.keys();
    /** What is in the table has come there from where it was typed; what becomes of it then is no affair of the grid. */
    const look = (): void => {
      for (const row of everything.rows())
        for (const column of ["name", "site"] as const) {
          const word = /w\d+x\d+/.exec(row[column])?.[0];
          if (word === undefined) continue;
          const place = places.get(word);
          if (place?.key !== row.tag || place.column !== column)
            fault(`${word} was typed at ${JSON.stringify(place ?? "")} and is at ${row.tag} ${column}`);
          else if (!ended.has(word)) kept++;
          ended.add(word);
        }
    };
    const acts: readonly (readonly [string, () => unknown])[] = [
      [
        "go",
        () => {
          const cells = [
            ...room.querySelectorAll<HTMLElement>(kind === "grid" ? "tbody td:not([data-mark])" : "input"),
          ];
          const cell = cells.filter((each) => each.closest("[hidden]") === null)[below(cells.length + 1)];
          if (cell === undefined) return;
          cell.dispatchEvent(new PointerEvent("pointerdown", { bubbles: true }));
          if (kind === "rows") cell.focus();
          cell.click();
        },
      ],
      ["enter", () => key("Enter")],
      ["F2", () => kind === "grid" && key("F2")],
      ["escape", () => key("Escape") || places.forEach((_, each) => ended.add(each))],
      ["tab", () => kind === "grid" && key("Tab")],
      ["down", () => key("ArrowDown")],
      ["undo", () => key("z", { ctrlKey: true, code: "KeyZ" }) || places.forEach((_, each) => ended.add(each))],
      [
        "delete key",
        () => {
          if (kind === "rows" || control() !== undefined) return;
          // The person blanks a cell of this row.
          const tag = focused().closest("tr")?.cells[1]?.textContent;
          for (const [each, place] of places) if (place.key === tag) ended.add(each);
          key("Delete");
        },
      ],
      [
        "type",
        () => {
          if (control() === undefined) {
            const columns = kind === "grid" ? "tbody td:nth-child(3), tbody td:nth-child(5)" : "input[name]";
            const cells = [...room.querySelectorAll<HTMLElement>(columns)].filter((each) => !each.closest("[hidden]"));
            const cell = cells[below(cells.length)];
            cell?.click();
            if (kind === "rows") cell?.focus();
            else key("F2");
          }
          const at = where();
          const field = control();
          if (at === undefined || field === undefined || at.column === "count" || at.column === "tag") return;
          const word = `w${sequence}x${++typed}`;
          log.push(word);
          // What was there before in this cell is typed over.
          for (const [each, place] of places) if (place.key === at.key && place.column === at.column) ended.add(each);
          places.set(word, at);
          field.value = word + pick(["", "", "!", " and much more than is allowed there"]);
          field.dispatchEvent(new InputEvent("input", { bubbles: true }));
        },
      ],
      ["their insert", () => stock.insert(rowOf(pick(["a", "p", "z"]) + String(100 + ++added)))],
      [
        "their many",
        () => {
          for (let each = 0; each < 30; each++) stock.insert(rowOf(`a${1000 + ++added}`));
        },
      ],
      [
        "their update",
        () => everything.length > 0 && stock.update(pick(tags()), { count: below(9), name: `name ${below(5)}` }),
      ],
      ["their delete", () => everything.length > 0 && stock.delete(pick(tags()))],
      ["their delete here", () => shown.currentKey !== undefined && stock.delete(shown.currentKey)],
      ["their clear", () => below(6) === 0 && stock.clear()],
      ["their load", () => below(6) === 0 && stock.replaceAll(Array.from({ length: 4 }, (_, at) => rowOf(`p${at}`)))],
      [
        "filter",
        () => {
          least = below(6);
          shown.where = (row) => (row.count ?? 0) >= least;
        },
      ],
      ["no filter", () => (shown.where = undefined)],
      ["sort", () => (shown.orderBy = pick(["tag", "name", "count", "site"] as const))],
      ["search", () => (shown.search = pick(["", "name", "1", "w"]))],
      ["hide", () => hide(pick(["name", "count", "site"]), below(2) === 0)],
      ["current", () => (shown.currentKey = shown.length > 0 ? pick(shown.keys()) : undefined)],
      ["scroll", () => (room.scrollTop = below(1200))],
      ["blur", () => focused().blur()],
      [
        "stop",
        () => {
          bound.stop();
          bound = begin();
        },
      ],
    ];
    for (let step = 0; step < 14; step++, steps++) {
      const [name, act] = acts[below(3) === 0 ? 8 : below(acts.length)]!;
      log.push(name);
      now = `sequence ${sequence} ${kind} ${edit}, ${log.join(", ")}`;
      try {
        act();
      } catch (reason) {
        fault(`thrown ${String(reason)}`);
      }
      look();
      const rest = below(4);
      if (rest === 1) await Promise.resolve();
      if (rest > 1) await task();
      look();
    }
    await task();
    bound.stop();
    await task();
    now = `sequence ${sequence} ${kind} ${edit}, ${log.join(", ")}`;
    // What could not be put into the table is there when its row is edited again.
    const open = bindRows(document.querySelector("#all")!, everything, { edit: "row" });
    const stillThere = [...document.querySelectorAll<HTMLInputElement>("#all input")].map(({ value }) => value).join();
    open.stop();
    look();
    for (const [word] of places)
      if (!ended.has(word) && !stillThere.includes(word)) {
        if (notices.history.some((notice) => !before.has(notice) && notice.text.includes(word))) told++;
        else fault(`${word} is gone and nobody was told`);
      }
    page.stop();
  }
  return { steps, typed, kept, told, faults };
}

const template = `<template><div><output data-name="tag"></output><input name="name"><input name="count"><input name="site"></div></template>`;
const markup = {
  grid: `<div id="room" style="block-size: 14rem; overflow: auto"><table id="grid" aria-label="Stock"></table></div><div id="all">${template}</div><p role="status"></p>`,
  rows: `<div id="room" style="block-size: 14rem; overflow: auto"><div id="rows">${template}</div></div><div id="all">${template}</div><p role="status"></p>`,
};

describe("typing while others change the rows", () => {
  for (const [kind, part] of [
    ["grid", 3_500],
    ["rows", 1_500],
  ] as const)
    test(`${times(part, 0.05)} random sequences in ${kind}: what was typed is where it was typed, or the person is told, and no error is left`, async () => {
      const { page } = await pageWith(markup[kind]);
      const seed = 55_001;
      const came = await page.evaluate(sequences, { seed, count: times(part, 0.05), kind });
      console.info(`seed ${seed}: ${JSON.stringify({ ...came, faults: came.faults.length })}`);
      expect(came.faults).toEqual([]);
      expect(came.kept).toBeGreaterThan(times(part, 0.05) / 8);
    }, 600_000);
});

describe("a person who is typing in a grid", () => {
  async function withGrid(edit: "row" | "cell" = "row") {
    const watched = await pageWith(markup.grid);
    const { page } = watched;
    await page.evaluate((way) => {
      const { bindGrid, bindPage, integer, model, table, text, view } = ironwood;
      const plants = model(
        {
          tag: text({ title: "Tag", required: true }),
          name: text({ title: "Name", maxLength: 12 }),
          count: integer({ title: "Count", minimum: 0 }),
        },
        { title: "Plant", key: "tag" },
      );
      const rows = Array.from({ length: 20 }, (_, at) => ({ tag: `p${at + 10}`, name: `name ${at}`, count: at }));
      const stock = table(plants, rows, { locale: "en" });
      const shown = view(stock, { orderBy: "tag" });
      const begin = () =>
        bindGrid(document.querySelector<HTMLTableElement>("#grid")!, shown, {
          edit: way,
          columns: ["tag", "name", "count"],
        });
      bindPage(document, {});
      Object.assign(kept, { stock, shown, begin, grid: begin() });
    }, edit);
    await page.click("#grid tr[aria-rowindex='5'] td >> nth=2");
    await page.keyboard.press("F2");
    await page.keyboard.press("Control+a");
    await page.keyboard.type("Al");
    const run = (work: string) => page.evaluate(`{ const { stock, shown, grid } = kept; ${work} }`);
    const nameOf = (tag: string) =>
      page.evaluate((key) => (kept["stock"] as { get(key: string): { name: string } | undefined }).get(key)?.name, tag);
    const active = () => page.evaluate(() => (document.activeElement as HTMLInputElement).value);
    const status = () => page.locator("[role=status]").innerText();
    return { ...watched, run, nameOf, active, status };
  }

  test("goes on in the row that others delete: nothing of it comes into the next one, and what was typed is told", async () => {
    const { page, run, nameOf, active, status } = await withGrid();
    await run(`stock.delete("p13")`);
    await page.keyboard.type("der");
    expect(await active()).toBe("Al");
    expect(await status()).toBe("p13 was deleted meanwhile. What is entered here can be copied, but not saved.");
    expect(await page.locator("#grid tr[data-gone] td[data-mark]").getAttribute("aria-label")).toBe(
      "not in this list any more",
    );
    await page.keyboard.press("Enter");
    expect(await status()).toBe("p13 was deleted meanwhile, so this is not saved: Name: Al.");
    expect(await page.locator("#grid tr[data-gone]").count()).toBe(0);
    expect(await nameOf("p14")).toBe("name 4");
    expect(await page.evaluate(() => document.activeElement?.textContent)).toBe("name 4");
  });

  test("stays where the person is when others put 30 rows above, or take them away", async () => {
    const { page, run, nameOf } = await withGrid();
    const top = async () => (await page.locator("#grid [data-editing]").boundingBox())!.y;
    const before = await top();
    await run(`for (let each = 0; each < 30; each++) stock.insert({ tag: "a" + (each + 10), name: "", count: 0 });`);
    await page.keyboard.type("der");
    expect(await top()).toBeCloseTo(before, 0);
    await run(`for (let each = 0; each < 30; each++) stock.delete("a" + (each + 10));`);
    await page.keyboard.type("s");
    expect(await top()).toBeCloseTo(before, 0);
    await page.keyboard.press("Enter");
    await page.keyboard.press("Tab");
    expect(await nameOf("p13")).toBe("Alders");
  });

  test("loses nothing when columns are moved or hidden, the cell's own too", async () => {
    const { page, run, nameOf } = await withGrid("cell");
    await run(`grid.layout = { order: ["name", "count", "tag"] }`);
    await page.keyboard.type("d");
    await run(`grid.hide("count")`);
    await page.keyboard.type("er");
    await run(`grid.hide("name")`);
    expect(await nameOf("p13")).toBe("Alder");
    expect(await page.evaluate(() => document.activeElement?.closest("#grid") !== null)).toBe(true);
  });

  test("finds what could not be saved again when the grid was stopped and is bound again", async () => {
    const { page, run, nameOf, status } = await withGrid();
    await page.keyboard.type("der of the long kind");
    await run(`grid.stop()`);
    expect(await status()).toMatch(/^p13 is not saved: /);
    await run(`kept.grid = kept.begin()`);
    const cell = page.locator("#grid tr[aria-rowindex='5'] td >> nth=2");
    expect(await cell.innerText()).toBe("Alder of the long kind");
    expect(await page.locator("#grid tr[data-wrong]").count()).toBe(1);
    await cell.click();
    await page.keyboard.press("F2");
    await page.keyboard.press("Control+a");
    await page.keyboard.type("Alder");
    await page.keyboard.press("Enter");
    expect(await nameOf("p13")).toBe("Alder");
  });
});
