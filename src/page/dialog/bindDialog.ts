import { IronwoodError, requireElement, requireOptions, requireRows } from "../../errors/index.ts";
import { mayLeave, pressSave } from "../../control/index.ts";
import { internal, platform, type SignalController, type Stoppable } from "../../engine/index.ts";
import type { AnyEntry, Entry, EntryState } from "../../entry/index.ts";
import type { AnyModel, KeyOf, Problem } from "../../model/index.ts";
import { entryOver, openEntryAt, RowCopyState, TableEntryState } from "../../rows/index.ts";
import { type Table, type TableState, type View, viewOf } from "../../table/index.ts";
import { boundForm } from "../bind.ts";
import { type Binding, bindingOf, type BindOptions, bindOptions, Undoing } from "../binding.ts";
import { placeOf } from "../dom.ts";

/** Options of {@link bindDialog}. */
export interface DialogOptions<M extends AnyModel = AnyModel> extends Omit<BindOptions, "strict"> {
  /**
   * `copy` (the default): what is entered is in the table once it is saved, and is nowhere when it is cancelled. `live`: each
   * control is in the table when it is left, and everything that shows the row shows it.
   */
  readonly edit?: "copy" | "live" | undefined;
  /** Binds more in it, as a grid of rows inside the row; what it returns is stopped when the dialog is closed. */
  readonly opened?: ((entry: Entry<M>) => Stoppable | void) | undefined;
}

/** A bound dialog. */
export interface DialogBinding<M extends AnyModel = AnyModel> extends Binding {
  /**
   * Opens it for the row with a key. The focus comes back to where it was.
   *
   * @returns whether it was saved; in a live one, whether it was closed by its button
   * @throws `unknownKey` when there is no such row
   */
  open(key: KeyOf<M>): Promise<boolean>;
}

/**
 * Edits rows in a modal `<dialog>` of the page that holds one form. Its submit button saves and closes; Escape, and a button
 * with `command="request-close"`, close it, and ask first where something would be lost.
 *
 * @throws `wrongOption` when there is no form in it
 * @example
 * const dialog = bindDialog(document.querySelector("#edit")!, orders);
 * const change = command(order, { title: "Change …", run: async ({ row }) => void (await dialog.open(row.number)) });
 */
export function bindDialog<M extends AnyModel>(
  dialog: HTMLDialogElement,
  rows: Table<M> | View<M>,
  options: DialogOptions<M> = {},
): DialogBinding<M> {
  requireElement("bindDialog", dialog, "dialog");
  requireRows("bindDialog", rows);
  requireOptions("bindDialog", options, { ...bindOptions, edit: ["copy", "live"], opened: "function" });
  const { edit = "copy", signal, opened: also } = options;
  const form = dialog.querySelector("form");
  if (form === null)
    throw new IronwoodError("wrongOption", `${placeOf(dialog)} has no form to edit a row with`, {
      expected: "a <dialog> with one <form> in it",
    });
  const { table } = viewOf(rows);
  const undoing = new Undoing();
  let closeNow = (): void => {};
  undoing.add(() => closeNow());
  return {
    ...bindingOf(undoing, [], signal),
    open: (key) =>
      new Promise((resolve) => {
        closeNow();
        const opened = new OpenDialog(dialog, form, entryFor(table, key, edit), edit === "live", (saved) => {
          closeNow = () => {};
          resolve(saved);
        });
        closeNow = () => opened.close(false);
        const more = also?.(opened.entry as AnyEntry as Entry<M>);
        if (more !== undefined) opened.keep(more);
      }),
  };
}

/** The entry that a dialog edits, and whether it is its own: a row that is open elsewhere has its entry there. */
function entryFor<M extends AnyModel>(
  table: Table<M>,
  key: KeyOf<M>,
  edit: "copy" | "live",
): { readonly entry: EntryState; readonly own: boolean } {
  const state = table[internal] as TableState;
  const slot = state.slotFor(key);
  if (slot !== undefined && edit === "copy") return { entry: new RowCopyState<AnyModel>(state, slot), own: true };
  const own = slot === undefined || openEntryAt(state, slot) === undefined;
  return { entry: entryOver(table, key, {}), own };
}

class OpenDialog {
  readonly #undoing = new Undoing();
  readonly entry: EntryState;

  readonly #dialog: HTMLDialogElement;
  readonly #live: boolean;
  readonly #closed: (saved: boolean) => void;
  /** What ends the question that is open. */
  #question: SignalController | undefined;
  #isDone = false;
  /** Whether what was entered was saved, also by the answer to the question. */
  #isSaved = false;

  constructor(
    dialog: HTMLDialogElement,
    form: HTMLFormElement,
    of: { readonly entry: EntryState; readonly own: boolean },
    live: boolean,
    closed: (saved: boolean) => void,
  ) {
    this.#dialog = dialog;
    this.#live = live;
    this.#closed = closed;
    const { entry } = of;
    this.entry = entry;
    if (of.own) this.#undoing.add(() => entry.stop());
    const { binding, bound } = boundForm(form, entry, {});
    bound.submitInstead = () => this.#run(this.#save((problems) => bound.focusFirst(problems)));
    this.#undoing.keep(binding);
    this.#undoing.add(
      entry.presentSaves(({ ok }) => {
        this.#isSaved ||= ok;
      }),
    );
    this.#listen("cancel", (event) => {
      // A picker of files that is given up says the same, and is no dialog.
      if (event.target !== dialog) return;
      event.preventDefault();
      this.#run(this.#leave());
    });
    this.#listen("click", ({ target }) => {
      const button = (target as Element).closest("button");
      if (button !== null && ["close", "request-close"].includes(button.getAttribute("command") ?? ""))
        this.#run(this.#leave());
    });
    // Escape, pressed again, closes it whatever a page says, and code may close it: who would lose something is asked all the same.
    this.#listen("close", ({ target }) => {
      // It may be open again by now, for another row.
      if (target !== dialog || this.#isDone || dialog.open) return;
      if (entry.changed) {
        dialog.showModal();
        // A question that is open is behind it now: it is asked anew.
        this.#question?.abort();
      }
      this.#run(this.#leave());
    });
    if (live) this.#listen("focusout", () => void platform.after(0, () => this.#put()));
    dialog.showModal();
  }

  /** Has something stopped when the dialog is closed. */
  keep(thing: Stoppable): void {
    this.#undoing.keep(thing);
  }

  #listen<T extends keyof HTMLElementEventMap>(type: T, listener: (event: HTMLElementEventMap[T]) => void): void {
    this.#dialog.addEventListener(type, listener);
    this.#undoing.add(() => this.#dialog.removeEventListener(type, listener));
  }

  #run(work: Promise<void>): void {
    work.catch((error: unknown) => platform.report(error));
  }

  /** What is right is in the table at once; what is wrong stays here, marked. */
  #put(): void {
    if (this.entry instanceof TableEntryState && this.entry.changed && this.entry.valid) void this.entry.commit();
  }

  async #save(focus: (problems: readonly Problem[]) => void): Promise<void> {
    const outcome = await pressSave(this.entry);
    if (outcome.what === "saved") this.close(true);
    else if (outcome.what !== "failed") focus(outcome.problems);
  }

  /** A question that is open is the question: a button, a key and the platform may all ask to leave at once. */
  async #leave(): Promise<void> {
    if (this.#isDone || this.#question?.signal.aborted === false) return;
    const question = platform.newController();
    this.#question = question;
    try {
      this.#put();
      if (this.#live && !this.entry.changed) this.#isSaved = true;
      if (await mayLeave(this.entry, { signal: question.signal })) this.close(this.#isSaved);
    } catch (reason) {
      if (!question.signal.aborted) throw reason;
    } finally {
      if (this.#question === question) this.#question = undefined;
    }
  }

  close(saved: boolean): void {
    if (this.#isDone) return;
    this.#isDone = true;
    this.#undoing.stop();
    if (this.#dialog.open) this.#dialog.close();
    this.#closed(saved);
  }
}
