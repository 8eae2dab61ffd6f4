import { getOrMake } from "../engine/index.ts";
import { IronwoodError, requireArgument, unknownName } from "../errors/index.ts";
import { type AnyKind, type AnyModel, showValue, valueIn } from "../model/index.ts";

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
  /** The field. */
  readonly name: string;
  readonly descending: boolean;
  /** Whether its keys are numbers, so that they are sorted by their bits. */
  readonly numeric: boolean;
  /** Whether its keys depend on the row alone: what is calculated may depend on anything. */
  readonly isOfRow: boolean;
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
  const isColumn = typeof given === "string" || (typeof given === "object" && (given as unknown) !== null);
  requireArgument(
    isColumn,
    "orderBy",
    given,
    'the name of a field, as "height" or "height desc", or { name, direction, by }',
  );
  const { name, direction = "ascending", by = "caption" } = typeof given === "string" ? written(given) : given;
  const { model } = source;
  if (!model.names.includes(name)) throw unknownName("unknownField", "The field", name, model.names, "orderBy");
  const kind = model.kindOf(name);
  return {
    name,
    ...sortBy(name, kind, by, source),
    descending: direction === "descending",
    isOfRow: isOfRow(name, model),
  };
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

const isOfRow = (name: string, model: AnyModel): boolean =>
  !model.isCalculated(name) && model.parts.relevance.size === 0;

/** What reads a field of a row: of most fields it is a member of the row. */
function readerOf(name: string, model: AnyModel, source: RowSource): KeyOfRow {
  if (!isOfRow(name, model)) return (row) => source.valueOf(row as never, name);
  if (name.includes(".")) return (row) => valueIn(row, name);
  return (row) => (row as Readonly<Record<string, unknown>>)[name];
}

function sortBy(
  name: string,
  kind: AnyKind | undefined,
  by: "caption" | "value",
  source: RowSource,
): Omit<SortColumn, "name" | "descending" | "isOfRow"> {
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
