import { isElement } from "../dom.ts";
import { setAsker } from "../../command/index.ts";
import type { Stoppable } from "../../engine/index.ts";
import { say } from "../../model/index.ts";

/**
 * Has questions asked in dialogs of a page, as long as it is bound. The dialog is loaded when the first is asked.
 * The language is that of the page.
 */
export function askOnPage(document: Document): Stoppable {
  return setAsker({
    async ask(question, context) {
      const { askInDialog } = await import("./askInDialog.ts");
      const control = isElement(context.control) ? context.control : undefined;
      return askInDialog(control?.ownerDocument ?? document, question, context);
    },
    word: (name) => say(document.documentElement.lang || "en", name),
  });
}
