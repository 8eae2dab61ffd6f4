import { describe, expect, test } from "@jest/globals";
import fc from "fast-check";
import {
  editingDate,
  editingDateTime,
  editingTime,
  isDate,
  isDateTime,
  isTime,
  readDate,
  readDateTime,
  readTime,
  showDateTime,
} from "../src/notation/index.ts";
import { allLocales } from "./locales.ts";
import { times } from "./seeded.ts";

const seed = 20_330_229;
const date = fc
  .date({ min: new Date("0001-01-01"), max: new Date("9999-12-31"), noInvalidDate: true })
  .map((moment) => moment.toISOString().slice(0, 10));
const near = fc
  .date({ min: new Date("1800-01-01"), max: new Date("2200-12-31"), noInvalidDate: true })
  .map((moment) => moment.toISOString().slice(0, 10));
const time = fc
  .tuple(fc.nat(23), fc.nat(59))
  .map((parts) => parts.map((part) => String(part).padStart(2, "0")).join(":"));

describe("in every locale that Intl supports", () => {
  const locales = allLocales();

  const COUNT = times(20_000, 0.35);

  test("what is shown for editing is read back as the same date, time, or both", () => {
    fc.assert(
      fc.property(date, time, fc.constantFrom(...locales), (day, clock, locale) => {
        expect([locale, readDate(editingDate(day, locale), locale)]).toEqual([locale, day]);
        expect([locale, readTime(editingTime(clock, locale), locale)]).toEqual([locale, clock]);
        expect([locale, readDateTime(editingDateTime(`${day}T${clock}`, locale), locale)]).toEqual([
          locale,
          `${day}T${clock}`,
        ]);
      }),
      { seed, numRuns: COUNT },
    );
    console.info(`${COUNT} dates and times in ${locales.length} locales, seed ${seed}`);
  });

  test("a date shown with the name of its month is read back as the same", () => {
    const unread = new Map<string, string>();
    for (const locale of locales)
      for (const day of fc.sample(near, { seed, numRuns: 40 })) {
        const shown = showDateTime(day, locale, { dateStyle: "long" });
        const read = readDate(shown, locale);
        if (read !== day) unread.set(locale, `${day} is shown as ${shown} and read as ${read}`);
      }
    expect(Object.fromEntries(unread)).toEqual({});
  });
});

describe("reading", () => {
  test.each([
    ["23.11.2026", "de", "2026-11-23"],
    ["23.11.26", "de", "2026-11-23"],
    ["23. November 2026", "de", "2026-11-23"],
    ["23 nov 2026", "en-GB", "2026-11-23"],
    ["11/23/2026", "en-US", "2026-11-23"],
    ["Nov 23, 2026", "en-US", "2026-11-23"],
    ["23/11/2026", "en-GB", "2026-11-23"],
    ["2026-11-23", "en-US", "2026-11-23"],
    ["2026/11/23", "de", "2026-11-23"],
    ["1.2.69", "de", "1969-02-01"],
    ["1.2.68", "de", "2068-02-01"],
    ["2026年11月23日", "ja", "2026-11-23"],
    ["٢٣‏/١١‏/٢٠٢٦", "ar-EG", "2026-11-23"],
    ["31.2.2026", "de", undefined],
    ["29.2.2026", "de", undefined],
    ["29.2.2028", "de", "2028-02-29"],
    ["23.11.", "de", undefined],
    ["23.11.126", "de", undefined],
    ["gestern", "de", undefined],
    ["23.11.2026 abends", "de", undefined],
    ["", "de", undefined],
  ])("the date %s in %s is %s", (text, locale, value) => {
    expect(readDate(text, locale)).toBe(value);
  });

  test.each([
    ["14:30", "de", "14:30"],
    ["14.30", "de", "14:30"],
    ["1430", "de", "14:30"],
    ["14h30", "fr", "14:30"],
    ["2:30 PM", "en-US", "14:30"],
    ["2:30 p.m.", "en-US", "14:30"],
    ["12:05 am", "en-US", "00:05"],
    ["2 pm", "en-US", "14:00"],
    ["下午2:30", "zh", "14:30"],
    ["14:30:15", "en", "14:30:15"],
    ["24:00", "de", undefined],
    ["14:60", "de", undefined],
    ["14", "de", undefined],
    ["half past two", "en", undefined],
  ])("the time %s in %s is %s", (text, locale, value) => {
    expect(readTime(text, locale)).toBe(value);
  });

  test("a date and a time together", () => {
    expect(readDateTime("23.11.2026 14:30", "de")).toBe("2026-11-23T14:30");
    expect(readDateTime("Nov 23, 2026, 2:30 PM", "en-US")).toBe("2026-11-23T14:30");
    expect(readDateTime("2026-11-23T14:30", "en-US")).toBe("2026-11-23T14:30");
    expect(readDateTime("23.11.2026", "de")).toBeUndefined();
  });
});

test("only what exists is a date, a time, or both", () => {
  expect(["2026-02-29", "2026-2-1", "0000-01-01", 5, "2028-02-29"].map(isDate)).toEqual([
    false,
    false,
    false,
    false,
    true,
  ]);
  expect(["24:00", "9:00", "09:00", "09:00:60", "09:00:59"].map(isTime)).toEqual([false, false, true, false, true]);
  expect(["2026-11-23T09:00", "2026-11-23", "2026-11-23T09:00Z"].map(isDateTime)).toEqual([true, false, false]);
});

test("nothing goes through a time zone: in any zone of the machine the same text is shown", () => {
  const before = process.env["TZ"];
  const shown = ["UTC", "Pacific/Apia", "America/Los_Angeles", "Asia/Kolkata"].map((zone) => {
    process.env["TZ"] = zone;
    return [
      showDateTime("2026-11-23T23:45", "en-US", { dateStyle: "short", timeStyle: "short" }),
      readDate("11/23/2026", "en-US"),
      showDateTime("00:15", "de", { timeStyle: "short" }),
    ];
  });
  process.env["TZ"] = before;
  expect(new Set(shown.map((each) => each.join("|").replace(/\u202f/g, " ")))).toEqual(
    new Set(["11/23/26, 11:45 PM|2026-11-23|00:15"]),
  );
});
