import { describe, expect, test } from "@jest/globals";
import fc from "fast-check";
import { newEntry } from "../src/entry/index.ts";
import { decimal, model, text } from "../src/model/index.ts";
import { Decimal } from "../src/notation/index.ts";
import { fromJson, loadRows, toJson } from "../src/store/index.ts";
import { toCells } from "../src/store/text/index.ts";
import { table } from "../src/table/index.ts";

/** A number of thousandths as a decimal text. */
const thousandths = (count: bigint): string => {
  const digits = String(count < 0n ? -count : count).padStart(4, "0");
  return `${count < 0n ? "-" : ""}${digits.slice(0, -3)}.${digits.slice(-3)}`;
};

describe("Decimal", () => {
  test("is exact where binary fractions are not", () => {
    expect(Decimal.of("0.1").add("0.2").toString()).toBe("0.3");
    expect(Decimal.of("1").divide("3", { digits: 4 }).toString()).toBe("0.3333");
    expect(Decimal.of("2.5").rounded(0).toString()).toBe("3");
    expect(Decimal.of("2.5").rounded(0, "halfEven").toString()).toBe("2");
    expect(Decimal.of("-2.5").rounded(0, "trunc").toString()).toBe("-2");
    expect(Decimal.of("1.50").compare("1.5")).toBe(0);
    expect(Decimal.of("-0").toString()).toBe("0");
    expect(
      Decimal.of("1" + "0".repeat(40))
        .add("0.01")
        .toString(),
    ).toBe(`1${"0".repeat(40)}.01`);
  });

  test("can't be compared or added wrongly, or made of what is not exact", () => {
    const amount = Decimal.of("12.50");
    expect(() => (amount as unknown as number) < 5).toThrow(
      /used where a number is expected, as by < or \+.*Received "12\.5".*compare\(\)/,
    );
    expect(() => (amount as unknown as number) + 1).toThrow(/add\(\)/);
    expect(() => Decimal.of(0.1)).toThrow(/not an exact decimal number\. Received 0\.1/);
    expect(() => Decimal.of("1e5")).toThrow(/not an exact/);
    expect(() => amount.divide(0, { digits: 2 })).toThrow(/divided by zero/);
    expect(`${String(amount)} ${JSON.stringify({ amount })}`).toBe('12.5 {"amount":"12.5"}');
  });

  test("property: adds, subtracts, multiplies and compares as whole numbers of thousandths do", () => {
    const seed = 1_250;
    fc.assert(
      fc.property(
        fc.bigInt({ min: -(10n ** 30n), max: 10n ** 30n }),
        fc.bigInt({ min: -(10n ** 12n), max: 10n ** 12n }),
        (a, b) => {
          const [x, y] = [Decimal.of(thousandths(a)), Decimal.of(thousandths(b))];
          expect(x.add(y).compare(thousandths(a + b))).toBe(0);
          expect(x.subtract(y).compare(thousandths(a - b))).toBe(0);
          expect(
            x
              .multiply(y)
              .multiply("1000")
              .compare(thousandths(a * b)),
          ).toBe(0);
          expect(Math.sign(x.compare(y))).toBe(a < b ? -1 : a > b ? 1 : 0);
        },
      ),
      { seed, numRuns: 1_000 },
    );
    console.info(`1000 pairs of decimals, seed ${seed}`);
  });
});

describe("the kind decimal", () => {
  const order = model({
    title: text(),
    budget: decimal({ minimum: "0", maximum: "1000000", multipleOf: "0.01", display: { minimumFractionDigits: 2 } }),
  }).calculated({ withTax: (t) => t.budget?.multiply("1.19").rounded(2) });

  test("is read exactly in the reader's notation, shown, calculated with, checked", () => {
    const entry = newEntry(order, { locale: "de" });
    entry.fields.budget.enter("1.234,10");
    expect([String(entry.values.budget), entry.fields.budget.display, String(entry.values.withTax)]).toEqual([
      "1234.1",
      "1.234,10",
      "1468.58",
    ]);
    expect(entry.problems).toEqual([]);
    entry.fields.budget.enter("0,005");
    expect(entry.problems.map(({ message }) => message)).toEqual(["Enter a multiple of 0,01."]);
    entry.fields.budget.enter("-5");
    expect(entry.problems.map(({ code }) => code)).toEqual(["rangeUnderflow"]);
    entry.fields.budget.enter("much");
    expect(entry.problems.map(({ message }) => message)).toEqual([
      "This is not a number. Enter a number, such as 12,5.",
    ]);
    expect(() => (entry.values.budget = 5 as unknown as Decimal)).toThrow(
      /Right would be a Decimal, as of Decimal\.of\("12\.50"\)/,
    );
  });

  test("the same value in other digits is no change", () => {
    const entry = newEntry(order, { locale: "en", values: { budget: Decimal.of("12.50") } });
    entry.values.budget = Decimal.of("12.5");
    expect(entry.changed).toBe(false);
    entry.fields.budget.enter("12.500");
    expect(entry.changed).toBe(false);
  });

  test("is a text in JSON and in CSV, and comes back exactly", async () => {
    const row = { title: "Hedge", budget: Decimal.of("12345678901234567890.01") };
    const json: unknown = JSON.parse(JSON.stringify(toJson(order, row)));
    expect(json).toEqual({ title: "Hedge", budget: "12345678901234567890.01" });
    const back = fromJson(order, json);
    expect(back.ok && back.row.budget?.compare(row.budget)).toBe(0);
    expect(fromJson(order, { budget: "twelve" }).ok).toBe(false);
    const cells = toCells(order, row, ["title", "budget"], true);
    expect(cells).toEqual(["Hedge", "12345678901234567890.01"]);
    const orders = table(order, []);
    await loadRows(orders, `title,budget\n${cells.join()}\nLawn, +5 \nBed,.50\nPath,1e3`);
    expect([...orders].map(({ budget }) => budget?.toString())).toEqual(["12345678901234567890.01", "5", "0.5"]);
  });
});
