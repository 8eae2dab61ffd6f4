import { describe, expect, test } from "@jest/globals";
import {
  Decimal,
  decimal,
  follow,
  integer,
  model,
  moveRows,
  newHistory,
  number,
  table,
  text,
  transaction,
  view,
} from "../src/index.ts";
import { seeded, times } from "./seeded.ts";

const order = model(
  {
    tag: text({ required: true }),
    bed: text(),
    price: decimal({ title: "Price" }),
    count: integer({ title: "Plants" }),
    weight: number(),
    cost: decimal(),
  },
  { key: "tag" },
).calculated({ cost: (row) => row.price?.multiply(row.count ?? 0) });

describe("sums of decimals", () => {
  test("are exact Decimals, in totals and in groups, whatever comes and goes", () => {
    const random = seeded(9009);
    const count = times(4000);
    for (const watched of [false, true]) {
      const orders = table(order, [], { locale: "en" });
      const some = view(orders, { where: (row) => row.bed !== "c" });
      const watching = watched
        ? follow(
            () => [some.total("price"), some.total("cost"), some.groups("bed", ["price"])],
            () => undefined,
          )
        : undefined;
      const plain = new Map<string, { bed: string; cents: bigint; count: number }>();
      for (let step = 0; step < count; step++) {
        const tag = `T${random.below(40)}`;
        const cents = BigInt(random.below(2_000_001) - 1_000_000) * 1_000_000_007n;
        const row = { bed: random.pick(["a", "b", "c"]), cents, count: random.below(9) };
        const digits = String(cents < 0n ? -cents : cents).padStart(3, "0");
        const price = Decimal.of(`${cents < 0n ? "-" : ""}${digits.slice(0, -2)}.${digits.slice(-2)}`);
        const given = { bed: row.bed, count: row.count, price };
        if (!plain.has(tag)) orders.insert({ tag, ...given });
        else if (random.below(3) === 0) orders.delete(tag);
        else orders.update(tag, given);
        if (orders.has(tag)) plain.set(tag, row);
        else plain.delete(tag);
        if (step % 20 > 0) continue;
        const inView = [...plain.values()].filter(({ bed }) => bed !== "c");
        const sum = (of: typeof inView): bigint => of.reduce((all, { cents }) => all + cents, 0n);
        expect(some.total("price").multiply(100).toString()).toBe(String(sum(inView)));
        expect(some.total("cost").multiply(100).toString()).toBe(
          String(inView.reduce((all, each) => all + each.cents * BigInt(each.count), 0n)),
        );
        for (const { value, totals } of some.groups("bed", ["price"]))
          expect(totals.price.multiply(100).toString()).toBe(String(sum(inView.filter(({ bed }) => bed === value))));
      }
      watching?.stop();
    }
    console.info(`2 × ${count} changes, seed ${random.seed}`);
  });

  test("of no rows are 0, and what can't be added is an error that says what can", () => {
    const orders = view(table(order, [], { locale: "en" }));
    expect([orders.total("price").toString(), orders.total("count")]).toEqual(["0", 0]);
    expect(() => orders.total("bed" as never)).toThrow(
      /no sum of the field "bed", which is of text\(\), at total\(\)\..*The names are: price, count, weight, cost\./s,
    );
    expect(() => orders.groups("bed", ["tag" as never])).toThrow(/no sum of the field "tag"/);
    const odd = model({ bed: text() }).calculated({
      name: (row) => row.bed,
      none: () => undefined as number | undefined,
    });
    const rows = view(table(odd, [{ bed: "seven" }]));
    expect(rows.total("none")).toBe(0);
    expect(() => rows.total("name" as never)).toThrow(/no sum of the field "name": it has "seven"/);
  });

  test("of numbers come back from beyond all numbers", () => {
    const orders = table(order, [], { locale: "en" });
    const all = view(orders);
    expect(all.total("weight")).toBe(0);
    for (const [tag, weight] of Object.entries({ a: 1.7e308, b: 1.7e308, c: 0.1, d: -5 }))
      orders.insert({ tag, weight });
    expect(all.total("weight")).toBe(Infinity);
    orders.delete("a");
    expect(all.total("weight")).toBe(1.7e308);
    orders.delete("b");
    expect(all.total("weight")).toBe(-4.9);
  });
});

describe("moving a decimal quantity", () => {
  const seed = model({ lot: text({ required: true }), kilograms: decimal({ title: "Kilograms" }) }, { key: "lot" });
  const sack = model({ lot: text({ required: true }), kilograms: decimal() });

  test("is exact, joins what is there, and says what is too much", () => {
    const seeds = table(seed, [{ lot: "A", kilograms: Decimal.of("0.3") }], { locale: "de" });
    const sacks = table(sack, [], { locale: "de" });
    const move = (amount: Decimal | number) =>
      moveRows(seeds, sacks, ["A"], { quantity: "kilograms", amount, join: ["lot"] });
    expect(move(Decimal.of("0.1"))).toEqual({ ok: true, rows: 1 });
    expect(move(0.1)).toEqual({ ok: true, rows: 1 });
    expect(move(0.5)).toMatchObject({
      ok: false,
      problems: [{ code: "rangeOverflow", message: expect.stringMatching(/0,1/) }],
    });
    expect(move(0)).toMatchObject({ ok: false, problems: [{ code: "rangeUnderflow" }] });
    expect([seeds.get("A")!.kilograms?.toString(), [...sacks].map(({ kilograms }) => kilograms?.toString())]).toEqual([
      "0.1",
      ["0.2"],
    ]);
    expect(moveRows(seeds, sacks, ["A"], { quantity: "kilograms", join: ["lot"] })).toEqual({ ok: true, rows: 1 });
    expect([seeds.size, [...sacks].map(({ kilograms }) => kilograms?.toString())]).toEqual([0, ["0.3"]]);
  });
});

describe("a refusal inside a transaction", () => {
  test.each(["allowed", "quantity", "full", "inner transaction"])("fails the whole: %s", (why) => {
    const history = newHistory();
    const from = table(order, [{ tag: "A", count: 5 } as never], { locale: "en", history });
    const to = table(order, [], { locale: "en", history, maxItems: why === "full" ? 0 : 9 });
    const result = transaction(() => {
      from.update("A", { bed: "changed" });
      if (why === "inner transaction") transaction(() => void from.insert({ tag: "A" }));
      else
        moveRows(from, to, ["A"], {
          quantity: "count",
          amount: why === "quantity" ? 9 : 1,
          allowed: () => why !== "allowed" || "Not today.",
        });
    });
    expect([result.ok, from.get("A"), to.size, history.undoes]).toEqual([false, { tag: "A", count: 5 }, 0, undefined]);
  });
});
