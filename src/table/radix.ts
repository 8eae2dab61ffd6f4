/**
 * Sorting by whole numbers: digit by digit from the least, each time keeping the order of what is alike. It takes the same
 * few passes however many rows there are, and no comparisons.
 */

const DIGITS = 1 << 16;

/** Sorts slots by unsigned keys of 32 bits, keys and slots in step. @returns the slots; the arrays given are used up */
export function sortByKeys(slots: Uint32Array, keys: Uint32Array): Uint32Array {
  return sortByWideKeys(slots, keys, undefined);
}

/** The same for keys of 64 bits, given as their lower and higher halves. */
export function sortByWideKeys(slots: Uint32Array, low: Uint32Array, high: Uint32Array | undefined): Uint32Array {
  const count = slots.length;
  let from: Parts = { slots, low, high };
  let to: Parts = spareParts(count, high !== undefined);
  const counts = new Uint32Array(DIGITS);
  for (let digit = 0; digit < (high === undefined ? 2 : 4); digit++) {
    const shift = (digit & 1) << 4;
    const of = digit < 2 ? from.low : from.high!;
    counts.fill(0);
    for (let index = 0; index < count; index++) counts[(of[index]! >>> shift) & 0xffff]!++;
    // A digit that all have alike sorts nothing.
    if (count === 0 || counts[(of[0]! >>> shift) & 0xffff] === count) continue;
    let start = 0;
    for (let each = 0; each < DIGITS; each++) {
      const own = counts[each]!;
      counts[each] = start;
      start += own;
    }
    for (let index = 0; index < count; index++) {
      const at = counts[(of[index]! >>> shift) & 0xffff]!++;
      to.slots[at] = from.slots[index]!;
      to.low[at] = from.low[index]!;
      if (high !== undefined) to.high![at] = from.high![index]!;
    }
    [from, to] = [to, from];
  }
  // What is spare is used again by the next.
  if (from.slots !== slots) slots.set(from.slots.subarray(0, count));
  return slots;
}

interface Parts {
  readonly slots: Uint32Array;
  readonly low: Uint32Array;
  readonly high: Uint32Array | undefined;
}

/**
 * Room for one sorting, kept for the next as long as the platform has memory to spare: to be given megabytes anew each time
 * has it collect garbage, which takes longer than the sorting.
 */
let spare = new WeakRef<Parts>({ slots: new Uint32Array(0), low: new Uint32Array(0), high: undefined });

function spareParts(count: number, wide: boolean): Parts {
  const kept = spare.deref();
  if (kept !== undefined && kept.slots.length >= count && (!wide || kept.high !== undefined)) return kept;
  const parts = {
    slots: new Uint32Array(count),
    low: new Uint32Array(count),
    high: wide ? new Uint32Array(count) : undefined,
  };
  spare = new WeakRef<Parts>(parts);
  return parts;
}
