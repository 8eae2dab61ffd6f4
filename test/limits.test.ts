/** Limits of values: what they allow, where steps lead inside them, and limits between which there is nothing. */
import { describe, expect, test } from "@jest/globals";
import fc from "fast-check";
import {
  date,
  dateTime,
  decimal,
  Decimal,
  instant,
  integer,
  list,
  model,
  newEntry,
  number,
  oneOf,
  someOf,
  text,
  time,
} from "../src/index.ts";
import { times } from "./seeded.ts";

interface Limits {
  readonly minimum?: number | undefined;
  readonly maximum?: number | undefined;
  readonly exclusiveMinimum?: number | undefined;
  readonly exclusiveMaximum?: number | undefined;
  readonly multipleOf?: number | undefined;
  readonly step?: number | undefined;
}

/** Halves, so that what is right can be told without any dust of binary fractions. */
const half = fc.integer({ min: -20, max: 20 }).map((value) => value / 2);
const anyLimits: fc.Arbitrary<Limits> = fc.record(
  {
    minimum: half,
    maximum: half,
    exclusiveMinimum: half,
    exclusiveMaximum: half,
    multipleOf: fc.constantFrom(0.5, 1, 2, 2.5, 5),
    step: fc.constantFrom(0.5, 1, 3, 5),
  },
  { requiredKeys: [] },
);

const between = (min: number, max: number): fc.Arbitrary<number> => fc.integer({ min, max }).map((value) => value / 2);
/** Limits that leave room. */
const roomyLimits: fc.Arbitrary<Limits> = fc.record(
  {
    minimum: between(-20, 4),
    maximum: between(6, 20),
    exclusiveMinimum: between(-20, 4),
    exclusiveMaximum: between(6, 20),
    multipleOf: fc.constantFrom(0.5, 1, 2, 2.5, 5),
    step: fc.constantFrom(0.5, 1, 3, 5),
  },
  { requiredKeys: [] },
);

/** Written anew from JSON Schema's words. */
function isRight(value: number, limits: Limits): boolean {
  const { minimum, maximum, exclusiveMinimum, exclusiveMaximum, multipleOf } = limits;
  if (minimum !== undefined && value < minimum) return false;
  if (maximum !== undefined && value > maximum) return false;
  if (exclusiveMinimum !== undefined && value <= exclusiveMinimum) return false;
  if (exclusiveMaximum !== undefined && value >= exclusiveMaximum) return false;
  return multipleOf === undefined || Number.isInteger(value / multipleOf);
}

/** Whether some value, in halves or between them, is inside limits, and steps lead to multiples. */
function isPossible({ minimum, maximum, exclusiveMinimum, exclusiveMaximum, multipleOf, step }: Limits): boolean {
  if (step !== undefined && multipleOf !== undefined && !Number.isInteger(step / multipleOf)) return false;
  const range = { minimum, maximum, exclusiveMinimum, exclusiveMaximum };
  return Array.from({ length: 161 }, (_each, place) => place / 4 - 20).some((value) => isRight(value, range));
}

const asTexts = (limits: Limits): object =>
  Object.fromEntries(
    Object.entries(limits).flatMap(([name, value]) => (value === undefined ? [] : [[name, String(value)]])),
  );
const numberOf = (value: Decimal | undefined): number | undefined =>
  value === undefined ? undefined : Number(String(value));

test("numbers and decimals allow the same under the same limits, and are refused the same", () => {
  const seed = 2911;
  const numRuns = times(2_000);
  fc.assert(
    fc.property(anyLimits, half, fc.nat(), (limits, anywhere, which) => {
      // What is on a limit itself is tried as often as what is anywhere.
      const ends = Object.values(limits) as number[];
      const value = ends[which % (2 * ends.length + 1)] ?? anywhere;
      if (!isPossible(limits)) {
        expect(() => number(limits)).toThrow(expect.objectContaining({ code: "wrongOption" }));
        expect(() => decimal(asTexts(limits))).toThrow(expect.objectContaining({ code: "wrongOption" }));
        return;
      }
      const entry = newEntry(model({ girth: number(limits), price: decimal(asTexts(limits)) }));
      entry.values.girth = value;
      entry.values.price = Decimal.of(String(value));
      const codes = (pointer: string): string[] =>
        entry.problems.filter((each) => each.pointer === pointer).map(({ code }) => code);
      expect([codes("/girth").length === 0, codes("/price")]).toEqual([isRight(value, limits), codes("/girth")]);
    }),
    { seed, numRuns },
  );
  console.info(`${numRuns} limits, seed ${seed}`);
});

test("steps lead from blank and from what is right to what is right, and reach both ends", () => {
  const seed = 2912;
  const numRuns = times(4_000);
  let moved = 0;
  fc.assert(
    fc.property(
      roomyLimits,
      fc.option(half, { nil: undefined }),
      fc.constantFrom(-3, -1, 1, 3),
      fc.boolean(),
      (given, start, count, isWhole) => {
        // A step that is no multiple is refused, since it would lead to no multiples.
        const stepped: Limits = isPossible(given) ? given : { ...given, step: undefined };
        const limits = stepped;
        if (!isPossible(limits)) return;
        if (isWhole && [stepped.step, limits.multipleOf].some((each) => each !== undefined && !Number.isInteger(each)))
          return;
        if (start !== undefined && !isRight(start, limits)) return;
        if (isWhole && start !== undefined && !Number.isInteger(start)) return;
        const kind = isWhole ? integer(stepped) : number(stepped);
        const next = kind.stepped!(start, count);
        if (next !== undefined) {
          expect([next, kind.belongs(next), isRight(next, limits)]).toEqual([next, true, true]);
          if (start !== undefined) expect(Math.sign(next - start) * Math.sign(count)).toBeGreaterThanOrEqual(0);
        }
        if (next !== start) moved += 1;
        if (!isWhole) {
          const exact = decimal(asTexts(stepped)).stepped!(
            start === undefined ? undefined : Decimal.of(String(start)),
            count,
          );
          expect(numberOf(exact)).toBe(next);
        }
        // What a slider offers at its ends is right, where it has steps.
        const { least, greatest } = kind.reach!;
        if (next === undefined || (stepped.step === undefined && limits.multipleOf === undefined && !isWhole)) return;
        // No step may lead inside the limits at all.
        if (kind.stepped!(undefined, 1) === undefined) return;
        for (const end of [least, greatest])
          if (end !== undefined) expect([end, isRight(end, limits)]).toEqual([end, true]);
        if (least !== undefined) expect(kind.stepped!(next, -1_000)).toBe(Math.min(least, next));
        if (greatest !== undefined) expect(kind.stepped!(next, 1_000)).toBe(Math.max(greatest, next));
      },
    ),
    { seed, numRuns },
  );
  console.info(`${numRuns} steps, ${moved} of which led on, seed ${seed}`);
  expect(moved).toBeGreaterThan(numRuns / 6);
});

describe("limits that nothing can keep are refused where they are declared", () => {
  test.each<[string, () => unknown, string]>([
    [
      "decimal",
      () => decimal({ minimum: "5", maximum: "1" }),
      'maximum of decimal() can\'t be "1". Right would be at least the minimum, 5',
    ],
    ["number", () => number({ minimum: 1, exclusiveMaximum: 1 }), "more than the minimum, 1"],
    ["number over", () => number({ exclusiveMinimum: 1, maximum: 1 }), "more than the exclusiveMinimum, 1"],
    ["date", () => date({ minimum: "2026-02-01", maximum: "2026-01-31" }), "at least the minimum, 2026-02-01"],
    [
      "dateTime",
      () => dateTime({ minimum: "2026-02-01T10:00", maximum: "2026-02-01T09:59:59" }),
      "at least the minimum",
    ],
    [
      "instant",
      () => instant({ minimum: "2026-02-01T10:00:00.5Z", maximum: "2026-02-01T10:00:00Z" }),
      "at least the minimum",
    ],
    [
      "text",
      () => text({ minLength: 5, maxLength: 2 }),
      "maxLength of text() can't be 2. Right would be at least the minLength, 5",
    ],
    ["list", () => list(text(), { minItems: 5, maxItems: 2 }), "at least the minItems, 5"],
    ["someOf", () => someOf(["leaning", "cavity"], { minItems: 2, maxItems: 1 }), "at least the minItems, 2"],
    [
      "const",
      () => integer({ minimum: 5, const: 2 }),
      "const of integer() can't be 2. Right would be a value that the other options allow",
    ],
    ["const text", () => text({ pattern: "[A-Z]+", const: "oak" }), "const of text() can't be"],
    ["no step", () => decimal({ step: "0" }), 'step of decimal() can\'t be "0". Right would be more than 0'],
    ["no multiple", () => decimal({ multipleOf: "-0.5" }), "more than 0"],
    [
      "a step that is no multiple",
      () => number({ multipleOf: 5, step: 3 }),
      "step of number() can't be 3. Right would be a multiple of the multipleOf, 5",
    ],
    ["a decimal's", () => decimal({ multipleOf: "0.25", step: "0.1" }), "a multiple of the multipleOf, 0.25"],
    ["half", () => integer({ step: 0.5 }), "step of integer() can't be 0.5. Right would be a whole number"],
    ["multiple of a half", () => integer({ multipleOf: 1.5 }), "a whole number"],
  ])("%s", (_name, declare, message) => {
    expect(declare).toThrow(message);
  });

  test("what is just possible is accepted", () => {
    expect(decimal({ minimum: "5.0", maximum: "5" }).reach!.least!.toString()).toBe("5");
    expect(date({ minimum: "2026-02-01", maximum: "2026-02-01" }).kind).toBe("date");
    expect(dateTime({ minimum: "2026-02-01T10:00:00", maximum: "2026-02-01T10:00" }).kind).toBe("dateTime");
    expect(text({ minLength: 2, maxLength: 2, const: "Ac" }).kind).toBe("text");
    expect([number({ multipleOf: 0.1, step: 0.3 }).kind, decimal({ multipleOf: "0.25", step: "1" }).kind]).toEqual([
      "number",
      "decimal",
    ]);
    expect(list(text(), { minItems: 0, maxItems: 0 }).kind).toBe("list");
  });
});

describe("limits of dates and times are right themselves, and what is next to them on the other side is not", () => {
  test.each([
    ["date", date, "2026-02-28", "2026-03-01", "2026-02-27", "2026-03-02"],
    ["time", time, "09:00", "17:30:00", "08:59:59", "17:30:01"],
    ["dateTime", dateTime, "2026-02-28T10:00", "2026-02-28T10:00:30", "2026-02-28T09:59:59", "2026-02-28T10:00:31"],
    [
      "instant",
      instant,
      "2026-02-28T10:00:00Z",
      "2026-02-28T10:00:00.5Z",
      "2026-02-28T09:59:59.999Z",
      "2026-02-28T10:00:00.501Z",
    ],
  ])("%s", (_name, kind, minimum, maximum, before, after) => {
    const entry = newEntry(model({ on: kind({ minimum, maximum }) }), { locale: "en" });
    const codeOf = (on: string): string | undefined => {
      entry.values.on = on;
      return entry.problems[0]?.code;
    };
    expect([before, minimum, maximum, after].map(codeOf)).toEqual([
      "rangeUnderflow",
      undefined,
      undefined,
      "rangeOverflow",
    ]);
  });
});

test("what is no moment that exists is no instant, whatever it looks like", () => {
  const { belongs } = instant();
  expect(["2026-02-28T10:00:00Z", "2026-02-28T10:00:00.5Z", "2024-02-29T23:59:59.999Z"].map(belongs)).toEqual([
    true,
    true,
    true,
  ]);
  for (const wrong of [
    "",
    "x",
    "2026-02-30T10:00:00Z",
    "2026-02-28T24:00:00Z",
    "2026-02-28T10:00:00",
    "2026-02-28T10:00Z",
    "2026-02-28T10:00:00+01:00",
    5,
    null,
  ])
    expect([wrong, belongs(wrong)]).toEqual([wrong, false]);
});

describe("a time from the evening to the next morning", () => {
  const watering = model({ at: time({ minimum: "22:00", maximum: "06:00" }) });

  test.each([
    ["22:00", true],
    ["23:59:59", true],
    ["00:00", true],
    ["06:00", true],
    ["06:00:01", false],
    ["21:59", false],
    ["12:00", false],
  ])("%s: %s", (at, right) => {
    const entry = newEntry(watering, { locale: "de" });
    entry.values.at = at;
    expect(entry.problems.map(({ code, message }) => [code, message])).toEqual(
      right ? [] : [["rangeUnderflow", "Enter a time from 22:00 to 06:00."]],
    );
  });
});

describe("the example in a message could be entered itself", () => {
  test.each([
    ["decimal", decimal({ maximum: "5" }), "abc"],
    ["exclusive decimal", decimal({ exclusiveMinimum: "20", multipleOf: "0.25" }), "abc"],
    ["number", number({ minimum: 100 }), "abc"],
    ["multiples", number({ multipleOf: 4 }), "abc"],
    ["between", number({ exclusiveMinimum: 0, exclusiveMaximum: 0.5 }), "abc"],
    ["integer", integer({ exclusiveMaximum: -3 }), "abc"],
    ["integer of multiples", integer({ multipleOf: 5, minimum: 13 }), "abc"],
    ["date", date({ minimum: "2030-01-01" }), "abc"],
    ["time", time({ maximum: "09:00" }), "abc"],
    ["night", time({ minimum: "22:00", maximum: "06:00" }), "abc"],
    ["dateTime", dateTime({ maximum: "2020-01-01T10:00" }), "abc"],
    ["instant", instant({ minimum: "2030-01-01T10:00:00Z" }), "abc"],
  ])("%s", (_name, kind, typed) => {
    for (const locale of ["en", "de"]) {
      const entry = newEntry(model({ value: kind }), { locale });
      entry.fields.value.enter(typed);
      const [{ code, message }] = entry.problems as unknown as [{ code: string; message: string }];
      const example = /(?:, such as|, (?:zum|wie zum) Beispiel|, as|such as) (.+?)\.?$/.exec(message)?.[1];
      expect([code, message, example !== undefined]).toEqual(["badInput", message, true]);
      entry.fields.value.enter(example!);
      expect([message, entry.problems]).toEqual([message, []]);
    }
  });
});

test("a choice of numbers steps through its list, whatever lies between", () => {
  const few = oneOf([3, 7, 12]);
  expect([few.stepped!(3, 1), few.stepped!(12, 1), few.stepped!(undefined, 1)]).toEqual([7, 12, 3]);
});
