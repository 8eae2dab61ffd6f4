/** The order of rows that people choose by hand. */
import { describe, expect, test } from "@jest/globals";
import { integer, model, newHistory, reorderRows, type RowOf, table, text, type View, view } from "../src/index.ts";
import { seeded } from "./seeded.ts";

const task = model(
  { name: text({ required: true }), place: integer({ title: "Place", minimum: 1 }), part: integer() },
  { title: "Task", key: "name" },
);
type Task = RowOf<typeof task>;
const rowsOf = (places: readonly (number | undefined)[]): Task[] =>
  places.map((place, at) => ({ name: "abcdefghijklmnopqrstuvwxyz"[at]!, place, part: at % 2 }));
const tasks = (places: readonly (number | undefined)[]) => table(task, rowsOf(places), { history: newHistory() });
const names = (shown: View<typeof task>): string => shown.keys().join("");

describe("reorderRows", () => {
  test("deals out the numbers that are there, and touches only the rows between", () => {
    const all = tasks([10, 20, 30, 40, 50]);
    const shown = view(all, { orderBy: "place" });
    const before = [...all];
    expect(reorderRows(shown, ["d"], "b")).toEqual({ ok: true, rows: 1 });
    expect(names(shown)).toBe("adbce");
    expect(shown.rows().map(({ place }) => place)).toEqual([10, 20, 30, 40, 50]);
    expect([all.get("a"), all.get("e")]).toEqual([before[0], before[4]]);
    expect(all.get("a")).toBe(before[0]);
    expect(all.get("e")).toBe(before[4]);
    expect(reorderRows(shown, ["a", "b"])).toEqual({ ok: true, rows: 2 });
    expect(names(shown)).toBe("dceab");
  });

  test("is one step to undo", () => {
    const all = tasks([1, 2, 3, 4]);
    const shown = view(all, { orderBy: "place" });
    reorderRows(shown, ["d", "c"], "a");
    expect(names(shown)).toBe("cdab");
    all.history!.undo();
    expect(names(shown)).toBe("abcd");
  });

  test("where numbers are missing or stand twice, all rows are numbered from 1", () => {
    for (const places of [
      [1, 1, 1, 1],
      [undefined, undefined, undefined, undefined],
      [1, 2, undefined, undefined],
      [1, 2, 2, 3],
    ]) {
      const shown = view(tasks(places), { orderBy: "place" });
      reorderRows(shown, ["c"], "b");
      expect([names(shown), shown.rows().map(({ place }) => place)]).toEqual(["acbd", [1, 2, 3, 4]]);
    }
  });

  test("descending, and in a view of some rows, the order is that of the view; the others keep their numbers", () => {
    const all = tasks([1, 2, 3, 4, 5, 6]);
    const odd = view(all, { where: ({ part }) => part === 1, orderBy: "place desc" });
    expect(names(odd)).toBe("fdb");
    reorderRows(odd, ["b"], "f");
    expect(names(odd)).toBe("bfd");
    expect(["a", "c", "e"].map((name) => all.get(name)!.place)).toEqual([1, 3, 5]);
  });

  test("where a row may not get another number, none has moved, and the problem says which", () => {
    const strict = model({ name: text({ required: true }), place: integer({ maximum: 3 }) }, { key: "name" });
    const all = table(
      strict,
      ["a", "b", "c", "d"].map((name) => ({ name, place: undefined })),
    );
    const shown = view(all, { orderBy: "place" });
    const result = reorderRows(shown, ["d"], "a");
    expect(result).toMatchObject({ ok: false, problems: [{ code: "rangeOverflow", pointer: "/place" }] });
    expect([...all].every(({ place }) => place === undefined)).toBe(true);
  });

  test("a view with no order of its own is refused, with what would be right", () => {
    const all = tasks([1, 2]);
    for (const orderBy of [undefined, "name"])
      expect(() => reorderRows(view(all, { orderBy: orderBy as never }), ["a"])).toThrow(
        /no order of their own.*orderBy.*number or integer/s,
      );
  });

  test("1,000 random moves come to what an array of names comes to", () => {
    const seed = 20261123;
    const random = seeded(seed);
    const all = tasks(Array.from({ length: 20 }, (_, at) => (at < 15 ? at + 1 : undefined)));
    const shown = view(all, { orderBy: "place" });
    let plain = [...names(shown)];
    for (let step = 0; step < 1000; step++) {
      const moved = plain.filter(() => random.below(100) < 15);
      const target = random.below(plain.length + 1);
      const before = plain[target];
      reorderRows(shown, moved, before);
      const those = plain.filter((name) => moved.includes(name));
      const front = plain.slice(0, target).filter((name) => !moved.includes(name));
      plain = [...front, ...those, ...plain.filter((name) => !front.includes(name) && !moved.includes(name))];
      expect(names(shown)).toBe(plain.join(""));
    }
    console.info(`1,000 moves, seed ${seed}`);
  });
});
