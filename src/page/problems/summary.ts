import { mirror, type Stoppable } from "../../engine/index.ts";
import type { EntryState } from "../../entry/index.ts";
import { nameIn, pointerTo, pointsInto, type Problem, say } from "../../model/index.ts";
import { stoppable } from "../stoppable.ts";

/** What the summary asks of the form: the control that a problem is shown at. */
export type FindControl = (
  pointer: string,
) => { readonly id: string; readonly label: string; focus(): void } | undefined;

/** Shows every visible problem of an entry in the page's `role="alert"`, once a save was tried, with links to the controls. */
export function bindSummary(element: HTMLElement, entry: EntryState, find: FindControl): Stoppable {
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
    const state = problems.map((problem) => problem.pointer + problem.message).join("\n");
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
    element.replaceChildren();
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

/** Of a problem inside a value, as in one row of several, the field that holds it. */
function titleAt(pointer: string, { model }: EntryState): string {
  const name = model.names.find((each) => pointsInto(pointer, pointerTo(each)));
  return model.titleOf(name ?? nameIn(pointer));
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
    const title = problem.pointer === "" ? "" : `${control?.label || titleAt(problem.pointer, entry)}: `;
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
