import { IronwoodError, requireArgument, requireView } from "../errors/index.ts";
import { transaction } from "../engine/index.ts";
import { type AnyModel, type KeyOf, type Problem, type RowOf, valueIn } from "../model/index.ts";
import { orderOf, type OrderedBy, type View } from "../table/index.ts";
import type { Moved } from "./moveRows.ts";

/**
 * The field that says in which order people put the rows of a view: the number that the view is ordered by first.
 * `undefined` where it is ordered by something else.
 */
export function handOrderOf<M extends AnyModel>({ orderBy, table }: View<M>): OrderedBy | undefined {
  const { model } = table;
  const [first] = orderOf(orderBy);
  const kind = first === undefined ? undefined : (model as AnyModel).kindOf(first.name)?.kind;
  const numbered = kind === "integer" || kind === "number";
  const given = first !== undefined && (model.isCalculated(first.name) || model.parts.key.includes(first.name));
  return numbered && !given ? first : undefined;
}

/**
 * Puts rows before another one, or last, in the order that people choose by hand. That order is a number of the rows, which the
 * view is ordered by: it is kept and undone like any other value. The numbers that are there are dealt out anew; where one
 * is missing, or stands twice, all rows of the view are numbered from 1.
 *
 * @param before - the key of the row that they come before; `undefined` puts them last
 * @returns how many rows were moved, or the problems of rows that may not get another number; then none has moved
 * @throws `wrongOption` when the view is not ordered by a number, or by one that is calculated or the key
 * @example reorderRows(view(tasks, { orderBy: "place" }), [7], 2);
 */
export function reorderRows<M extends AnyModel>(view: View<M>, keys: readonly KeyOf<M>[], before?: KeyOf<M>): Moved {
  requireView("reorderRows", view);
  requireArgument(Array.isArray(keys), "reorderRows", keys, "a list of keys");
  const order = handOrderOf(view);
  if (order === undefined)
    throw new IronwoodError("wrongOption", "reorderRows was given a view in which rows have no order of their own", {
      received: view.orderBy,
      expected:
        'a view with orderBy: "…", a field of the kind number or integer that is neither calculated nor the key',
    });
  const moved = new Set(keys.map((key) => view.placeOf(key)).filter((place) => place >= 0));
  const target = before === undefined ? view.length : view.placeOf(before);
  if (moved.size === 0 || target < 0) return { ok: true, rows: 0 };
  const from = Math.min(target, ...moved);
  const to = Math.max(target, ...[...moved].map((place) => place + 1));
  const values = numbersOf(view, order, from, to);
  const done =
    values === undefined
      ? number(view, order, inOrder(view, moved, target, 0, view.length))
      : deal(view, order, inOrder(view, moved, target, from, to), values);
  return done.ok ? { ok: true, rows: moved.size } : done;
}

/** The keys of a part of the view as they are to be. */
function inOrder<M extends AnyModel>(
  view: View<M>,
  moved: ReadonlySet<number>,
  target: number,
  from: number,
  to: number,
): readonly KeyOf<M>[] {
  const keys = view.keys(from, to);
  const those = (wanted: (place: number) => boolean): readonly KeyOf<M>[] =>
    keys.filter((_, number) => wanted(from + number));
  return [
    ...those((place) => place < target && !moved.has(place)),
    ...those((place) => moved.has(place)),
    ...those((place) => place >= target && !moved.has(place)),
  ];
}

/** The numbers of a part of the view; `undefined` where they don't tell the rows apart, or not from those next to them. */
function numbersOf<M extends AnyModel>(
  view: View<M>,
  { name }: OrderedBy,
  from: number,
  to: number,
): readonly number[] | undefined {
  const around = view.rows(Math.max(0, from - 1), to + 1).map((row) => valueIn(row, name));
  const apart = around.every((value, place) => typeof value === "number" && value !== around[place - 1]);
  if (!apart) return undefined;
  const first = Math.min(from, 1);
  return around.slice(first, first + to - from) as number[];
}

type Done = { readonly ok: true } | { readonly ok: false; readonly problems: readonly Problem[] };

function deal<M extends AnyModel>(
  { table }: View<M>,
  { name }: OrderedBy,
  keys: readonly KeyOf<M>[],
  values: readonly number[],
): Done {
  return transaction<void, Problem>(() => {
    keys.forEach((key, place) => table.update(key, { [name]: values[place] } as Partial<RowOf<M>>));
  });
}

function number<M extends AnyModel>(view: View<M>, order: OrderedBy, keys: readonly KeyOf<M>[]): Done {
  const numbers = keys.map((_, place) => place + 1);
  return deal(view, order, keys, order.direction === "descending" ? numbers.reverse() : numbers);
}
