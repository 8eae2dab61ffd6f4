import { type CompareSlots, OrderedSlots } from "./OrderedSlots.ts";
import { SlotSet } from "./SlotSet.ts";

/** Rows of a view in their order, and which they are. */
export class Layer {
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

  /** Those of another layer's rows that are in a set, in its order. */
  static of(other: Layer, wanted: SlotSet): Layer {
    const bits = wanted.bits.slice();
    const all = other.members.bits;
    for (let place = 0; place < bits.length; place++) bits[place]! &= all[place] ?? 0;
    const layer = new Layer(new SlotSet(bits));
    const found = new Uint32Array(layer.members.size);
    layer.order.fill(found, other.order.filter(bits, found));
    return layer;
  }
}
