import {
  type AnyModel,
  type FieldPathsOf,
  type KeyOf,
  pointerTo,
  type Problem,
  putIn,
  type RowOf,
  sayOfValues,
  showValue,
  valueIn,
} from "../model/index.ts";
import { IronwoodError, requireArgument, requireOptions, requireTable, unknownName } from "../errors/index.ts";
import { internal, refuse, transaction } from "../engine/index.ts";
import { type AnyTable, type Table, type TableState } from "../table/index.ts";
import { compareQuantities, differenceOf, type Quantity, quantityFor, sumOf } from "./quantity.ts";

/** Options of {@link moveRows}. */
export interface MoveOptions<A extends AnyModel, B extends AnyModel> {
  /** What a row becomes in the other table; default: the fields that both have. */
  readonly as?: ((row: RowOf<A>) => Partial<RowOf<B>>) | undefined;
  /** The field that says how many a row stands for, in both tables: then a part can be moved, and the rest stays. */
  readonly quantity?: (FieldPathsOf<A> & FieldPathsOf<B>) | undefined;
  /** How many of each row are moved; default: all. */
  readonly amount?: Quantity | ((row: RowOf<A>) => Quantity) | undefined;
  /** Fields by which a row that is in the other table already is the same: its quantity grows instead of a second row. */
  readonly join?: readonly FieldPathsOf<B>[] | undefined;
  /** Asked when all are moved, before it counts: true, or the reason why it may not be. It sees both tables as they would be. */
  readonly allowed?: (() => true | string) | undefined;
}

/** What moving came to: all rows, or none and why. */
export type Moved =
  { readonly ok: true; readonly rows: number } | { readonly ok: false; readonly problems: readonly Problem[] };

/**
 * Moves rows from one table to another, or part of their quantity: all of them, or none. With a history that both share it is
 * one step to undo.
 *
 * @throws `unknownKey` for a row that is not there; `unknownField`, `wrongOption`
 * @example
 * moveRows(stock, order, ["AB-0042"], {
 *   quantity: "count", amount: 3, join: ["species"],
 *   allowed: () => total(order) <= budget || "That is beyond the budget.",
 * });
 */
export function moveRows<A extends AnyModel, B extends AnyModel>(
  from: Table<A>,
  to: Table<B>,
  keys: readonly KeyOf<A>[],
  options: MoveOptions<A, B> = {},
): Moved {
  requireTable("moveRows", from);
  requireTable("moveRows", to);
  requireArgument(Array.isArray(keys), "moveRows", keys, "a list of keys");
  requireOptions("moveRows", options, {
    as: "function",
    quantity: "text",
    amount: "any",
    join: "list",
    allowed: "function",
  });
  checkNames(from, to, options);
  const moved = transaction<void, Problem>(() => {
    const there = options.join === undefined ? undefined : new Joined(to, options.join);
    for (const key of keys) moveOne(from, to, key, options, there);
    const verdict = options.allowed?.() ?? true;
    if (verdict !== true) refuse({ code: "notAllowed", message: verdict, severity: "error", pointer: "" });
  });
  return moved.ok ? { ok: true, rows: keys.length } : moved;
}

/** What is refused fails the transaction; so that all that is wrong is told, the others are tried all the same. */
function moveOne<A extends AnyModel, B extends AnyModel>(
  from: Table<A>,
  to: Table<B>,
  key: KeyOf<A>,
  { as, quantity, amount }: MoveOptions<A, B>,
  joined: Joined<B> | undefined,
): void {
  const row = from.get(key);
  // That there is no such row is told as deleting tells it.
  if (row === undefined) return void from.delete(key);
  const kind = quantity === undefined ? undefined : from.model.kindOf(quantity);
  const all = quantity === undefined ? 1 : quantityFor(kind, valueIn(row, quantity));
  const wanted = amount === undefined ? all : quantityFor(kind, typeof amount === "function" ? amount(row) : amount);
  const rest = compareQuantities(all, wanted);
  if (quantity !== undefined && !(compareQuantities(wanted, quantityFor(kind, 0)) > 0 && rest >= 0))
    return refuse(tooMany(from, quantity, rest < 0 ? all : quantityFor(kind, 0), rest < 0));
  const same = as === undefined ? sharedFields(row, from.model, to.model) : (as(row) as Record<string, unknown>);
  if (quantity !== undefined && rest > 0)
    from.update(key, { [quantity]: differenceOf(all, wanted) } as Partial<RowOf<A>>);
  else from.delete(key);
  const kindThere = quantity === undefined ? undefined : to.model.kindOf(quantity);
  const moved = quantityFor(kindThere, wanted);
  const there = joined?.keyOf(same);
  if (there === undefined) {
    const added = to.insert((quantity === undefined ? same : { ...same, [quantity]: moved }) as Partial<RowOf<B>>);
    if (added.ok) joined?.add(added.row);
    return;
  }
  if (quantity === undefined) return;
  const before = quantityFor(kindThere, valueIn(to.get(there), quantity));
  to.update(there, { [quantity]: sumOf(before, moved) } as Partial<RowOf<B>>);
}

function tooMany({ locale, model }: AnyTable, quantity: string, border: Quantity, isBeyond: boolean): Problem {
  const limit = showValue((model as AnyModel).kindOf(quantity), border, locale, "UTC");
  return {
    code: isBeyond ? "rangeOverflow" : "rangeUnderflow",
    message: sayOfValues(locale, isBeyond ? "rangeOverflow" : "notOver", { limit }),
    severity: "error",
    pointer: pointerTo(quantity),
  };
}

function sharedFields(row: unknown, from: AnyModel, to: AnyModel): Record<string, unknown> {
  const shared: Record<string, unknown> = {};
  for (const name of to.names)
    if (!to.isCalculated(name) && from.names.includes(name)) putIn(shared, name, valueIn(row, name));
  return shared;
}

/** The rows of a table by what they have in some fields: looked up once for all that are moved. */
class Joined<B extends AnyModel> {
  readonly #keys = new Map<string, KeyOf<B>>();
  readonly #table: Table<B>;
  readonly #names: readonly string[];

  constructor(table: Table<B>, names: readonly string[]) {
    this.#table = table;
    this.#names = names;
    const state = table[internal] as TableState<B>;
    for (const slot of state.slotsInOrder()) {
      const text = this.#textOf(state.rowAt(slot));
      if (!this.#keys.has(text)) this.#keys.set(text, state.keyAt(slot));
    }
  }

  #textOf(row: unknown): string {
    return JSON.stringify(this.#names.map((name) => valueIn(row, name) ?? null));
  }

  keyOf(row: unknown): KeyOf<B> | undefined {
    return this.#keys.get(this.#textOf(row));
  }

  add(row: RowOf<B>): void {
    this.#keys.set(this.#textOf(row), this.#table.keyOf(row));
  }
}

interface NamesIn {
  readonly quantity?: string | undefined;
  readonly join?: readonly string[] | undefined;
  readonly amount?: unknown;
}

function checkNames(from: AnyTable, to: AnyTable, { quantity, join = [], amount }: NamesIn): void {
  const refuseName = (name: string, table: AnyTable, option: string): void => {
    const { names } = table.model as AnyModel;
    if (!names.includes(name)) throw unknownName("unknownField", "The field", name, names, `${option} of moveRows`);
  };
  if (quantity !== undefined) for (const table of [from, to]) refuseName(quantity, table, "quantity");
  for (const name of join) refuseName(name, to, "join");
  if (amount !== undefined && quantity === undefined)
    throw new IronwoodError("wrongOption", "moveRows was given an amount, and not of what", {
      expected: "quantity: the name of the field that says how many a row stands for",
    });
}
