import { describe, expect, test } from "@jest/globals";
import {
  editingDate,
  editingDateTime,
  editingNumber,
  editingTime,
  numberFormat,
  plainNumber,
  readDate,
  readDateTime,
  readNumber,
  readTime,
  showDateTime,
} from "../src/notation/index.ts";
import { allLocales } from "./locales.ts";
import { times } from "./seeded.ts";

/** A small generator of its own (mulberry32), as 250,000 values are many for a general one. */
function seeded(seed: number): () => number {
  let state = seed;
  return () => {
    state = (state + 0x6d2b79f5) | 0;
    let mixed = Math.imul(state ^ (state >>> 15), 1 | state);
    mixed = (mixed + Math.imul(mixed ^ (mixed >>> 7), 61 | mixed)) ^ mixed;
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 4_294_967_296;
  };
}

const EACH = times(1_000);
const locales = [
  ...allLocales(),
  ...["de-CH", "de-AT", "en-IN", "en-ZA", "es-MX", "fr-CA", "fr-CH", "pt-PT", "ar-EG", "ar-MA", "zh-TW"],
  ...["ar-u-nu-arab", "th-u-nu-thai", "hi-u-nu-deva", "fa-u-nu-arabext", "my-u-nu-mymr"],
];
const two = (value: number): string => String(value).padStart(2, "0");

describe(`in each of ${locales.length} locales, ${EACH} seeded values are shown and read back`, () => {
  test("numbers: as they are shown, with grouping, and as they are edited, in full", () => {
    const seed = 1_000_003;
    const next = seeded(seed);
    const wrong: string[] = [];
    for (const locale of locales) {
      const format = numberFormat(locale, { useGrouping: true, minimumFractionDigits: 2, maximumFractionDigits: 2 });
      for (let count = 0; count < EACH; count++) {
        const value = Math.round((next() - 0.5) * 10 ** (2 + Math.floor(next() * 10))) / 100 + 0;
        const shown = format.format(value);
        if (readNumber(shown, locale) !== value) wrong.push(`${locale}: ${value} is shown as ${shown}`);
        const exact = (next() - 0.5) * 10 ** Math.floor(next() * 40 - 20);
        const edited = editingNumber(plainNumber(exact), locale);
        if (readNumber(edited, locale) !== exact) wrong.push(`${locale}: ${exact} is edited as ${edited}`);
      }
    }
    expect(wrong.slice(0, 10)).toEqual([]);
    console.info(`${2 * EACH * locales.length} numbers, seed ${seed}`);
  });

  test("dates, times, and both, as they are edited; dates as they are shown", () => {
    const seed = 1_000_033;
    const next = seeded(seed);
    const wrong: string[] = [];
    for (const locale of locales) {
      for (let count = 0; count < EACH; count++) {
        const date = `${1900 + Math.floor(next() * 200)}-${two(1 + Math.floor(next() * 12))}-${two(1 + Math.floor(next() * 28))}`;
        const time = `${two(Math.floor(next() * 24))}:${two(Math.floor(next() * 60))}`;
        const texts = [
          [editingDate(date, locale), readDate, date],
          [showDateTime(date, locale, { dateStyle: "medium" }), readDate, date],
          [editingTime(time, locale), readTime, time],
          [editingDateTime(`${date}T${time}`, locale), readDateTime, `${date}T${time}`],
        ] as const;
        for (const [text, read, value] of texts)
          if (read(text, locale) !== value)
            wrong.push(`${locale}: ${value} is shown as ${text}, read as ${read(text, locale)}`);
      }
    }
    expect(wrong.slice(0, 10)).toEqual([]);
    console.info(`${4 * EACH * locales.length} dates and times, seed ${seed}`);
  });
});
