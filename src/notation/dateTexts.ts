/** What reading and showing dates and times share. Dates are of the Gregorian calendar, and of no time zone: they go through UTC. */
import { numberMarks } from "./numbers.ts";

const formatters = new Map<string, Intl.DateTimeFormat>();

export function formatter(locale: string, options: Intl.DateTimeFormatOptions): Intl.DateTimeFormat {
  const key = `${locale} ${JSON.stringify(options)}`;
  let format = formatters.get(key);
  if (format === undefined) {
    format = new Intl.DateTimeFormat(locale, { ...options, calendar: "gregory", timeZone: "UTC" });
    formatters.set(key, format);
  }
  return format;
}

/** No locale writes a date or a time with more letters; a longer text is none, and is not looked at any further. */
export const LONGEST = 120;

export const two = (number: number): string => String(number).padStart(2, "0");

/** One form for comparing: no marks of direction, one kind of blank, lower case, ASCII digits. */
export function folded(text: string, locale: string): string {
  const { digits } = numberMarks(locale);
  const bare = text
    .normalize("NFC")
    .replace(/[\u061c\u200e\u200f\u202a-\u202e\u2066-\u2069]/g, "")
    .replace(/[\s\u00a0\u202f\u2009]+/g, " ");
  return [...bare.trim().toLocaleLowerCase(locale)]
    .map((letter) => (digits.includes(letter) ? String(digits.indexOf(letter)) : letter))
    .join("");
}

/** The moment that UTC's clock shows as this date and time. */
export function milliseconds(value: string): number {
  const [date = "", time = "00:00"] = value.includes("T") ? value.split("T") : [value];
  const [year, month, day] = date.split("-").map(Number) as [number, number, number];
  const [hour, minute, second = 0] = time.split(":").map(Number) as [number, number, number?];
  const moment = new Date(0);
  // Not Date.UTC, which takes the years 0 to 99 for those of the twentieth century.
  moment.setUTCFullYear(year, month - 1, day);
  moment.setUTCHours(hour, minute, second);
  return moment.getTime();
}

/** A date of which each part is a number, or `undefined` when there is no such day. */
export function dateOf(year: number, month: number, day: number): string | undefined {
  if (year < 1 || year > 9999 || month < 1 || month > 12 || day < 1) return undefined;
  const value = `${String(year).padStart(4, "0")}-${two(month)}-${two(day)}`;
  return new Date(milliseconds(value)).getUTCDate() === day ? value : undefined;
}

/**
 * A year of two digits is of this century up to 68 and of the last from 69 on, as POSIX reads `%y`; one of three is none.
 */
export function fullYear(digits: string): number | undefined {
  if (digits.length === 4) return Number(digits);
  if (digits.length > 2) return undefined;
  return Number(digits) + (Number(digits) <= 68 ? 2000 : 1900);
}
