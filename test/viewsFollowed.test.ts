/** Views that are followed, views of views, what changes outside their rows, and slots that are used again: against plain arrays. */
import { expect, test } from "@jest/globals";
import { internal } from "../src/engine/index.ts";
import {
  boolean,
  editEntry,
  follow,
  followRows,
  integer,
  model,
  newEntry,
  newHistory,
  type RowOf,
  table,
  text,
  transaction,
  view,
} from "../src/index.ts";
import { seeded, times } from "./seeded.ts";

const plant = model({ key: integer({ required: true }), x: integer(), z: text() }, { key: "key" });
type Plant = RowOf<typeof plant>;
const outside = model({
  limit: integer({ default: 2 }),
  strict: boolean({ default: false }),
  word: text({ default: "a" }),
});

test(`${times(1_000)} tables: a view that is followed shows what filtering and sorting afresh gives, whatever changed and in which order`, () => {
  const random = seeded(20_261_128);
  let steps = 0;
  for (let number = 0; number < times(1_000); number++) {
    const numbered = random.below(2) === 0;
    const history = newHistory();
    const made = (): { x: number | undefined; z: string } => ({
      x: random.pick([undefined, 0, 1, 2, 3]),
      z: random.pick(["", "a", "b", "ab"]),
    });
    const rows = table(numbered ? model({ x: integer(), z: text() }) : plant, [], { locale: "en", history });
    const settings = newEntry(outside);
    const { values } = settings;
    // What is read outside the rows depends on the row and on what else is read.
    const where = ({ x, z }: { x?: number | undefined; z: string }): boolean => {
      if (x === undefined) return values.strict ? z === values.word : true;
      return x === 1 ? values.limit! > 1 : x <= values.limit!;
    };
    const first = view(rows as never, { where: where as never, orderBy: "z" });
    const second = view(first, { orderBy: ["x desc"], where: ((r: Plant) => !values.strict || r.z !== "b") as never });
    const tags = new Map<object, number>();
    let next = 1;
    const tagOf = (row: object): number => tags.get(row) ?? tags.set(row, next++).get(row)!;
    const seen: { first: number[]; second: number[] } = { first: [], second: [] };
    const followers = [
      ...(random.below(4) === 0
        ? []
        : [
            follow(
              () => [...first],
              (now) => (seen.first = now.map(tagOf)),
            ),
          ]),
      ...(random.below(4) === 0
        ? []
        : [
            follow(
              () => [...second],
              (now) => (seen.second = now.map(tagOf)),
            ),
          ]),
    ];
    let key = 1;
    const all = (): { x?: number | undefined; z: string }[] => [...(rows as Iterable<never>)];
    const edit = (): void => {
      const list = all();
      const at = random.below(list.length + 2);
      const old = list[at];
      if (old === undefined) return void rows.insert(numbered ? made() : { key: key++, ...made() });
      const keyOf = rows.keyOf(old as never);
      if (random.below(2) === 0) rows.delete(keyOf);
      else rows.update(keyOf, made());
    };
    const touch = (): void => {
      switch (random.below(3)) {
        case 0:
          return void (values.limit = random.below(4));
        case 1:
          return void (values.strict = random.below(2) === 0);
        default:
          return void (values.word = random.pick(["a", "b"]));
      }
    };
    for (let step = 0; step < 15; step++, steps++) {
      switch (random.below(8)) {
        case 0:
          history.undo();
          break;
        case 1:
          history.redo();
          break;
        case 2:
          touch();
          break;
        case 3:
          // To and fro while rows come and go, looked at in between or not.
          transaction(() => {
            const before = { ...values };
            touch();
            edit();
            if (random.below(2) === 0) second.at(0);
            Object.assign(values, { limit: before.limit, strict: before.strict, word: before.word });
            edit();
          });
          break;
        case 4:
          expect(() =>
            transaction(() => {
              edit();
              touch();
              if (random.below(2) === 0) first.at(0);
              edit();
              throw new Error("taken back");
            }),
          ).toThrow("taken back");
          break;
        default:
          edit();
      }
      if (followers.length === 0 && random.below(3) > 0) continue;
      const inFirst = all()
        .filter(where)
        .toSorted((a, b) => Number(a.z === "") - Number(b.z === "") || (a.z < b.z ? -1 : Number(a.z > b.z)));
      const inSecond = all()
        .filter((r) => where(r) && (!values.strict || r.z !== "b"))
        .toSorted((a, b) => Number(a.x === undefined) - Number(b.x === undefined) || (b.x ?? 0) - (a.x ?? 0));
      const wanted = { first: inFirst.map(tagOf), second: inSecond.map(tagOf) };
      const held = { first: [...first].map(tagOf), second: [...second].map(tagOf) };
      const what = `seed ${random.seed}, table ${number}, step ${step}`;
      expect({ what, ...held }).toEqual({ what, ...wanted });
    }
    for (const each of followers) each.stop();
  }
  console.info(`seed ${random.seed}: ${steps} steps on ${times(1_000)} tables`);
});

test("who follows the rows one by one ends with the rows that there are: slots are used again, and rows brought back", () => {
  const random = seeded(77);
  for (let number = 0; number < times(400); number++) {
    const history = newHistory();
    const rows = table(plant, [], { locale: "en", history });
    const mirrored = new Map<number, Plant>();
    const following = followRows(rows, (changes) => {
      for (const change of changes) {
        if (change.kind === "insert") continue;
        const before = change.kind === "update" ? change.keyBefore : change.key;
        expect(mirrored.get(before)).toEqual(change.before);
        mirrored.delete(before);
      }
      for (const change of changes) if (change.kind !== "delete") mirrored.set(change.key, change.after);
    });
    const shown = view(rows, { orderBy: "z" });
    let key = 1;
    for (let step = 0; step < 25; step++) {
      const keys = [...rows].map((row) => row.key);
      const edit = (): void => {
        const at = random.below(keys.length + 2);
        const old = keys[at];
        if (old === undefined || !rows.has(old))
          rows.insert({ key: key++, x: random.below(3), z: random.pick(["", "a", "b"]) });
        else if (random.below(2) === 0) rows.delete(old);
        else rows.update(old, { x: random.below(5) });
      };
      const which = random.below(6);
      if (which === 0) history.undo();
      else if (which === 1) history.redo();
      else if (which === 2)
        transaction(() => {
          edit();
          edit();
          edit();
        });
      else edit();
      const current = shown.currentKey;
      if (current !== undefined && !rows.has(current)) throw new Error(`seed ${random.seed}: the current row is gone`);
      if (random.below(3) === 0 && rows.size > 0) {
        shown.currentKey = random.pick([...rows]).key;
        shown.selectedKeys = [random.pick([...rows]).key];
      }
      expect([...mirrored.values()].toSorted((a, b) => a.key - b.key)).toEqual(
        [...rows].toSorted((a, b) => a.key - b.key),
      );
    }
    following.stop();
  }
  console.info(`seed ${random.seed}: ${times(400)} tables of 25 steps`);
});

test("a row that takes the slot of one that is gone is neither current nor selected for it, nor is it in an entry over the other", () => {
  const stock = table(plant, [
    { key: 1, x: 1, z: "a" },
    { key: 2, x: 2, z: "b" },
    { key: 3, x: 3, z: "c" },
  ]);
  const shown = view(stock);
  shown.currentKey = 2;
  shown.selectedKeys = [1, 2];
  const open = editEntry(stock, 3);
  open.fields.x.enter("7");
  transaction(() => {
    stock.delete(2);
    stock.delete(3);
    stock.insert({ key: 4, x: 4, z: "d" });
    stock.insert({ key: 5, x: 5, z: "e" });
  });
  expect([shown.selectedKeys, shown.currentKey]).toEqual([[1], 4]);
  expect([open.key, open.fields.x.text, open.readOnly]).toEqual([undefined, "7", true]);
  expect([...stock].map(({ key }) => key)).toEqual([1, 4, 5]);
  open.stop();
});

test("rows that come and go leave nothing behind: slots are used again, with a history and without", () => {
  for (const history of [undefined, newHistory({ maxItems: 5 })]) {
    const stock = table(plant, [{ key: 0, x: 0, z: "" }], history === undefined ? {} : { history });
    const shown = view(stock, { orderBy: "x" });
    for (let key = 1; key <= 2_000; key++) {
      stock.insert({ key, x: key, z: "" });
      if (key % 3 === 0) expect(shown.length).toBe(2);
      stock.delete(key);
    }
    expect([stock[internal].slots, shown.length, [...stock].length]).toEqual([2, 1, 1]);
  }
});
