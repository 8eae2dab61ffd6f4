import { notices } from "../command/index.ts";
import type { Entry } from "../entry/index.ts";
import { type Problem, say } from "../model/index.ts";
import { newsIn } from "./decisions.ts";

/** The outcome of a press on "save" or "next", and what the toolkit does then. */
export type SaveOutcome =
  | { readonly what: "saved" }
  /** Put the focus on the first wrong control. */
  | { readonly what: "refused"; readonly problems: readonly Problem[] }
  /** A warning was shown for the first time: pressing again saves. */
  | { readonly what: "warned"; readonly problems: readonly Problem[] }
  | { readonly what: "failed" };

export const isError = (problem: Problem): boolean => problem.severity === "error";

/** Saves an entry as a person's press does, and says the outcome in the status line. */
export async function pressSave(entry: Entry): Promise<SaveOutcome> {
  if (entry.readOnly) {
    notices.say(entry.reason ?? say(entry.locale, "readOnly"), "error");
    return { what: "failed" };
  }
  const known = entry.visibleProblems;
  notices.clear();
  const problems = await entry.check();
  const news = newsIn(problems, known);
  if (news.length > 0 && !problems.some(isError)) return warned(entry, problems);
  const result = await entry.save();
  if (result.ok) {
    notices.say(result.said);
    return { what: "saved" };
  }
  const notSaved = result.problems.find((problem) => problem.code === "notSaved");
  if (notSaved !== undefined) {
    notices.say(notSaved.message, "error");
    return { what: "failed" };
  }
  notices.say(say(entry.locale, "problemCount", { count: result.problems.filter(isError).length }), "error");
  return { what: "refused", problems: result.problems };
}

/** Says that there is a warning, and that the next press goes on all the same. */
function warned(entry: Entry, problems: readonly Problem[]): SaveOutcome {
  notices.say(say(entry.locale, "warned", { count: problems.length }), "warning");
  return { what: "warned", problems };
}
