import { because, transaction } from "../engine/index.ts";
import type { AnyModel, KeyOf, RowOf } from "../model/index.ts";
import type { SlottedRows } from "./SlottedRows.ts";

/** A row as it is where rows are kept; none where it is gone there. */
export interface StoredChange<M extends AnyModel> {
  readonly key: KeyOf<M>;
  readonly row: RowOf<M> | undefined;
}

/**
 * Takes in rows as they are where rows are kept, with the problems that they have. It is told as `stored`, and is nothing that could be
 * undone here.
 */
export function applyStored<M extends AnyModel>(table: SlottedRows<M>, changes: readonly StoredChange<M>[]): void {
  because({ cause: "stored" }, () =>
    transaction(() => {
      for (const { key, row } of changes) {
        const slot = table.slotFor(key);
        if (slot !== undefined) table.write(slot, { ...table.contentAt(slot), row });
        else if (row !== undefined) writeNew(table, row);
      }
    }),
  );
}

/** The same for all rows, in their order: those that are there already keep their slots. */
export function applyStoredRows<M extends AnyModel>(table: SlottedRows<M>, rows: readonly RowOf<M>[]): void {
  const slots = [...table.slotsInOrder()];
  const before = slots.map((slot) => table.rowAt(slot));
  const { start, end } = unchangedEnds(before, rows);
  if (start === before.length && start === rows.length) return;
  const gone = slots.slice(start, slots.length - end);
  const come = rows.slice(start, rows.length - end);
  because({ cause: "stored" }, () =>
    transaction(() => {
      const now = come.map((row, number) => {
        const slot = gone[number];
        if (slot === undefined) return writeNew(table, row);
        table.write(slot, { ...table.contentAt(slot), row });
        return slot;
      });
      for (const slot of gone.slice(come.length)) table.write(slot, { ...table.contentAt(slot), row: undefined });
      if (come.length > gone.length && end > 0)
        putInOrder(table, [...slots.slice(0, start), ...now, ...slots.slice(-end)]);
    }),
  );
}

function writeNew<M extends AnyModel>(table: SlottedRows<M>, row: RowOf<M>): number {
  const slot = table.freeSlot();
  table.write(slot, table.newContent(row, slot));
  return slot;
}

function putInOrder<M extends AnyModel>(table: SlottedRows<M>, slots: readonly number[]): void {
  slots.forEach((slot, order) => {
    const content = table.contentAt(slot);
    if (content.order !== order) table.write(slot, { ...content, order });
  });
}

/** How many rows two lists have alike at their starts and, beyond these, at their ends. */
function unchangedEnds(a: readonly unknown[], b: readonly unknown[]): { readonly start: number; readonly end: number } {
  const most = Math.min(a.length, b.length);
  let start = 0;
  while (start < most && a[start] === b[start]) start++;
  let end = 0;
  while (end < most - start && a.at(-1 - end) === b.at(-1 - end)) end++;
  return { start, end };
}
