import type { Severity } from "./problem.ts";

/** What a rule says of a row: it holds, it does not, or it does not and this is the message. */
export type Verdict = boolean | string;

export type RuleMessage = string | ((locale: string) => string);

/** A check across fields. */
export interface RuleOptions<Row, Name> {
  /** The fields at which the problem is shown, the first of them in reports; none: the row as a whole. */
  readonly shownAt?: readonly Name[] | undefined;
  /**
   * Must have no side effects. It ends at the first read of a field that is required and missing, or unreadable, and is
   * then taken to hold: the field has its own problem.
   */
  readonly holds: (row: Row) => Verdict;
  /** What is said when `holds` returns false; a function gets the reader's locale. */
  readonly message?: RuleMessage | undefined;
  /** `warning` never keeps a row from being saved; default: `error`. */
  readonly severity?: Severity | undefined;
}

/** A rule as a model keeps it. */
export interface Rule {
  readonly name: string;
  readonly shownAt: readonly string[];
  readonly holds: (row: never) => Verdict;
  readonly message: RuleMessage | undefined;
  readonly severity: Severity;
}
