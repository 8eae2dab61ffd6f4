import { isElement } from "./dom.ts";
import type { EntryState } from "../entry/index.ts";
import type { Stoppable } from "../engine/index.ts";
import { memberOf } from "./memberOf.ts";
import { stoppable } from "./stoppable.ts";

/**
 * Has the platform ask before the page is left while something that a person entered is not saved. It listens only from
 * the first input on, since a page that listens may not be kept for going back to.
 */
export function askBeforeLeaving(form: HTMLFormElement, entry: EntryState): Stoppable {
  const root = memberOf(form, "getRootNode")();
  const contains = memberOf(form, "contains");
  const window = memberOf(form, "ownerDocument").defaultView;
  const leaving = (event: BeforeUnloadEvent): void => {
    if (entry.changedNow) event.preventDefault();
  };
  const begin = (event: Event): void => {
    const { target } = event;
    if (!isElement(target) || (!contains(target) && (target as HTMLInputElement).form !== form)) return;
    end();
    window?.addEventListener("beforeunload", leaving);
  };
  const end = (): void => {
    for (const type of ["input", "change"]) root.removeEventListener(type, begin);
  };
  for (const type of ["input", "change"]) root.addEventListener(type, begin);
  return stoppable(() => {
    end();
    window?.removeEventListener("beforeunload", leaving);
  });
}
