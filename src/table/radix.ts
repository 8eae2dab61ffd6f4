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
  interface Parts {
    readonly slots: Uint32Array;
    readonly low: Uint32Array;
    readonly high: Uint32Array | undefined;
  }
  let from: Parts = { slots, low, high };
  let to: Parts = {
    slots: new Uint32Array(count),
    low: new Uint32Array(count),
    high: high === undefined ? undefined : new Uint32Array(count),
  };
  const counts = new Uint32Array(DIGITS);
  for (let digit = 0; digit < (high === undefined ? 2 : 4); digit++) {
    const shift = (digit & 1) << 4;
    const of = digit < 2 ? from.low : from.high!;
    counts.fill(0);
    for (let place = 0; place < count; place++) counts[(of[place]! >>> shift) & 0xffff]!++;
    // A digit that all have alike sorts nothing.
    if (counts[(of[0]! >>> shift) & 0xffff] === count) continue;
    let start = 0;
    for (let each = 0; each < DIGITS; each++) {
      const own = counts[each]!;
      counts[each] = start;
      start += own;
    }
    for (let place = 0; place < count; place++) {
      const at = counts[(of[place]! >>> shift) & 0xffff]!++;
      to.slots[at] = from.slots[place]!;
      to.low[at] = from.low[place]!;
      if (high !== undefined) to.high![at] = from.high![place]!;
    }
    [from, to] = [to, from];
  }
  return from.slots;
}
