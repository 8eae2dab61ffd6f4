import { afterEach, describe, expect, test } from "@jest/globals";
import {
  date,
  decimal,
  Decimal,
  followRows,
  integer,
  model,
  newHistory,
  type RowOf,
  table,
  text,
  transaction,
  view,
} from "../src/index.ts";
import { shareTable, type SharedTable } from "../src/browser/index.ts";
import { seeded } from "./seeded.ts";

const plant = model(
  {
    tag: text({ title: "Tag", required: true }),
    count: integer({ title: "Plants" }),
    sown: date(),
    price: decimal(),
    notes: text(),
  },
  { title: "Plant", key: "tag" },
);
type Plant = RowOf<typeof plant>;
const row = (tag: string, count: number): Plant => ({ tag, count, sown: undefined, price: undefined, notes: "" });
const plain = (rows: Iterable<Plant>): string[] =>
  [...rows].map((each) => JSON.stringify([each.tag, each.count, each.sown, each.price, each.notes])).toSorted();
const moment = (): Promise<unknown> => new Promise((done) => setTimeout(done, 120));

const open: SharedTable[] = [];
let number = 0;
const name = (): string => `test ${process.pid} ${++number}`;
const share = (stock: ReturnType<typeof begin>, under: string): SharedTable => {
  const shared = shareTable(stock, under);
  open.push(shared);
  return shared;
};
const begin = (rows: readonly Plant[] = []) => table(plant, rows, { locale: "en", history: newHistory() });
afterEach(() => open.splice(0).forEach((each) => each.stop()));

describe("what happened to rows", () => {
  test("is told once a transaction, row by row, with what each was before and which fields are others now", () => {
    const stock = begin([row("A", 1), row("B", 2), row("C", 3)]);
    const told: string[] = [];
    const following = followRows(stock, (changes, { loaded }) => {
      told.push(
        loaded ? "loaded" : changes.map(({ kind, key, fields }) => `${kind} ${key} ${fields.join("+")}`).join(", "),
      );
    });
    transaction(() => {
      stock.update("A", { count: 9, notes: "dry" });
      stock.update("A", { notes: "" });
      stock.delete("B");
      stock.insert({ tag: "D", count: 4 });
      stock.insert({ tag: "E" });
      stock.delete("E");
      stock.update("C", { tag: "CC" });
    });
    stock.update("A", { count: 9 });
    stock.history!.undo();
    stock.load([row("X", 1)]);
    following.stop();
    stock.clear();
    expect(told).toEqual([
      "update A count, delete B tag+count, insert D tag+count, update CC tag",
      "update A count, insert B tag+count, delete D tag+count, update C tag",
      "loaded",
    ]);
  });
});

describe("a table in two windows", () => {
  test("has the rows of the one that is there already, and every change of either, whatever is in them", async () => {
    const under = name();
    const first = begin([row("A", 1), { ...row("B", 2), price: Decimal.of("2.50"), sown: "2024-02-29" }]);
    expect(await share(first, under).ready).toBe(false);
    const second = begin();
    expect(await share(second, under).ready).toBe(true);
    expect([plain(second), second.get("B")!.price instanceof Decimal]).toEqual([plain(first), true]);
    const totals = [view(first), view(second)];
    transaction(() => {
      first.update("A", { count: 5 });
      first.insert({ tag: "C", notes: "<b>" });
    });
    await moment();
    second.delete("B");
    second.update("C", { tag: "CC", count: 7 });
    await moment();
    expect([plain(first), totals.map((each) => each.total("count"))]).toEqual([plain(second), [12, 12]]);
    second.load([row("Z", 1)]);
    await moment();
    expect(plain(first)).toEqual(plain(second));
  });

  test("both keep changes of different fields made at once, and agree on one of the same field; a deleted row stays deleted", async () => {
    const under = name();
    const [first, second] = [begin([row("A", 1), row("B", 1)]), begin()];
    await share(first, under).ready;
    await share(second, under).ready;
    first.update("A", { count: 10 });
    second.update("A", { notes: "wet" });
    first.update("B", { count: 20 });
    second.update("B", { count: 30 });
    await moment();
    expect(plain(first)).toEqual(plain(second));
    expect([first.get("A"), [20, 30].includes(first.get("B")!.count!)]).toMatchObject([
      { count: 10, notes: "wet" },
      true,
    ]);
    first.delete("A");
    second.update("A", { count: 11 });
    await moment();
    expect([plain(first), first.has("A")]).toEqual([plain(second), false]);
  });

  test("what another window did is not undone here, nor what was changed there since", async () => {
    const under = name();
    const [first, second] = [begin([row("A", 1)]), begin()];
    await share(first, under).ready;
    await share(second, under).ready;
    second.update("A", { count: 2 });
    await moment();
    expect(first.history!.undo().ok).toBe(false);
    first.update("A", { count: 3 });
    await moment();
    expect(second.history!.undo()).toMatchObject({ ok: true, skipped: ["A"] });
    expect([first.get("A")!.count, second.get("A")!.count]).toEqual([3, 3]);
  });

  test("after random changes in both, once all is quiet they agree", async () => {
    const random = seeded(99);
    console.info(`seed ${random.seed}: 3 windows, 400 changes`);
    const under = name();
    const windows = [begin(Array.from({ length: 10 }, (_, place) => row(`T${place}`, place))), begin(), begin()];
    for (const each of windows) await share(each, under).ready;
    for (let step = 0; step < 400; step++) {
      const stock = random.pick(windows);
      const tags = [...stock].map(({ tag }) => tag);
      const tag = tags.length === 0 ? undefined : random.pick(tags);
      const what = random.below(10);
      if (what < 2) stock.insert({ tag: `N${step}`, count: step });
      else if (what < 3 && tag !== undefined) stock.delete(tag);
      else if (tag !== undefined) stock.update(tag, what < 7 ? { count: step } : { notes: `n${step}` });
      if (random.below(6) === 0) await new Promise((done) => setTimeout(done, random.below(3)));
    }
    await moment();
    await moment();
    expect(plain(windows[1]!)).toEqual(plain(windows[0]!));
    expect(plain(windows[2]!)).toEqual(plain(windows[0]!));
  });

  test("a window that is closed listens no more; rows without a key can't be shared, and that is said", async () => {
    const under = name();
    const [first, second] = [begin([row("A", 1)]), begin()];
    await share(first, under).ready;
    const closed = share(second, under);
    await closed.ready;
    closed.stop();
    first.update("A", { count: 2 });
    await moment();
    expect(second.get("A")!.count).toBe(1);
    const note = model({ words: text() }, { title: "Note" });
    expect(() => shareTable(table(note, []), "notes")).toThrow(/no key of their own.*"Note".*a model with a key/s);
  });
});
