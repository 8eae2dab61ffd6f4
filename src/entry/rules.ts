import { Calculation } from "../engine/index.ts";
import {
  asks,
  nowAsks,
  type Otherwise,
  type Problem,
  problemsFrom,
  type Rule,
  type RuleContext,
  runOverRow,
} from "../model/index.ts";
import type { EntryCore } from "./EntryCore.ts";

/** One rule over one entry: what is wrong according to it. It runs again only when something that it read has changed. */
export function ruleProblem(rule: Rule, entry: EntryCore): Calculation<readonly Problem[]> {
  return new Calculation(
    () => {
      const verdict = asks(rule) || judged(rule, entry);
      // It may have turned out only now that it asks; then what it says is followed from now on.
      return asks(rule) ? entry.asking.problemsOf(rule) : problemsFrom(verdict, rule, entry.locale);
    },
    `rule ${rule.name}`,
    sameProblems,
  );
}

const heldToHold: Otherwise<unknown> = { blank: true, broken: true, code: "ruleFailed", what: "The rule" };

/** A rule that asks nobody is handed no signal. */
const noContext = undefined as unknown as RuleContext;

function judged(rule: Rule, entry: EntryCore): unknown {
  const verdict = runOverRow<unknown>((row) => rule.holds(row, noContext), entry.reader, rule.name, heldToHold);
  if (!isPromise(verdict)) return verdict;
  // It was not known that it asks. From now on it is, and it is asked again in the way of those.
  void verdict.then(undefined, () => undefined);
  nowAsks(rule);
  entry.asking.beginSoon();
  return true;
}

const isPromise = (value: unknown): value is Promise<unknown> =>
  typeof value === "object" && value !== null && typeof (value as Promise<unknown>).then === "function";

const sameProblems = (a: readonly Problem[], b: readonly Problem[]): boolean =>
  a.length === b.length &&
  a.every((problem, place) => problem.message === b[place]!.message && problem.code === b[place]!.code);
