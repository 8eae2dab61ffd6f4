/**
 * Reads dates and times back as a display format of `Intl` shows them. What the parts of a locale's format are called and how they are
 * joined differs too much for rules; so the numbers and names that are in a text give the values that it may stand for, and it stands for
 * the one that is shown as this very text.
 */
import { dateOf, folded, fullYear, LONGEST, milliseconds, two } from "./dateTexts.ts";

/** The parts whose numbers are a value; what else a format shows follows from these. */
type Numeric = "year" | "month" | "day" | "hour" | "minute" | "second";

interface Shape {
  /** The orders in which numbers come. Names of some months and weekdays have numbers too, as "Thứ 4". */
  readonly orders: readonly (readonly (Numeric | "name")[])[];
  /** The names of the months from January on. */
  readonly months: readonly string[];
  readonly hasDate: boolean;
  readonly hasTime: boolean;
}

const shapes = new WeakMap<Intl.DateTimeFormat, Shape | undefined>();

function shapeOf(format: Intl.DateTimeFormat, locale: string): Shape | undefined {
  if (!shapes.has(format)) shapes.set(format, findShape(format, locale));
  return shapes.get(format);
}

const weekOf = ["16", "17", "18", "19", "20", "21", "22"];
const numerics: readonly string[] = ["year", "month", "day", "hour", "minute", "second"] satisfies Numeric[];

/** @returns `undefined` for a format that does not show all of a date, or of a time */
function findShape(format: Intl.DateTimeFormat, locale: string): Shape | undefined {
  const months: string[] = [];
  const orders = new Map<string, (Numeric | "name")[]>();
  // Each month, and each day of the week.
  const days = [...Array(12).keys()].map((at) => `${two(at + 1)}-22`).concat(weekOf.map((day) => `11-${day}`));
  for (const day of days) {
    const order: (Numeric | "name")[] = [];
    for (const { type, value } of format.formatToParts(milliseconds(`2033-${day}T17:44:58`))) {
      const text = folded(value, locale);
      const isNumber = numerics.includes(type) && !/\p{L}/u.test(text);
      order.push(...(text.match(/\d+/g) ?? []).map(() => (isNumber ? (type as Numeric) : "name")));
      if (type === "month") months[Number(day.slice(0, 2)) - 1] = text;
    }
    orders.set(order.join(), order);
  }
  const types = new Set(format.formatToParts(0).map(({ type }) => type));
  const has = (...all: Numeric[]): boolean => all.every((type) => types.has(type));
  const hasDate = has("year", "month", "day");
  const hasTime = has("hour", "minute");
  const isPart = (!hasDate && (has("year") || has("month") || has("day"))) || (!hasTime && has("hour"));
  if (isPart || (!hasDate && !hasTime)) return undefined;
  return { orders: [...orders.values()], months, hasDate, hasTime };
}

/**
 * @param show - shows a value as it would be shown
 * @returns the date, the time or both of which `show` gives this text; `undefined` when there is none
 */
export function readAsShown(
  text: string,
  locale: string,
  format: Intl.DateTimeFormat,
  show: (value: string) => string | undefined,
): string | undefined {
  if (text.length > LONGEST) return undefined;
  const shape = shapeOf(format, locale);
  if (shape === undefined) return undefined;
  const wanted = folded(text, locale);
  const digits = wanted.match(/\d+/g) ?? [];
  return shape.orders
    .filter((order) => order.length === digits.length)
    .flatMap((order) => candidates(new Map(order.map((part, place) => [part, digits[place]!])), shape, wanted))
    .find((value) => {
      const shown = show(value);
      return shown !== undefined && folded(shown, locale) === wanted;
    });
}

function candidates(found: ReadonlyMap<Numeric | "name", string>, shape: Shape, text: string): readonly string[] {
  const dates = shape.hasDate ? datesFrom(found, shape, text) : [undefined];
  const times = shape.hasTime ? timesFrom(found) : [undefined];
  return dates.flatMap((date) => times.map((time) => [date, time].filter((part) => part !== undefined).join("T")));
}

function datesFrom(found: ReadonlyMap<Numeric | "name", string>, { months }: Shape, text: string): readonly string[] {
  const digits = found.get("year")!;
  const year = digits.length === 2 ? fullYear(digits)! : Number(digits);
  const number = found.get("month");
  const named =
    number === undefined ? months.flatMap((name, at) => (text.includes(name) ? [at + 1] : [])) : [Number(number)];
  return named.flatMap((month) => dateOf(year, month, Number(found.get("day"))) ?? []);
}

function timesFrom(found: ReadonlyMap<Numeric | "name", string>): readonly string[] {
  const hour = Number(found.get("hour"));
  const [minute, second] = [Number(found.get("minute")), found.get("second")];
  const end = `:${two(minute)}${second === undefined || Number(second) === 0 ? "" : `:${two(Number(second))}`}`;
  // On a clock of twelve hours one number names two, and twelve is the first.
  const hours = [...new Set([hour, hour + 12, hour % 12])].filter((each) => each < 24);
  return minute < 60 ? hours.map((each) => two(each) + end) : [];
}
