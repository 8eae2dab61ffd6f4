import { getOrMake } from "../engine/index.ts";
import { unknownName, IronwoodError } from "../errors/index.ts";
import { type AnyKind, type AnyModel, showValue, valueIn } from "../model/index.ts";
import { sortByKeys, sortByWideKeys } from "./radix.ts";
import { textRanks } from "./textRanks.ts";

/** One column of an order: a field, which way, and of choices whether by caption (the default) or by value. */
export interface OrderColumn<Name extends string = string> {
  /** The field, by its full name. */
  readonly name: Name;
  /** `asc`, the default, or `desc`. */
  readonly direction?: "ascending" | "descending" | undefined;
  /** What is compared instead of the value. */
  readonly by?: "caption" | "value" | undefined;
}

/** What a row is compared by in one column: blanks are `undefined`, and come last both ways. */
type KeyOfRow = (row: unknown) => unknown;

/** A column that rows can be sorted and compared by. */
export interface SortColumn {
  readonly descending: boolean;
  /** Whether its keys are numbers, so that they are sorted by their bits. */
  readonly numeric: boolean;
  readonly keyOf: KeyOfRow;
  /** Compares two keys that are not blank. */
  readonly compare: (a: never, b: never) => number;
  /** What compares them, where they are text in the order of a language. */
  readonly collator?: Intl.Collator | undefined;
}

/** What of a table sorting asks for. */
export interface RowSource {
  readonly model: AnyModel;
  readonly locale: string;
  readonly timeZone: string;
  readonly rowsBySlot: readonly unknown[];
  valueOf(row: never, name: string): unknown;
}

const plain = (a: string | number, b: string | number): number => Number(a > b) - Number(a < b);

/** Text by the rules of the language, numbers inside it by their value: bed 9 before bed 10. */
const collators = new Map<string, Intl.Collator>();
export function collatorFor(locale: string): Intl.Collator {
  return getOrMake(collators, locale, () => new Intl.Collator(locale, { numeric: true }));
}

/**
 * Reads `"height desc"`, or `{ name, direction, by }`.
 *
 * @throws `unknownField` with the nearest name; `wrongOption` for another direction
 */
export function columnFrom(given: string | OrderColumn, source: RowSource): SortColumn {
  const { name, direction = "ascending", by = "caption" } = typeof given === "string" ? written(given) : given;
  const { model } = source;
  if (!model.names.includes(name)) throw unknownName("unknownField", "The field", name, model.names, "orderBy");
  const kind = model.kindOf(name);
  return { ...sortBy(name, kind, by, source), descending: direction === "descending" };
}

/** One column of an order that was read. */
export interface OrderedBy {
  readonly name: string;
  readonly direction: "ascending" | "descending";
}

/** What is given for an order, as a list. */
export const listOf = (
  given: string | OrderColumn | readonly (string | OrderColumn)[] | undefined,
): readonly (string | OrderColumn)[] => (given === undefined ? [] : [given].flat());

/** What an order is made of, as columns with their directions. */
export function orderOf(
  given: string | OrderColumn | readonly (string | OrderColumn)[] | undefined,
): readonly OrderedBy[] {
  return listOf(given).map((each) => {
    const { name, direction = "ascending" } = typeof each === "string" ? written(each) : each;
    return { name, direction };
  });
}

const directionAfter: Readonly<Record<OrderedBy["direction"] | "none", readonly OrderedBy["direction"][]>> = {
  none: ["ascending"],
  ascending: ["descending"],
  descending: [],
};

/** What a view is sorted by after a heading was pressed: ascending, descending, not; with `more` beside what it was sorted by. */
export function orderAfter(before: readonly OrderedBy[], name: string, more: boolean): readonly OrderedBy[] {
  const own = before.find((each) => each.name === name);
  const next = directionAfter[own?.direction ?? "none"].map((direction) => ({ name, direction }));
  if (!more) return next;
  if (own === undefined) return [...before, ...next];
  return before.flatMap((each) => (each.name === name ? next : [each]));
}

function written(text: string): OrderColumn {
  const [name = "", way = "asc", ...rest] = text.trim().split(/\s+/);
  const direction = { asc: "ascending", desc: "descending", ascending: "ascending", descending: "descending" }[way];
  if (direction === undefined || rest.length > 0)
    throw new IronwoodError("wrongOption", `orderBy was given "${text}"`, {
      expected: 'the name of a field, and "asc" or "desc"',
    });
  return { name, direction: direction as "ascending" | "descending" };
}

/** What reads a field of a row: of most fields it is a member of the row. */
function readerOf(name: string, model: AnyModel, source: RowSource): KeyOfRow {
  if (model.isCalculated(name) || model.parts.relevance.size > 0) return (row) => source.valueOf(row as never, name);
  if (name.includes(".")) return (row) => valueIn(row, name);
  return (row) => (row as Readonly<Record<string, unknown>>)[name];
}

function sortBy(
  name: string,
  kind: AnyKind | undefined,
  by: "caption" | "value",
  source: RowSource,
): Omit<SortColumn, "descending"> {
  const { model, locale, timeZone } = source;
  const read = readerOf(name, model, source);
  const collator = collatorFor(locale);
  const collate = collator.compare;
  const shownText = (value: unknown): string | undefined => showValue(kind, value, locale, timeZone) || undefined;
  const byValue = { numeric: false, keyOf: (row: unknown) => filled(read(row)), compare: mixed(collate) };
  if (kind === undefined) return byValue;
  switch (kind.kind) {
    case "integer":
    case "number":
      return { numeric: true, keyOf: read, compare: plain };
    case "boolean":
      return { numeric: true, keyOf: (row) => numberOf(read(row)), compare: plain };
    case "date":
    case "time":
    case "dateTime":
    case "instant":
      return {
        numeric: false,
        keyOf: (row) => {
          const value = filled(read(row));
          return value === undefined ? undefined : (kind.meaning?.(value) ?? value);
        },
        compare: plain,
      };
    case "decimal":
      return { numeric: false, keyOf: read, compare: (a: { compare(other: unknown): number }, b) => a.compare(b) };
    case "oneOf":
      if (by === "value") return byValue;
      return { numeric: false, keyOf: (row) => shownText(read(row)), compare: collate, collator };
    case "text":
      return { numeric: false, keyOf: (row) => filled(read(row)), compare: collate, collator };
    default:
      return { numeric: false, keyOf: (row) => shownText(read(row)), compare: collate, collator };
  }
}

/** What has no kind, or is asked for by its value: numbers before text. */
function mixed(collate: (a: never, b: never) => number): (a: unknown, b: unknown) => number {
  return (a, b) => {
    if (typeof a === "string" && typeof b === "string") return collate(a as never, b as never);
    if (typeof a === "number" && typeof b === "number") return plain(a, b);
    return plain(typeof a, typeof b);
  };
}

const numberOf = (value: unknown): number | undefined => (typeof value === "boolean" ? Number(value) : undefined);
/** Text of white space only is blank; most text shows by its first sign that it is not. */
function filled(value: unknown): unknown {
  if (typeof value !== "string") return value ?? undefined;
  const first = value.charCodeAt(0);
  if (first > 32 && first < 128) return value;
  return value.trim() === "" ? undefined : value;
}

/** Compares two rows by columns; 0 where all are alike. */
export function compareRows(a: unknown, b: unknown, columns: readonly SortColumn[]): number {
  for (const { keyOf, compare, descending } of columns) {
    const x = keyOf(a);
    const y = keyOf(b);
    if (x === y) continue;
    if (x === undefined || x === null) return y === undefined || y === null ? 0 : 1;
    if (y === undefined || y === null) return -1;
    const order = compare(x as never, y as never);
    if (order !== 0) return descending ? -order : order;
  }
  return 0;
}

/** Sorts slots by columns; what is alike in all stays in the order in which it was given. */
export function sortSlots(slots: Uint32Array, columns: readonly SortColumn[], source: RowSource): Uint32Array {
  let sorted = slots;
  // The last column first: each sorting keeps the order of the one before where its own keys are alike.
  for (const column of columns.toReversed())
    sorted = column.numeric ? sortByNumber(sorted, column, source) : sortByRank(sorted, column, source);
  return sorted;
}

/** Which half of a number's bits comes first in memory on this machine. */
const LOWER = new Uint32Array(new Float64Array([1]).buffer)[0] === 0 ? 0 : 1;

function sortByNumber(slots: Uint32Array, { keyOf, descending }: SortColumn, source: RowSource): Uint32Array {
  const count = slots.length;
  const numbers = new Float64Array(count);
  const { rowsBySlot } = source;
  let whole = true;
  for (let index = 0; index < count; index++) {
    const key = keyOf(rowsBySlot[slots[index]!]) as number | undefined | null;
    if (key === undefined || key === null) numbers[index] = Infinity;
    else {
      const number = descending ? -key : key;
      numbers[index] = number + 0;
      if (whole && ((number | 0) !== number || number === 0x7fff_ffff)) whole = false;
    }
  }
  return whole ? sortWhole(slots, numbers) : sortWide(slots, numbers);
}

/** Whole numbers of 32 bits need half the passes; what is blank is the largest. */
function sortWhole(slots: Uint32Array, numbers: Float64Array): Uint32Array {
  const keys = new Uint32Array(numbers.length);
  for (let index = 0; index < keys.length; index++)
    keys[index] = numbers[index] === Infinity ? 0xffff_ffff : (numbers[index]! ^ 0x8000_0000) >>> 0;
  return sortByKeys(slots, keys);
}

/** The bits of a number are in its order once the sign is turned, and of a negative one all of them (IEEE 754). */
function sortWide(slots: Uint32Array, numbers: Float64Array): Uint32Array {
  const bits = new Uint32Array(numbers.buffer);
  const count = numbers.length;
  const low = new Uint32Array(count);
  const high = new Uint32Array(count);
  for (let index = 0; index < count; index++) {
    const upper = bits[2 * index + 1 - LOWER]!;
    const lower = bits[2 * index + LOWER]!;
    const negative = upper >>> 31 === 1;
    high[index] = negative ? ~upper >>> 0 : (upper | 0x8000_0000) >>> 0;
    low[index] = negative ? ~lower >>> 0 : lower;
  }
  return sortByWideKeys(slots, low, high);
}

/** Keys that are no numbers are sorted once each, and the rows by the indexes of their keys. */
function sortByRank(slots: Uint32Array, column: SortColumn, source: RowSource): Uint32Array {
  const { keyOf, compare, descending, collator } = column;
  const count = slots.length;
  const numbers = new Map<unknown, number>();
  const distinct: unknown[] = [];
  const keys = new Uint32Array(count);
  const { rowsBySlot } = source;
  for (let index = 0; index < count; index++) {
    const key = keyOf(rowsBySlot[slots[index]!]);
    if (key === undefined || key === null) {
      keys[index] = 0xffff_ffff;
      continue;
    }
    let number = numbers.get(key);
    if (number === undefined) {
      number = distinct.length;
      numbers.set(key, number);
      distinct.push(key);
    }
    keys[index] = number;
  }
  const ranks =
    (collator && textRanks(distinct as readonly string[], collator)) ??
    ranksOf(distinct, compare as (a: unknown, b: unknown) => number);
  if (descending) for (let index = 0; index < ranks.length; index++) ranks[index] = ranks.length - ranks[index]!;
  for (let index = 0; index < count; index++) if (keys[index] !== 0xffff_ffff) keys[index] = ranks[keys[index]!]!;
  return sortByKeys(slots, keys);
}

/** The index of each key among all; keys that compare alike share one. */
function ranksOf(keys: readonly unknown[], compare: (a: unknown, b: unknown) => number): Uint32Array {
  const order = Array.from(keys, (_, index) => index);
  order.sort((a, b) => compare(keys[a], keys[b]));
  const ranks = new Uint32Array(keys.length);
  let rank = 0;
  for (let index = 0; index < order.length; index++) {
    if (index > 0 && compare(keys[order[index - 1]!], keys[order[index]!]) !== 0) rank = index;
    ranks[order[index]!] = rank;
  }
  return ranks;
}
