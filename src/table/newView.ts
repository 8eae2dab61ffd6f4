import { internal } from "../engine/index.ts";
import { requireOptions, requireRows } from "../errors/index.ts";

import type { AnyModel } from "../model/index.ts";
import type { Table } from "./Table.ts";
import type { View } from "./View.ts";
import type { ViewOptions } from "./ViewOptions.ts";
import type { TableState } from "./TableState.ts";
import { ViewState } from "./ViewState.ts";

/**
 * Makes a view of a table, or of another view: some of its rows, in an order, kept by each change.
 *
 * @throws `unknownField` with the nearest name, `wrongType`, `unknownOption`, `wrongOption`
 * @example const bed7 = view(stock, { where: (p) => p.bed === 7, orderBy: ["species", "height desc"] });
 */
export function view<M extends AnyModel>(source: Table<M> | View<M>, options: ViewOptions<M> = {}): View<M> {
  requireRows("view", source);
  requireOptions("view", options, { where: "function", orderBy: "any", search: "text", searchIn: "list" });
  const of = source[internal] as ViewState<M> | TableState<M>;
  if (of instanceof ViewState) return new ViewState(of.table, of, options);
  return new ViewState(of, undefined, options);
}

/** A view of all rows of a table; a view as it is. */
export const viewOf = <M extends AnyModel>(rows: Table<M> | View<M>): View<M> =>
  rows[internal] instanceof ViewState ? (rows as View<M>) : view(rows);
