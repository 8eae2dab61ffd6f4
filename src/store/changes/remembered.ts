/** So many milliseconds a write is remembered at least: who did not hear the answer may ask again. */
const REMEMBERED = 24 * 60 * 60 * 1_000;

/** Whether a write is to be remembered still. @param at - when it was done, in milliseconds since 1970 */
export const isRemembered = (at: number, now: number): boolean => now - at < REMEMBERED;
