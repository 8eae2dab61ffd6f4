import { IronwoodError, shown } from "../errors/index.ts";
import { editRow, type Entry, type EntryOptions } from "../entry/index.ts";
import type { AnyModel, KeyOf, RowOf } from "../model/index.ts";
import { Table, View } from "../table/index.ts";
import { openRows } from "./openRows.ts";
import { TableEntry, type TableEntryOptions } from "./TableEntry.ts";
import { ViewEntry, type ViewEntryOptions } from "./ViewEntry.ts";

/**
 * Edits a row that there is: one that is given, the row of a table with a key, or whichever row is current in a view.
 * Defaults do not apply: a blank stays blank. An entry over a table saves into it.
 *
 * @throws `unknownKey` when the table has no such row; `unknownField`, `wrongType` for a row that does not fit the model
 * @example const card = editEntry(treeCard, row, { save: (row) => store.append(row) });
 * @example const plant = editEntry(stock, "AB-0042");
 * @example const details = editEntry(view(stock, { orderBy: "species" }), { onLeave: "ask" });
 */
export function editEntry<M extends AnyModel>(view: View<M>, options?: ViewEntryOptions<M>): ViewEntry<M>;
export function editEntry<M extends AnyModel>(
  table: Table<M>,
  key: KeyOf<M>,
  options?: TableEntryOptions<M>,
): TableEntry<M>;
export function editEntry<M extends AnyModel>(model: M, row: RowOf<M>, options?: EntryOptions<M>): Entry<M>;
export function editEntry<M extends AnyModel>(
  source: View<M> | Table<M> | M,
  what?: unknown,
  options: object = {},
): Entry<M> {
  if (source instanceof View) return new ViewEntry(source, what ?? {});
  if (!(source instanceof Table)) return editRow(source, what as RowOf<M>, options);
  const slot = source.slotFor(what as KeyOf<M>);
  if (slot === undefined)
    throw new IronwoodError("unknownKey", `There is no row with the key ${shown(what)}`, { where: source.where });
  return openRows(source).at(slot) ?? new TableEntry(source, slot, options);
}
