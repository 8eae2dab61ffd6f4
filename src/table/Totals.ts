import type { AnyModel, RowOf } from "../model/index.ts";
import { Sum, type Total } from "./Sum.ts";
import type { TableState } from "./TableState.ts";

/** The sum of one field, and what was added for each row: a search has others added up without being worked out again. */
interface KeptTotal {
  sum: Sum | undefined;
  /** By slot; NaN where it is not known yet, or is no number. */
  numbers: Float64Array;
}

/** The sums over a view that somebody has asked for, kept by each row that comes and goes. */
export class Totals<M extends AnyModel> {
  readonly #totals = new Map<string, KeptTotal>();
  #loads = 0;
  readonly #table: TableState<M>;

  constructor(table: TableState<M>) {
    this.#table = table;
  }

  of(name: string, slots: { forEach(work: (slot: number) => void): void }): Total {
    let total = this.#totals.get(name);
    if (total === undefined || this.#loads !== this.#table.loads) {
      if (this.#loads !== this.#table.loads) this.#totals.clear();
      this.#loads = this.#table.loads;
      total = { sum: undefined, numbers: new Float64Array(this.#table.slots).fill(NaN) };
      this.#totals.set(name, total);
    }
    if (total.sum === undefined) {
      const sum = new Sum(this.#table.model.kindOf(name));
      total.sum = sum;
      slots.forEach((slot) => sum.add(this.#valueAt(slot, name, total), 1));
    }
    return total.sum.valueOf(name);
  }

  #valueAt(slot: number, name: string, { numbers }: KeptTotal): unknown {
    const known = numbers[slot];
    if (known !== undefined && !Number.isNaN(known)) return known;
    const value = this.#table.valueOf(this.#table.rowAt(slot)!, name);
    keep(numbers, slot, value);
    return value;
  }

  add(slot: number, row: RowOf<M>): void {
    for (const [name, { sum, numbers }] of this.#totals) {
      const value = this.#table.valueOf(row, name);
      sum?.add(value, 1);
      keep(numbers, slot, value);
    }
  }

  take(slot: number, row: RowOf<M>): void {
    for (const [name, { sum }] of this.#totals) sum?.add(this.#table.valueOf(row, name), -1);
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
}

function keep(numbers: Float64Array, slot: number, value: unknown): void {
  if (slot < numbers.length) numbers[slot] = numberFrom(value);
}

/** A blank adds nothing. */
function numberFrom(value: unknown): number {
  if (value === undefined) return 0;
  return typeof value === "number" ? value : NaN;
}
