/**
 * Text to date and time and back in a reader's locale, found out from `Intl`. Values are texts of ISO 8601: a date is
 * `YYYY-MM-DD`, a time `HH:MM` or `HH:MM:SS`, a date and time both with a `T` between. None of them has a time zone, and none
 * goes through one: what `Intl` is asked to show is taken for UTC and shown in UTC. Dates are of the Gregorian calendar.
 */
import { readAsShown } from "./asShown.ts";
import { dateOf, folded, formatter, fullYear, LONGEST, milliseconds, two } from "./dateTexts.ts";
import { numberMarks } from "./numbers.ts";

type Part = "year" | "month" | "day";

/** How one locale writes dates and times. */
interface DateMarks {
  /** In which order the numbers of a date come. */
  readonly order: readonly Part[];
  /** The names of months in all forms, longest first. */
  readonly months: readonly (readonly [name: string, month: number])[];
  /** Words that stand in dates and say nothing: `de`, `г`, `年`. */
  readonly words: readonly string[];
  /** The names of the parts of a day, and the hours that each is used for. */
  readonly periods: ReadonlyMap<string, readonly number[]>;
}

const marks = new Map<string, DateMarks>();

function dateMarks(locale: string): DateMarks {
  let found = marks.get(locale);
  if (found === undefined) {
    found = findMarks(locale);
    marks.set(locale, found);
  }
  return found;
}

const numeric = { year: "numeric", month: "2-digit", day: "2-digit" } as const;
const monthStyles = [
  { dateStyle: "medium" },
  { dateStyle: "long" },
  { year: "numeric", month: "long", day: "numeric" },
  { year: "numeric", month: "short", day: "numeric" },
  { month: "long" },
  { month: "short" },
] as const;

function findMarks(locale: string): DateMarks {
  const months = new Map<string, number>();
  const words = new Set<string>();
  const parts = formatter(locale, numeric).formatToParts(milliseconds("2033-11-22"));
  const order = parts
    .map(({ type }) => type)
    .filter((type): type is Part => type === "year" || type === "month" || type === "day");
  for (const style of monthStyles)
    for (let month = 1; month <= 12; month++)
      for (const { type, value } of formatter(locale, style).formatToParts(milliseconds(`2033-${two(month)}-22`))) {
        const name = folded(value, locale);
        if (type === "month") months.set(name.replace(/\.$/, ""), month);
        else if (type === "literal" || type === "era") for (const word of name.split(/[\s\p{P}]+/u)) words.add(word);
      }
  for (const { type, value } of parts)
    if (type === "literal") for (const word of folded(value, locale).split(/[\s\p{P}]+/u)) words.add(word);
  return {
    order,
    months: [...months].filter(([name]) => /\p{L}/u.test(name)).sort(([a], [b]) => b.length - a.length),
    words: [...words].filter((word) => /\p{L}/u.test(word)).sort((a, b) => b.length - a.length),
    periods: findPeriods(locale),
  };
}

function findPeriods(locale: string): Map<string, number[]> {
  const periods = new Map<string, number[]>([
    ["am", [0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11]],
    ["pm", [12, 13, 14, 15, 16, 17, 18, 19, 20, 21, 22, 23]],
  ]);
  for (let hour = 0; hour < 24; hour++)
    for (const { type, value } of formatter(locale, { hour: "numeric", hour12: true }).formatToParts(
      milliseconds(`2033-01-01T${two(hour)}:00`),
    ))
      if (type === "dayPeriod") {
        const name = plainPeriod(folded(value, locale));
        const hours = periods.get(name) ?? [];
        if (!hours.includes(hour)) periods.set(name, [...hours, hour]);
      }
  return periods;
}

const plainPeriod = (text: string): string => text.replace(/[.\s]/g, "");

/** Whether a text is a date of ISO 8601 that exists. */
export function isDate(value: unknown): boolean {
  const match = typeof value === "string" ? /^(\d{4})-(\d\d)-(\d\d)$/.exec(value) : null;
  return match !== null && dateOf(Number(match[1]), Number(match[2]), Number(match[3])) === value;
}

/** Whether a text is a time of ISO 8601, with or without seconds. */
export const isTime = (value: unknown): boolean =>
  typeof value === "string" && /^([01]\d|2[0-3]):[0-5]\d(:[0-5]\d)?$/.test(value);

/** Whether a text is a date and time of ISO 8601 with no zone. */
export function isDateTime(value: unknown): boolean {
  if (typeof value !== "string") return false;
  const [date, time, ...more] = value.split("T");
  return more.length === 0 && isDate(date) && isTime(time);
}

/**
 * Reads a date as a person wrote it: ISO 8601, or day, month and year in the locale's order with any separators, the month
 * as a number or by its name.
 *
 * @returns `YYYY-MM-DD`, or `undefined` when the text is no date, or a day that does not exist
 */
export function readDate(text: string, locale: string): string | undefined {
  if (text.length > LONGEST) return undefined;
  let rest = folded(text, locale);
  const iso = /^(\d{4})-(\d{1,2})-(\d{1,2})$/.exec(rest);
  if (iso !== null) return dateOf(Number(iso[1]), Number(iso[2]), Number(iso[3]));
  const { months, words, order } = dateMarks(locale);
  const named = months.find(([name]) => rest.includes(name));
  if (named !== undefined) rest = rest.replace(named[0], " ");
  for (const word of words) rest = rest.replaceAll(word, " ");
  if (/[^\d\s\p{P}]/u.test(rest)) return undefined;
  const numbers = rest.match(/\d+/g) ?? [];
  const parts = named === undefined ? order : order.filter((part) => part !== "month");
  if (numbers.length !== parts.length) return undefined;
  return assembled(numbers, parts, named?.[1]);
}

function assembled(numbers: readonly string[], order: readonly Part[], named: number | undefined): string | undefined {
  // Four digits are a year wherever they stand; a year in front is followed by month and day, as in ISO 8601.
  const longAt = numbers.findIndex((digits) => digits.length === 4);
  const yearAt = longAt === -1 ? order.indexOf("year") : longAt;
  const [first, second] = numbers.filter((_, place) => place !== yearAt);
  if ((first?.length ?? 0) > 2 || (second?.length ?? 0) > 2) return undefined;
  const year = fullYear(numbers[yearAt]!);
  if (year === undefined) return undefined;
  if (named !== undefined) return dateOf(year, named, Number(first));
  const monthFirst = longAt === 0 || order.indexOf("month") < order.indexOf("day");
  return monthFirst ? dateOf(year, Number(first), Number(second)) : dateOf(year, Number(second), Number(first));
}

/** The text to edit a date with: numbers in the locale's order, with a year of four digits. */
export function editingDate(value: string, locale: string): string {
  const { order } = dateMarks(locale);
  // Year, day, month would be read as ISO 8601's year, month, day.
  if (order[0] === "year" && order[1] === "day") return value;
  const year = Number(value.slice(0, 4));
  const parts = formatter(locale, numeric).formatToParts(milliseconds(value));
  const { digits } = numberMarks(locale);
  const four = [...String(year).padStart(4, "0")].map((digit) => digits[Number(digit)]!).join("");
  return parts
    .filter(({ type }) => type !== "era")
    .map((part) => (part.type === "year" ? four : part.value))
    .join("")
    .trim();
}

/** The text to show a date, a time or both with. */
export function showDateTime(value: string, locale: string, options: Intl.DateTimeFormatOptions): string {
  const whole = isTime(value) ? `2000-01-01T${value}` : value;
  return formatter(locale, options).format(milliseconds(whole));
}

/** Reads a date, a time or both as {@link showDateTime} shows it, whatever the locale's format has beside the numbers. */
export const readShownDateTime = (
  text: string,
  locale: string,
  options: Intl.DateTimeFormatOptions,
): string | undefined =>
  readAsShown(text, locale, formatter(locale, options), (value) => showDateTime(value, locale, options));

/**
 * Reads a time as a person wrote it: hours and minutes, perhaps seconds, by `:` or `.` or with none between, and perhaps
 * the part of the day in the locale's words.
 *
 * @returns `HH:MM`, or `HH:MM:SS` when seconds were given; `undefined` when the text is no time
 */
export function readTime(text: string, locale: string): string | undefined {
  if (text.length > LONGEST) return undefined;
  const rest = folded(text, locale);
  const match = /^(\D*?)\s*(\d{1,2})(?:[:.h]?(\d\d)(?:[:.](\d\d))?)?\s*(\D*?)$/u.exec(rest);
  if (match === null) return undefined;
  const [, before = "", hours = "", minutes, seconds, behind = ""] = match;
  const period = plainPeriod(before + behind);
  if (minutes === undefined && period === "") return undefined;
  const hour = period === "" ? Number(hours) : hourIn(Number(hours), dateMarks(locale).periods.get(period));
  if (hour === undefined) return undefined;
  const time = `${two(hour)}:${minutes ?? "00"}${seconds === undefined ? "" : `:${seconds}`}`;
  return isTime(time) ? time : undefined;
}

function hourIn(hour: number, period: readonly number[] | undefined): number | undefined {
  return period?.find((each) => each === hour || (hour <= 12 && each % 12 === hour % 12));
}

/** The text to edit a time with: of 24 hours, in the locale's digits. */
export function editingTime(value: string, locale: string): string {
  const { digits } = numberMarks(locale);
  return [...value].map((letter) => (letter === ":" ? letter : digits[Number(letter)]!)).join("");
}

/** Reads a date and a time, in this order, as {@link readDate} and {@link readTime} do; the time has a colon, or a full stop. */
export function readDateTime(text: string, locale: string): string | undefined {
  if (text.length > LONGEST) return undefined;
  const rest = folded(text, locale).replace(/(\d)t(?=\d)/, "$1 ");
  const match = /^(.*)[\s,]+(\D*?\d{1,2}[:.]\d\d(?:[:.]\d\d)?\D*)$/u.exec(rest);
  if (match === null) return undefined;
  const date = readDate(match[1]!, locale);
  const time = readTime(match[2]!, locale);
  return date === undefined || time === undefined ? undefined : `${date}T${time}`;
}

export function editingDateTime(value: string, locale: string): string {
  const [date, time] = value.split("T") as [string, string];
  return `${editingDate(date, locale)} ${editingTime(time, locale)}`;
}
