import { type AnyModel, type Problem, type RowOf, sayOfRows } from "../model/index.ts";
import { Value } from "../engine/index.ts";
import type { TableState } from "../table/index.ts";

/** What putting a row into its table came to at once. */
export type Committed = { readonly ok: true } | { readonly ok: false; readonly problems: readonly Problem[] };

/** Where in its table the row of an entry is. The entry's options ask it before the entry itself is there. */
export class RowLocation<M extends AnyModel> {
  readonly #slot: Value<number | undefined>;
  /** Which load of the table the slot is of. */
  #load: number;
  /** Called when the row was put into the table. */
  whenPut = (): void => {};

  constructor(
    readonly table: TableState<M>,
    slot: number | undefined,
  ) {
    this.#slot = new Value(slot);
    this.#load = table.loads;
  }

  get slot(): number | undefined {
    return this.#slot.read();
  }

  set slot(slot: number | undefined) {
    this.#load = this.table.loads;
    this.#slot.write(slot);
  }

  /** Whether it is of the rows that are loaded now, and not of those that were before. */
  get isOfNow(): boolean {
    return this.#load === this.table.loads;
  }

  get row(): RowOf<M> | undefined {
    this.table.trackReads();
    const { slot } = this;
    return slot === undefined || !this.isOfNow ? undefined : this.table.rowAt(slot);
  }

  /** While it is pinned, no other row comes to its slot, also when its own is gone. */
  pin(): void {
    if (this.slot !== undefined && this.isOfNow) this.table.pin(this.slot);
  }

  unpin(): void {
    if (this.slot !== undefined && this.isOfNow) this.table.unpin(this.slot);
  }

  put(row: RowOf<M>): Committed {
    const { slot, table } = this;
    if (slot === undefined || this.row === undefined) throw new Error(this.missing);
    const result = table.replaceAt(slot, row);
    if (result.ok) this.whenPut();
    return result;
  }

  get missing(): string {
    return sayOfRows(this.table.locale, this.slot === undefined ? "noRow" : "rowGone");
  }
}
