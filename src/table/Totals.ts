import type { AnyModel, RowOf } from "../model/index.ts";
import { ExactSum } from "./ExactSum.ts";
import type { Table } from "./Table.ts";

/** The sums over a view that somebody has asked for, kept by each row that comes and goes. */
export class Totals<M extends AnyModel> {
  readonly #sums = new Map<string, ExactSum>();

  constructor(private readonly table: Table<M>) {}

  of(name: string, slots: Iterable<number>): number {
    let sum = this.#sums.get(name);
    if (sum === undefined) {
      this.#sums.set(name, (sum = new ExactSum()));
      for (const slot of slots) sum.add(this.#numberIn(this.table.rowAt(slot)!, name));
    }
    return sum.value;
  }

  add(row: RowOf<M>): void {
    for (const [name, sum] of this.#sums) sum.add(this.#numberIn(row, name));
  }

  take(row: RowOf<M>): void {
    for (const [name, sum] of this.#sums) sum.take(this.#numberIn(row, name));
  }

  /** They are made anew when they are asked for again. */
  forget(): void {
    this.#sums.clear();
  }

  #numberIn(row: RowOf<M>, name: string): number {
    const value = this.table.valueOf(row, name);
    return typeof value === "number" ? value : 0;
  }
}
