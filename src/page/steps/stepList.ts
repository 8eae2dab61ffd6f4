import { mirror, type Stoppable } from "../../engine/index.ts";
import type { Steps, StepState } from "../../entry/index.ts";
import { type StepsMessage, sayOfSteps } from "../../model/index.ts";
import { toggleAttribute } from "../dom.ts";
import { stoppable } from "../stoppable.ts";

type Stage = "current" | "wrong" | "done" | "open";

function stateOf({ current, wrong, done }: StepState): Stage {
  if (current) return "current";
  if (wrong) return "wrong";
  return done ? "done" : "open";
}

const stateMessages: Readonly<Partial<Record<Stage, StepsMessage>>> = { done: "stepDone", wrong: "stepWrong" };

/**
 * Fills a list with the steps, each a button that leads to it. The state of each is in `data-stage`, for styling, and in
 * words beside the name.
 */
export function showStepList(list: HTMLElement, steps: Steps, go: (step: string) => void): Stoppable {
  const document = list.ownerDocument;
  const press = (event: Event): void => {
    const button = (event.target as Element).closest<HTMLButtonElement>("button[value]");
    if (button !== null && list.contains(button)) go(button.value);
  };
  list.addEventListener("click", press);
  const items = new Map<string, HTMLElement>();
  const itemFor = (name: string): HTMLElement => {
    let item = items.get(name);
    if (item === undefined) {
      item = document.createElement("li");
      const button = document.createElement("button");
      button.type = "button";
      button.value = name;
      button.append(document.createElement("span"), " ", document.createElement("small"));
      item.append(button);
      items.set(name, item);
    }
    return item;
  };
  const showing = mirror(() => {
    const { locale } = steps.entry;
    const shown = steps.list.map((step) => {
      const item = itemFor(step.name);
      const state = stateOf(step);
      const button = item.firstElementChild as HTMLButtonElement;
      const [title, note] = [...button.children] as [HTMLElement, HTMLElement];
      item.dataset["stage"] = state;
      toggleAttribute(button, "aria-current", step.current ? "step" : undefined);
      title.textContent = step.title;
      const message = stateMessages[state];
      note.textContent = message === undefined ? "" : sayOfSteps(locale, message);
      note.hidden = note.textContent === "";
      return item;
    });
    // Items that stay are not moved, so that the focus stays in them.
    if (shown.length !== list.children.length || shown.some((item, place) => list.children[place] !== item))
      list.replaceChildren(...shown);
  }, "the list of steps");
  return stoppable(() => {
    showing.stop();
    list.removeEventListener("click", press);
    list.replaceChildren();
  });
}
