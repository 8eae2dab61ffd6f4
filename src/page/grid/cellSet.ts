import type { FieldState } from "../../entry/index.ts";

/** Where an arrow key leads in the boxes of a cell. */
const steps: Readonly<Partial<Record<string, (at: number, last: number) => number>>> = {
  ArrowDown: (at) => at + 1,
  ArrowUp: (at) => at - 1,
  Home: () => 0,
  End: (_, last) => last,
};

/** The check boxes by which several values are chosen in a cell, under each other over the rows below. Arrow keys go from one to the next. */
export function makeCellSet(
  field: FieldState,
  document: Document,
): { element: HTMLElement; boxes: HTMLInputElement[] } {
  const element = document.createElement("div");
  element.role = "group";
  element.dataset["cellSet"] = "";
  const values = field.value as readonly unknown[];
  const boxes = (field.choices ?? []).map((choice) => {
    const box = document.createElement("input");
    box.type = "checkbox";
    box.value = String(choice.const);
    const label = document.createElement("label");
    label.append(box, ` ${choice.title}`);
    element.append(label);
    return box;
  });
  const chosen = boxes.findIndex((box) => values.map(String).includes(box.value));
  const reach = (place: number): HTMLInputElement | undefined => {
    for (const [at, box] of boxes.entries()) box.tabIndex = at === place ? 0 : -1;
    return boxes[place];
  };
  reach(Math.max(0, chosen));
  element.addEventListener("keydown", (event) => {
    const step = steps[event.key];
    if (step === undefined || event.altKey || event.ctrlKey || event.metaKey) return;
    event.preventDefault();
    const last = boxes.length - 1;
    const at = boxes.indexOf(event.target as HTMLInputElement);
    reach(Math.min(last, Math.max(0, step(at, last))))?.focus();
  });
  return { element, boxes };
}
