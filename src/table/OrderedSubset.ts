import { type CompareSlots, OrderedSlots } from "./OrderedSlots.ts";
import { SlotSet } from "./SlotSet.ts";

/** Some rows of a table in an order, and which they are. */
export class OrderedSubset {
  readonly order = new OrderedSlots();

  constructor(readonly members = new SlotSet()) {}

  has(slot: number): boolean {
    return this.members.has(slot);
  }

  add(slot: number, compare: CompareSlots): void {
    this.order.add(slot, compare);
    this.members.add(slot);
  }

  /** @returns whether it was there */
  remove(slot: number, compare: CompareSlots): boolean {
    if (!this.members.has(slot)) return false;
    this.order.remove(slot, compare);
    this.members.delete(slot);
    return true;
  }

  /** Those of another subset that are in a set, in its order. */
  static of(other: OrderedSubset, wanted: SlotSet): OrderedSubset {
    const bits = wanted.bits.slice();
    const all = other.members.bits;
    for (let place = 0; place < bits.length; place++) bits[place]! &= all[place] ?? 0;
    const subset = new OrderedSubset(new SlotSet(bits));
    const found = new Uint32Array(subset.members.size);
    subset.order.fill(found, other.order.filter(bits, found));
    return subset;
  }
}
