import { describe, expect, test } from "@jest/globals";
import fc from "fast-check";
import { model, newEntry, oneOf } from "../src/index.ts";
import { editingNumber, numberFormat, plainNumber, readNumber, shifted, unitWays } from "../src/notation/index.ts";

const read = (text: string, locale: string, unit?: string): number | undefined =>
  readNumber(text, locale, { units: unit === undefined ? [] : unitWays(locale, unit), percent: false });

describe("reading numbers", () => {
  test.each<[string, string, number | undefined]>([
    ["31,5", "de-DE", 31.5],
    ["31.5", "de-DE", 31.5],
    ["31,5", "en", 31.5],
    ["31.5", "en", 31.5],
    ["1,234", "en", 1234],
    ["1.234", "en", 1.234],
    ["1.234", "de", 1234],
    ["1.234,5", "de", 1234.5],
    ["1,234.5", "de", undefined],
    ["1,234,567.25", "en", 1234567.25],
    ["1,23,456", "en", undefined],
    ["1,23,456", "en-IN", 123456],
    ["12,3456", "en", 12.3456],
    ["0,123", "en", 0.123],
    ["1 234,5", "fr", 1234.5],
    ["1\u00a0234,5", "fr", 1234.5],
    ["1\u202f234,5", "fr", 1234.5],
    ["1'234.5", "de-CH", 1234.5],
    ["1’234.5", "de-CH", 1234.5],
    ["-3", "en", -3],
    ["\u22123,5", "sv", -3.5],
    ["  7 ", "en", 7],
    ["\u200e5\u200f", "ar-EG", 5],
    ["١٢٣٫٥", "ar-EG", 123.5],
    ["-0", "en", 0],
    [".5", "en", 0.5],
    ["5.", "en", 5],
    ["abc", "en", undefined],
    ["1e5", "en", undefined],
    ["1..2", "en", undefined],
    ["1,2,3", "de", undefined],
    ["12 34", "en", undefined],
    ["", "en", undefined],
    [".", "en", undefined],
    ["-", "en", undefined],
    ["--5", "en", undefined],
    ["5-", "en", undefined],
    ["Infinity", "en", undefined],
    ["9".repeat(400), "en", undefined],
    ["5 %", "en", undefined],
  ])("%s in %s is %s", (text, locale, value) => {
    expect(read(text, locale)).toBe(value);
  });

  test("digits with a point are the number that JavaScript makes of them, to the last bit", () => {
    const digits = fc.stringMatching(/^\d{1,18}$/);
    fc.assert(
      fc.property(digits, fc.option(digits), (whole, part) => {
        const text = part === null ? whole : `${whole}.${part}`;
        expect(read(text, "en")).toBe(Number(text));
      }),
      { seed: 2_718, numRuns: 5_000 },
    );
    console.info("5000 short numbers, seed 2718");
  });

  test("a unit that is typed is accepted in each of the locale's ways", () => {
    for (const text of ["31.5 cm", "31.5cm", "31.5 centimeters", "31.5 CM"])
      expect(read(text, "en", "centimeter")).toBe(31.5);
    expect(read("31,5 Zentimeter", "de", "centimeter")).toBe(31.5);
    expect(read("12 plants", "en", "plants")).toBe(12);
    expect(read("31.5 kg", "en", "centimeter")).toBeUndefined();
  });

  test("percent is read in percent and loses no digit", () => {
    const percent = { units: [], percent: true };
    expect(readNumber("35 %", "en", percent)).toBe(0.35);
    expect(readNumber("7", "en", percent)).toBe(0.07);
    expect(editingNumber("0.07", "de", true)).toBe("7");
    expect(shifted("-0.5", 2)).toBe("-50");
  });
});

test("a number is written for editing in full, with no exponent", () => {
  expect(plainNumber(1e21)).toBe("1000000000000000000000");
  expect(plainNumber(-1.5e-9)).toBe("-0.0000000015");
  expect(editingNumber(plainNumber(31.5), "de")).toBe("31,5");
  expect(editingNumber(plainNumber(31.5), "ar-EG")).toBe("٣١٫٥");
});

test("property: what is shown for editing, and what Intl shows, is read back as the same number in every locale", () => {
  const seed = 314;
  const locales = [
    "en",
    "de",
    "fr",
    "de-CH",
    "sv",
    "en-IN",
    "hi",
    "ar-EG",
    "fa",
    "he",
    "es",
    "pl",
    "pt-BR",
    "my",
    "bn",
    "ja",
    "th-TH-u-nu-thai",
  ];
  fc.assert(
    fc.property(fc.double({ noNaN: true, noDefaultInfinity: true }), fc.constantFrom(...locales), (value, locale) => {
      expect(read(editingNumber(plainNumber(value), locale), locale)).toBe(value + 0);
    }),
    { seed, numRuns: 3_000 },
  );
  fc.assert(
    fc.property(fc.integer({ min: -1e9, max: 1e9 }), fc.constantFrom(...locales), (thousandths, locale) => {
      const value = thousandths / 100;
      const shown = numberFormat(locale, {
        useGrouping: true,
        maximumFractionDigits: 2,
        minimumFractionDigits: 2,
      }).format(value);
      expect([shown, read(shown, locale)]).toEqual([shown, value + 0]);
    }),
    { seed, numRuns: 3_000 },
  );
  console.info(`6000 numbers in ${locales.length} locales, seed ${seed}`);
});

describe("what people typed, in a sentence", () => {
  const wrong = (text: string, locale: string): string => {
    const entry = newEntry(model({ soil: oneOf(["clay"]) }), { locale });
    entry.fields.soil.enter(text);
    return entry.problems[0]!.message;
  };

  test("is isolated where it runs in another direction, and can't end that itself", () => {
    expect(wrong("sand", "en")).not.toMatch(/[\u2066-\u2069]/);
    expect(wrong("a\u202Eb", "en")).toContain("\u2068a\u202Eb\u2069");
    expect(wrong("a\u2069\u202Eb", "en")).toContain("\u2068a\u202Eb\u2069");
    expect(wrong("رمل", "en")).toContain("\u2068رمل\u2069");
    expect(wrong("رمل", "ar")).not.toMatch(/[\u2066-\u2069]/);
  });
});
