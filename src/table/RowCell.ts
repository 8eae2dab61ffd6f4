import type { Undoable } from "../engine/index.ts";
import { type AnyModel, type RowOf, rowTitle } from "../model/index.ts";
import type { AnyTable, Table } from "./Table.ts";

/** What people call the row at a place: its key; where keys are made for rows, what the rows are and the key. */
export function titleOfRow(table: AnyTable, slot: number): string {
  const model = table.model as AnyModel;
  return table.rowAt(slot) === undefined ? (model.title ?? "") : rowTitle(model, [table.keyAt(slot)].flat());
}

/** One place of a table, as the history knows it: it stays the same when its row gets another key, or is gone for a while. */
export class RowCell<M extends AnyModel> implements Undoable {
  constructor(
    readonly owner: Table<M>,
    private readonly slot: number,
  ) {}

  get title(): string {
    return titleOfRow(this.owner, this.slot);
  }

  isSame(a: unknown, b: unknown): boolean {
    return a === b;
  }

  holds(content: unknown): boolean {
    return this.owner.rowAt(this.slot) === content;
  }

  putBack(content: unknown): void {
    this.owner.putBack(this.slot, content as RowOf<M> | undefined);
  }
}
