import { requireRange, requireValues } from "../../errors/index.ts";
import { sayOfValues } from "../sayOfValues.ts";
import {
  editingDate,
  editingDateTime,
  editingTime,
  isDate,
  isDateTime,
  isTime,
  readDate,
  readDateTime,
  readShownDateTime,
  readTime,
  showDateTime,
} from "../../notation/index.ts";
import type { CheckingMessage, ValuesMessage } from "../messageNames.ts";
import {
  checkOptions,
  type CommonOptions,
  type Finding,
  type Kind,
  nothingFound,
  optionsOf,
  type Reading,
  type Sure,
  type Sureness,
  readAs,
} from "./kind.ts";
import { sampleWithin } from "./range.ts";

/** Options of `date`, `time` and `dateTime`. */
export interface DateOptions extends CommonOptions<string> {
  /** The earliest that is right, included; in the value's own form. */
  readonly minimum?: string | undefined;
  /** The latest that is right, included. A `time` may end before it begins, as in HTML: from 22:00 to 06:00 is a night. */
  readonly maximum?: string | undefined;
  /** How it is shown: ECMA-402's options of `Intl.DateTimeFormat`. A time zone in it is not used, as the value has none. */
  readonly display?: Intl.DateTimeFormatOptions | undefined;
}

/** What differs between the three. */
interface Parts {
  readonly name: "date" | "time" | "dateTime";
  readonly expects: string;
  readonly unreadable: CheckingMessage | ValuesMessage;
  readonly example: string;
  readonly display: Intl.DateTimeFormatOptions;
  belongs(value: unknown): boolean;
  read(text: string, locale: string): string | undefined;
  edit(value: string, locale: string): string;
}

/**
 * A day of the Gregorian calendar, as `YYYY-MM-DD` (ISO 8601). Blank is `undefined`.
 *
 * @throws `unknownOption`, `wrongOption`
 * @example date({ title: "Planted on", minimum: "1990-01-01" })
 */
export function date<const O extends DateOptions>(options?: O): Kind<string, undefined, Sure<O>> {
  return dated(optionsOf("date", options), {
    name: "date",
    expects: "a date as YYYY-MM-DD that exists",
    unreadable: "badDate",
    example: "2026-11-23",
    display: { dateStyle: "medium" },
    belongs: isDate,
    read: readDate,
    edit: editingDate,
  });
}

/**
 * A time of day, as `HH:MM` or `HH:MM:SS` (ISO 8601). Blank is `undefined`.
 *
 * @throws `unknownOption`, `wrongOption`
 * @example time({ title: "Watered at" })
 */
export function time<const O extends DateOptions>(options?: O): Kind<string, undefined, Sure<O>> {
  return dated(optionsOf("time", options), {
    name: "time",
    expects: "a time as HH:MM or HH:MM:SS",
    unreadable: "badTime",
    example: "14:30",
    display: { timeStyle: "short" },
    belongs: isTime,
    read: readTime,
    edit: editingTime,
  });
}

/**
 * A date and a time with no zone, as `YYYY-MM-DDTHH:MM[:SS]`: HTML's local date and time. Blank is `undefined`.
 *
 * @throws `unknownOption`, `wrongOption`
 * @example dateTime({ title: "Surveyed at" })
 */
export function dateTime<const O extends DateOptions>(options?: O): Kind<string, undefined, Sure<O>> {
  return dated(optionsOf("dateTime", options), {
    name: "dateTime",
    expects: "a date and time as YYYY-MM-DDTHH:MM that exists",
    unreadable: "badDateTime",
    example: "2026-11-23T14:30",
    display: { dateStyle: "medium", timeStyle: "short" },
    belongs: isDateTime,
    read: readDateTime,
    edit: editingDateTime,
  });
}

function dated<S extends Sureness>(options: DateOptions, parts: Parts): Kind<string, undefined, S> {
  const display = options.display ?? parts.display;
  const show = (value: string | undefined, locale: string): string =>
    value === undefined ? "" : showDateTime(value, locale, withSeconds(value, display));
  /** What the text means as it is shown comes first: no other order of numbers is as near. */
  const readShown = (text: string, locale: string): string | undefined => {
    for (const style of new Set([display, secondsOf(display)])) {
      const value = readShownDateTime(text, locale, style);
      if (value !== undefined && parts.belongs(value)) return value;
    }
    return undefined;
  };
  const kind: Kind<string, undefined, S> = {
    kind: parts.name,
    options,
    empty: undefined,
    expects: parts.expects,
    say: sayOfValues,
    missing: "valueMissing",
    isBlank: (value) => value === undefined,
    same: (a, b) => a === b || (a !== undefined && b !== undefined && full(a) === full(b)),
    meaning: full,
    belongs: (value) => parts.belongs(value),
    read(text, locale): Reading<string | undefined> {
      if (text.trim() === "") return readAs(undefined);
      const value = readShown(text, locale) ?? parts.read(text, locale);
      if (value !== undefined) return readAs(value);
      const example = parts.edit(exampleOf(options, parts.example), locale);
      return { ok: false, finding: { code: "badInput", message: parts.unreadable, facts: { example } } };
    },
    edit: (value, locale) => (value === undefined ? "" : parts.edit(value, locale)),
    show,
    check: (value, locale) => checkDate(value, options, (limit) => show(limit, locale)),
  };
  checkOptions(kind, ["minimum", "maximum", "display"]);
  requireValues(parts.name, options, ["minimum", "maximum"], (value) => parts.belongs(value), parts.expects);
  if (parts.name !== "time") requireRange(parts.name, options, compareDates);
  return kind;
}

/** Seconds that are there are shown, whatever the style. */
function withSeconds(value: string, display: Intl.DateTimeFormatOptions): Intl.DateTimeFormatOptions {
  const has = /:\d\d:\d\d$/.test(value) && !value.endsWith(":00");
  return has ? secondsOf(display) : display;
}

const secondsOf = (display: Intl.DateTimeFormatOptions): Intl.DateTimeFormatOptions =>
  display.timeStyle === "short" ? { ...display, timeStyle: "medium" } : display;

/** With seconds, so that texts of ISO 8601 compare as what they say. */
const full = (value: string): string => (/(^|T)\d\d:\d\d$/.test(value) ? `${value}:00` : value);

const compareDates = (a: string, b: string): number => (full(a) < full(b) ? -1 : Number(full(a) > full(b)));

function exampleOf({ examples, minimum, maximum }: DateOptions, sample: string): string {
  return examples?.[0] ?? sampleWithin(sample, minimum, maximum, compareDates);
}

function checkDate(
  value: string,
  { minimum, maximum }: DateOptions,
  show: (limit: string) => string,
): readonly Finding[] {
  // HTML's reversed range, which only times may have: from the evening to the next morning.
  if (minimum !== undefined && maximum !== undefined && full(minimum) > full(maximum)) {
    if (full(value) >= full(minimum) || full(value) <= full(maximum)) return nothingFound;
    const facts = { value: show(minimum), limit: show(maximum) };
    return [{ code: "rangeUnderflow", message: "outsideTimes", facts }];
  }
  if (minimum !== undefined && full(value) < full(minimum))
    return [{ code: "rangeUnderflow", message: "beforeMinimum", facts: { limit: show(minimum) } }];
  if (maximum !== undefined && full(value) > full(maximum))
    return [{ code: "rangeOverflow", message: "afterMaximum", facts: { limit: show(maximum) } }];
  return nothingFound;
}
