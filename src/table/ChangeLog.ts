import type { SlotContent } from "./RowStorage.ts";

/** The latest changes of a table, for the views over it: each reads on from where it stood. */
export class ChangeLog<Row> {
  #slots: number[] = [];
  #rows: (Row | undefined)[] = [];
  #ids: number[] = [];
  #orders: number[] = [];
  /** The number of the first change that is still kept. */
  #start = 0;

  /** The number that the next change will have. */
  get end(): number {
    return this.#start + this.#slots.length;
  }

  /**
   * @param kept - how many changes are worth keeping: whoever is further behind has less work from the beginning
   */
  add(slot: number, { row, id, order }: SlotContent<Row>, kept: number): void {
    this.#slots.push(slot);
    this.#rows.push(row);
    this.#ids.push(id);
    this.#orders.push(order);
    if (this.#slots.length < 2 * kept) return;
    const dropped = this.#slots.length - kept;
    this.#slots = this.#slots.slice(dropped);
    this.#rows = this.#rows.slice(dropped);
    this.#ids = this.#ids.slice(dropped);
    this.#orders = this.#orders.slice(dropped);
    this.#start += dropped;
  }

  /** Drops all changes: each reader has to read the whole table again. */
  clear(): void {
    this.#start = this.end + 1;
    this.#slots = [];
    this.#rows = [];
    this.#ids = [];
    this.#orders = [];
  }

  /** The rows, as they were at a version, of all slots that have changed since; `undefined` when that is too long ago. */
  since(number: number): Map<number, SlotContent<Row>> | undefined {
    if (number < this.#start) return undefined;
    const befores = new Map<number, SlotContent<Row>>();
    for (let index = number - this.#start; index < this.#slots.length; index++) {
      const slot = this.#slots[index]!;
      if (!befores.has(slot))
        befores.set(slot, { row: this.#rows[index], id: this.#ids[index]!, order: this.#orders[index]! });
    }
    return befores;
  }
}
