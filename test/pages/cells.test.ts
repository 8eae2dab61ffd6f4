/** Each kind in a cell of a grid, by key and by pointer, and what is round a cell: its message, its dialog, rows of unequal height. */
import { readdirSync, readFileSync } from "node:fs";
import { fileURLToPath } from "node:url";
import { afterAll, describe, expect, test } from "@jest/globals";
import type { Page } from "playwright-core";
import { closeBrowser, pageWith } from "./support.ts";

afterAll(closeBrowser);

interface CellSpec {
  /** The kind, as JavaScript. */
  readonly kind: string;
  /** What it is before, as JavaScript. */
  readonly before: string;
  /** The column; default: `it`. */
  readonly column?: string;
  /** What is done once the cell is edited, with keys alone. */
  readonly keys?: (page: Page) => Promise<void>;
  /** What is done with the pointer; default: the keys, in a cell opened by the pointer. */
  readonly pointer?: (page: Page) => Promise<void>;
  /** Whether the first press or key does it all, with no control. */
  readonly toggled?: true;
  /** What the table has after, as JSON; `undefined` where the cell only shows, and says so. */
  readonly after: unknown;
}

const over = (text: string) => async (page: Page) => {
  await page.keyboard.press("Control+a");
  await page.keyboard.type(text);
};

/** By the names of the kinds: a kind that is not here fails the first test. */
const cells: Readonly<Record<string, CellSpec>> = {
  text: { kind: "text()", before: `"a"`, keys: over("Alder"), after: "Alder" },
  integer: { kind: "integer()", before: "1", keys: over("12"), after: 12 },
  number: { kind: "number()", before: "1.5", keys: over("2.25"), after: 2.25 },
  decimal: { kind: "decimal()", before: `Decimal.of("1.5")`, keys: over("2.50"), after: "2.5" },
  boolean: { kind: "boolean()", before: "false", toggled: true, after: true },
  date: { kind: "date()", before: `"2026-11-28"`, keys: over("11/29/2026"), after: "2026-11-29" },
  time: { kind: "time()", before: `"09:30"`, keys: over("10:45 AM"), after: "10:45" },
  dateTime: {
    kind: "dateTime()",
    before: `"2026-11-28T09:30"`,
    keys: over("11/29/2026 10:45 AM"),
    after: "2026-11-29T10:45",
  },
  instant: {
    kind: "instant()",
    before: `"2026-11-28T09:30:00Z"`,
    keys: over("11/29/2026 10:45 AM"),
    after: "2026-11-29T10:45:00Z",
  },
  oneOf: {
    kind: `oneOf(["oak", "alder", "birch"])`,
    before: `"oak"`,
    keys: (page) => page.keyboard.press("ArrowDown"),
    pointer: async (page) => {
      await page.locator("td select").selectOption("alder");
    },
    after: "alder",
  },
  someOf: {
    kind: `someOf(["leaning", "cavity", "dead limbs"])`,
    before: `["leaning"]`,
    keys: async (page) => {
      await page.keyboard.press("ArrowDown");
      await page.keyboard.press("ArrowDown");
      await page.keyboard.press("Space");
    },
    // As long as a hand presses: what is pressed must not move meanwhile.
    pointer: (page) => page.locator("[data-cell-set] label >> nth=2").click({ delay: 150 }),
    after: ["leaning", "dead limbs"],
  },
  list: {
    kind: "list(text())",
    before: `["a"]`,
    keys: async (page) => {
      await page.keyboard.press("End");
      await page.keyboard.press("Alt+Enter");
      await page.keyboard.type("b");
    },
    after: ["a", "b"],
  },
  file: { kind: "file()", before: "undefined", after: undefined },
  rows: { kind: "rows(model({ bed: text() }))", before: `[{ bed: "7" }]`, after: undefined },
  group: {
    kind: "group({ bed: text() })",
    before: `{ bed: "7" }`,
    column: "it.bed",
    keys: over("8"),
    after: { bed: "8" },
  },
};

async function withCell(spec: CellSpec) {
  const watched = await pageWith(
    `<div><table aria-label="Trees"></table></div><button>after</button><p role="status"></p>`,
  );
  const makers =
    "text, integer, number, decimal, boolean, date, time, dateTime, instant, oneOf, someOf, list, file, rows, group";
  await watched.page.evaluate(
    `Object.assign(kept, (({ ${makers}, model, Decimal }) => ({ kind: ${spec.kind}, value: ${spec.before} }))(ironwood))`,
  );
  await watched.page.evaluate((column) => {
    const { bindGrid, bindPage, model, table, text, view } = ironwood;
    const { kind: it, value } = kept as { kind: never; value: never };
    const trees = model({ tag: text({ required: true }), it, note: text() }, { title: "Tree", key: "tag" });
    const all = table(trees as never, ["AB-1", "AB-2"].map((tag) => ({ tag, it: value, note: "" })) as never, {
      locale: "en-US",
      timeZone: "UTC",
    });
    Object.assign(kept, { all });
    bindPage(document, {});
    bindGrid(document.querySelector("table")!, view(all), {
      edit: "cell",
      columns: ["tag", column, "note"] as never,
    });
  }, spec.column ?? "it");
  const { page } = watched;
  const value = (tag = "AB-1") =>
    page.evaluate((key) => {
      const row = (kept["all"] as { get(key: string): { it: unknown } }).get(key);
      return JSON.parse(JSON.stringify([row.it ?? null]))[0] as unknown;
    }, tag);
  const status = () => page.locator("[role=status]").innerText();
  return { page, value, status, cell: page.locator("tbody tr[aria-rowindex='2'] td >> nth=2") };
}

describe("cells", () => {
  test("each kind of the library is in the table of this test", () => {
    const folder = fileURLToPath(new URL("../../src/model/kinds/", import.meta.url));
    const sources = readdirSync(folder).map((name) => readFileSync(folder + name, "utf8"));
    sources.push(readFileSync(new URL("../../src/check/rowsKind.ts", import.meta.url), "utf8"));
    const named = sources.flatMap((source) =>
      [...source.matchAll(/^\s*(?:kind|name): ((?:"\w+"(?: \| )?)+),?$/gm)].flatMap(([, names]) =>
        names!.match(/\w+/g)!,
      ),
    );
    expect([...new Set(named)].sort()).toEqual(Object.keys(cells).sort());
  });

  for (const [name, spec] of Object.entries(cells))
    if (spec.after === undefined)
      test(`${name}: only shows, and says why it can't be edited here`, async () => {
        const { page, value, status, cell } = await withCell(spec);
        const before = await value();
        await cell.click();
        await page.keyboard.press("F2");
        expect(await status()).not.toBe("");
        expect(await cell.locator("input, textarea, select").count()).toBe(0);
        expect(await value()).toEqual(before);
      });
    else {
      test(`${name}: by key, with Escape first`, async () => {
        const { page, value, cell } = await withCell(spec);
        const before = await value("AB-2");
        await cell.click();
        if (spec.toggled === true) await page.keyboard.press("Space");
        else {
          await page.keyboard.press("F2");
          await spec.keys!(page);
          await page.keyboard.press("Escape");
          expect(await value()).toEqual(before);
          await page.keyboard.press("F2");
          await spec.keys!(page);
          await page.keyboard.press("Enter");
        }
        expect(await value()).toEqual(spec.after);
        expect(await value("AB-2")).toEqual(before);
        expect(await page.evaluate(() => document.activeElement?.closest("tbody") !== null)).toBe(true);
      });

      test(`${name}: by pointer, left by a press elsewhere`, async () => {
        const { page, value, cell } = await withCell(spec);
        await cell.dblclick();
        if (spec.toggled === true) expect(await value()).toEqual(spec.after);
        else {
          await (spec.pointer ?? spec.keys!)(page);
          await page.click("button");
          expect(await value()).toEqual(spec.after);
        }
      });
    }
});

describe("round a cell", () => {
  test("the message of a wrong cell lets a press through to the cell that it covers", async () => {
    const { page, cell } = await withCell(cells["integer"]!);
    await cell.click();
    await page.keyboard.press("F2");
    await over("many")(page);
    await page.keyboard.press("Enter");
    await page.keyboard.press("ArrowUp");
    const message = page.locator("[data-cell-message]");
    await message.waitFor();
    const box = (await message.boundingBox())!;
    const next = (await page.locator("tbody tr[aria-rowindex='3'] td >> nth=2").boundingBox())!;
    expect(box.y).toBeLessThan(next.y + next.height / 2);
    await page.mouse.click(next.x + 4, next.y + next.height / 2);
    expect(await page.evaluate(() => document.activeElement?.closest("tr")?.getAttribute("aria-rowindex"))).toBe("3");
  });

  test("Escape closes the dialog that a grid is in, once there is nothing to take back and nothing selected", async () => {
    const { page } = await pageWith(
      `<dialog><div><table aria-label="Trees"></table></div></dialog><p role="status"></p>`,
    );
    await page.evaluate(() => {
      const { bindGrid, model, table, text, view } = ironwood;
      document.querySelector("dialog")!.showModal();
      const all = table(model({ tag: text(), note: text() }, { key: "tag" }), [{ tag: "a", note: "" }], {
        locale: "en",
      });
      bindGrid(document.querySelector("table")!, view(all), { edit: "row" });
    });
    const isOpen = () => page.evaluate(() => document.querySelector("dialog")!.open);
    await page.click("tbody td >> nth=2");
    await page.keyboard.press("F2");
    await page.keyboard.type("x");
    await page.keyboard.press("Escape");
    await page.keyboard.press("Control+a");
    await page.keyboard.press("Escape");
    expect(await isOpen()).toBe(true);
    await page.keyboard.press("Escape");
    expect(await isOpen()).toBe(false);
  });

  test("rows of unequal height, or that grow later: the cell with the focus is in view", async () => {
    const { page } = await pageWith(
      `<style>tr[aria-rowindex$="5"] td { block-size: 90px; } .tall td { block-size: 70px; }</style><div id="room" style="block-size: 300px; overflow: auto"><table aria-label="Trees"></table></div><p role="status"></p>`,
    );
    await page.evaluate(() => {
      const { bindGrid, model, table, text, view } = ironwood;
      const rows = Array.from({ length: 120 }, (_, at) => ({ tag: `t${at}` }));
      bindGrid(
        document.querySelector("table")!,
        view(table(model({ tag: text() }, { key: "tag" }), rows, { locale: "en" })),
      );
    });
    const isSeen = () =>
      page.evaluate(() => {
        const cell = document.activeElement!.getBoundingClientRect();
        const room = document.querySelector("#room")!.getBoundingClientRect();
        return cell.top >= room.top - 1 && cell.bottom <= room.bottom + 1;
      });
    await page.click("tbody td >> nth=1");
    for (let each = 0; each < 40; each++) {
      await page.keyboard.press("ArrowDown");
      expect([each, await isSeen()]).toEqual([each, true]);
    }
    await page.evaluate(async () => {
      document.querySelector("table")!.classList.add("tall");
      // Another height is noticed in the next frame.
      for (let frame = 0; frame < 3; frame++) await new Promise((done) => requestAnimationFrame(done));
    });
    for (let each = 0; each < 20; each++) {
      await page.keyboard.press(each % 3 === 0 ? "PageUp" : "ArrowDown");
      expect([each, await isSeen()]).toEqual([each, true]);
    }
    await page.keyboard.press("Control+End");
    expect(await isSeen()).toBe(true);
  });

  test("a list that hangs over the end of a grid is scrolled to, and no row moves by that", async () => {
    const { page, cell } = await withCell(cells["someOf"]!);
    const rows = () =>
      page.evaluate(() => {
        const { scrollTop, scrollHeight, clientHeight } = document.querySelector("[data-grid]")!;
        const row = document.querySelector("tr[aria-rowindex='2']")!.getBoundingClientRect().top;
        return { inside: Math.round(row + scrollTop), scrollHeight, clientHeight };
      });
    await cell.dblclick();
    const before = await rows();
    await page.evaluate(async () => {
      document.querySelector("[data-grid]")!.scrollBy(0, 1000);
      for (let frame = 0; frame < 4; frame += 1) await new Promise(requestAnimationFrame);
    });
    expect(await rows()).toEqual(before);
  });

  for (const key of ["Enter", "Tab"] as const)
    test(`${key} in a cell whose list of choices is open takes one choice, and goes to one cell`, async () => {
      const choices = `Array.from({ length: 60 }, (_, at) => "choice " + at)`;
      const { page, value } = await withCell({ kind: `oneOf(${choices})`, before: `"choice 1"`, after: "choice 30" });
      await page.locator("tbody tr[aria-rowindex='2'] td >> nth=2").click();
      await page.keyboard.press("F2");
      await page.keyboard.type("choice 30");
      await page.locator("[role=option]").first().waitFor();
      await page.keyboard.press("ArrowDown");
      await page.keyboard.press(key);
      if (key === "Enter") await page.keyboard.press(key);
      expect(await value()).toBe("choice 30");
      expect(await value("AB-2")).toBe("choice 1");
      const at = await page.evaluate(() => {
        const cell = document.activeElement!.closest("td");
        return [cell?.closest("tr")?.getAttribute("aria-rowindex"), cell?.getAttribute("aria-colindex")];
      });
      expect(at).toEqual(key === "Enter" ? ["3", "3"] : ["2", "4"]);
    });
});
