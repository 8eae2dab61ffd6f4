import { IronwoodError, type OptionTypes, requireArgument, requireOptions, shown } from "../errors/index.ts";
import { internal } from "../engine/index.ts";
import { editRow, type Entry, type EntryOptions } from "../entry/index.ts";
import { type AnyModel, type KeyOf, Model, type RowOf } from "../model/index.ts";
import { type AnyTable, isTable, isView, type Table, type TableState, type View } from "../table/index.ts";
import { openEntryAt } from "./openEntries.ts";
import type { TableEntry } from "./TableEntry.ts";
import type { TableEntryOptions } from "./TableEntryOptions.ts";
import { TableEntryState } from "./TableEntryState.ts";
import type { ViewEntry, ViewEntryOptions } from "./ViewEntry.ts";
import { type Leaving, ViewEntryState } from "./ViewEntryState.ts";

/** The call that edits a row: `editEntry`. */
export interface EditEntry {
  <M extends AnyModel>(view: View<M>, options?: ViewEntryOptions<M>): ViewEntry<M>;
  <M extends AnyModel>(table: Table<M>, key: KeyOf<M>, options?: TableEntryOptions<M>): TableEntry<M>;
  <M extends AnyModel>(model: M, row: RowOf<M>, options?: EntryOptions<M>): Entry<M>;
}

const tableEntryOptions: OptionTypes = {
  locale: "locale",
  timeZone: "timeZone",
  history: "object",
  readOnly: "function",
  allowed: "function",
};
const viewEntryOptions: OptionTypes = { ...tableEntryOptions, onLeave: ["save", "ask", "stay"] };

/** Makes the call that edits a row. @param leaving - how a person is asked about a row that is left */
export const editEntryWith = (leaving: Leaving): EditEntry =>
  ((source: unknown, what?: unknown, options?: object): Entry => {
    if (isView(source)) {
      requireOptions("editEntry", what, viewEntryOptions);
      return new ViewEntryState(source, (what ?? {}) as ViewEntryOptions<AnyModel>, leaving);
    }
    if (isTable(source)) {
      requireOptions("editEntry", options, tableEntryOptions);
      return entryOver(source, what, options ?? {});
    }
    requireArgument(source instanceof Model, "editEntry", source, "a view, a table and a key, or a model and a row");
    return editRow(source as AnyModel, what as never, options);
  }) as EditEntry;

/**
 * The entry over a row of a table: the one that is open over it, or a new one.
 *
 * @throws `unknownKey` when the table has no such row
 */
export function entryOver(table: AnyTable, key: unknown, options: TableEntryOptions<AnyModel>): TableEntryState {
  const state = table[internal] as TableState;
  const slot = state.slotFor(key);
  if (slot === undefined)
    throw new IronwoodError("unknownKey", `There is no row with the key ${shown(key)}`, { where: state.where });
  return openEntryAt(state, slot) ?? new TableEntryState(state, slot, options);
}
