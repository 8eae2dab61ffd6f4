import type { Problem } from "../model/index.ts";

/** The fields of a group of an entry. */
export interface GroupFields<F = object> {
  readonly name: string;
  /** Where it is in the row: a JSON Pointer (RFC 6901). */
  readonly pointer: string;
  /** What people call it. */
  readonly title: string;
  readonly fields: F;
  readonly relevant: boolean;
  readonly readOnly: boolean;
  /** Whether one of its fields differs from what the entry began with or last saved. */
  readonly changed: boolean;
  readonly problems: readonly Problem[];
  /** Those that a person is to see. */
  readonly visibleProblems: readonly Problem[];
  /** Takes all of them back to what they began with or last had when they were saved. */
  revert(): void;
}
