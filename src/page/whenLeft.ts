import type { Stoppable } from "../engine/index.ts";
import { stoppable } from "./stoppable.ts";

/** Does some work when a window is hidden or left: there may be no other time for it. */
export function whenLeft(page: Document, work: () => void): Stoppable {
  const window = page.defaultView;
  const hide = (): void => {
    if (page.visibilityState === "hidden") work();
  };
  page.addEventListener("visibilitychange", hide);
  window?.addEventListener("pagehide", work);
  return stoppable(() => {
    page.removeEventListener("visibilitychange", hide);
    window?.removeEventListener("pagehide", work);
  });
}
