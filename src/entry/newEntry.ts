import { type OptionTypes, requireArgument, requireModel, requireOptions } from "../errors/index.ts";
import { type AnyModel, type RowOf } from "../model/index.ts";
import type { Entry } from "./Entry.ts";
import type { EntryOptions } from "./EntryOptions.ts";
import { EntryState } from "./EntryState.ts";
import { checkedValues, initialValues } from "./initialValues.ts";

const entryOptions: OptionTypes = {
  values: "object",
  save: "function",
  locale: "locale",
  timeZone: "timeZone",
  history: "object",
  readOnly: "function",
  allowed: "function",
  afterSave: ["stay", "startNew"],
};

/**
 * Begins a new row. Defaults are there from the first moment.
 *
 * @throws `unknownField`, `wrongType` for `values` that do not fit the model; `unknownOption`, `wrongOption`
 * @example
 * const card = newEntry(treeCard, { save: (row) => store.append(row) });
 */
export function newEntry<M extends AnyModel>(model: M, options: EntryOptions<M> = {}): Entry<M> {
  requireModel("newEntry", model);
  requireOptions("newEntry", options, entryOptions);
  return new EntryState(model, initialValues(model, options.values), true, options);
}

/** Edits a row that is given. Defaults do not apply: a blank stays blank. */
export function editRow<M extends AnyModel>(model: M, row: RowOf<M>, options: EntryOptions<M> = {}): Entry<M> {
  requireModel("editEntry", model);
  requireArgument(typeof row === "object" && (row as unknown) !== null, "editEntry", row, "a row of the model");
  requireOptions("editEntry", options, entryOptions);
  return new EntryState(model, checkedValues(model, row), false, options);
}
