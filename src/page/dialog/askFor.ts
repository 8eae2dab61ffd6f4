import type { AskContext } from "../../command/index.ts";
import { newEntry } from "../../entry/index.ts";
import { type AnyKind, type FieldValue, model, say } from "../../model/index.ts";
import { requireArgument, requireOptions } from "../../errors/index.ts";
import { bindForm } from "../bind.ts";
import { ensureId, isElement } from "../dom.ts";
import { actionsOf, closingButton, makeDialog } from "./makeDialog.ts";

/** Options of {@link askFor}. */
export interface AskForOptions<V> extends AskContext {
  /** What stands above the question. */
  readonly title?: string | undefined;
  /** What the answer begins with. */
  readonly value?: V | undefined;
}

/**
 * Asks a person for one value, in a modal `<dialog>` with one control that reads and checks it as a form does.
 *
 * @param kind - what is asked for; its title is the label, its constraints are kept
 * @returns the value; `undefined` when the person went away without an answer
 * @example const bed = await askFor("Which bed do these go to?", integer({ title: "Bed", minimum: 1, required: true }));
 */
export async function askFor<K extends AnyKind>(
  text: string,
  kind: K,
  options: AskForOptions<FieldValue<K>> = {},
): Promise<FieldValue<K> | undefined> {
  requireArgument(typeof text === "string", "askFor", text, "the text of the question, then a kind");
  requireOptions("askFor", options, { title: "text", value: "any", control: "any", signal: "signal" });
  const { title, value, control, signal } = options;
  const page = isElement(control) ? control.ownerDocument : document;
  const locale = page.documentElement.lang || "en";
  const dialog = makeDialog(page, title, text);
  let answer: FieldValue<K> | undefined;
  const entry = newEntry(model({ answer: kind as AnyKind }), {
    locale,
    values: { answer: value },
    save: (row) => {
      answer = (row as { answer: FieldValue<K> }).answer;
      dialog.close("ok");
    },
  });
  const form = formFor(kind, page, entry.fields.answer.title, say(locale, "ok"));
  form.lastElementChild!.append(closingButton(dialog, "", say(locale, "cancel")));
  dialog.append(form);
  page.body.append(dialog);
  const bound = bindForm(form, entry);
  const close = (): void => dialog.close();
  signal?.addEventListener("abort", close, { once: true });
  await new Promise<void>((closed) => {
    dialog.addEventListener("close", () => closed(), { once: true });
    dialog.showModal();
    if (signal?.aborted === true) close();
  });
  signal?.removeEventListener("abort", close);
  bound.stop();
  entry.stop();
  return answer;
}

function formFor(kind: AnyKind, page: Document, title: string, ok: string): HTMLFormElement {
  const form = page.createElement("form");
  const label = page.createElement("label");
  label.textContent = title;
  const control = page.createElement(kind.choices === undefined ? "input" : "select");
  control.name = "answer";
  if (kind.kind === "boolean") (control as HTMLInputElement).type = "checkbox";
  label.htmlFor = ensureId(control, "answer");
  const submit = page.createElement("button");
  submit.textContent = ok;
  form.append(label, control, actionsOf(page, submit));
  return form;
}
