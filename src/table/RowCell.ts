import { internal, type Undoable } from "../engine/index.ts";
import type { SlotContent } from "./RowStorage.ts";

/** What names its rows. */
interface TitledTable {
  readonly [internal]: { titleAt(slot: number): string };
}

/** What people call the row at a slot: its key; where keys are made for rows, what the rows are and the key. */
export function titleOfRow(table: TitledTable, slot: number): string {
  return table[internal].titleAt(slot);
}

/** What a cell asks of its table. */
export interface CellTable {
  contentAt(slot: number): SlotContent<unknown>;
  /** Puts a row of before back, at its slot or where another has that, at a free one. @returns the slot */
  putBack(slot: number, content: SlotContent<unknown>): number;
  titleAt(slot: number): string;
  /** Whether two rows are the same in what is entered. */
  isSameAsEntered(a: unknown, b: unknown): boolean;
}

/** One row of a table, as the history knows it: it stays the same when the row gets another key, or is gone for a while. */
export class RowCell implements Undoable {
  #slot: number;
  readonly id: number;
  readonly #order: number;
  readonly #table: CellTable;

  /** @param owner - what the history forgets together: the rows of one load */
  constructor(
    readonly owner: object,
    table: CellTable,
    slot: number,
    { id, order }: SlotContent<unknown>,
  ) {
    this.#table = table;
    this.#slot = slot;
    this.id = id;
    this.#order = order;
  }

  get title(): string {
    return this.#table.titleAt(this.#isThere ? this.#slot : -1);
  }

  /** Whether its slot is still its own, also while the row is gone. */
  get #isThere(): boolean {
    return this.#table.contentAt(this.#slot).id === this.id;
  }

  isSame(a: unknown, b: unknown): boolean {
    return a === b;
  }

  holds(row: unknown): boolean {
    if (!this.#isThere) return row === undefined;
    return this.#table.isSameAsEntered(this.#table.contentAt(this.#slot).row, row);
  }

  putBack(row: unknown): void {
    this.#slot = this.#table.putBack(this.#slot, { row, id: this.id, order: this.#order });
  }
}
