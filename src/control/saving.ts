import { notices } from "../command/index.ts";
import { internal } from "../engine/index.ts";
import type { Entry, EntryState, SaveResult } from "../entry/index.ts";
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
  // What shows the entry also says what a save of it comes to.
  const { isPresented } = entry[internal] as EntryState;
  const result = await entry.save();
  return isPresented ? outcomeOf(result) : sayOutcome(entry, result);
}

function outcomeOf(result: SaveResult<unknown>): SaveOutcome {
  if (result.ok) return { what: "saved" };
  const isFailed = result.problems.some(
    ({ code, pointer }) => code === "notSaved" || (code === "notAllowed" && pointer === ""),
  );
  return isFailed ? { what: "failed" } : { what: "refused", problems: result.problems };
}

/**
 * Says in the status line what a save came to, whoever began it.
 *
 * @param summed - whether a summary announces the problems: the status line only shows then how many there are
 */
export function sayOutcome(entry: Pick<Entry, "locale">, result: SaveResult<unknown>, summed = false): SaveOutcome {
  const outcome = outcomeOf(result);
  if (result.ok) notices.say(result.said);
  else if (outcome.what === "failed")
    notices.say(result.problems.find(({ code }) => code === "notSaved" || code === "notAllowed")!.message, "error");
  else {
    const count = result.problems.filter(isError).length;
    notices.say(say(entry.locale, "problemCount", { count }), "error", !summed);
  }
  return outcome;
}

/** Says that there is a warning, and that the next press goes on all the same. */
function warned(entry: Entry, problems: readonly Problem[]): SaveOutcome {
  notices.say(say(entry.locale, "warned", { count: problems.length }), "warning");
  return { what: "warned", problems };
}
