import { Value } from "../engine/index.ts";
import type { OrderedSubset } from "./OrderedSubset.ts";
import type { CompareSlots } from "./OrderedSlots.ts";
import { SlotSet } from "./SlotSet.ts";

/** The row that a person is at in a view and those that they have selected, by their slots in the table. */
export class Selection {
  readonly #current = new Value<number | undefined>(undefined);
  /** A bit for each slot, so that of a million each press costs little. What is written is never changed. */
  readonly #selected = new Value(new SlotSet());
  /** Which load of the table the slots are of: taken back together with them, where a load is taken back. */
  readonly #load: Value<number>;

  constructor(load: number) {
    this.#load = new Value(load);
  }

  get current(): number | undefined {
    return this.#current.read();
  }

  set current(slot: number | undefined) {
    this.#current.write(slot);
  }

  peekCurrent(): number | undefined {
    return this.#current.peek();
  }

  isSelected(slot: number): boolean {
    return this.#selected.read().has(slot);
  }

  select(slots: Iterable<number>): void {
    this.#selected.write(SlotSet.of(slots));
  }

  selectAll({ members }: OrderedSubset): void {
    this.#selected.write(members.copy());
  }

  toggle(slot: number): void {
    const slots = this.#selected.peek().copy();
    if (slots.has(slot)) slots.delete(slot);
    else slots.add(slot);
    this.#selected.write(slots);
  }

  /** How many of them are in a view. */
  countIn({ members }: OrderedSubset): number {
    return this.#selected.read().within(members).size;
  }

  /** Those that are in a view, in its order: a few are sorted, of many it is gone through. */
  selectedIn({ members, order }: OrderedSubset, compare: CompareSlots): number[] {
    const selected = this.#selected.read().within(members);
    if (selected.size < order.size >> 4) return [...selected].sort(compare);
    const slots = new Uint32Array(selected.size);
    order.filter(selected.bits, slots);
    return Array.from(slots);
  }

  /**
   * Keeps the current row within the rows of a view: where it is gone, the next row becomes the current one, else the row
   * before, else none.
   *
   * @param place - where it was, or would be
   * @param isGone - whether another row has its slot now
   */
  keepWithin(subset: OrderedSubset, place: (slot: number) => number, isGone = false): void {
    const slot = this.#current.peek();
    if (slot === undefined || (!isGone && subset.has(slot))) return;
    // Readers were notified when the rows changed.
    this.#current.correct(subset.order.at(place(slot)) ?? subset.order.at(subset.order.size - 1));
  }

  /** Other rows have these slots now. */
  dropReplaced(slots: readonly number[]): void {
    const before = this.#selected.peek();
    const selected = slots.filter((slot) => before.has(slot));
    if (selected.length === 0) return;
    const after = before.copy();
    for (const slot of selected) after.delete(slot);
    this.#selected.correct(after);
  }

  /** Where all rows are others now, nobody is at one of them, and none is selected. */
  beginLoad(load: number): void {
    if (load === this.#load.peek()) return;
    this.#load.correct(load);
    this.#current.correct(undefined);
    this.#selected.correct(new SlotSet());
  }
}
