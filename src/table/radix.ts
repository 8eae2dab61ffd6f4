import { asPart, overRanges, type Slices } from "./slices.ts";

/**
 * Sorting by whole numbers: digit by digit from the least, each time keeping the order of what is alike. It takes the same
 * few passes however many rows there are, and no comparisons.
 */

const DIGITS = 1 << 16;

/** The numbers from 0 up to a count. */
export function countUp(count: number): Uint32Array<ArrayBuffer> {
  const numbers = new Uint32Array(count);
  for (let index = 0; index < count; index++) numbers[index] = index;
  return numbers;
}

/** Sorts slots by unsigned keys of 32 bits, keys and slots in step. @returns the slots; the arrays given are used up */
export function sortByKeys(slots: Uint32Array, keys: Uint32Array): Slices<Uint32Array> {
  return sortByWideKeys(slots, keys, undefined);
}

/** The same for keys of 64 bits, given as their lower and higher halves. */
export function* sortByWideKeys(
  slots: Uint32Array,
  low: Uint32Array,
  high: Uint32Array | undefined,
): Slices<Uint32Array> {
  const count = slots.length;
  let from: Parts = { slots, low, high };
  const room = takeRoom(count, high !== undefined);
  let to: Parts = { ...room, high: high && room.high };
  const counts = new Uint32Array(DIGITS);
  const digits = high === undefined ? 2 : 4;
  for (let digit = 0; digit < digits; digit++) {
    const shift = (digit & 1) << 4;
    const of = digit < 2 ? from.low : from.high!;
    counts.fill(0);
    yield* asPart(
      overRanges(count, (begin, end) => countDigits(of, shift, counts, begin, end)),
      digit / digits,
      (digit + 0.3) / digits,
    );
    // A digit that all have alike sorts nothing.
    if (count === 0 || counts[(of[0]! >>> shift) & 0xffff] === count) continue;
    toStarts(counts);
    const [source, target] = [from, to];
    yield* asPart(
      overRanges(count, (begin, end) => moveByDigit(source, target, of, shift, counts, begin, end)),
      (digit + 0.3) / digits,
      (digit + 1) / digits,
    );
    [from, to] = [to, from];
  }
  if (from.slots !== slots) slots.set(from.slots.subarray(0, count));
  giveBack(room);
  return slots;
}

function countDigits(of: Uint32Array, shift: number, counts: Uint32Array, begin: number, end: number): void {
  for (let index = begin; index < end; index++) counts[(of[index]! >>> shift) & 0xffff]!++;
}

function toStarts(counts: Uint32Array): void {
  let start = 0;
  for (let each = 0; each < DIGITS; each++) {
    const own = counts[each]!;
    counts[each] = start;
    start += own;
  }
}

function moveByDigit(
  from: Parts,
  to: Parts,
  of: Uint32Array,
  shift: number,
  starts: Uint32Array,
  begin: number,
  end: number,
): void {
  const { slots, low, high } = from;
  for (let index = begin; index < end; index++) {
    const at = starts[(of[index]! >>> shift) & 0xffff]!++;
    to.slots[at] = slots[index]!;
    to.low[at] = low[index]!;
    if (high !== undefined) to.high![at] = high[index]!;
  }
}

interface Parts {
  readonly slots: Uint32Array;
  readonly low: Uint32Array;
  readonly high: Uint32Array | undefined;
}

const none: Parts = { slots: new Uint32Array(0), low: new Uint32Array(0), high: undefined };

/**
 * Room for one sorting, kept for the next as long as the platform has memory to spare: to be given megabytes anew each time
 * has it collect garbage, which takes longer than the sorting. Who sorts has it alone: another sorting may begin in a pause.
 */
let spare = new WeakRef<Parts>(none);

function takeRoom(count: number, wide: boolean): Parts {
  const kept = spare.deref();
  spare = new WeakRef(none);
  if (kept !== undefined && kept.slots.length >= count && (!wide || kept.high !== undefined)) return kept;
  return {
    slots: new Uint32Array(count),
    low: new Uint32Array(count),
    high: wide ? new Uint32Array(count) : undefined,
  };
}

function giveBack(room: Parts): void {
  spare = new WeakRef(room);
}
