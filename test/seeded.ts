/** Random choices that a seed repeats. */
export interface Seeded {
  readonly seed: number;
  /** A whole number from 0 to below a limit. */
  below(limit: number): number;
  pick<T>(list: readonly T[]): T;
}

export function seeded(seed: number): Seeded {
  let state = seed >>> 0;
  const below = (limit: number): number => {
    state = (state + 0x6d2b79f5) >>> 0;
    let mixed = Math.imul(state ^ (state >>> 15), state | 1);
    mixed ^= mixed + Math.imul(mixed ^ (mixed >>> 7), mixed | 61);
    return Math.floor((((mixed ^ (mixed >>> 14)) >>> 0) / 2 ** 32) * limit);
  };
  return { seed, below, pick: (list) => list[below(list.length)]! };
}

/**
 * How many of so many random cases are tried: a quarter in an ordinary run, or as large a part as is said, all where `SOAK` is set, as
 * `npm run soak` does, and as large a part as `TEST_LENGTH` says, as for mutants.
 */
export function times(all: number, ordinary = 0.25): number {
  const { SOAK: soak, TEST_LENGTH: part = ordinary } = process.env;
  return soak === undefined ? Math.max(1, Math.ceil(all * Number(part))) : all;
}
