import { Value } from "../engine/index.ts";
import type { Problem } from "../model/index.ts";
import type { Entered } from "./Entered.ts";

/** A conflict as an entry keeps it. */
export interface FieldConflict {
  readonly base: unknown;
  readonly theirs: unknown;
  /** What was entered here, where the field does not hold it any more since code has put the other into it. */
  readonly mine: Entered | undefined;
}

/** What a save was refused for at a field, and what the field held. */
export interface Refusal {
  readonly entered: Entered;
  readonly problems: readonly Problem[];
}

interface Reported {
  readonly refusals: ReadonlyMap<string, Refusal>;
  readonly conflicts: ReadonlyMap<string, FieldConflict>;
}

const nothing: Reported = { refusals: new Map(), conflicts: new Map() };

const noProblems: readonly Problem[] = [];

/** What was said of the fields of an entry from outside: that a save was refused, and that others changed them too. */
export class Reports {
  /** What follows everything that was said. */
  readonly source = new Value(nothing);

  /** Whether nothing was said of any field: the usual case, known at once. Followed. */
  get isEmpty(): boolean {
    return this.source.read() === nothing;
  }

  /** The same, not followed. */
  get isEmptyNow(): boolean {
    return this.source.peek() === nothing;
  }

  /** What a save was refused for at a field, as long as the field holds what it held then. */
  refusedAt(name: string, entered: Entered): readonly Problem[] {
    const refusal = this.source.read().refusals.get(name);
    return refusal?.entered === entered ? refusal.problems : noProblems;
  }

  /** Puts refusals in the place of those before. */
  refuse(refusals: ReadonlyMap<string, Refusal>): void {
    const reported = this.source.peek();
    if (refusals.size > 0 || reported.refusals.size > 0) this.#put({ ...reported, refusals });
  }

  /** What a field was changed to elsewhere while a person changed it here, until somebody has chosen; followed. */
  conflictAt(name: string): FieldConflict | undefined {
    return this.source.read().conflicts.get(name);
  }

  /** The same, not followed. */
  conflictNow(name: string): FieldConflict | undefined {
    return this.source.peek().conflicts.get(name);
  }

  /** @param conflict - `undefined` ends the one that there is */
  setConflict(name: string, conflict: FieldConflict | undefined): void {
    const reported = this.source.peek();
    if (conflict === reported.conflicts.get(name)) return;
    const conflicts = new Map(reported.conflicts);
    if (conflict === undefined) conflicts.delete(name);
    else conflicts.set(name, conflict);
    this.#put({ ...reported, conflicts });
  }

  #put(reported: Reported): void {
    this.source.write(reported.refusals.size + reported.conflicts.size === 0 ? nothing : reported);
  }
}
