import type { Undoable } from "../engine/index.ts";
import type { AnyModel, RowOf } from "../model/index.ts";
import type { AnyTable, Table } from "./Table.ts";

/** What people call the row at a place: its key; where keys are made for rows, what the rows are and the key. */
export function titleOfRow(table: AnyTable, slot: number): string {
  const { key } = (table.model as AnyModel).parts;
  const title = (table.model as AnyModel).title ?? "";
  if (table.rowAt(slot) === undefined) return title;
  const values = [table.keyAt(slot)].flat();
  const words = values.map(String).join(" ");
  // A code like AB-0042 says what it is; a bare number does not.
  const bare = key.length === 0 || values.every((value) => typeof value === "number");
  return bare ? `${title} ${words}`.trim() : words;
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
