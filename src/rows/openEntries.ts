import type { TableState } from "../table/index.ts";
import { openRows } from "./openRows.ts";
import type { TableEntryState } from "./TableEntryState.ts";

/** The entry that is open over the row in a slot; followed. */
export const openEntryAt = (table: TableState, slot: number): TableEntryState | undefined =>
  openRows(table).at(slot) as TableEntryState | undefined;

/** All entries that are open over rows of a table; followed. */
export const openEntries = (table: TableState): readonly TableEntryState[] =>
  ([...openRows(table)] as TableEntryState[]).filter((entry) => entry.isOfNow);
