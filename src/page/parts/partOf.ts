import type { Stoppable } from "../../engine/index.ts";
import type { ViewState } from "../../table/index.ts";
import { type PagePart, partBinder } from "./PagePart.ts";
import { showOfView } from "./showOfView.ts";

/** @param elements - the names of the elements that it can be shown in; blank for any */
export function partOf(
  call: string,
  view: ViewState,
  elements: readonly string[],
  bind: (element: HTMLElement) => Stoppable,
): PagePart {
  return { [partBinder]: { call, view, elements, bind, show: (element, name) => showOfView(element, view, name) } };
}
