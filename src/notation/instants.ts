/**
 * Instants are texts of RFC 3339 kept in UTC, as `2026-11-23T14:30:00Z`, and are read and shown on the clock of a time
 * zone. Only here does anything go through one.
 */
import { readAsShown } from "./asShown.ts";
import { editingDateTime, isDateTime, readDateTime } from "./dates.ts";

/** Whether it is an instant in UTC that exists: `YYYY-MM-DDTHH:MM:SS[.fff]Z`. */
export const isInstant = (value: unknown): boolean =>
  typeof value === "string" &&
  /^\d{4}-\d\d-\d\dT\d\d:\d\d:\d\d(?:\.\d{1,3})?Z$/.test(value) &&
  isDateTime(value.slice(0, 19));

const clocks = new Map<string, Intl.DateTimeFormat>();

function clock(timeZone: string): Intl.DateTimeFormat {
  let found = clocks.get(timeZone);
  if (found === undefined) {
    found = new Intl.DateTimeFormat("en", {
      timeZone,
      calendar: "iso8601",
      numberingSystem: "latn",
      hourCycle: "h23",
      year: "numeric",
      month: "2-digit",
      day: "2-digit",
      hour: "2-digit",
      minute: "2-digit",
      second: "2-digit",
    });
    clocks.set(timeZone, found);
  }
  return found;
}

/** What the clock of a zone shows at an instant, as `YYYY-MM-DDTHH:MM[:SS]`. */
export function localTime(instant: string, timeZone: string): string {
  const parts: Record<string, string> = {};
  for (const { type, value } of clock(timeZone).formatToParts(Date.parse(instant))) parts[type] = value;
  const { year = "", month = "", day = "", hour = "", minute = "", second = "" } = parts;
  const seconds = second === "00" ? "" : `:${second}`;
  return `${year.padStart(4, "0")}-${month}-${day}T${hour}:${minute}${seconds}`;
}

/**
 * The instant at which the clock of a zone shows a local time; of two, when clocks are put back, the earlier.
 * @returns `undefined` for a time that does not exist there, as when clocks are put forward
 */
export function instantAt(local: string, timeZone: string): string | undefined {
  const asUtc = Date.parse(`${local.length === 16 ? `${local}:00` : local}Z`);
  const found = new Set<number>();
  // No zone is more than a day off, so both possible offsets are in force a day before or after.
  for (const near of [asUtc - 86_400_000, asUtc + 86_400_000]) {
    const shown = localTime(new Date(near).toISOString(), timeZone);
    const offset = Date.parse(`${shown.length === 16 ? `${shown}:00` : shown}Z`) - near;
    found.add(asUtc - offset);
  }
  const wanted = local.replace(/:00$/, (end) => (local.length === 19 ? "" : end));
  for (const time of [...found].sort((a, b) => a - b)) {
    const instant = `${new Date(time).toISOString().slice(0, 19)}Z`;
    if (localTime(instant, timeZone) === wanted) return instant;
  }
  return undefined;
}

/** Reads an instant as a person writes it by the clock of a zone. */
export function readInstant(text: string, locale: string, timeZone: string): string | undefined {
  const local = readDateTime(text, locale);
  return local === undefined ? undefined : instantAt(local, timeZone);
}

/** The text to edit an instant with, by the clock of a zone. */
export const editingInstant = (instant: string, locale: string, timeZone: string): string =>
  editingDateTime(localTime(instant, timeZone), locale);

const formats = new Map<string, Intl.DateTimeFormat>();

/** Of the Gregorian calendar in every locale, as dates are and as both are read. */
function shownBy(locale: string, timeZone: string, display: Intl.DateTimeFormatOptions): Intl.DateTimeFormat {
  const key = `${locale} ${timeZone} ${JSON.stringify(display)}`;
  let format = formats.get(key);
  if (format === undefined) {
    format = new Intl.DateTimeFormat(locale, { ...display, calendar: "gregory", timeZone });
    formats.set(key, format);
  }
  return format;
}

export function showInstant(
  instant: string,
  locale: string,
  timeZone: string,
  display: Intl.DateTimeFormatOptions,
): string {
  return shownBy(locale, timeZone, display).format(Date.parse(instant));
}

/** Reads an instant as {@link showInstant} shows it, by the clock of the same zone. */
export function readShownInstant(
  text: string,
  locale: string,
  timeZone: string,
  display: Intl.DateTimeFormatOptions,
): string | undefined {
  const local = readAsShown(text, locale, shownBy(locale, timeZone, display), (value) => {
    const instant = instantAt(value, timeZone);
    return instant && showInstant(instant, locale, timeZone, display);
  });
  return local && instantAt(local, timeZone);
}
