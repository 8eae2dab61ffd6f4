import { describe, expect, test } from "@jest/globals";
import {
  editEntry,
  integer,
  model,
  moveRows,
  newEntry,
  newHistory,
  number,
  oneOf,
  type RowOf,
  rows,
  rowsOf,
  table,
  text,
  view,
} from "../src/index.ts";
import { seeded } from "./seeded.ts";

const plant = model(
  {
    tag: text({ title: "Tag", required: true }),
    species: text({ title: "Species" }),
    count: integer({ title: "Plants", minimum: 1 }),
    price: number({ title: "Price" }),
  },
  { title: "Plant", key: "tag" },
);
const line = model(
  {
    species: text({ title: "Species", required: true }),
    count: integer({ title: "Plants", minimum: 1, maximum: 500 }),
    price: number({ title: "Price" }),
  },
  { title: "Order line" },
).rule("dearIsFew", {
  shownAt: ["count"],
  message: "No more than ten of these.",
  holds: (l) => (l.price ?? 0) < 100 || (l.count ?? 0) <= 10,
});
type Plant = RowOf<typeof plant>;

const plants = (count: number): Plant[] =>
  Array.from({ length: count }, (_, place) => ({
    tag: `T${place + 1}`,
    species: ["Acer", "Betula", "Corylus"][place % 3]!,
    count: 5 + (place % 7),
    price: 2,
  }));
const begin = (count: number) => {
  const history = newHistory();
  const stock = table(plant, plants(count), { locale: "en", history });
  const order = table(line, [], { locale: "en", history });
  return { history, stock, order };
};
const sums = (all: Iterable<{ count: number | undefined }>): number =>
  [...all].reduce((sum, { count }) => sum + (count ?? 0), 0);

describe("moving rows", () => {
  test("1,000 with one refused in the middle changes nothing; without it all go, and undo brings all back as one step", () => {
    const { stock, order, history } = begin(1000);
    const [inStock, ordered] = [view(stock), view(order)];
    const total = sums(stock);
    const keys = [...stock].map(({ tag }) => tag);
    stock.update("T500", { price: 100, count: 11 });
    const before = [...stock];
    const refused = moveRows(stock, order, keys);
    expect(refused).toEqual({
      ok: false,
      problems: [{ code: "dearIsFew", message: "No more than ten of these.", severity: "error", pointer: "/count" }],
    });
    expect([
      [...stock].every((row, place) => row === before[place]),
      order.size,
      inStock.total("count"),
      ordered.total("count"),
    ]).toEqual([true, 0, total + 11 - plants(1000)[499]!.count!, 0]);
    stock.update("T500", { price: 2, count: plants(1000)[499]!.count });
    expect(moveRows(stock, order, keys)).toEqual({ ok: true, rows: 1000 });
    expect([inStock.total("count"), ordered.total("count"), stock.size]).toEqual([0, total, 0]);
    history.undo();
    expect([inStock.total("count"), ordered.total("count"), [...stock].map(({ tag }) => tag)]).toEqual([
      total,
      0,
      keys,
    ]);
  });

  test("part of a quantity leaves the rest, joins an equal row, and no more than there is can go", () => {
    const { stock, order } = begin(6);
    const options = { quantity: "count", join: ["species", "price"] } as const;
    expect(moveRows(stock, order, ["T1"], { ...options, amount: 3 })).toEqual({ ok: true, rows: 1 });
    expect(moveRows(stock, order, ["T4", "T2"], { ...options, amount: 2 })).toEqual({ ok: true, rows: 2 });
    expect([...order].map(({ species, count }) => `${species} ${count}`)).toEqual(["Acer 5", "Betula 2"]);
    expect([stock.get("T1")!.count, stock.get("T4")!.count]).toEqual([2, 6]);
    expect(moveRows(stock, order, ["T1", "T2"], { ...options, amount: 3 })).toEqual({
      ok: false,
      problems: [{ code: "rangeOverflow", message: "Enter 2 or less.", severity: "error", pointer: "/count" }],
    });
    expect(moveRows(stock, order, ["T1"], { ...options, amount: 0 })).toMatchObject({ ok: false });
    expect(moveRows(stock, order, ["T1"], options)).toMatchObject({ ok: true });
    expect([stock.has("T1"), [...order][0]!.count]).toEqual([false, 7]);
  });

  test("is guarded by what both would be, with the reason", () => {
    const { stock, order } = begin(6);
    const allowed = () => sums(order) <= 12 || `A lorry takes 12, and these are ${sums(order)}.`;
    expect(moveRows(stock, order, ["T1", "T2"], { allowed })).toMatchObject({ ok: true });
    expect(moveRows(stock, order, ["T3"], { allowed })).toEqual({
      ok: false,
      problems: [
        { code: "notAllowed", message: "A lorry takes 12, and these are 18.", severity: "error", pointer: "" },
      ],
    });
    expect([stock.size, order.size]).toEqual([4, 2]);
  });

  test("a mistake of the builder is an error with the nearest name", () => {
    const { stock, order } = begin(2);
    expect(() => moveRows(stock, order, ["T9"])).toThrow(/no row with the key "T9".*T1|T2/s);
    expect(() => moveRows(stock, order, ["T1"], { quantity: "cuont" as never })).toThrow(/"cuont".*count/s);
    expect(() => moveRows(stock, order, ["T1"], { join: ["speceis" as never] })).toThrow(/"speceis".*species/s);
    expect(() => moveRows(stock, order, ["T1"], { amount: 2 })).toThrow(/amount, and not of what.*quantity/s);
    expect([stock.size, order.size]).toEqual([2, 0]);
  });

  test("at random: nothing is lost and nothing is made, whatever is refused", () => {
    const random = seeded(31);
    console.info(`seed ${random.seed}: 2,000 moves`);
    const { stock, order, history } = begin(60);
    const total = sums(stock);
    for (let step = 0; step < 2000; step++) {
      const keys = [...stock].map(({ tag }) => tag).filter(() => random.below(20) === 0);
      const most = random.below(600);
      if (random.below(5) === 0) history.undo();
      else if (random.below(9) === 0) history.redo();
      else
        moveRows(stock, order, keys, {
          quantity: "count",
          amount: (row) => 1 + random.below(row.count! + 1),
          join: ["species"],
          allowed: () => sums(order) <= most || "too many",
        });
      expect(sums(stock) + sums(order)).toBe(total);
    }
  });
});

describe("references", () => {
  const species = model({ code: text({ required: true }), name: text() }, { title: "Species", key: "code" });
  const bed = model(
    { number: integer({ required: true }), species: oneOf(["QR", "AC", "TC"], { title: "Species" }) },
    { title: "Bed", key: "number" },
  );

  test("a key of no row is refused, and a row that is held can't go nor get another key; at the end of a transaction it counts", () => {
    const history = newHistory();
    const kinds = table(
      species,
      [
        { code: "QR", name: "Quercus robur" },
        { code: "AC", name: "Acer campestre" },
      ],
      { locale: "en", history },
    );
    const beds = table(bed, [{ number: 1, species: "QR" }], { locale: "en", references: { species: kinds } });
    expect(beds.insert({ number: 2, species: "TC" })).toMatchObject({
      ok: false,
      problems: [{ code: "notAChoice", pointer: "/species" }],
    });
    expect(beds.insert({ number: 2, species: "QR" })).toMatchObject({ ok: true });
    expect(beds.insert({ number: 3 })).toMatchObject({ ok: true });
    expect(kinds.delete("QR")).toEqual({
      ok: false,
      problems: [{ code: "inUse", message: "QR is still used: 2 times.", severity: "error", pointer: "" }],
    });
    expect(kinds.update("QR", { code: "TC" })).toMatchObject({ ok: false, problems: [{ code: "inUse" }] });
    expect([kinds.size, kinds.has("QR")]).toEqual([2, true]);
    beds.update(1, { species: "AC" });
    beds.delete(2);
    expect(kinds.delete("QR")).toMatchObject({ ok: true, row: { code: "QR" } });
    expect(() => table(bed, [], { references: { speices: kinds } as never })).toThrow(/"speices".*species/s);
  });
});

describe("rows inside a row", () => {
  const order = model(
    { number: integer({ required: true }), lines: rows(line, { minItems: 1 }), plants: integer({ maximum: 100 }) },
    { title: "Order", key: "number" },
  ).calculated({ plants: (o) => o.lines.reduce((sum, { count }) => sum + (count ?? 0), 0) });

  test("are a table that is in step with the entry, both ways and through undo and revert, and feed its calculations", () => {
    const entry = newEntry(order, { locale: "en" });
    const lines = rowsOf(entry, "lines");
    expect(rowsOf(entry, "lines")).toBe(lines);
    lines.insert({ species: "Acer", count: 3 });
    lines.insert({ species: "Betula", count: 4 });
    expect([entry.values.lines.length, entry.values.plants, entry.changed]).toEqual([2, 7, true]);
    lines.update(1, { count: 30 });
    expect(entry.values.plants).toBe(34);
    entry.undo();
    expect([[...lines].map(({ count }) => count), entry.values.plants]).toEqual([[3, 4], 7]);
    entry.undo();
    entry.redo();
    expect([...lines].map(({ species }) => species)).toEqual(["Acer", "Betula"]);
    entry.values.lines = [{ species: "Tilia", count: 1, price: undefined }, ...entry.values.lines];
    expect([...lines].map(({ species }) => species)).toEqual(["Tilia", "Acer", "Betula"]);
    entry.revert();
    expect([lines.size, entry.values.plants]).toEqual([0, 0]);
  });

  test("are checked by their own rules, each told with its row; the entry is not saved with a wrong one", async () => {
    const saved: unknown[] = [];
    const entry = newEntry(order, { locale: "en", values: { number: 1 }, save: (row) => void saved.push(row) });
    entry.values.lines = [
      { species: "Acer", count: 3, price: undefined },
      { species: "", count: 11, price: 200 },
    ];
    expect(entry.problems.map(({ code, pointer, message }) => `${code} ${pointer} ${message}`)).toEqual([
      "valueMissing /lines/1/species Row 2, Species: Enter a value.",
      "dearIsFew /lines/1/count Row 2, Plants: No more than ten of these.",
    ]);
    expect((await entry.save()).ok).toBe(false);
    expect(saved).toEqual([]);
  });

  test("one that is being edited counts when the entry is saved, and keeps it from being saved when it is wrong", async () => {
    const saved: { lines: readonly { count: number | undefined }[] }[] = [];
    const entry = newEntry(order, {
      locale: "en",
      values: { number: 1 },
      save: (row) => void saved.push(row as never),
    });
    const lines = rowsOf(entry, "lines");
    lines.insert({ species: "Acer", count: 3 });
    const open = editEntry(lines, 1);
    open.fields.count.enter("many");
    expect(await entry.save()).toMatchObject({
      ok: false,
      problems: [{ code: "badInput", pointer: "/lines/0/count" }],
    });
    open.fields.count.enter("8");
    expect((await entry.save()).ok).toBe(true);
    expect(saved.map((row) => row.lines[0]!.count)).toEqual([8]);
    expect(() => rowsOf(entry, "number")).toThrow(/"number".*kind rows/s);
  });

  test("at random, changed from both sides, they agree after each step", () => {
    const random = seeded(8);
    console.info(`seed ${random.seed}: 2,000 steps`);
    const entry = newEntry(order, { locale: "en" });
    const lines = rowsOf(entry, "lines");
    const made = () => ({ species: `S${random.below(99)}`, count: 1 + random.below(5), price: undefined });
    for (let step = 0; step < 2000; step++) {
      const keys = view(lines).keys();
      const now = entry.values.lines;
      const at = random.below(now.length + 1);
      switch (random.below(7)) {
        case 0:
          lines.insert(made());
          break;
        case 1:
          if (keys.length > 0) lines.delete(random.pick(keys));
          break;
        case 2:
          if (keys.length > 0) lines.update(random.pick(keys), { count: 1 + random.below(9) });
          break;
        case 3:
          entry.values.lines = [...now.slice(0, at), made(), ...now.slice(at)];
          break;
        case 4:
          entry.values.lines = now.filter((_, place) => place !== at);
          break;
        case 5:
          entry.undo();
          break;
        default:
          entry.redo();
      }
      expect([...lines]).toEqual(entry.values.lines);
    }
  });
});
