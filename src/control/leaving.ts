import { ask, type AskContext, contextOptions } from "../command/index.ts";
import { internal } from "../engine/index.ts";
import { requireEntry, requireOptions } from "../errors/index.ts";
import type { AnyEntry, Entry } from "../entry/index.ts";
import { say } from "../model/index.ts";
import { pressSave } from "./saving.ts";

/**
 * Asks, where something is not saved, whether to save it, leave it or stay; to be called before a window, a dialog or a
 * form is left. Text that can't be read is not saved either. Without anything to lose it asks nothing.
 *
 * @returns whether it may be left: everything is saved, or was given up
 * @throws `noAsker` when there is something to ask and no page is bound
 * @example if (await mayLeave(card)) showList();
 */
export async function mayLeave(entries: AnyEntry | readonly AnyEntry[], context: AskContext = {}): Promise<boolean> {
  const all = Array.isArray(entries) ? (entries as readonly AnyEntry[]) : [entries as AnyEntry];
  for (const entry of all) requireEntry("mayLeave", entry);
  requireOptions("mayLeave", context, contextOptions);
  for (const entry of all) if (entry.changed && !(await mayLeaveOne(entry as Entry, context))) return false;
  return true;
}

async function mayLeaveOne(entry: Entry, context: AskContext): Promise<boolean> {
  const { locale } = entry;
  const title = entry.model.title ?? "";
  const answers = { save: say(locale, "save"), leave: say(locale, "leave"), stay: say(locale, "stay") };
  const offered: Readonly<Record<string, string>> = entry[internal].canSave
    ? answers
    : { leave: answers.leave, stay: answers.stay };
  switch (await ask(say(locale, "leaveUnsaved", { title }), offered, context)) {
    case "save":
      return (await pressSave(entry)).what === "saved";
    case "leave":
      entry.revert();
      return true;
    default:
      return false;
  }
}
