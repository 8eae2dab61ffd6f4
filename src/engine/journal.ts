/**
 * What was written, in order, with what was there before: rollback and undo are both a walk back through it.
 */

/** Something whose writes can be taken back. */
export interface Restorable {
  /** Puts `before` back, without noting it in the journal. @returns what was there, to take the taking back back. */
  restore(before: unknown): unknown;
}

/** Counted by hand, so that the memory of one transaction serves the next; after a very large one it is given back. */
let targets: (Restorable | undefined)[] = [];
let befores: unknown[] = [];
let count = 0;
const KEPT = 65_536;

/** How many transactions are open, one inside the other. */
export let level = 0;

export function enter(by: 1 | -1): void {
  level += by;
}

/** Notes a write; to be called inside a transaction only: outside there is nothing to take back. */
export function record(target: Restorable, before: unknown): void {
  targets[count] = target;
  befores[count++] = before;
}

/** The place in the journal that a rollback can go back to. */
export function journalMark(): number {
  return count;
}

/** Takes back every write since `mark`, the last first. */
export function rollback(mark: number): void {
  while (count > mark) {
    const target = targets[--count]!;
    const before = befores[count];
    drop(count);
    target.restore(before);
  }
}

/** Forgets everything: the writes stand. */
export function forget(): void {
  if (count > KEPT) {
    targets = [];
    befores = [];
  } else for (let place = 0; place < count; place++) drop(place);
  count = 0;
}

function drop(place: number): void {
  targets[place] = undefined;
  befores[place] = undefined;
}
