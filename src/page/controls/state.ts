import { isNamed } from "../dom.ts";
/** What a control of the platform shows, as a text: which options are chosen, whether it is ticked, or its value. */
export function stateOf(element: Element): string {
  if (isNamed(element, "select")) return [...element.options].map(({ selected }) => Number(selected)).join("");
  const { type, checked, value } = element as HTMLInputElement;
  return type === "checkbox" || type === "radio" ? String(checked) : value;
}

/** Has a control show what it showed when the state was taken. */
export function putState(element: Element, state: string): void {
  if (isNamed(element, "select"))
    [...element.options].forEach((option, place) => {
      option.selected = state[place] === "1";
    });
  else {
    const input = element as HTMLInputElement;
    if (input.type === "checkbox" || input.type === "radio") input.checked = state === "true";
    else input.value = state;
  }
}
