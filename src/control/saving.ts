import { notices } from "../command/index.ts";
import type { Entry } from "../entry/index.ts";
import { type Problem, say } from "../model/index.ts";

/** What a press on "save" came to, and what the toolkit is to do about it. */
export type SaveOutcome =
  | { readonly what: "saved" }
  /** Put the focus on the first wrong control. */
  | { readonly what: "refused"; readonly problems: readonly Problem[] }
  /** A warning was shown for the first time: pressing again saves. */
  | { readonly what: "warned"; readonly problems: readonly Problem[] }
  | { readonly what: "failed" };

const isError = (problem: Problem): boolean => problem.severity === "error";

/** Saves an entry as a person's press does, and tells the status line how it went. */
export async function pressSave(entry: Entry): Promise<SaveOutcome> {
  const known = new Set(entry.visibleProblems.map(({ code, pointer }) => `${code} ${pointer}`));
  const problems = entry.check();
  const news = problems.filter(({ code, pointer }) => !known.has(`${code} ${pointer}`));
  if (!problems.some(isError) && news.length > 0) return { what: "warned", problems };
  notices.clear();
  const result = await entry.save();
  if (result.ok) {
    notices.say(result.said);
    return { what: "saved" };
  }
  const notSaved = result.problems.find((problem) => problem.code === "notSaved");
  if (notSaved !== undefined) {
    notices.say(notSaved.message, "assertive");
    return { what: "failed" };
  }
  notices.say(say(entry.locale, "problemCount", { count: result.problems.filter(isError).length }), "assertive");
  return { what: "refused", problems: result.problems };
}
