import { Value } from "../engine/index.ts";
import type { AnyModel } from "../model/index.ts";
import type { Table } from "../table/index.ts";
import type { TableEntry } from "./TableEntry.ts";

/**
 * The entries that are open over the rows of one table, by the places of the rows: a grid, a details form and a dialog over
 * the same row share one, so that what is typed in one of them is in all.
 */
export class OpenRows<M extends AnyModel = AnyModel> {
  readonly #entries = new Map<number, TableEntry<M>>();
  readonly #version = new Value(0);

  /** The entry over the row at a place; followed. */
  at(slot: number): TableEntry<M> | undefined {
    this.#version.read();
    const entry = this.#entries.get(slot);
    return entry?.isOfNow === true ? entry : undefined;
  }

  /** How many are open; followed. */
  get size(): number {
    this.#version.read();
    return this.#entries.size;
  }

  [Symbol.iterator](): Iterator<TableEntry<M>> {
    this.#version.read();
    return this.#entries.values();
  }

  /** The first that comes has the place. */
  add(slot: number, entry: TableEntry<M>): void {
    if (this.#entries.get(slot)?.isOfNow === true) return;
    this.#entries.set(slot, entry);
    this.#told();
  }

  delete(slot: number, entry: TableEntry<M>): void {
    if (this.#entries.get(slot) !== entry) return;
    this.#entries.delete(slot);
    this.#told();
  }

  #told(): void {
    this.#version.write(this.#version.peek() + 1);
  }
}

const known = new WeakMap<object, OpenRows<never>>();

/** The open entries of a table. */
export function openRows<M extends AnyModel>(table: Table<M>): OpenRows<M> {
  let open = known.get(table) as OpenRows<M> | undefined;
  if (open === undefined) known.set(table, (open = new OpenRows<M>()) as never);
  return open;
}
