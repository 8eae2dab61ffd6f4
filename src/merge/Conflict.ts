/**
 * One value that was changed here and otherwise elsewhere. Neither is lost: both are told, and somebody chooses, in an entry by
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
