import type { RowSource, SortColumn } from "./columns.ts";
import { mergeSort } from "./mergeSort.ts";
import { sortByKeys, sortByWideKeys } from "./radix.ts";
import { asPart, overRanges, type Slices } from "./slices.ts";
import { textRanks } from "./textRanks.ts";

/** Sorts slots by columns; what is alike in all stays in the order in which it was given. The slots given are used up. */
export function* sortSlots(slots: Uint32Array, columns: readonly SortColumn[], source: RowSource): Slices<Uint32Array> {
  let sorted = slots;
  // The last column first: each sorting keeps the order of the one before where its own keys are alike.
  for (const [index, column] of columns.toReversed().entries())
    sorted = yield* asPart(
      column.numeric ? sortByNumber(sorted, column, source) : sortByRank(sorted, column, source),
      index / columns.length,
      (index + 1) / columns.length,
    );
  return sorted;
}

/** Which half of a number's bits comes first in memory on this machine. */
const LOWER = new Uint32Array(new Float64Array([1]).buffer)[0] === 0 ? 0 : 1;

function* sortByNumber(slots: Uint32Array, column: SortColumn, source: RowSource): Slices<Uint32Array> {
  const numbers = new Float64Array(slots.length);
  let wide = 0;
  yield* asPart(
    overRanges(slots.length, (from, to) => {
      if (!readNumbers(slots, numbers, column, source, from, to)) wide++;
    }),
    0,
    0.3,
  );
  return yield* asPart(wide === 0 ? sortWhole(slots, numbers) : sortWide(slots, numbers), 0.3, 1);
}

/** @returns whether all of them are whole numbers of 32 bits */
function readNumbers(
  slots: Uint32Array,
  numbers: Float64Array,
  { keyOf, descending }: SortColumn,
  { rowsBySlot }: RowSource,
  from: number,
  to: number,
): boolean {
  let whole = true;
  for (let index = from; index < to; index++) {
    const key = keyOf(rowsBySlot[slots[index]!]) as number | undefined | null;
    if (key === undefined || key === null) numbers[index] = Infinity;
    else {
      const number = descending ? -key : key;
      numbers[index] = number + 0;
      if (whole && ((number | 0) !== number || number === 0x7fff_ffff)) whole = false;
    }
  }
  return whole;
}

/** Whole numbers of 32 bits need half the passes; what is blank is the largest. */
function sortWhole(slots: Uint32Array, numbers: Float64Array): Slices<Uint32Array> {
  const keys = new Uint32Array(numbers.length);
  for (let index = 0; index < keys.length; index++)
    keys[index] = numbers[index] === Infinity ? 0xffff_ffff : (numbers[index]! ^ 0x8000_0000) >>> 0;
  return sortByKeys(slots, keys);
}

/** The bits of a number are in its order once the sign is turned, and of a negative one all of them (IEEE 754). */
function sortWide(slots: Uint32Array, numbers: Float64Array): Slices<Uint32Array> {
  const bits = new Uint32Array(numbers.buffer);
  const count = numbers.length;
  const low = new Uint32Array(count);
  const high = new Uint32Array(count);
  for (let index = 0; index < count; index++) {
    const upper = bits[2 * index + 1 - LOWER]!;
    const lower = bits[2 * index + LOWER]!;
    const negative = upper >>> 31 === 1;
    high[index] = negative ? ~upper >>> 0 : (upper | 0x8000_0000) >>> 0;
    low[index] = negative ? ~lower >>> 0 : lower;
  }
  return sortByWideKeys(slots, low, high);
}

const BLANK = 0xffff_ffff;

/** Keys that are no numbers are sorted once each, and the rows by the indexes of their keys. */
function* sortByRank(slots: Uint32Array, column: SortColumn, source: RowSource): Slices<Uint32Array> {
  const { compare, descending, collator } = column;
  const count = slots.length;
  const distinct = new DistinctKeys();
  const keys = new Uint32Array(count);
  yield* asPart(
    overRanges(count, (from, to) => distinct.read(slots, keys, column, source, from, to)),
    0,
    0.3,
  );
  const { all } = distinct;
  let ranks = collator && (yield* asPart(textRanks(all as readonly string[], collator), 0.3, 0.7));
  ranks ??= yield* asPart(ranksOf(all, compare as (a: unknown, b: unknown) => number), 0.3, 0.7);
  if (descending) for (let index = 0; index < ranks.length; index++) ranks[index] = ranks.length - ranks[index]!;
  for (let index = 0; index < count; index++) if (keys[index] !== BLANK) keys[index] = ranks[keys[index]!]!;
  return yield* asPart(sortByKeys(slots, keys), 0.7, 1);
}

/** The different keys of rows, each with a number, in the order in which they were met. */
class DistinctKeys {
  readonly all: unknown[] = [];
  readonly #numbers = new Map<unknown, number>();

  /** Writes the numbers of the keys of some slots. */
  read(
    slots: Uint32Array,
    into: Uint32Array,
    { keyOf }: SortColumn,
    { rowsBySlot }: RowSource,
    from: number,
    to: number,
  ): void {
    for (let index = from; index < to; index++) {
      const key = keyOf(rowsBySlot[slots[index]!]);
      into[index] = key === undefined || key === null ? BLANK : this.#numberOf(key);
    }
  }

  #numberOf(key: unknown): number {
    const number = this.#numbers.get(key);
    if (number !== undefined) return number;
    this.#numbers.set(key, this.all.length);
    return this.all.push(key) - 1;
  }
}

/** The index of each key among all; keys that compare alike share one. */
function* ranksOf(keys: readonly unknown[], compare: (a: unknown, b: unknown) => number): Slices<Uint32Array> {
  const byKey = (a: number, b: number): number => compare(keys[a], keys[b]);
  const order = yield* asPart(mergeSort(keys.length, byKey), 0, 0.9);
  const ranks = new Uint32Array(keys.length);
  let rank = 0;
  yield* asPart(
    overRanges(order.length, (from, to) => {
      for (let index = from; index < to; index++) {
        if (index > 0 && byKey(order[index - 1]!, order[index]!) !== 0) rank = index;
        ranks[order[index]!] = rank;
      }
    }),
    0.9,
    1,
  );
  return ranks;
}
