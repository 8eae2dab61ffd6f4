/** A test for the rows at places of a table; `undefined` where all meet it. */
export type OfSlot = ((slot: number) => boolean) | undefined;

/** What meets both of two tests. */
export function both(a: OfSlot, b: OfSlot): OfSlot {
  if (a === undefined || b === undefined) return a ?? b;
  return (slot) => a(slot) && b(slot);
}

/** Whether what is found by some words is among what was found by others. */
export const isNarrower = (words: readonly string[], before: readonly string[]): boolean =>
  before.length > 0 && before.every((old) => words.some((word) => word.includes(old)));
