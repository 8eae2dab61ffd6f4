import { notices } from "../../command/index.ts";
import type { EntryState } from "../../entry/index.ts";
import type { Problem } from "../../model/index.ts";
import { titleAt } from "./summary.ts";

/**
 * Says in the status line what no control shows and no summary, as what is wrong with the whole row. What is wrong with a value that
 * is only shown stands at its output too, where no focus can be led to.
 */
export function sayWhatIsNowhere(
  errors: readonly Problem[],
  entry: EntryState,
  hasSummary: boolean,
  find: (pointer: string) => object | undefined,
): void {
  const summed = hasSummary ? entry.visibleProblems : [];
  const told = errors
    .filter((each) => find(each.pointer) === undefined)
    .filter((each) => !summed.some(({ pointer, message }) => pointer === each.pointer && message === each.message))
    .map(({ pointer, message }) => [titleAt(pointer, entry), message].filter((text) => text !== "").join(": "));
  if (told.length > 0) notices.sayNow(told.join(" "), "error");
}
