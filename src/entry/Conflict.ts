import type { Content } from "./content.ts";

/**
 * One field that was changed by a person here and otherwise elsewhere. Neither is lost: both are told, and somebody chooses by
 * `field.resolve()`.
 */
export interface Conflict<V = unknown> {
  /** What both began with. */
  readonly base: V;
  /** What was entered here; blank where it can't be read. */
  readonly mine: V;
  /** What it was changed to elsewhere. */
  readonly theirs: V;
}

/** A conflict as its entry keeps it. */
export interface Disagreement {
  readonly base: unknown;
  readonly theirs: unknown;
  /** What was entered here, where the field does not hold it any more since code has put the other into it. */
  readonly mine: Content | undefined;
}
