import { platform } from "../engine/index.ts";

/** Work that can pause: at each pause it tells which part of it is done, from 0 to 1, and at the end it returns what it has found. */
export type Slices<Result> = Generator<number, Result, void>;

/** So many items are worked on between two pauses. */
const ITEMS = 1 << 15;

/** Does something with so many items, a range of them at a time. */
export function* overRanges(
  count: number,
  work: (from: number, to: number) => void,
  atOnce: number = ITEMS,
): Slices<void> {
  for (let from = 0; from < count; from += atOnce) {
    yield from / count;
    work(from, Math.min(count, from + atOnce));
  }
}

/** Work that is a part of other work: from where to where in it. */
export function* asPart<Result>(slices: Slices<Result>, from: number, to: number): Slices<Result> {
  for (;;) {
    const { done, value } = slices.next();
    if (done === true) return value;
    yield from + value * (to - from);
  }
}

/** All of it in one go. */
export function inOneGo<Result>(slices: Slices<Result>): Result {
  for (;;) {
    const { done, value } = slices.next();
    if (done === true) return value;
  }
}

/**
 * A moment at a time, so that a page goes on meanwhile.
 *
 * @param paused - called at each pause with the part that is done; what it returns is whether to go on
 * @returns what was found; `undefined` where it was not to go on
 */
export async function inPauses<Result>(
  slices: Slices<Result>,
  moment: number,
  paused: (part: number) => boolean,
): Promise<Result | undefined> {
  let since = platform.now();
  for (;;) {
    const { done, value } = slices.next();
    if (done === true) return value;
    if (platform.now() - since < moment) continue;
    if (!paused(value)) return undefined;
    await new Promise<void>((go) => void platform.after(0, go));
    // What took its place may have come meanwhile.
    if (!paused(value)) return undefined;
    since = platform.now();
  }
}
