import type { AbortSignalLike } from "../engine/index.ts";
import { IronwoodError, shown } from "../errors/index.ts";
import type { Severity } from "./problem.ts";

/** What a rule says of a row: it holds, it does not, or it does not and this is the message. */
export type Verdict = boolean | string;

export type RuleMessage = string | ((locale: string) => string);

/** What a rule that asks elsewhere is handed beside the row. */
export interface RuleContext {
  /** Aborted when something that the rule read has changed, and when its time is over. */
  readonly signal: AbortSignalLike;
}

/** A check across fields. */
export interface RuleOptions<Row, Name> {
  /** The fields at which the problem is shown, the first of them in reports; none: the row as a whole. */
  readonly shownAt?: readonly Name[] | undefined;
  /**
   * Must have no side effects. It ends at the first read of a field that is required and missing, or unreadable, or of a
   * calculated value that is blank, and is then taken to hold: the field has its own problem.
   *
   * It may ask elsewhere and return a promise. It is then run when `quiet` has passed since the last change of what it
   * read, while the fields that it reads and is shown at are right by themselves; an answer for values that have changed
   * since is dropped. That it asks is known beforehand from `async`, from its second parameter, or from `quiet` or
   * `timeout`, and otherwise from the first promise that it returns.
   */
  readonly holds: (row: Row, context: RuleContext) => Verdict | Promise<Verdict>;
  /** What is said when `holds` returns false; a function gets the reader's locale. */
  readonly message?: RuleMessage | undefined;
  /** `warning` never keeps a row from being saved; default: `error`. */
  readonly severity?: Severity | undefined;
  /** How many milliseconds a rule that asks waits for the next change; a save does not wait. Default: 300. */
  readonly quiet?: number | undefined;
  /** After how many milliseconds without an answer the warning `checkFailed` is given. Default: 10,000. */
  readonly timeout?: number | undefined;
}

/** A rule as a model keeps it. */
export interface Rule {
  readonly name: string;
  readonly shownAt: readonly string[];
  readonly holds: (row: never, context: RuleContext) => Verdict | Promise<Verdict>;
  readonly message: RuleMessage | undefined;
  readonly severity: Severity;
  readonly quiet: number;
  readonly timeout: number;
}

const asking = new WeakSet<Rule>();

/** Whether a rule asks elsewhere, so that its verdict comes later. */
export const asks = (rule: Rule): boolean => asking.has(rule);

/** Notes that a rule returned a promise. */
export function nowAsks(rule: Rule): void {
  asking.add(rule);
}

/** @throws `wrongOption` for times that are none */
export function newRule<Row, Name extends string>(name: string, options: RuleOptions<Row, Name>): Rule {
  const { shownAt = [], holds, message, severity = "error", quiet = 300, timeout = 10_000 } = options;
  for (const [option, time] of Object.entries({ quiet, timeout }))
    if (typeof time !== "number" || !(time >= 0))
      throw new IronwoodError("wrongOption", `The rule "${name}" was given ${option}: ${shown(time)}`, {
        expected: "a number of milliseconds, 0 or more",
      });
  const rule: Rule = { name, shownAt, holds, message, severity, quiet, timeout };
  const waits = holds.length > 1 || holds.constructor.name === "AsyncFunction";
  if (waits || options.quiet !== undefined || options.timeout !== undefined) nowAsks(rule);
  return rule;
}
