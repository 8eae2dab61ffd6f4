import { Calculation } from "../engine/index.ts";

/** The number of parts that one calculation reads; more parts become a tree of calculations. */
const FAN_OUT = 24;

/**
 * A list gathered from many parts, so that a change in one part costs the way up a tree, not a walk over all parts:
 * an entry of 10,000 fields knows its problems after three short steps.
 */
export function gather<P, T>(
  parts: readonly P[],
  list: (part: P) => readonly T[],
  what: string,
): Calculation<readonly T[]> {
  if (parts.length <= FAN_OUT)
    return new Calculation(() => joined(parts, list), { sort: "gathered", of: what }, sameList);
  const size = FAN_OUT ** Math.ceil(Math.log(parts.length) / Math.log(FAN_OUT) - 1);
  const groups: Calculation<readonly T[]>[] = [];
  for (let start = 0; start < parts.length; start += size)
    groups.push(gather(parts.slice(start, start + size), list, what));
  return gather(groups, (group) => group.read(), what);
}

const nothing: readonly never[] = [];

function joined<P, T>(parts: readonly P[], list: (part: P) => readonly T[]): readonly T[] {
  let all: readonly T[] | undefined;
  for (const part of parts) {
    const some = list(part);
    if (some.length > 0) all = all === undefined ? some : [...all, ...some];
  }
  return all ?? nothing;
}

/** Lists of the same items, so that what is gathered from them need not be gathered again. */
export const sameList = <T>(a: readonly T[], b: readonly T[]): boolean =>
  a === b || (a.length === b.length && a.every((item, place) => item === b[place]));
