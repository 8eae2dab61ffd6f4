/** A modal dialog that is made for one use: it gives the focus back to where it was, and is gone when it is closed. */
export function makeDialog(document: Document, title: string | undefined, text: string): HTMLDialogElement {
  const dialog = document.createElement("dialog");
  const named = title ?? text;
  dialog.setAttribute("role", "alertdialog");
  dialog.setAttribute("aria-label", named);
  if (title !== undefined) {
    const heading = document.createElement("h2");
    heading.textContent = title;
    dialog.append(heading);
  }
  const body = document.createElement("p");
  body.textContent = text;
  dialog.append(body);
  dialog.addEventListener("close", () => dialog.remove(), { once: true });
  return dialog;
}

/** A button that closes its dialog with a value. */
export function closingButton(dialog: HTMLDialogElement, value: string, title: string): HTMLButtonElement {
  const button = dialog.ownerDocument.createElement("button");
  button.type = "button";
  button.value = value;
  button.textContent = title;
  button.addEventListener("click", () => dialog.close(value));
  return button;
}

/** The buttons of a dialog, in a row of their own. */
export function actionsOf(document: Document, ...buttons: readonly HTMLElement[]): HTMLElement {
  const row = document.createElement("div");
  row.append(...buttons);
  return row;
}
