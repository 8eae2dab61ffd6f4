import { isNamed } from "../dom.ts";
import { mirror, type Stoppable, dispose } from "../../engine/index.ts";
import type { ViewState } from "../../table/index.ts";
import { showOutput } from "../output.ts";
import { Undoing } from "../binding.ts";

/**
 * Shows what a page can show of a view beside its rows: how many there are, how many are selected, sums, and a field that searches.
 *
 * @returns what ends it; `undefined` where the view has nothing under the name
 */
export function showOfView(element: Element, view: ViewState, name: string): Stoppable | undefined {
  const { table } = view;
  const number = (count: number): string => new Intl.NumberFormat(table.locale).format(count);
  if (name === "search") return isNamed(element, "input") ? searchIn(element, view) : undefined;
  if (name === "length") return showOutput(element, () => number(view.length));
  if (name === "selectedCount") return showOutput(element, () => number(view.selectedCount));
  const field = name.startsWith("total.") ? name.slice("total.".length) : "";
  if (!table.model.names.includes(field)) return undefined;
  return showOutput(element, () => table.show(table.model.kindOf(field), view.total(field)));
}

/** A field that searches: what is typed is searched for, and what code searches for is shown. */
function searchIn(input: HTMLInputElement, view: ViewState): Stoppable {
  const before = input.value;
  let typed: string | undefined;
  const search = (): void => {
    typed = input.value;
    void view.searchFor(typed);
  };
  const undoing = new Undoing();
  input.addEventListener("input", search);
  undoing.add(() => input.removeEventListener("input", search));
  // What was typed while the page was read, or put back by the browser.
  if (before !== "") search();
  undoing.keep(
    mirror(() => {
      const { search: now } = view;
      // While a long search is made ready, what is searched for is still the former text.
      if (now === typed) typed = undefined;
      if (typed === undefined && input.value !== now) input.value = now;
    }, "search"),
  );
  const stop = (): void => undoing.stop();
  return { stop, [dispose]: stop };
}
