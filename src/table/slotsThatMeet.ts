import { untracked } from "../engine/index.ts";
import type { OfSlot } from "./criteria.ts";
import type { SlotSet } from "./SlotSet.ts";

/** What of a table is asked for its slots. */
interface Slots {
  readonly count: number;
  /** How many slots there are, those of deleted rows counted. */
  readonly slots: number;
  readonly isBySlot: boolean;
  slotsInOrder(): Uint32Array;
  rowAt(slot: number): unknown;
}

/**
 * The slots of the rows that meet a condition, in the order of the table.
 *
 * @param members - takes them in too
 */
export function slotsThatMeet(table: Slots, meets: OfSlot, members: SlotSet): Uint32Array {
  const { count: size } = table;
  if (!table.isBySlot || (meets === undefined && size < table.slots)) {
    const all = untracked(() => table.slotsInOrder());
    // Sorting is done in place, and the order of the table is not to be touched.
    const slots = meets === undefined ? all.slice() : all.filter(meets);
    for (const slot of slots) members.add(slot);
    return slots;
  }
  const slots = new Uint32Array(size);
  let count = 0;
  if (meets === undefined) {
    for (; count < size; count++) slots[count] = count;
    members.fill(size);
  } else
    for (let slot = 0; slot < table.slots; slot++) {
      if (table.rowAt(slot) === undefined || !meets(slot)) continue;
      slots[count++] = slot;
      members.add(slot);
    }
  return count === size ? slots : slots.subarray(0, count);
}

/** The slots of a set in the order of the table. */
export function slotsOf(table: Slots, members: SlotSet): Uint32Array {
  const slots = new Uint32Array(members.size);
  let count = 0;
  if (table.isBySlot) {
    for (let slot = 0; slot < table.slots; slot++) if (members.has(slot)) slots[count++] = slot;
  } else for (const slot of untracked(() => table.slotsInOrder())) if (members.has(slot)) slots[count++] = slot;
  return slots;
}
