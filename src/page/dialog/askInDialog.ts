import type { AskContext, Question } from "../../command/index.ts";
import { actionsOf, closingButton, makeDialog } from "./makeDialog.ts";

/** Puts a question before a person in a modal `<dialog>`. The first answer has the focus; Escape gives none. */
export function askInDialog(
  document: Document,
  { text, title, answers = [] }: Question,
  { signal }: AskContext,
): Promise<string | undefined> {
  const dialog = makeDialog(document, title, text);
  dialog.append(actionsOf(document, ...answers.map((each) => closingButton(dialog, each.value, each.title))));
  document.body.append(dialog);
  const close = (): void => dialog.close();
  return new Promise((resolve) => {
    dialog.addEventListener(
      "close",
      () => {
        signal?.removeEventListener("abort", close);
        resolve(dialog.returnValue === "" ? undefined : dialog.returnValue);
      },
      { once: true },
    );
    signal?.addEventListener("abort", close, { once: true });
    dialog.showModal();
    if (signal?.aborted === true) close();
  });
}
