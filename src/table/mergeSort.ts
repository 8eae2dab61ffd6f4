import { countUp } from "./radix.ts";
import type { Slices } from "./slices.ts";

/** So many are sorted by the platform at once: a few milliseconds, even by the rules of a language. */
const RUN = 4096;

/** Sorts the numbers from 0 up to a count by comparing them, with pauses. What is alike stays in its order. */
export function* mergeSort(count: number, compare: (a: number, b: number) => number): Slices<Uint32Array> {
  let from = countUp(count);
  const rounds = Math.ceil(Math.log2(Math.max(1, count / RUN))) + 1;
  for (let begin = 0; begin < count; begin += RUN) {
    yield begin / count / rounds;
    from.subarray(begin, begin + RUN).sort(compare);
  }
  let to = new Uint32Array(count);
  for (let width = RUN, round = 1; width < count; width *= 2, round++) {
    for (let begin = 0; begin < count; begin += 2 * width)
      for (const part of merge(from, to, begin, width, compare)) yield (round + (begin + part) / count) / rounds;
    [from, to] = [to, from];
  }
  return from;
}

/** Merges two neighbouring runs of a width. It pauses with how many are merged. */
function* merge(
  from: Uint32Array,
  to: Uint32Array,
  begin: number,
  width: number,
  compare: (a: number, b: number) => number,
): Generator<number, void> {
  const end = Math.min(from.length, begin + 2 * width);
  const middle = Math.min(from.length, begin + width);
  let left = begin;
  let right = middle;
  for (let at = begin; at < end; at++) {
    if (((at - begin) & (RUN - 1)) === RUN - 1) yield at - begin;
    const takesLeft = right >= end || (left < middle && compare(from[left]!, from[right]!) <= 0);
    to[at] = takesLeft ? from[left++]! : from[right++]!;
  }
}
