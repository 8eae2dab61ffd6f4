import { getOrMake, Value } from "../engine/index.ts";
import type { TableState } from "../table/index.ts";

/** An entry that is open over a row. */
interface OpenEntry {
  /** Whether its row is of those that are loaded now. */
  readonly isOfNow: boolean;
}

/**
 * The entries that are open over the rows of one table, by the slots of the rows: a grid, a details form and a dialog over
 * the same row share one, so that what is typed in one of them is in all.
 */
export class OpenRows<E extends OpenEntry = OpenEntry> {
  readonly #entries = new Map<number, E>();
  readonly #version = new Value(0);

  /** The entry over the row in a slot; followed. */
  at(slot: number): E | undefined {
    this.#version.read();
    const entry = this.#entries.get(slot);
    return entry?.isOfNow === true ? entry : undefined;
  }

  /** How many are open; followed. */
  get size(): number {
    this.#version.read();
    return this.#entries.size;
  }

  [Symbol.iterator](): Iterator<E> {
    this.#version.read();
    return this.#entries.values();
  }

  /** The first entry that is opened over a row is the shared one. */
  add(slot: number, entry: E): void {
    if (this.#entries.get(slot)?.isOfNow === true) return;
    this.#entries.set(slot, entry);
    this.#bump();
  }

  delete(slot: number, entry: E): void {
    if (this.#entries.get(slot) !== entry) return;
    this.#entries.delete(slot);
    this.#bump();
  }

  #bump(): void {
    this.#version.write(this.#version.peek() + 1);
  }
}

const known = new WeakMap<object, OpenRows>();

/** The open entries of a table. */
// eslint-disable-next-line @typescript-eslint/no-explicit-any -- any table has its open entries here
export const openRows = (table: TableState<any>): OpenRows => getOrMake(known, table, () => new OpenRows());
