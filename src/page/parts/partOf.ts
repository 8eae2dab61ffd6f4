import type { Stoppable } from "../../engine/index.ts";
import type { ViewState } from "../../table/index.ts";
import { type PagePart, partBinder, viewNames } from "./PagePart.ts";
import { showOfView } from "./showOfView.ts";

/** @param elements - the names of the elements that it can be shown in; blank for any */
export function partOf(
  call: string,
  view: ViewState,
  elements: readonly string[],
  bind: (element: HTMLElement) => Stoppable,
): PagePart {
  const show = (element: Element, name: string): Stoppable | undefined => showOfView(element, view, name);
  return { [partBinder]: { call, what: "rows", names: viewNames(view), elements, bind, show } };
}
