/** What was done in two ways and had drifted apart is done in one: saving, showing, checking, what a proposal reads, taking back. */
import { createServer, type Server } from "node:http";
import type { AddressInfo } from "node:net";
import { afterEach, describe, expect, test } from "@jest/globals";
import { httpStore } from "../src/browser/index.ts";
import {
  boolean,
  decimal,
  editEntry,
  follow,
  instant,
  integer,
  mayLeave,
  model,
  newEntry,
  newHistory,
  number,
  rows,
  rowsOf,
  setAsker,
  table,
  text,
  transaction,
  view,
} from "../src/index.ts";
import { cellsOf, pasteBlock } from "../src/rows/index.ts";

const line = model({ species: text({ required: true }), count: integer({ required: true, minimum: 1 }) });
const order = model(
  { number: integer({ required: true }), site: text(), lines: rows(line) },
  { key: "number", title: "Order" },
);
const twoOrders = () =>
  table(
    order,
    [
      { number: 1, site: "North", lines: [{ species: "Acer campestre", count: 1 }] },
      { number: 2, site: "South", lines: [] },
    ],
    { locale: "en" },
  );

describe("what is open in a row inside a row belongs to the row", () => {
  const begin = (onLeave: "save" | "ask" | "stay") => {
    const orders = twoOrders();
    const shown = view(orders);
    shown.currentKey = 1;
    const entry = editEntry(shown, { onLeave });
    const lines = rowsOf(entry, "lines");
    const inner = editEntry(lines, lines.keyOf([...lines][0]!));
    return { orders, shown, entry, lines, inner };
  };

  test("going to another row does not lose it: what is wrong stays, what is right is saved", () => {
    const { orders, shown, entry, inner } = begin("save");
    inner.fields.count.enter("many");
    expect([entry.changed, inner.changed]).toEqual([true, true]);
    shown.currentKey = 2;
    expect([shown.currentKey, inner.fields.count.text]).toEqual([1, "many"]);
    expect(inner.fields.count.visibleProblems).toMatchObject([{ code: "badInput" }]);
    inner.fields.count.enter("7");
    shown.currentKey = 2;
    expect([shown.currentKey, orders.get(1)!.lines]).toEqual([2, [{ species: "Acer campestre", count: 7 }]]);
    expect(entry.changed).toBe(false);
  });

  test("leaving asks, and to leave takes back what is open inside too", async () => {
    const { orders, entry, inner } = begin("ask");
    const asked: string[] = [];
    const asker = setAsker({
      ask: async ({ text: question }) => {
        asked.push(question);
        return "leave";
      },
      word: (name) => name,
    });
    inner.fields.count.enter("many");
    expect(await mayLeave(entry)).toBe(true);
    asker.stop();
    expect(asked).toHaveLength(1);
    expect([entry.changed, inner.fields.count.text, orders.get(1)!.lines[0]!.count]).toEqual([false, "1", 1]);
  });

  test("a save takes it along, and refuses with its place; undo takes back what was typed in it", async () => {
    const { orders, entry, inner } = begin("save");
    inner.fields.count.enter("0");
    expect(await entry.save()).toMatchObject({
      ok: false,
      problems: [{ code: "rangeUnderflow", pointer: "/lines/0/count" }],
    });
    expect(entry.undo()).toMatchObject({ ok: true, step: { titles: ["Count"] } });
    expect([inner.fields.count.text, entry.changed]).toEqual(["1", false]);
    inner.fields.count.enter("4");
    expect(await entry.save()).toMatchObject({ ok: true });
    expect(orders.get(1)!.lines[0]!.count).toBe(4);
  });

  test("who deletes the row inside has given up what was typed in it; an undo brings the row back as it was", async () => {
    const { orders, entry, lines, inner } = begin("save");
    inner.fields.count.enter("many");
    lines.delete(lines.keyOf([...lines][0]!));
    expect([entry.changed, inner.kept, [...lines]]).toEqual([true, undefined, []]);
    entry.undo();
    expect([entry.changed, [...lines]]).toEqual([false, [{ species: "Acer campestre", count: 1 }]]);
    entry.redo();
    expect(await entry.save()).toMatchObject({ ok: true, row: { number: 1, lines: [] } });
    expect([orders.get(1)?.lines, entry.changed]).toEqual([[], false]);
  });

  test("three deep, and with a rule that asks: the row waits for the answer about what is inside", async () => {
    const part = model({ code: text() }).rule("known", {
      shownAt: ["code"],
      holds: async (p) => p.code !== "x",
      quiet: 0,
    });
    const box = model({ name: text(), parts: rows(part) });
    const load = model({ id: integer(), boxes: rows(box) }, { key: "id" });
    const loads = table(load, [{ id: 1, boxes: [{ name: "b", parts: [{ code: "a" }] }] }]);
    const outer = editEntry(loads, 1);
    const boxes = rowsOf(outer, "boxes");
    const middle = editEntry(boxes, boxes.keyOf([...boxes][0]!));
    const parts = rowsOf(middle, "parts");
    const inner = editEntry(parts, parts.keyOf([...parts][0]!));
    inner.fields.code.enter("x");
    expect([outer.changed, middle.changed]).toEqual([true, true]);
    expect(await outer.save()).toMatchObject({
      ok: false,
      problems: [{ code: "known", pointer: "/boxes/0/parts/0/code" }],
    });
    inner.fields.code.enter("y");
    expect(await outer.save()).toMatchObject({ ok: true });
    expect(loads.get(1)!.boxes[0]!.parts).toEqual([{ code: "y" }]);
  });
});

describe("what is saved is what was checked", () => {
  test("with two rules that ask about one field, none is left out when the value changes meanwhile", async () => {
    const asked: [string, string][] = [];
    const answers: (() => void)[] = [];
    const rule = (name: string) => (row: { readonly tag: string }) => {
      asked.push([name, row.tag]);
      return new Promise<boolean>((done) => answers.push(() => done(true)));
    };
    const card = model({ tag: text() })
      .rule("a", { shownAt: ["tag"], holds: rule("a"), quiet: 0 })
      .rule("b", { shownAt: ["tag"], holds: rule("b"), quiet: 0 });
    const saved: unknown[] = [];
    const entry = newEntry(card, { save: (row) => void saved.push(row) });
    entry.fields.tag.enter("one");
    const saving = entry.save();
    await Promise.resolve();
    // The first rule answers, then the value changes, then all others answer.
    answers.shift()?.();
    await Promise.resolve();
    entry.fields.tag.enter("two");
    for (let turn = 0; turn < 20; turn++) {
      answers.splice(0).forEach((answer) => answer());
      await Promise.resolve();
    }
    expect(await saving).toMatchObject({ ok: true, row: { tag: "two" } });
    expect(saved).toEqual([{ tag: "two" }]);
    for (const name of ["a", "b"]) expect(asked).toContainEqual([name, "two"]);
  });

  test("a value that is entered in the turn of the last answer is asked about before it is saved", async () => {
    const asked: string[] = [];
    let change: (() => void) | undefined;
    const card = model({ tag: text() }).rule("free", {
      shownAt: ["tag"],
      quiet: 0,
      holds: async ({ tag }) => {
        asked.push(tag);
        return tag !== "taken";
      },
    });
    const saved: unknown[] = [];
    const entry = newEntry(card, { save: (row) => void saved.push(row) });
    follow(
      () => entry.checking,
      (checking) => {
        if (!checking) queueMicrotask(() => change?.());
      },
    );
    entry.fields.tag.enter("good");
    change = () => {
      change = undefined;
      entry.fields.tag.enter("taken");
    };
    const result = await entry.save();
    if (result.ok) expect(asked).toContain(result.row.tag);
    expect(saved).not.toContainEqual({ tag: "taken" });
  });
});

test("a proposal forgets what it does not read any more", () => {
  const desk = model({ mode: text({ default: "b" }), a: number(), b: number(), c: number() }).proposed({
    a: (t) => (t.mode === "b" ? t.b : t.c),
    b: (t) => t.a,
  });
  const entry = newEntry(desk, { locale: "en" });
  entry.fields.b.enter("5");
  expect(entry.values.a).toBe(5);
  entry.values.mode = "c";
  entry.fields.a.enter("9");
  entry.fields.b.enter("6");
  expect([entry.values.a, entry.fields.a.follows]).toEqual([9, false]);
});

describe("a load that is taken back", () => {
  test("leaves rows, history, current row and selection as they were, looked at meanwhile or not", () => {
    for (const looked of [false, true]) {
      const history = newHistory();
      const stock = table(
        model({ tag: text(), count: integer() }, { key: "tag" }),
        [
          { tag: "A", count: 1 },
          { tag: "B", count: 2 },
          { tag: "C", count: 3 },
        ],
        { history },
      );
      const shown = view(stock, { orderBy: "tag" });
      shown.currentKey = "B";
      shown.selectedKeys = ["A", "C"];
      stock.update("A", { count: 9 });
      const load = () =>
        transaction(() => {
          stock.load([{ tag: "X", count: 1 }]);
          if (looked) expect([shown.length, shown.currentKey, shown.selectedKeys]).toEqual([1, undefined, []]);
          throw new Error("no");
        });
      expect(load).toThrow("no");
      expect([...stock].map(({ tag }) => tag)).toEqual(["A", "B", "C"]);
      expect([shown.currentKey, shown.selectedKeys, shown.length]).toEqual(["B", ["A", "C"], 3]);
      expect(history.undo()).toMatchObject({ ok: true, skipped: [] });
      expect(stock.get("A")!.count).toBe(1);
    }
  });
});

describe("one value is shown one way", () => {
  const seen = model(
    { id: integer(), at: instant({ title: "Seen" }), pots: integer(), weight: decimal() },
    { key: "id" },
  ).calculated({ third: (s) => (s.pots ?? 0) / 3, many: (s) => (s.pots ?? 0) > 1 });
  const row = { id: 1, at: "2026-11-28T00:00:00Z", pots: 1, weight: undefined };

  test("in a form, a cell, a group, a list of cells to copy, and what a search finds", () => {
    const options = { locale: "de", timeZone: "America/New_York" };
    const stock = table(seen, [row], options);
    const entry = editEntry(stock, 1);
    const shown = view(stock, { searchIn: ["third", "many", "at"] });
    for (const name of ["third", "many", "at"] as const) {
      const form = entry.fields[name].display;
      const [group] = shown.groups(name);
      expect([name, group!.title]).toEqual([name, form]);
      shown.search = form;
      expect([name, shown.length]).toEqual([name, 1]);
      shown.search = "";
    }
    expect(entry.fields.third.display).toBe("0,333333");
    expect(cellsOf(shown, [row as never], ["third", "many"])).toEqual([["0,333333", entry.fields.many.display]]);
    expect(entry.timeZone).toBe("America/New_York");
    expect(entry.fields.at.display).toContain("27.11.2026");
  });

  test("what is pasted is read by the clock by which it is shown", () => {
    const stock = table(seen, [row], { locale: "en", timeZone: "America/New_York" });
    const shown = view(stock);
    const { text: typed } = editEntry(stock, 1).fields.at;
    expect(pasteBlock(shown, [[typed]], { row: 0, columns: ["at"] })).toMatchObject({ ok: true, cells: 0 });
    stock.update(1, { at: "2025-01-01T12:00:00Z" });
    expect(pasteBlock(shown, [[typed]], { row: 0, columns: ["at"] })).toMatchObject({ ok: true, cells: 1 });
    expect(stock.get(1)!.at).toBe("2026-11-28T00:00:00Z");
  });
});

test("a rule that is shown at several fields is told at the first of them that is there, in entries and in tables alike", async () => {
  const card = model({ tag: text(), fenced: boolean(), cost: number(), notes: text() }, { key: "tag" })
    .relevant({ cost: (t) => t.fenced })
    .rule("explain", { shownAt: ["cost", "notes"], message: "Say why.", holds: (t) => t.notes !== "" });
  const entry = newEntry(card, { values: { tag: "A" }, save: () => undefined });
  expect(entry.problems).toMatchObject([{ code: "explain", pointer: "/notes" }]);
  expect(await entry.save()).toMatchObject({ ok: false });
  const stock = table(card, []);
  expect(stock.insert({ tag: "A" })).toMatchObject({ ok: false, problems: [{ pointer: "/notes" }] });
  entry.values.fenced = true;
  expect(entry.problems).toMatchObject([{ code: "explain", pointer: "/cost" }]);
});

describe("what a service answers is called what it is", () => {
  let server: Server | undefined;
  afterEach(() => void server?.close());

  test.each([
    [422, "refused"],
    [403, "refused"],
    [429, "unreachable"],
    [500, "unreachable"],
    [502, "unreachable"],
    [503, "unreachable"],
    [504, "unreachable"],
    [507, "full"],
  ])("%i is %s", async (status, kind) => {
    server = createServer((_, response) => {
      response.writeHead(status, { "content-type": "application/problem+json" });
      response.end(JSON.stringify({ status, title: "It says why." }));
    });
    await new Promise<void>((listening) => server!.listen(0, "127.0.0.1", listening));
    const { port } = server.address() as AddressInfo;
    const store = httpStore(`http://127.0.0.1:${port}/`, line);
    await expect(store.append({ species: "Acer campestre", count: 1 })).rejects.toMatchObject({
      kind,
      message: expect.stringContaining("It says why."),
    });
  });
});
