import { follow } from "../engine/index.ts";
import type { TableState } from "../table/index.ts";
import { openRows } from "./openRows.ts";
import type { TableEntryState } from "./TableEntryState.ts";

/** The entry that is open over the row in a slot; followed. */
export const openEntryAt = (table: TableState, slot: number): TableEntryState | undefined =>
  openRows(table).at(slot) as TableEntryState | undefined;

/** All entries that are open over rows of a table; followed. */
export const openEntries = (table: TableState): readonly TableEntryState[] =>
  ([...openRows(table)] as TableEntryState[]).filter((entry) => entry.isOfNow);

/** The open entries whose row is there. Who deletes a row has given up what was typed in it. */
export const editedIn = (table: TableState): readonly TableEntryState[] =>
  openEntries(table).filter((entry) => entry.kept !== undefined);

/** What ends the following of an entry that nobody shows any more. */
const leftOpen = new WeakMap<TableEntryState, () => void>();

/**
 * Leaves an entry open that could not be put into its table, as when a grid is stopped: what was entered is there again when the row is
 * edited again. It ends when nothing in it is changed any more, or its row is gone.
 *
 * @param gone - called when the row is gone with something entered in it
 */
export function leaveOpen(entry: TableEntryState, gone: () => void): void {
  const following = follow(
    () => entry.key === undefined || !entry.changed,
    (isOver) => {
      if (!isOver) return;
      if (entry.changed) gone();
      adopt(entry);
      entry.stop();
    },
  );
  leftOpen.set(entry, () => following.stop());
}

/** Whether an entry was left open, and nobody shows it. */
export const isLeftOpen = (entry: TableEntryState): boolean => leftOpen.has(entry);

/** Takes over an entry that was left open. @returns whether it was */
export function adopt(entry: TableEntryState): boolean {
  const end = leftOpen.get(entry);
  end?.();
  leftOpen.delete(entry);
  return end !== undefined;
}
