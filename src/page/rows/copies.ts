import { memberOf } from "../memberOf.ts";

/** Copies of templates: what is named in one belongs to its row, and not to the form or the page round it. */
const copies = new WeakSet<Element>();
let some = false;

export function ownsNames(copy: Element): void {
  copies.add(copy);
  some = true;
}

/** Whether an element is in a copy of a template that shows a row. */
export function isInCopy(element: Element | null): boolean {
  if (some)
    for (let outer = element; outer !== null; outer = memberOf(outer, "parentElement"))
      if (copies.has(outer)) return true;
  return false;
}

/** Whether there has been any. */
export const areCopies = (): boolean => some;
