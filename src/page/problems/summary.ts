import { mirror, type Stoppable } from "../../engine/index.ts";
import type { EntryState } from "../../entry/index.ts";
import { nameIn, pointerTo, pointsInto, type Problem, say } from "../../model/index.ts";
import { FoundElement } from "../found.ts";
import { stoppable } from "../stoppable.ts";

/** What the summary asks of the form: the control that a problem is shown at. */
export type FindControl = (
  pointer: string,
) => { readonly id: string; readonly label: string; focus(): void } | undefined;

/** Shows every visible problem of an entry in the page's `role="alert"`, once a save was tried, with links to the controls. */
export function bindSummary(element: HTMLElement, entry: EntryState, find: FindControl): Stoppable {
  const found = new FoundElement(element, true);
  const press = (event: Event): void => {
    const link = (event.target as Element).closest("a[href]");
    const pointer = link === null ? undefined : pointers.get(link);
    if (pointer === undefined) return;
    event.preventDefault();
    find(pointer)?.focus();
  };
  const pointers = new WeakMap<Element, string>();
  element.addEventListener("click", press);
  let shown = "";
  const showing = mirror(() => {
    const problems = entry.core.allShown ? entry.visibleProblems : [];
    // Said again only when it says something else, since each change is read aloud.
    const said = problems.map((problem) => problem.pointer + problem.message).join("\n");
    const state = said === "" ? "" : entry.locale + said;
    if (state === shown) return;
    shown = state;
    element.hidden = problems.length === 0;
    element.replaceChildren(
      ...(problems.length === 0 ? [] : contentOf(problems, entry, find, element.ownerDocument, pointers)),
    );
  }, "the summary of problems");
  element.hidden = shown === "";
  return stoppable(() => {
    showing.stop();
    element.removeEventListener("click", press);
    found.restore();
  });
}

function contentOf(
  problems: readonly Problem[],
  entry: EntryState,
  find: FindControl,
  document: Document,
  pointers: WeakMap<Element, string>,
): HTMLElement[] {
  const heading = document.createElement("p");
  heading.textContent = say(entry.locale, "problemCount", { count: problems.length });
  return [heading, listOf(problems, entry, find, document, pointers)];
}

/**
 * What people call the field that has a problem, or inside whose value there is one, as in one row of several; blank for the whole row.
 * Fields of several groups may be called the same, so the groups are told too.
 *
 * @param label - what the page calls it
 */
export function titleAt(
  pointer: string,
  { model, locale }: Pick<EntryState, "model" | "locale">,
  label?: string,
): string {
  if (pointer === "") return "";
  const name = model.names.find((each) => pointsInto(pointer, pointerTo(each))) ?? nameIn(pointer);
  const groups = [...model.groups.keys()].filter((group) => name.startsWith(`${group}.`));
  return [...groups.map((group) => model.titleOf(group, locale)), label || model.titleOf(name, locale)].join(": ");
}

function listOf(
  problems: readonly Problem[],
  entry: EntryState,
  find: FindControl,
  document: Document,
  pointers: WeakMap<Element, string>,
): HTMLElement {
  const list = document.createElement("ul");
  for (const problem of problems) {
    const item = document.createElement("li");
    const control = find(problem.pointer);
    // The page's own label is in the reader's language; the model's title is what there is without one.
    const called = titleAt(problem.pointer, entry, control?.label);
    const title = called === "" ? "" : `${called}: `;
    if (control === undefined) item.append(title + problem.message);
    else {
      const link = document.createElement("a");
      link.href = `#${control.id}`;
      link.textContent = title + problem.message;
      pointers.set(link, problem.pointer);
      item.append(link);
    }
    list.append(item);
  }
  return list;
}
