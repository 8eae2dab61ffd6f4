import { requireArgument, requireModel, requireOptions } from "../errors/index.ts";
import { type AnyModel, type RowOf } from "../model/index.ts";
import type { Table } from "./Table.ts";
import type { TableOptions } from "./TableOptions.ts";
import { TableState } from "./TableState.ts";

/**
 * Makes a table of rows of one model, found by the model's key; without one, keys are generated. Rows never change: an
 * update puts another in the place of the one that was there.
 *
 * @param rows - rows to begin with. Those that break constraints are taken, and have their problems; those of wrong types,
 *   with a key that is taken, or too many are left out and reported in `leftOut`.
 * @throws `unknownField` for `unique`; `unknownOption`, `wrongOption`
 * @example const stock = table(plant, rows, { maxItems: 5000 });
 */
export function table<M extends AnyModel>(
  model: M,
  rows: readonly RowOf<M>[] = [],
  options: TableOptions<M> = {},
): Table<M> {
  requireModel("table", model);
  requireArgument(Array.isArray(rows), "table", rows, "a list of rows");
  requireOptions("table", options, {
    maxItems: "count",
    unique: "list",
    references: "object",
    history: "object",
    locale: "locale",
    timeZone: "timeZone",
  });
  return new TableState(model, rows, options);
}
