import { Value } from "../engine/index.ts";
import type { Layer } from "./Layer.ts";
import type { CompareSlots } from "./OrderedSlots.ts";

/** The row that a person is at in a view and those that they have selected, by their places in the table. */
export class Chosen {
  readonly #current = new Value<number | undefined>(undefined);
  readonly #selected = new Value<ReadonlySet<number>>(new Set());

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
    this.#selected.write(new Set(slots));
  }

  toggle(slot: number): void {
    const slots = new Set(this.#selected.peek());
    if (!slots.delete(slot)) slots.add(slot);
    this.#selected.write(slots);
  }

  /** How many of them are in a view. */
  countIn(layer: Layer): number {
    let count = 0;
    for (const slot of this.#selected.read()) if (layer.has(slot)) count++;
    return count;
  }

  /** Those that are in a view, in its order: a few are sorted, of many it is gone through. */
  selectedIn(layer: Layer, compare: CompareSlots): number[] {
    const selected = this.#selected.read();
    if (selected.size < layer.order.size >> 4) return [...selected].filter((slot) => layer.has(slot)).sort(compare);
    return [...layer.order].filter((slot) => selected.has(slot));
  }

  /**
   * A current row that is gone makes the next one current, else the one before, else none.
   *
   * @param place - where it was, or would be
   */
  settle(layer: Layer, place: (slot: number) => number): void {
    const slot = this.#current.peek();
    if (slot === undefined || layer.has(slot)) return;
    // What is read here is what is true already; it is only written down.
    this.#current.settle(layer.order.at(place(slot)) ?? layer.order.at(layer.order.size - 1));
  }

  /** All rows are others now: nobody is at one of them, and none is selected. */
  forget(): void {
    this.#current.settle(undefined);
    this.#selected.settle(new Set());
  }
}
