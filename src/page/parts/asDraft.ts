import { requireArgument } from "../../errors/index.ts";
import { internal, mirror, platform, type Stoppable } from "../../engine/index.ts";
import { sayOfKeeping } from "../../model/index.ts";
import { toggleAttribute } from "../dom.ts";
import { Undoing } from "../binding.ts";
import { showOutput } from "../output.ts";
import { stoppable } from "../stoppable.ts";
import { whenLeft } from "../whenLeft.ts";
import { type PagePart, partBinder } from "./PagePart.ts";

/** What a page shows of a draft, and calls. What `keepDraft()` gives is one. */
export interface DraftOnPage {
  /** What is offered; `undefined` for nothing. */
  readonly offered: unknown;
  /** Why what is typed can't be kept. */
  readonly failure: string | undefined;
  /** What a person reads of it. */
  readonly said: string;
  /** The language. */
  readonly locale: string;
  /** Puts what is offered into the entry. */
  take(): unknown;
  /** Forgets what is offered. */
  drop(): Promise<void>;
  /** Writes what is typed at once. */
  write(): Promise<void>;
  readonly [internal]: {
    controlNow: (() => string | undefined) | undefined;
    goTo: ((control: string) => void) | undefined;
  };
}

/**
 * Has `bindPage` offer a draft in the element `data-name="…"` with the name under which this is given: what it is and from when, a button that
 * goes on with it, and one that discards it. The element is hidden while there is nothing to say, and says so when what is typed can't be kept;
 * `data-draft` is `offered` or `failed`, for styling. What is typed is kept at once when the window is hidden or left.
 *
 * @throws `wrongType` for what `keepDraft()` has not given
 * @example bindPage(document, { note, draft: asDraft(draft) });
 */
export function asDraft(draft: DraftOnPage): PagePart {
  const isDraft = typeof draft === "object" && (draft as unknown) !== null && "offered" in draft && "take" in draft;
  requireArgument(isDraft, "asDraft", draft, "what keepDraft() has given");
  return {
    [partBinder]: {
      call: "asDraft",
      what: "a draft",
      names: ["said"],
      elements: [],
      bind: (element) => showDraft(element, draft),
      show: (element, name) => (name === "said" ? showOutput(element, () => draft.said) : undefined),
    },
  };
}

function showDraft(element: HTMLElement, draft: DraftOnPage): Stoppable {
  const page = element.ownerDocument;
  const undoing = new Undoing();
  const before = { nodes: [...element.childNodes], hidden: element.hidden };
  const text = page.createElement("p");
  text.setAttribute("aria-live", "polite");
  const take = buttonOf(page, "take", () => {
    leaveTo();
    draft.take();
  });
  const drop = buttonOf(page, "drop", () => {
    leaveTo();
    void draft.drop().catch(platform.report);
  });
  element.replaceChildren(text, take, drop);
  // The buttons go: the focus stays in the form.
  let control: string | undefined;
  const controlOf = (name: string | undefined): HTMLElement | undefined =>
    [...page.querySelectorAll<HTMLElement>("form [name]")].find(
      (each) => pathOf(each) === name || (name === undefined && !each.matches(":disabled")),
    );
  const leaveTo = (): void => (controlOf(control) ?? controlOf(undefined))?.focus();
  undoing.keep(
    mirror(() => {
      const { said, offered, locale } = draft;
      const state = offered === undefined ? "failed" : "offered";
      if (text.textContent !== said) text.textContent = said;
      take.textContent = sayOfKeeping(locale, "draftTake");
      drop.textContent = sayOfKeeping(locale, "draftDrop");
      for (const button of [take, drop]) button.hidden = offered === undefined;
      element.hidden = said === "";
      toggleAttribute(element, "data-draft", said === "" ? undefined : state);
    }, "a draft"),
  );
  undoing.add(() => {
    element.replaceChildren(...before.nodes);
    element.hidden = before.hidden;
    toggleAttribute(element, "data-draft", undefined);
  });
  undoing.keep(
    followFocus(page, (name) => {
      control = name;
    }),
  );
  undoing.keep(whenLeft(page, () => void draft.write().catch(platform.report)));
  const place = draft[internal];
  place.controlNow = () => control;
  place.goTo = (name) => controlOf(name)?.focus();
  undoing.add(() => {
    place.controlNow = undefined;
    place.goTo = undefined;
  });
  return stoppable(() => undoing.stop());
}

function buttonOf(page: Document, what: "take" | "drop", press: () => void): HTMLButtonElement {
  const button = page.createElement("button");
  button.type = "button";
  button.dataset["draft"] = what;
  button.addEventListener("click", press);
  return button;
}

/** A control by the names of its form and its own: two forms may have controls of one name. */
const pathOf = (control: Element): string =>
  `${control.closest("form")?.getAttribute("name") ?? ""}/${control.getAttribute("name") ?? ""}`;

/** Tells which control has the focus. */
function followFocus(page: Document, tell: (name: string) => void): Stoppable {
  const enter = ({ target }: Event): void => {
    const control = (target as Element | null)?.closest("form [name]");
    if (control !== null && control !== undefined) tell(pathOf(control));
  };
  page.addEventListener("focusin", enter);
  return stoppable(() => page.removeEventListener("focusin", enter));
}
