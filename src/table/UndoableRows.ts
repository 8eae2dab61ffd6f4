import { RowCell, type CellTable } from "./RowCell.ts";
import type { SlotContent } from "./RowStorage.ts";

/** The rows of one load, as the history knows them. */
export class UndoableRows {
  /** What the history forgets together. */
  readonly owner = {};
  readonly #cells = new Map<number, RowCell>();
  readonly #table: CellTable;

  constructor(table: CellTable) {
    this.#table = table;
  }

  /** The row in a slot. */
  cellFor(slot: number, content: SlotContent<unknown>): RowCell {
    const known = this.#cells.get(slot);
    if (known?.id === content.id) return known;
    const cell = new RowCell(this.owner, this.#table, slot, content);
    this.#cells.set(slot, cell);
    return cell;
  }
}
