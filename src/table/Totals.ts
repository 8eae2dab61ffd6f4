import type { AnyModel, RowOf } from "../model/index.ts";
import { ExactSum } from "./ExactSum.ts";
import type { TableState } from "./TableState.ts";

/** The sum of one field, and what was added for each row: a search has others added up without being worked out again. */
interface Total {
  sum: ExactSum | undefined;
  /** By place; NaN where it is not known yet. */
  numbers: Float64Array;
}

/** The sums over a view that somebody has asked for, kept by each row that comes and goes. */
export class Totals<M extends AnyModel> {
  readonly #totals = new Map<string, Total>();
  #loads = 0;
  readonly #table: TableState<M>;

  constructor(table: TableState<M>) {
    this.#table = table;
  }

  of(name: string, slots: { forEach(work: (slot: number) => void): void }): number {
    let total = this.#totals.get(name);
    if (total === undefined || this.#loads !== this.#table.loads) {
      if (this.#loads !== this.#table.loads) this.#totals.clear();
      this.#loads = this.#table.loads;
      total = { sum: undefined, numbers: new Float64Array(this.#table.slots).fill(NaN) };
      this.#totals.set(name, total);
    }
    if (total.sum === undefined) {
      const sum = new ExactSum();
      total.sum = sum;
      slots.forEach((slot) => sum.add(this.#numberAt(slot, name, total)));
    }
    return total.sum.value;
  }

  #numberAt(slot: number, name: string, total: Total): number {
    const known = total.numbers[slot];
    if (known !== undefined && !Number.isNaN(known)) return known;
    const number = this.#numberIn(this.#table.rowAt(slot)!, name);
    if (slot < total.numbers.length) total.numbers[slot] = number;
    return number;
  }

  add(slot: number, row: RowOf<M>): void {
    for (const [name, { sum, numbers }] of this.#totals) {
      const number = this.#numberIn(row, name);
      sum?.add(number);
      if (slot < numbers.length) numbers[slot] = number;
    }
  }

  take(slot: number, row: RowOf<M>): void {
    for (const [name, { sum }] of this.#totals) sum?.take(this.#numberIn(row, name));
    this.changed(slot);
  }

  /** What a row has is another now, whether it is in the view or not. */
  changed(slot: number): void {
    for (const { numbers } of this.#totals.values()) if (slot < numbers.length) numbers[slot] = NaN;
  }

  /** Nothing is known any more. */
  drop(): void {
    this.#totals.clear();
  }

  /** The sums are calculated again at the next read; the values of each row are kept. */
  forget(): void {
    for (const total of this.#totals.values()) total.sum = undefined;
  }

  #numberIn(row: RowOf<M>, name: string): number {
    const value = this.#table.valueOf(row, name);
    return typeof value === "number" ? value : 0;
  }
}
