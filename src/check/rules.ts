import { isPromise } from "../engine/index.ts";
import {
  nowAsks,
  type Otherwise,
  pointerTo,
  type Problem,
  reportOnce,
  type Rule,
  type RuleContext,
  runOverRow,
  say,
} from "../model/index.ts";
import type { Conditions } from "./Conditions.ts";

const noProblems: readonly Problem[] = [];

/**
 * The field at which the problem of a rule is told: the first of those it is shown at that is relevant. `""` where it is shown at
 * none, and so is of the row as a whole; `undefined` where none of its fields is there, so that the rule does not count.
 */
export function firstPlaceOf({ shownAt }: Rule, conditions: Conditions): string | undefined {
  return shownAt.length === 0 ? "" : shownAt.find((name) => conditions.isRelevant(name));
}

/** What the verdict of a rule comes to. One that is none is reported, and the rule is taken to hold. */
export function problemsFrom(verdict: unknown, rule: Rule, locale: string, at: string): readonly Problem[] {
  if (verdict === true || verdict === "") return noProblems;
  if (verdict === false) return [problemOf(rule, messageOf(rule, locale), at)];
  if (typeof verdict === "string") return [problemOf(rule, verdict, at)];
  reportOnce(rule, "wrongVerdict", `The rule "${rule.name}" returned no verdict`, verdict);
  return noProblems;
}

/** The problem of a rule. @param at - the name of the field where it is told; blank for the row */
export function problemOf({ name, severity }: Rule, message: string, at: string): Problem {
  return { code: name, message, severity, pointer: at === "" ? "" : pointerTo(at) };
}

function messageOf({ message }: Rule, locale: string): string {
  if (typeof message === "function") return message(locale);
  return message ?? say(locale, "ruleBroken");
}

const heldToHold: Otherwise<unknown> = { blank: true, broken: true, code: "ruleFailed", what: "The rule" };

/** A rule that asks nobody reads no context, so it is handed none. */
const noContext = undefined as never as RuleContext;

/** The verdict of a rule over a row. One that turns out to ask elsewhere is noted as such, and holds for now. */
export function judged(rule: Rule, reader: object): unknown {
  const verdict = runOverRow<unknown>((row) => rule.holds(row, noContext), reader, rule.name, heldToHold);
  if (!isPromise(verdict)) return verdict;
  void verdict.then(undefined, () => undefined);
  nowAsks(rule);
  return true;
}
