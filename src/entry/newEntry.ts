import type { AnyModel, RowOf } from "../model/index.ts";
import type { Entry } from "./Entry.ts";
import type { EntryOptions } from "./EntryOptions.ts";
import { EntryState } from "./EntryState.ts";
import { checkedValues, initialValues } from "./initialValues.ts";

/**
 * Begins a new row. Defaults are there from the first moment.
 *
 * @throws `unknownField`, `wrongType` for `values` that do not fit the model; `wrongOption` for a locale that is none
 * @example
 * const card = newEntry(treeCard, { save: (row) => store.append(row) });
 */
export function newEntry<M extends AnyModel>(model: M, options: EntryOptions<M> = {}): Entry<M> {
  return new EntryState(model, initialValues(model, options.values), true, options);
}

/** Edits a row that is given. Defaults do not apply: a blank stays blank. */
export function editRow<M extends AnyModel>(model: M, row: RowOf<M>, options: EntryOptions<M> = {}): Entry<M> {
  return new EntryState(model, checkedValues(model, row), false, options);
}
