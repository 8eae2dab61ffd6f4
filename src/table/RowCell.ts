import type { Undoable } from "../engine/index.ts";
import type { AnyModel, RowOf } from "../model/index.ts";
import type { Table } from "./Table.ts";

/** One place of a table, as the history knows it: it stays the same when its row gets another key, or is gone for a while. */
export class RowCell<M extends AnyModel> implements Undoable {
  constructor(
    readonly owner: Table<M>,
    private readonly slot: number,
  ) {}

  get title(): string {
    const row = this.owner.rowAt(this.slot);
    const { model } = this.owner;
    return row === undefined ? (model.title ?? "") : [this.owner.keyAt(this.slot)].flat().map(String).join(" ");
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
