import type { AnyModel, RowOf } from "../model/index.ts";
import { type SlotChange, slotChanges, type SlotContent, type TableState } from "../table/index.ts";

/** The slots of a table that were written since the last time that somebody looked, with what they held then. */
export class TouchedRows<M extends AnyModel> {
  readonly #befores = new Map<number, SlotContent<RowOf<M>>>();
  readonly #table: TableState<M>;

  constructor(table: TableState<M>) {
    this.#table = table;
  }

  add(slot: number, before: SlotContent<RowOf<M>>): void {
    if (!this.#befores.has(slot)) this.#befores.set(slot, before);
  }

  /** What has changed, with the slot of each; it is forgotten then. */
  take(): { readonly slot: number; readonly change: SlotChange<M> }[] {
    if (this.#befores.size === 0) return [];
    const changes: { slot: number; change: SlotChange<M> }[] = [];
    for (const [slot, before] of this.#befores)
      for (const change of slotChanges(this.#table, slot, before)) changes.push({ slot, change });
    this.#befores.clear();
    return changes;
  }

  /** The only slot that was written, as most changes are of one row; it is not forgotten. */
  get only(): { readonly slot: number; readonly before: SlotContent<RowOf<M>> } | undefined {
    if (this.#befores.size !== 1) return undefined;
    const [[slot, before]] = this.#befores as unknown as [[number, SlotContent<RowOf<M>>]];
    return { slot, before };
  }

  /** Forgets what was written: somebody knows of it. */
  clear(): void {
    this.#befores.clear();
  }
}
