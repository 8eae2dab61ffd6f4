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
import { date, dateTime, instant, number, time } from "../src/index.ts";
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

const EACH = times(1_000, 0.08);
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

describe("what is shown in a display format is read back by the field that shows it", () => {
  const styles = ["short", "medium", "long", "full"] as const;
  const both = styles.flatMap((dateStyle) =>
    (["short", "medium"] as const).map((timeStyle) => ({ dateStyle, timeStyle })),
  );
  const parts = { year: "numeric", month: "short", day: "2-digit", weekday: "short" } as const;
  const kinds = [
    ...[...styles.map((dateStyle) => ({ dateStyle })), parts].map((display) => date({ display })),
    ...[{ timeStyle: "short" }, { timeStyle: "medium" }, { hour: "numeric", minute: "2-digit" }].map((display) =>
      time({ display } as never),
    ),
    ...both.map((display) => dateTime({ display })),
    ...both.filter((_, place) => place % 3 === 0).map((display) => instant({ display })),
    ...[0, 2].map((digits) => number({ display: { style: "percent", maximumFractionDigits: digits } })),
  ];
  /** What the guide lists as limits: percents with blanks in them, in Anii and Toki Pona. */
  const limits: Readonly<Record<string, RegExp>> = { blo: /percent/, tok: /percent/ };

  test("in every style of dates, times, both, instants and percents", () => {
    const seed = 29_029;
    const next = seeded(seed);
    const below = (limit: number): number => Math.floor(next() * limit);
    const wrong: string[] = [];
    let count = 0;
    const random = (kind: string, digits: number): string | number => {
      const day = `${1969 + below(100)}-${two(1 + below(12))}-${two(1 + below(28))}`;
      const clock = `${two(below(24))}:${two(below(60))}`;
      if (kind === "number") return (below(20_001) - 10_000) / 10 ** (digits + 2);
      if (kind === "date") return day;
      if (kind === "time") return clock;
      return kind === "dateTime" ? `${day}T${clock}` : `${day}T${clock}:00Z`;
    };
    for (const locale of locales)
      for (const kind of kinds as never as readonly Showing[])
        for (let each = 0; each < times(12, 0.1); each++) {
          const display = JSON.stringify(kind.options.display);
          const value = random(kind.kind, kind.options.display.maximumFractionDigits ?? 0);
          const shown = kind.show(value, locale, "Europe/Berlin");
          const read = kind.read(shown, locale, "Europe/Berlin");
          count++;
          if (read.ok && (kind.same(read.value, value) || isNear(read.value, value) || isTwice(value, shown))) continue;
          if (limits[locale]?.test(display) !== true)
            wrong.push(`${locale} ${display}: ${value} is shown as ${shown}, read as ${JSON.stringify(read)}`);
        }
    expect(wrong.slice(0, 10)).toEqual([]);
    // A limit that is none any more is taken off the list.
    const share = number({ display: { style: "percent" } });
    for (const locale of Object.keys(limits)) expect(share.read(share.show(70.87, locale), locale).ok).toBe(false);
    console.info(`${count} values, seed ${seed}`);
  });

  /** A product of a decimal fraction and a hundred is rounded. */
  const isNear = (read: unknown, value: unknown): boolean =>
    typeof read === "number" && Math.abs(read - (value as number)) < 1e-9;

  /** When clocks are put back, one text names two instants, and the earlier is read. */
  const isTwice = (value: unknown, shown: string): boolean =>
    typeof value === "string" &&
    value.endsWith("Z") &&
    kinds.some((kind) => {
      const { show } = kind as never as Showing;
      const earlier = `${new Date(Date.parse(value) - 3_600_000).toISOString().slice(0, 19)}Z`;
      return kind.kind === "instant" && locales.some((locale) => show(earlier, locale, "Europe/Berlin") === shown);
    });

  interface Showing {
    readonly kind: string;
    readonly options: { readonly display: { readonly maximumFractionDigits?: number } };
    show(value: unknown, locale: string, timeZone: string): string;
    read(text: string, locale: string, timeZone: string): { readonly ok: boolean; readonly value?: unknown };
    same(a: unknown, b: unknown): boolean;
  }

  test("instants are of the calendar that dates are of, and that both are read in", () => {
    const seen = instant().show("2026-11-23T12:00:00Z", "th", "UTC");
    expect([seen, date().show("2026-11-23", "th").includes("2026")]).toEqual([expect.stringContaining("2026"), true]);
    expect(instant().show("2026-11-23T12:00:00Z", "fa-u-nu-latn", "UTC")).toContain("2026");
  });

  test("what a person writes beside what is shown: a full stop in a time, a percent sign in front", () => {
    expect(dateTime().read("5.1.2026 klo 14.30", "fi")).toMatchObject({ ok: true, value: "2026-01-05T14:30" });
    expect(dateTime().read("5.1.2026 14.30", "da")).toMatchObject({ ok: true, value: "2026-01-05T14:30" });
    const share = number({ display: { style: "percent" } });
    expect(share.read("%35", "tr")).toMatchObject({ ok: true, value: 0.35 });
    expect(share.read("-%35", "tr")).toMatchObject({ ok: true, value: -0.35 });
    expect(share.read("35", "tr")).toMatchObject({ ok: true, value: 0.35 });
  });
});
