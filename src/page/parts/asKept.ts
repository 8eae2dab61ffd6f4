import { requireArgument } from "../../errors/index.ts";
import { mirror, platform, type Stoppable } from "../../engine/index.ts";
import { toggleAttribute } from "../dom.ts";
import { showOutput } from "../output.ts";
import { Undoing } from "../binding.ts";
import { stoppable } from "../stoppable.ts";
import { whenLeft } from "../whenLeft.ts";
import { type PagePart, partBinder } from "./PagePart.ts";

/** What a page shows of a table that is kept, and calls. What `keep()` gives is one. */
export interface KeptOnPage {
  /** A word for how it stands, as `saved`. */
  readonly state: string;
  /** The same in words. */
  readonly said: string;
  /** How many rows are not saved. */
  readonly unsavedCount: number;
  /** In how many rows something is typed that is not in the table yet. */
  readonly editingCount: number;
  /** Rows that somebody has to choose about. */
  readonly conflicts: readonly unknown[];
  /** The table, for its language. */
  readonly table: { readonly locale: string };
  /** Writes what is unsaved. */
  write(): Promise<unknown>;
}

const names = ["said", "state", "unsavedCount", "conflictCount"] as const;

/** A write that is done sooner is not shown as one: the line would flicker. */
const SOON = 400;

/**
 * Has `bindPage` show how a table is kept in the element `data-name="…"` with the name under which this is given: in words, and as a word
 * for styling in `data-kept`. `data-name="name.unsavedCount"` and its like show parts of it. What is unsaved is written when the window is
 * hidden or left and when the line is back, and the browser asks before a window is closed in which something is unsaved. What keeps a write
 * from being done is announced by the page's status line.
 *
 * @throws `wrongType` for what `keep()` has not given
 * @example bindPage(document, { stock: asGrid(shown, { unsaved: kept }), kept: asKept(kept) });
 */
export function asKept(kept: KeptOnPage): PagePart {
  const isKept = typeof kept === "object" && (kept as unknown) !== null && "said" in kept && "write" in kept;
  requireArgument(isKept, "asKept", kept, "what keep() has given");
  return {
    [partBinder]: {
      call: "asKept",
      what: "kept rows",
      names,
      elements: [],
      bind: (element) => showKept(element, kept),
      show: (element, name) => showOfKept(element, kept, name),
    },
  };
}

function showOfKept(element: Element, kept: KeptOnPage, name: string): Stoppable | undefined {
  const number = (count: number): string => new Intl.NumberFormat(kept.table.locale).format(count);
  switch (name) {
    case "said":
    case "state":
      return showOutput(element, () => kept[name]);
    case "unsavedCount":
      return showOutput(element, () => number(kept.unsavedCount));
    case "conflictCount":
      return showOutput(element, () => number(kept.conflicts.length));
    default:
      return undefined;
  }
}

function showKept(element: HTMLElement, kept: KeptOnPage): Stoppable {
  const undoing = new Undoing();
  const before = element.textContent;
  let waiting: unknown;
  const show = (state: string, said: string): void => {
    if (element.textContent !== said) element.textContent = said;
    toggleAttribute(element, "data-kept", state);
  };
  undoing.keep(
    mirror(() => {
      const { state, said, editingCount } = kept;
      platform.cancel(waiting);
      // What is typed is not saved, though no row differs. And what is being written must not be called saved meanwhile.
      const isCalledSaved = element.getAttribute("data-kept") === "saved";
      if (state !== "saving" || isCalledSaved)
        return show(state === "saved" && editingCount > 0 ? "unsaved" : state, said);
      waiting = platform.after(SOON, () => show(kept.state, kept.said));
    }, "what is kept"),
  );
  undoing.add(() => {
    platform.cancel(waiting);
    element.textContent = before;
    toggleAttribute(element, "data-kept", undefined);
  });
  undoing.keep(writeOnLeaving(element.ownerDocument, kept));
  return stoppable(() => undoing.stop());
}

/** Writes when the window is hidden or left, and when the line is back; asks before it is closed with something unsaved. */
function writeOnLeaving(page: Document, kept: KeptOnPage): Stoppable {
  const window = page.defaultView;
  const write = (): void => {
    if (kept.unsavedCount > 0) void kept.write().catch(platform.report);
  };
  const isSomethingUnsaved = (): boolean => kept.unsavedCount > 0 || kept.editingCount > 0;
  const leave = (event: BeforeUnloadEvent): void => {
    if (!isSomethingUnsaved()) return;
    write();
    event.preventDefault();
  };
  const leaving = whenLeft(page, write);
  window?.addEventListener("online", write);
  const asking = mirror(() => {
    // A page that listens for this may not be kept for going back to.
    if (isSomethingUnsaved()) window?.addEventListener("beforeunload", leave);
    else window?.removeEventListener("beforeunload", leave);
  }, "leaving with something unsaved");
  return stoppable(() => {
    asking.stop();
    leaving.stop();
    window?.removeEventListener("online", write);
    window?.removeEventListener("beforeunload", leave);
  });
}
