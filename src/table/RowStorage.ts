import { SlotSet } from "./SlotSet.ts";

/** What a slot of a storage holds. */
export interface SlotContent<Row> {
  readonly row: Row | undefined;
  /** The id of the row that is in the slot, or was last: each inserted row gets a new one. */
  readonly id: number;
  /** Its position in the order of the rows. */
  readonly order: number;
}

/**
 * The rows of a table by slots. A row keeps its slot as long as it is there; the slot of a row that is gone is used again, unless
 * somebody is still at it. Rows stand in the order in which they came, whichever slots they have.
 */
export class RowStorage<Row> {
  readonly rows: (Row | undefined)[] = [];
  count = 0;
  /** Which row is in each slot; without it, the number of the slot: none was used again. */
  #ids: number[] | undefined;
  #nextId: number;
  /** The position of each row; without it, rows are in the order of their ids. */
  #orders: number[] | undefined;
  #nextOrder = 0;
  /** Whether the numbers of the slots are in the order of the rows. */
  #isBySlot = true;
  readonly #free = new SlotSet();
  /** No slot below is free. */
  #lowestFree = 0;
  readonly #pins = new Map<number, number>();
  /** The slots in the order of the rows where that is another, as long as no row comes or goes. */
  #inOrder: Uint32Array | undefined;

  /** @param firstKey - where ids are keys: the first that is given out */
  constructor(firstKey: number | undefined) {
    this.#ids = firstKey === undefined ? undefined : [];
    this.#nextId = firstKey ?? 0;
  }

  get slots(): number {
    return this.rows.length;
  }

  idAt(slot: number): number {
    return this.#ids === undefined ? slot : this.#ids[slot]!;
  }

  orderAt(slot: number): number {
    return this.#orders === undefined ? this.idAt(slot) : this.#orders[slot]!;
  }

  contentAt(slot: number): SlotContent<Row> {
    return { row: this.rows[slot], id: this.idAt(slot), order: this.orderAt(slot) };
  }

  /** The id that the next row has that is put into a new slot. */
  get nextId(): number {
    return this.#ids === undefined ? this.rows.length : this.#nextId;
  }

  /** Adds a row at the end, as while rows are loaded: no slot is free then. */
  append(row: Row): void {
    this.#ids?.push(this.#nextId++);
    this.rows.push(row);
    this.count++;
  }

  /** A slot for a row to come: one that is free and not pinned, else the next new one. */
  freeSlot(): number {
    if (this.#free.size > 0)
      for (let slot = this.#lowestFree; slot < this.rows.length; slot++) {
        const isFree = this.#free.has(slot);
        if (isFree && !this.#pins.has(slot)) return slot;
        if (!isFree && slot === this.#lowestFree) this.#lowestFree++;
      }
    return this.rows.length;
  }

  /** An inserted row, after all others. */
  newContent(row: Row, slot: number): SlotContent<Row> {
    if (slot < this.rows.length) this.#numberIds();
    const id = this.#ids === undefined ? slot : this.#nextId++;
    return { row, id, order: this.#orders === undefined ? id : this.#nextOrder };
  }

  #numberIds(): number[] {
    if (this.#ids === undefined) {
      this.#ids = Array.from(this.rows, (_, slot) => slot);
      this.#nextId = this.rows.length;
    }
    return this.#ids;
  }

  #numberOrders(): number[] {
    if (this.#orders === undefined) {
      this.#orders = Array.from(this.rows, (_, slot) => this.idAt(slot));
      this.#nextOrder = this.#orders.reduce((most, order) => Math.max(most, order), -1) + 1;
    }
    return this.#orders;
  }

  /** Puts a content into a slot that there is, or into the next new one. */
  put(slot: number, { row, id, order }: SlotContent<Row>): void {
    const isNew = slot === this.rows.length;
    const before = this.rows[slot];
    if (id !== slot || this.#ids !== undefined) this.#putId(slot, id, isNew);
    if (order !== id || this.#orders !== undefined) this.#putOrder(slot, order);
    this.rows[slot] = row;
    if ((row === undefined) === (before === undefined)) return;
    this.#inOrder = undefined;
    this.count += row === undefined ? -1 : 1;
    if (row !== undefined) {
      if (!isNew && this.#free.has(slot)) this.#free.delete(slot);
      return;
    }
    this.#free.add(slot);
    this.#lowestFree = Math.min(this.#lowestFree, slot);
  }

  #putId(slot: number, id: number, isNew: boolean): void {
    const ids = this.#numberIds();
    if (!isNew && ids[slot] !== id) this.#isBySlot = false;
    ids[slot] = id;
    this.#nextId = Math.max(this.#nextId, id + 1);
  }

  #putOrder(slot: number, order: number): void {
    const orders = this.#numberOrders();
    if (orders[slot] === order) return;
    orders[slot] = order;
    this.#nextOrder = Math.max(this.#nextOrder, order + 1);
    this.#isBySlot = false;
    this.#inOrder = undefined;
  }

  /** While a slot is pinned, no other row is put there: an entry over a row that is gone stays at it. */
  pin(slot: number): void {
    this.#pins.set(slot, (this.#pins.get(slot) ?? 0) + 1);
  }

  unpin(slot: number): void {
    const times = (this.#pins.get(slot) ?? 0) - 1;
    if (times > 0) this.#pins.set(slot, times);
    else this.#pins.delete(slot);
  }

  /** Whether the numbers of the slots are in the order of the rows. */
  get isBySlot(): boolean {
    return this.#isBySlot;
  }

  /** Which of two rows comes first. */
  compare(a: number, b: number): number {
    return this.#isBySlot ? a - b : this.orderAt(a) - this.orderAt(b);
  }

  /** The slots that hold rows, in the order of the rows. */
  slotsInOrder(): Uint32Array {
    if (this.#inOrder !== undefined) return this.#inOrder;
    const slots = new Uint32Array(this.count);
    let count = 0;
    for (let slot = 0; slot < this.rows.length; slot++) if (this.rows[slot] !== undefined) slots[count++] = slot;
    if (this.#isBySlot) return slots;
    this.#inOrder = slots.sort((a, b) => this.orderAt(a) - this.orderAt(b));
    return this.#inOrder;
  }
}
