import { Calculation } from "../engine/index.ts";
import {
  type Otherwise,
  pointerTo,
  type Problem,
  reportOnce,
  type Rule,
  runOverRow,
  say,
  type Verdict,
} from "../model/index.ts";
import type { EntryCore } from "./EntryCore.ts";

const noProblems: readonly Problem[] = [];

/** One rule over one entry: what is wrong according to it. It runs again only when something that it read has changed. */
export function ruleProblem(rule: Rule, entry: EntryCore): Calculation<readonly Problem[]> {
  return new Calculation(
    () => {
      const verdict = judged(rule, entry.reader);
      if (verdict === true || verdict === "") return noProblems;
      const message = verdict === false ? messageOf(rule, entry.locale) : verdict;
      const at = rule.shownAt[0];
      return [{ code: rule.name, message, severity: rule.severity, pointer: at === undefined ? "" : pointerTo(at) }];
    },
    `rule ${rule.name}`,
    sameProblems,
  );
}

function messageOf({ message }: Rule, locale: string): string {
  if (typeof message === "function") return message(locale);
  return message ?? say(locale, "ruleBroken");
}

const heldToHold: Otherwise<unknown> = { blank: true, broken: true, code: "ruleFailed", what: "The rule" };

function judged(rule: Rule, reader: object): Verdict {
  const verdict = runOverRow<unknown>(rule.holds, reader, rule.name, heldToHold);
  if (typeof verdict === "boolean" || typeof verdict === "string") return verdict;
  reportOnce(rule, "wrongVerdict", `The rule "${rule.name}" returned no verdict`, verdict);
  return true;
}

const sameProblems = (a: readonly Problem[], b: readonly Problem[]): boolean =>
  a.length === b.length &&
  a.every((problem, place) => problem.message === b[place]!.message && problem.code === b[place]!.code);
