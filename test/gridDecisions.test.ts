import { describe, expect, test } from "@jest/globals";
import {
  gridAct,
  type GridState,
  layoutFrom,
  moved,
  nextEdited,
  seenColumns,
  TallScroll,
  withHidden,
  withWidth,
} from "../src/control/index.ts";
import { orderAfter, type OrderedBy } from "../src/table/index.ts";
import { readBlock, writeBlock } from "../src/rows/index.ts";
import { seeded } from "./seeded.ts";

const state = (more: Partial<GridState> = {}): GridState => ({
  row: 3,
  column: 2,
  rows: 10,
  columns: 5,
  page: 4,
  editing: false,
  rightToLeft: false,
  cell: "edited",
  reorders: false,
  selected: false,
  rowChanged: false,
  ...more,
});
/** A key as people write it: `Control+Shift+Home`. */
function act(written: string, more: Partial<GridState> = {}): string {
  const parts = written.split("+");
  const key = parts.at(-1) === "" ? "+" : parts.at(-1)!;
  const held = (name: string): boolean => parts.slice(0, -1).includes(name);
  const done = gridAct({ key, control: held("Control"), shift: held("Shift"), alt: held("Alt") }, state(more));
  if (done === undefined) return "–";
  const { what, ...rest } = done;
  return [what, ...Object.values(rest)].join(" ");
}

describe("what a grid does about a key", () => {
  test.each([
    ["ArrowDown", {}, "go 4 2 false"],
    ["ArrowUp", { row: 0 }, "go -1 2 false"],
    ["ArrowUp", { row: -1 }, "go -1 2 false"],
    ["ArrowLeft", {}, "go 3 1 false"],
    ["ArrowLeft", { rightToLeft: true }, "go 3 3 false"],
    ["ArrowRight", { column: 4 }, "go 3 4 false"],
    ["Home", {}, "go 3 0 false"],
    ["Control+End", {}, "go 9 4 false"],
    ["PageDown", { row: 8 }, "go 9 2 false"],
    ["PageUp", {}, "go 0 2 false"],
    ["PageDown", { row: -1 }, "go 4 2 false"],
    ["Shift+ArrowDown", {}, "go 4 2 true"],
    ["Enter", {}, "edit false"],
    ["F2", { cell: "shown" }, "edit false"],
    ["x", {}, "edit true"],
    ["é", {}, "edit true"],
    ["木", {}, "edit true"],
    ["x", { cell: "shown" }, "–"],
    ["Enter", { cell: "pressed" }, "press"],
    [" ", { cell: "toggled" }, "toggle"],
    [" ", {}, "select this"],
    ["Shift+ ", {}, "select only"],
    ["Control+a", {}, "select all"],
    ["Control+c", {}, "–"],
    ["Alt+ArrowLeft", {}, "–"],
    ["Escape", { rowChanged: true }, "revertRow"],
    ["Escape", {}, "–"],
    ["Escape", { selected: true }, "select none"],
    ["Delete", {}, "clear"],
    ["Delete", { cell: "shown" }, "–"],
    ["Tab", {}, "–"],
    ["Tab", { editing: true }, "leaveCell next"],
    ["Shift+Tab", { editing: true }, "leaveCell before"],
    ["Enter", { editing: true }, "leaveCell down"],
    ["Alt+Enter", { editing: true }, "breakLine"],
    ["Control+Enter", { editing: true }, "–"],
    ["Alt+Enter", {}, "–"],
    ["Escape", { editing: true }, "revertCell"],
    ["ArrowLeft", { editing: true }, "–"],
    ["Enter", { row: -1 }, "sort false"],
    ["Shift+Enter", { row: -1 }, "sort true"],
    ["Shift+ArrowRight", { row: -1 }, "widen 1"],
    ["Shift+ArrowRight", { row: -1, rightToLeft: true }, "widen -1"],
    ["Control+ArrowLeft", { row: -1 }, "reorder -1"],
    ["Delete", { row: -1 }, "hide"],
  ] as const)("%s with %j", (key, more, expected) => {
    expect(act(key, more)).toBe(expected);
  });
});

test("the next cell that can be edited is in the row, then in the next, and there is none past the last", () => {
  const edited = [false, true, false, true];
  const walk = (row: number, column: number, by: 1 | -1, rows = 2): unknown => {
    const next = nextEdited({ row, column }, by, edited, rows);
    return next && [next.row, next.column];
  };
  expect([walk(0, 1, 1), walk(0, 3, 1), walk(1, 3, 1), walk(1, 1, -1), walk(0, 1, -1)]).toEqual([
    [0, 3],
    [1, 1],
    undefined,
    [0, 3],
    undefined,
  ]);
  expect(nextEdited({ row: 0, column: 0 }, 1, [false, false], 1_000_000)).toBeUndefined();
});

test("at random: from cell to cell, every cell that can be edited is met in the order of reading, and back", () => {
  const random = seeded(8181);
  console.info(`seed ${random.seed}: 300 grids`);
  for (let round = 0; round < 300; round++) {
    const edited = Array.from({ length: 1 + random.below(5) }, () => random.below(3) > 0);
    const rows = 1 + random.below(4);
    const all = Array.from({ length: rows * edited.length }, (_, at) => ({
      row: Math.floor(at / edited.length),
      column: at % edited.length,
    })).filter(({ column }) => edited[column]);
    for (const by of [1, -1] as const) {
      const met: unknown[] = [];
      let at = nextEdited(
        by === 1 ? { row: 0, column: -1 } : { row: rows - 1, column: edited.length },
        by,
        edited,
        rows,
      );
      for (; at !== undefined && met.length <= all.length; at = nextEdited(at, by, edited, rows)) met.push(at);
      expect([edited, met]).toEqual([edited, by === 1 ? all : all.toReversed()]);
    }
  }
});

describe("where rows are that are higher together than an element can be", () => {
  test("at random: when rows come above what is seen, or go, what is seen stays at its place", () => {
    const random = seeded(4712);
    console.info(`seed ${random.seed}: 400 changes above`);
    for (let round = 0; round < 400; round++) {
      const [rows, height, room] = [
        random.pick([300, 30_000, 1_000_000]),
        random.pick([20, 36]),
        random.pick([100, 611]),
      ];
      const tall = new TallScroll();
      tall.measure(rows, height, room);
      let offset = tall.offsetFor(random.below(rows));
      const [first] = tall.range(0);
      const topOf = (row: number): number => tall.placeOf(row) - offset;
      const before = topOf(first);
      const by = random.below(41) - 20;
      offset = tall.measure(rows + by, height, room, by) ?? offset;
      const wanted = (first + by) * height - before;
      const isPossible = wanted >= 0 && wanted <= (rows + by) * height - room;
      if (isPossible) expect([round, topOf(first + by)]).toEqual([round, expect.closeTo(before, 3)]);
      else expect(tall.range(0)[wanted < 0 ? 0 : 1]).toBe(wanted < 0 ? 0 : rows + by);
    }
  });

  test("at random: each row that is gone to is seen, small scrolling moves by just as much, and both ends are reached", () => {
    const random = seeded(4711);
    console.info(`seed ${random.seed}: 200 grids of 60 moves`);
    for (let round = 0; round < 200; round++) {
      const rows = random.pick([1, 7, 900, 200_000, 1_000_000, 40_000_000]);
      const height = random.pick([20, 33.5, 36]);
      const room = random.pick([100, 611]);
      const tall = new TallScroll();
      tall.measure(rows, height, room);
      const most = Math.max(0, tall.height - room);
      let offset = 0;
      const topOf = (row: number): number => tall.placeOf(row) - offset;
      const isSeen = (row: number): boolean => topOf(row) >= -0.5 && topOf(row) + height <= room + 0.5;
      for (let step = 0; step < 60; step++) {
        const what = random.below(4);
        if (what === 0) {
          const row = random.below(rows);
          offset = tall.offsetFor(row);
          if (rows * height > room && !isSeen(row))
            throw new Error(`row ${row} of ${rows} is at ${topOf(row)} of ${room}`);
          // The scroll bar is at an end only where the rows are.
          const [from, end] = tall.range(0);
          if (from > 0 && end < rows) expect([offset > 0, offset < most]).toEqual([true, true]);
        } else {
          const by = what === 1 ? random.below(2 * room) - room : random.below(Math.ceil(most) + 1) - offset;
          const [first] = tall.range(0);
          const before = topOf(first);
          const to = Math.min(most, Math.max(0, offset + by));
          const moved_ = to - offset;
          offset = to;
          tall.scrolled(offset);
          const inside = offset > 0 && offset < most - 1;
          const [from, end] = tall.range(0);
          if (Math.abs(moved_) < room && inside && from > 0 && end < rows)
            expect(topOf(first)).toBeCloseTo(before - moved_, 3);
        }
        expect([offset >= 0, offset <= most]).toEqual([true, true]);
        const [from, end] = tall.range(4);
        expect(end - from).toBeLessThanOrEqual(Math.ceil(room / height) + 11);
      }
      // An open list may hang over the last row: who scrolls to its end moves no row.
      tall.scrolled(most + 1 + random.below(200));
      tall.measure(rows, height, room);
      expect(tall.placeOf(rows - 1)).toBeCloseTo(tall.height - height, 3);
      tall.scrolled((offset = most));
      expect(tall.range(0)[1]).toBe(rows);
      tall.scrolled((offset = 0));
      expect([tall.range(0)[0], tall.placeOf(0)]).toEqual([0, 0]);
    }
  });
});

describe("the layout of columns", () => {
  const names = ["tag", "species", "count", "notes"];
  test("takes what was kept of columns that there are, and the others at their places", () => {
    expect(layoutFrom(names, undefined)).toEqual({ order: names, hidden: [], widths: {} });
    const kept = {
      order: ["count", "gone", "tag"],
      hidden: ["notes", "gone"],
      widths: { count: 12, tag: 90.4, gone: 5, notes: "wide" },
    };
    expect(layoutFrom(names, kept as never)).toEqual({
      order: ["count", "species", "tag", "notes"],
      hidden: ["notes"],
      widths: { count: 40, tag: 90 },
    });
    expect(layoutFrom(names, { hidden: names }).hidden.length).toBe(3);
    expect(layoutFrom(["__proto__"], JSON.parse('{"widths":{"__proto__":50}}') as never).widths).toEqual({});
  });

  test("columns are moved among those that are seen, hidden but for the last, and never too narrow", () => {
    const all = layoutFrom(names, { hidden: ["species"] });
    expect(seenColumns(moved(all, "tag", 1))).toEqual(["count", "tag", "notes"]);
    expect(moved(all, "tag", 9).order).toEqual(["species", "count", "notes", "tag"]);
    expect(moved(all, "tag", -1)).toBe(all);
    const one = names.reduce((layout, name) => withHidden(layout, name, true), all);
    expect(seenColumns(one)).toEqual(["notes"]);
    expect(seenColumns(withHidden(one, "tag", false))).toEqual(["tag", "notes"]);
    expect(withWidth(all, "tag", 3).widths).toEqual({ tag: 40 });
  });

  test("a heading sorts up, down and not; with a key beside what it is sorted by", () => {
    let sorted: readonly OrderedBy[] = [];
    const said = (): string => sorted.map(({ name, direction }) => `${name} ${direction}`).join(", ");
    const seen = (["a", "b+", "b+", "a+", "b+", "a", "a", "a"] as const).map((step) => {
      sorted = orderAfter(sorted, step[0]!, step.endsWith("+"));
      return said();
    });
    expect(seen).toEqual([
      "a ascending",
      "a ascending, b ascending",
      "a ascending, b descending",
      "a descending, b descending",
      "a descending",
      "",
      "a ascending",
      "a descending",
    ]);
  });
});

describe("a block of cells", () => {
  test("is read as spreadsheets write it, and what is written is read again, whatever is in it", () => {
    expect(readBlock("a\tb\r\nc\t\r\n")).toEqual([
      ["a", "b"],
      ["c", ""],
    ]);
    expect(readBlock('"two\nlines"\t"say ""x"""\nplain "q"\t')).toEqual([
      ["two\nlines", 'say "x"'],
      ['plain "q"', ""],
    ]);
    expect([readBlock("a"), readBlock("\t"), readBlock("a\n\nb")]).toEqual([[["a"]], [["", ""]], [["a"], [""], ["b"]]]);
    const random = seeded(5);
    console.info(`seed ${random.seed}: 3,000 blocks`);
    const signs = ["a", "é", '"', "\t", "\n", "\r\n", " ", "'", ",", "=1+1", "木"];
    for (let round = 0; round < 3000; round++) {
      const columns = 1 + random.below(4);
      const block = Array.from({ length: 1 + random.below(5) }, () =>
        Array.from({ length: columns }, () =>
          Array.from({ length: random.below(4) }, () => random.pick(signs)).join(""),
        ),
      );
      // One empty cell alone is nothing, and a last row of one empty cell is the end of the line before.
      block.at(-1)![0] = `x${block.at(-1)![0]!}`;
      expect(readBlock(writeBlock(block))).toEqual(block);
    }
  });
});
