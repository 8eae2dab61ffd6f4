/** The first pause before something is tried again, in milliseconds; each further one is twice as long. */
const FIRST = 1_000;
/** No pause is longer. */
const LONGEST = 60_000;

/**
 * How long to wait before something that failed is tried again: longer each time, and at random between half of it and all of it, so that
 * those who were cut off together do not all come back together.
 *
 * @param times - how often it failed already, from 1
 */
export const pauseAfter = (times: number, random = Math.random()): number =>
  Math.min(LONGEST, FIRST * 2 ** (times - 1)) * (0.5 + random / 2);
