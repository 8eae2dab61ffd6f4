import { getOrMake } from "../engine/index.ts";
import type { AnyModel, RowOf } from "../model/index.ts";
import { Sum, type Total } from "./Sum.ts";
import { Readings } from "./Readings.ts";
import type { TableState } from "./TableState.ts";

/** The rows of a view but for its search, and those of them that are found. */
export type SummedPart = "all" | "found";

/** The sums of one field, and what was added for each row: a search has others added up without being worked out again. */
interface KeptTotal {
  readonly sums: Map<SummedPart, Sum>;
  /** By slot; NaN where it is not known yet, or is no number. */
  numbers: Float64Array;
  /** What was read beside the rows: once that has changed, this is of no use. */
  readonly readings: Readings;
}

/** The sums over a view that somebody has asked for, kept by each row that comes and goes. */
export class Totals<M extends AnyModel> {
  readonly #totals = new Map<string, KeptTotal>();
  #loads = 0;
  readonly #table: TableState<M>;

  constructor(table: TableState<M>) {
    this.#table = table;
  }

  of(part: SummedPart, name: string, slots: { forEach(work: (slot: number) => void): void }): Total {
    if (this.#loads !== this.#table.loads) this.#totals.clear();
    this.#loads = this.#table.loads;
    const before = this.#totals.get(name);
    const total = before?.readings.areCurrent === true ? before : this.#begin(name);
    const value = getOrMake(total.sums, part, () => this.#sumOf(name, total, slots)).valueOf(name);
    // What was just read is followed from now on.
    total.readings.track();
    return value;
  }

  #begin(name: string): KeptTotal {
    const numbers = new Float64Array(this.#table.slots).fill(NaN);
    const total = { sums: new Map<SummedPart, Sum>(), numbers, readings: new Readings() };
    this.#totals.set(name, total);
    return total;
  }

  #sumOf(name: string, total: KeptTotal, slots: { forEach(work: (slot: number) => void): void }): Sum {
    const sum = new Sum(this.#table.model.kindOf(name));
    total.readings.run(() => slots.forEach((slot) => sum.add(this.#valueAt(slot, name, total), 1)));
    return sum;
  }

  #valueAt(slot: number, name: string, { numbers }: KeptTotal): unknown {
    const known = numbers[slot];
    if (known !== undefined && !Number.isNaN(known)) return known;
    const value = this.#table.valueOf(this.#table.rowAt(slot)!, name);
    keep(numbers, slot, value);
    return value;
  }

  add(parts: readonly SummedPart[], slot: number, row: RowOf<M>): void {
    for (const [name, { sums, numbers, readings }] of this.#totals) {
      const value = readings.run(() => this.#table.valueOf(row, name));
      for (const part of parts) sums.get(part)?.add(value, 1);
      keep(numbers, slot, value);
    }
  }

  take(parts: readonly SummedPart[], slot: number, row: RowOf<M>): void {
    for (const [name, { sums, readings }] of this.#totals) {
      const value = readings.run(() => this.#table.valueOf(row, name));
      for (const part of parts) sums.get(part)?.add(value, -1);
    }
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

  /** The sums of some rows are calculated again at the next read; the values of each row are kept. */
  forget(part: SummedPart): void {
    for (const { sums } of this.#totals.values()) sums.delete(part);
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
