import { Value } from "../../engine/index.ts";
import type { Problem } from "../../model/index.ts";
import type { CellProblem } from "../../rows/index.ts";

/** What was wrong with what was pasted last: a list that leads to the cells, and marks at them. */
export class PasteProblems {
  readonly #element: HTMLElement;
  readonly #marks = new Value<ReadonlyMap<number, ReadonlyMap<string, Problem>>>(new Map());
  readonly #goTo: (problem: CellProblem) => void;

  constructor(window: HTMLElement, goTo: (problem: CellProblem) => void) {
    this.#goTo = goTo;
    this.#element = window.ownerDocument.createElement("div");
    this.#element.role = "alert";
    this.#element.hidden = true;
    window.after(this.#element);
  }

  /** The marks at one row, by field; followed. */
  at(slot: number): ReadonlyMap<string, Problem> | undefined {
    return this.#marks.read().get(slot);
  }

  /**
   * @param problems - all of them, to be marked
   * @param listed - those that are listed, in words
   * @param slotOf - the slot in the table of a row of the view
   */
  show(
    problems: readonly CellProblem[],
    listed: readonly { readonly problem: CellProblem; readonly text: string }[],
    heading: string,
    slotOf: (row: number) => number | undefined,
  ): void {
    const { ownerDocument } = this.#element;
    const marks = new Map<number, Map<string, Problem>>();
    for (const problem of problems) {
      const slot = slotOf(problem.row);
      if (slot === undefined || problem.name === "") continue;
      const own = marks.get(slot) ?? new Map<string, Problem>();
      marks.set(slot, own.set(problem.name, problem));
    }
    this.#marks.write(marks);
    const title = ownerDocument.createElement("p");
    title.textContent = heading;
    const list = ownerDocument.createElement("ul");
    for (const { problem, text } of listed) {
      const item = ownerDocument.createElement("li");
      const button = ownerDocument.createElement("button");
      button.type = "button";
      button.textContent = text;
      button.addEventListener("click", () => this.#goTo(problem));
      item.append(button);
      list.append(item);
    }
    if (problems.length > listed.length)
      list.append(Object.assign(ownerDocument.createElement("li"), { textContent: "…" }));
    this.#element.replaceChildren(title, list);
    this.#element.hidden = false;
  }

  clear(): void {
    if (this.#element.hidden) return;
    this.#element.replaceChildren();
    this.#element.hidden = true;
    this.#marks.write(new Map());
  }

  stop(): void {
    this.#element.remove();
  }
}
