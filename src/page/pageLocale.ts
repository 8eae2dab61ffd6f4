import type { ViewState } from "../table/index.ts";

/** Offers the language of the part of the page in which rows are shown to their table, which takes it unless it was given one. */
export function offerLocale(element: Element, view: ViewState): void {
  const lang = element.closest("[lang]")?.getAttribute("lang");
  if (lang !== undefined && lang !== null) view.table.offerLocale(lang);
}
