import { type Command, command } from "../../command/index.ts";
import { requireArgument, requireOptions } from "../../errors/index.ts";
import { sayOfKeeping } from "../../model/index.ts";
import type { AnyTable } from "../../table/index.ts";
import { isElement } from "../dom.ts";
import { type ConflictChoice, ConflictForm, type PageConflict } from "./conflictForm.ts";
import { actionsOf, closingButton, makeDialog } from "./makeDialog.ts";

/** A table with rows to choose about: what `keep()` gives is one. */
export interface KeptWithConflicts {
  /** The table, for its model and its language. */
  readonly table: AnyTable;
  /** Rows that were changed here and elsewhere; followed. */
  readonly conflicts: readonly PageConflict[];
  /** Ends the conflict of a row with what was chosen. */
  // A table takes rows of its own model only, so none takes the choices of all.
  // eslint-disable-next-line @typescript-eslint/no-explicit-any
  resolve(key: any, choice: any): void;
}

/** Several such tables: what `keepTogether()` gives is one. */
export interface TablesWithConflicts {
  /** Each of them, by its name. */
  readonly parts: Readonly<Record<string, KeptWithConflicts>>;
}

/** One row to choose about, and its table. */
interface Open {
  readonly kept: KeptWithConflicts;
  readonly conflict: PageConflict;
}

/**
 * A command with which a person chooses between what was entered here and what was changed elsewhere: a dialog shows, for each row and
 * field, what it was before, here and elsewhere, side by side. Its buttons are there while something has to be chosen.
 *
 * @param options - `title`: what people call it; default: "Choose …", in the language of the table
 * @throws `wrongType` for what neither `keep()` nor `keepTogether()` has given
 * @example bindPage(document, { kept: asKept(kept), choose: chooseCommand(kept) });
 */
export function chooseCommand(
  kept: KeptWithConflicts | TablesWithConflicts,
  options: { readonly title?: string | (() => string) | undefined } = {},
): Command {
  const isKept = typeof kept === "object" && (kept as unknown) !== null && "conflicts" in kept;
  requireArgument(isKept, "chooseCommand", kept, "what keep() or keepTogether() has given");
  requireOptions("chooseCommand", options, { title: "textOrFunction" });
  const tables = "parts" in kept ? Object.values(kept.parts) : [kept];
  const { locale } = tables[0]!.table;
  const open = (): Open[] => tables.flatMap((each) => each.conflicts.map((conflict) => ({ kept: each, conflict })));
  const words = (name: Parameters<typeof sayOfKeeping>[1], count?: number): string =>
    sayOfKeeping(locale, name, count === undefined ? {} : { count });
  return command({
    title: () => words("conflictChoose"),
    ...options,
    relevant: () => open().length > 0,
    allowed: () => open().length > 0 || words("conflictNone"),
    run: async ({ control, signal }) => {
      const page = isElement(control) ? control.ownerDocument : document;
      let decided = 0;
      for (let again = false; open().length > 0 && !signal.aborted; again = true) {
        const text = again ? words("conflictAgain") : words("conflictQuestion");
        const chosen = await askAbout(page, open(), { locale, text }, signal);
        if (chosen === undefined) break;
        for (const [each, choice] of chosen)
          if (isStill(each)) {
            each.kept.resolve(each.conflict.key, choice);
            decided++;
          }
      }
      return decided === 0 ? "" : words("conflictDone", decided);
    },
  });
}

/** Whether nobody has changed it since it was shown. */
const isStill = ({ kept, conflict: { mine, theirs } }: Open): boolean =>
  kept.conflicts.some((each) => each.mine === mine && each.theirs === theirs);

function askAbout(
  page: Document,
  open: readonly Open[],
  { locale, text }: { readonly locale: string; readonly text: string },
  signal: { readonly aborted: boolean; addEventListener(type: "abort", listener: () => void, options: object): void },
): Promise<(readonly [Open, ConflictChoice])[] | undefined> {
  const dialog = makeDialog(page, sayOfKeeping(locale, "conflictTitle"), text);
  dialog.setAttribute("role", "dialog");
  dialog.dataset["conflicts"] = "";
  const parts = open.map(({ kept, conflict }) => new ConflictForm(page, kept.table, conflict));
  const form = page.createElement("form");
  form.noValidate = true;
  const missing = page.createElement("p");
  missing.setAttribute("role", "alert");
  const submit = page.createElement("button");
  submit.textContent = sayOfKeeping(locale, "conflictTake");
  const later = closingButton(dialog, "", sayOfKeeping(locale, "conflictLater"));
  form.append(...parts.map(({ element }) => element), missing, actionsOf(page, submit, later));
  dialog.append(form);
  page.body.append(dialog);
  return new Promise((done) => {
    let chosen: (readonly [Open, ConflictChoice])[] | undefined;
    form.addEventListener("submit", (event) => {
      event.preventDefault();
      const left = parts.flatMap((part) => part.missing);
      for (const radio of form.querySelectorAll("input")) radio.removeAttribute("aria-invalid");
      if (left.length > 0) {
        missing.textContent = sayOfKeeping(locale, "conflictMissing", { count: left.length });
        for (const radio of left) radio.setAttribute("aria-invalid", "true");
        left[0]!.focus();
        return;
      }
      chosen = parts.map((part, index) => [open[index]!, part.choice]);
      dialog.close();
    });
    dialog.addEventListener("close", () => done(chosen), { once: true });
    signal.addEventListener("abort", () => dialog.close(), { once: true });
    dialog.showModal();
    parts[0]?.missing[0]?.focus();
    if (signal.aborted) dialog.close();
  });
}
