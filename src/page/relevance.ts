import { mirror, type Stoppable } from "../engine/index.ts";
import { memberOf } from "./memberOf.ts";
import { stoppable } from "./stoppable.ts";

/** What was hidden here, and not by the page. */
const hiddenHere = new WeakSet<HTMLElement>();

/** Hides an element, or shows it again; what the page itself has hidden stays so. */
export function setHidden(element: HTMLElement, hidden: boolean): void {
  if (hidden === element.hidden || (!hidden && !hiddenHere.has(element))) return;
  element.hidden = hidden;
  if (hidden) hiddenHere.add(element);
  else hiddenHere.delete(element);
}

/** Toggle buttons and elements of component libraries are controls by their names. */
const controls = "input, select, textarea, [name]:not(fieldset, output, object, form)";
const groups = "fieldset, [role=group], [role=radiogroup]";

function groupRound({ parentElement }: HTMLElement): HTMLElement | null {
  return parentElement && memberOf(parentElement, "closest")<HTMLElement>(groups);
}

/** Hides the groups round a control, and the hints to it, once all that they are for is hidden; and shows them again. */
export function followRelevance(control: HTMLElement): void {
  const form = control.closest("form");
  const contains = form === null ? () => false : memberOf(form, "contains");
  for (let outer = groupRound(control); outer != null && contains(outer); outer = groupRound(outer))
    setHidden(outer, allHidden(outer.querySelectorAll<HTMLElement>(controls)));
  for (const id of (control.getAttribute("aria-describedby") ?? "").split(/\s+/)) {
    const hint = id === "" ? null : control.ownerDocument.getElementById(id);
    if (hint === null || hint.dataset["problem"] !== undefined) continue;
    setHidden(hint, allHidden(control.ownerDocument.querySelectorAll(`[aria-describedby~="${CSS.escape(id)}"]`)));
  }
}

const allHidden = (elements: Iterable<HTMLElement>): boolean => [...elements].every((element) => element.hidden);

/** Has an element be there as long as a condition holds. */
export function showRelevance(element: HTMLElement, condition: () => boolean): Stoppable {
  const { hidden } = element;
  const showing = mirror(() => {
    element.hidden = !condition();
  }, "whether an element is relevant");
  return stoppable(() => {
    showing.stop();
    element.hidden = hidden;
  });
}
