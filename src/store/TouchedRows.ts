import type { AnyModel, RowOf } from "../model/index.ts";
import { type SlotChange, slotChanges, type SlotContent, type TableState } from "../table/index.ts";

/** The slots of a table that were written since the last time that somebody looked, with what they held then. */
export class TouchedRows<M extends AnyModel> {
  /** Most changes are of one row: its slot, or -1, and what it held. */
  #slot = -1;
  #before: SlotContent<RowOf<M>> | undefined;
  readonly #others = new Map<number, SlotContent<RowOf<M>>>();
  readonly #table: TableState<M>;

  constructor(table: TableState<M>) {
    this.#table = table;
  }

  add(slot: number, before: SlotContent<RowOf<M>>): void {
    if (this.#before === undefined) {
      this.#slot = slot;
      this.#before = before;
    } else if (this.#slot !== slot && !this.#others.has(slot)) this.#others.set(slot, before);
  }

  /** What has changed, with the slot of each; it is forgotten then. */
  take(): { readonly slot: number; readonly change: SlotChange<M> }[] {
    if (this.#before === undefined) return [];
    const changes: { slot: number; change: SlotChange<M> }[] = [];
    const note = (slot: number, before: SlotContent<RowOf<M>>): void => {
      for (const change of slotChanges(this.#table, slot, before)) changes.push({ slot, change });
    };
    note(this.#slot, this.#before);
    for (const [slot, before] of this.#others) note(slot, before);
    this.clear();
    return changes;
  }

  /** The only slot that was written, or -1; it is not forgotten. */
  get only(): number {
    return this.#others.size === 0 ? this.#slot : -1;
  }

  /** What that slot held. */
  get beforeOnly(): SlotContent<RowOf<M>> | undefined {
    return this.#before;
  }

  /** Forgets what was written: somebody knows of it. */
  clear(): void {
    this.#slot = -1;
    this.#before = undefined;
    if (this.#others.size > 0) this.#others.clear();
  }
}
