import { isError } from "../../control/index.ts";
import type { Problem } from "../../model/index.ts";
import { ensureId, showLines, toggleAttribute, toggleIdIn } from "../dom.ts";

/** Where a message goes that the page has no element for: behind the control, or behind the label round it. */
function placeBehind(controls: readonly HTMLElement[]): (message: Element) => void {
  const last = controls.at(-1)!;
  if (controls.length > 1) {
    const group = last.closest("fieldset, [role=radiogroup], [role=group]");
    if (group !== null && controls.every((control) => group.contains(control)))
      return (message) => group.append(message);
  }
  const label = last.closest("label");
  return (message) => (label ?? withButtons(last)).after(message);
}

/** The last of what a control has put behind itself: its buttons, and its list. */
function withButtons(control: Element): Element {
  let end = control;
  while (end.nextElementSibling?.matches("[data-step], [data-opens], [data-offered]") === true)
    end = end.nextElementSibling;
  return end;
}

const textOf = (problems: readonly Problem[]): string | undefined =>
  problems.length > 1 ? problems.map(({ message }) => message).join("\n") : problems[0]?.message;

/**
 * The message at a control: the element that the page names by `aria-errormessage`, else one that is made at the first
 * problem and goes with the control. It carries the problem's code in `data-problem`, for styling.
 */
export class ProblemMessage {
  #element: HTMLElement | undefined;
  #description: HTMLElement | undefined;
  #made = false;
  #shown = "";
  #hidden = false;
  #wrong = false;
  #warns = false;
  readonly #controls: readonly HTMLElement[];
  readonly #wantedId: string;
  readonly #place: ((message: Element) => void) | undefined;

  /** @param place - puts it where it belongs, where it is about something that is no control, and can't be invalid */
  constructor(controls: readonly HTMLElement[], wantedId: string, place?: (message: Element) => void) {
    this.#controls = controls;
    this.#wantedId = wantedId;
    this.#place = place;
  }

  /** Where it stands, once something was shown. */
  get element(): HTMLElement | undefined {
    return this.#element;
  }

  /** @param meanwhile - what to say while there are no problems, as that a check is under way; with a code for styling */
  show(problems: readonly Problem[], meanwhile = "", code = "checking"): void {
    const text = textOf(problems) ?? meanwhile;
    const before = this.#shown;
    if (text === before) return;
    this.#shown = text;
    this.#element ??= this.#find();
    const element = this.#element;
    showLines(element, text);
    element.hidden = text === "";
    this.#mark(problems[0]?.code ?? (text === "" ? undefined : code), problems[0]?.severity === "warning");
    const wrong = problems.some(isError);
    for (const control of this.#controls) {
      // What says whether it is wrong is written when that changes, and not for another message of the same kind.
      if ((text === "") !== (before === "")) {
        this.#keepDescription(control, text !== "");
        toggleIdIn(control, "aria-describedby", element.id, text !== "");
      }
      // What only shows a value can't be invalid for whoever hears the page, but it is described by what is wrong.
      if (wrong !== this.#wrong && control.localName !== "output" && this.#place === undefined)
        toggleAttribute(control, "aria-invalid", wrong ? "true" : undefined);
      // The platform's own message is never shown, but `:user-invalid` and its like agree with Ironwood.
      if ("setCustomValidity" in control) (control as HTMLInputElement).setCustomValidity(wrong ? text : "");
    }
    this.#wrong = wrong;
  }

  /** A description by attribute is not heard beside one by an element (Accessible Name and Description, step 2), so it is one too meanwhile. */
  #keepDescription(control: HTMLElement, isNeeded: boolean): void {
    const text = control.getAttribute("aria-description");
    // That a colour is not set is no description of the field, and is not so for long.
    if (text === null || (control as HTMLInputElement).type === "color") return;
    if (this.#description === undefined) {
      this.#description = control.ownerDocument.createElement("span");
      this.#description.hidden = true;
      ensureId(this.#description, `${this.#wantedId}-description`);
    }
    this.#description.textContent = text;
    if (isNeeded) this.#element!.after(this.#description);
    toggleIdIn(control, "aria-describedby", this.#description.id, isNeeded);
    if (!isNeeded) this.#description.remove();
  }

  /** For styling. */
  #mark(code: string | undefined, warns: boolean): void {
    if (code === undefined) this.#element!.removeAttribute("data-problem");
    else this.#element!.setAttribute("data-problem", code);
    if (warns !== this.#warns) toggleAttribute(this.#element!, "data-severity", warns ? "warning" : undefined);
    this.#warns = warns;
  }

  /** Hides it with its control. */
  setHidden(hidden: boolean): void {
    if (hidden === this.#hidden) return;
    this.#hidden = hidden;
    if (this.#element !== undefined) this.#element.hidden = hidden || this.#shown === "";
  }

  #find(): HTMLElement {
    const [first] = this.#controls as [HTMLElement];
    const named = first.getAttribute("aria-errormessage");
    // In a shadow tree, ids are of that tree.
    const root = first.getRootNode() as Partial<DocumentFragment>;
    const own = named === null ? null : (root.getElementById?.(named) ?? first.ownerDocument.getElementById(named));
    if (own !== null) return own;
    const element = first.ownerDocument.createElement("span");
    (this.#place ?? placeBehind(this.#controls))(element);
    ensureId(element, this.#wantedId);
    this.#made = true;
    return element;
  }

  stop(): void {
    this.show([]);
    if (!this.#made) return;
    this.#element!.remove();
    this.#element!.removeAttribute("id");
  }
}
