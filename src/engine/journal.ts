/**
 * What was written, in order, with what was there before: rollback and undo are both a walk back through it.
 */

/** Something whose writes can be taken back. */
export interface Restorable {
  /** Puts `before` back, without noting it in the journal. @returns what was there, to take the taking back back. */
  restore(before: unknown): unknown;
}

const targets: Restorable[] = [];
const befores: unknown[] = [];

/** How many transactions are open, one inside the other. */
export let level = 0;

export function enter(by: 1 | -1): void {
  level += by;
}

/** Notes a write; to be called inside a transaction only: outside there is nothing to take back. */
export function record(target: Restorable, before: unknown): void {
  targets.push(target);
  befores.push(before);
}

/** The place in the journal that a rollback can go back to. */
export function journalMark(): number {
  return targets.length;
}

/** Takes back every write since `mark`, the last first. */
export function rollback(mark: number): void {
  while (targets.length > mark) targets.pop()!.restore(befores.pop());
}

/** Forgets everything: the writes stand. */
export function forget(): void {
  targets.length = 0;
  befores.length = 0;
}
