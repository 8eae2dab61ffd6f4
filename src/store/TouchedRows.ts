import type { AnyModel, RowOf } from "../model/index.ts";
import { type SlotChange, slotChanges, type SlotContent, type TableState } from "../table/index.ts";

/** A slot that was written, and what it held before. */
interface Touched<M extends AnyModel> {
  readonly slot: number;
  readonly before: SlotContent<RowOf<M>>;
}

/** The slots of a table that were written since the last time that somebody looked, with what they held then. */
export class TouchedRows<M extends AnyModel> {
  /** Most changes are of one row. */
  #first: Touched<M> | undefined;
  readonly #others = new Map<number, SlotContent<RowOf<M>>>();
  readonly #table: TableState<M>;

  constructor(table: TableState<M>) {
    this.#table = table;
  }

  add(slot: number, before: SlotContent<RowOf<M>>): void {
    if (this.#first === undefined) this.#first = { slot, before };
    else if (this.#first.slot !== slot && !this.#others.has(slot)) this.#others.set(slot, before);
  }

  /** What has changed, with the slot of each; it is forgotten then. */
  take(): { readonly slot: number; readonly change: SlotChange<M> }[] {
    const first = this.#first;
    if (first === undefined) return [];
    const changes: { slot: number; change: SlotChange<M> }[] = [];
    const note = (slot: number, before: SlotContent<RowOf<M>>): void => {
      for (const change of slotChanges(this.#table, slot, before)) changes.push({ slot, change });
    };
    note(first.slot, first.before);
    for (const [slot, before] of this.#others) note(slot, before);
    this.clear();
    return changes;
  }

  /** The only slot that was written; it is not forgotten. */
  get only(): Touched<M> | undefined {
    return this.#others.size === 0 ? this.#first : undefined;
  }

  /** Forgets what was written: somebody knows of it. */
  clear(): void {
    this.#first = undefined;
    if (this.#others.size > 0) this.#others.clear();
  }
}
