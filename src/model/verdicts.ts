import { say } from "./languages.ts";
import { pointerTo, type Problem } from "./problem.ts";
import { reportOnce } from "./reported.ts";
import type { Rule } from "./rule.ts";

const noProblems: readonly Problem[] = [];

/** What the verdict of a rule comes to. One that is none is reported, and the rule is taken to hold. */
export function problemsFrom(verdict: unknown, rule: Rule, locale: string): readonly Problem[] {
  if (verdict === true || verdict === "") return noProblems;
  if (verdict === false) return [problemOf(rule, messageOf(rule, locale))];
  if (typeof verdict === "string") return [problemOf(rule, verdict)];
  reportOnce(rule, "wrongVerdict", `The rule "${rule.name}" returned no verdict`, verdict);
  return noProblems;
}

/** A problem where the rule is shown first. */
export function problemOf({ name, shownAt: [at], severity }: Rule, message: string): Problem {
  return { code: name, message, severity, pointer: at === undefined ? "" : pointerTo(at) };
}

function messageOf({ message }: Rule, locale: string): string {
  if (typeof message === "function") return message(locale);
  return message ?? say(locale, "ruleBroken");
}
