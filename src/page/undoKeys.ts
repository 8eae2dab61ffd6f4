import { isElement } from "./dom.ts";
import { pressUndo } from "../command/index.ts";
import { undoKey } from "../control/index.ts";
import type { EntryState } from "../entry/index.ts";
import type { Stoppable } from "../engine/index.ts";
import type { Listening } from "./listening.ts";
import { memberOf } from "./memberOf.ts";
import { stoppable } from "./stoppable.ts";

/**
 * Has the keys for undo and redo, and the platform's own menu, take back what was done in an entry: a platform undoes
 * typing in one text field only, and not at all what was written there by anything else.
 *
 * @param show - is given the names of the fields that came back, so that the focus can be led there
 */
export function followUndoKeys(
  form: HTMLFormElement,
  entry: EntryState,
  listening: Listening,
  show: (names: readonly string[]) => void,
): Stoppable {
  const undo = (which: "undo" | "redo"): void => {
    const done = pressUndo(entry, which);
    if (!done.ok) return;
    show(done.changed.flatMap((cell) => (cell.owner === entry.core && "name" in cell ? [cell.name as string] : [])));
  };
  const keys = {
    keys(event: KeyboardEvent): void {
      const which = undoKey(event);
      const { target } = event;
      if (which === undefined || !isElement(target)) return;
      if (!memberOf(form, "contains")(target) && (target as HTMLInputElement).form !== form) return;
      event.preventDefault();
      undo(which);
    },
  };
  const fromMenu = (event: InputEvent): void => {
    if (event.inputType !== "historyUndo" && event.inputType !== "historyRedo") return;
    event.preventDefault();
    undo(event.inputType === "historyUndo" ? "undo" : "redo");
  };
  listening.addKeys(keys);
  memberOf(form, "addEventListener")("beforeinput", fromMenu);
  return stoppable(() => {
    listening.deleteKeys(keys);
    memberOf(form, "removeEventListener")("beforeinput", fromMenu);
  });
}
