import { spinnerKey } from "../../control/index.ts";
import { platform } from "../../engine/index.ts";
import type { FieldState } from "../../entry/index.ts";
import { toggleAttribute } from "../dom.ts";
import type { ControlContext } from "./ControlContext.ts";
import { TextControl } from "./textControl.ts";

/** Milliseconds until a button that is kept pressed repeats, and milliseconds between two steps after that. */
const HOLD = 400;
const REPEAT = 60;

/**
 * A text field that steps through numbers, or through a list of values: by arrow and page keys, by the wheel while it has
 * the focus, and by two buttons, which repeat while they are held. A page asks for it with `type="number"`.
 */
export class Spinner extends TextControl {
  readonly #buttons: readonly HTMLButtonElement[];
  #timer: unknown;

  constructor(field: FieldState, element: HTMLInputElement, context: ControlContext) {
    super(field, element, context);
    element.setAttribute("role", "spinbutton");
    this.#buttons = [this.#newButton("−", -1), this.#newButton("+", 1)];
    element.after(...this.#buttons);
    // Apart, since only a listener that is not passive can keep the page from scrolling.
    element.addEventListener("wheel", this.#wheel, { passive: false });
  }

  /** Out of the order of focus and of the accessibility tree: the keys do the same, and the platform's own are so too. */
  #newButton(sign: string, times: number): HTMLButtonElement {
    const button = this.element.ownerDocument.createElement("button");
    button.type = "button";
    button.tabIndex = -1;
    button.ariaHidden = "true";
    button.textContent = sign;
    button.dataset["step"] = String(times);
    button.addEventListener("pointerdown", (event) => {
      // The focus stays in the field.
      event.preventDefault();
      if (event.button !== 0) return;
      this.element.focus();
      this.#step(times);
      this.#timer = platform.after(HOLD, () => this.#repeat(times));
    });
    for (const type of ["pointerup", "pointerleave", "pointercancel"])
      button.addEventListener(type, () => platform.cancel(this.#timer));
    return button;
  }

  #repeat(times: number): void {
    this.#step(times);
    this.#timer = platform.after(REPEAT, () => this.#repeat(times));
  }

  readonly #wheel = (event: WheelEvent): void => {
    if (!this.focused || event.deltaY === 0 || event.ctrlKey) return;
    event.preventDefault();
    this.#step(event.deltaY < 0 ? 1 : -1);
  };

  keydown(event: KeyboardEvent): void {
    if (event.altKey || event.ctrlKey || event.metaKey) return;
    const times = spinnerKey(event.key);
    if (times !== undefined && this.#step(times)) event.preventDefault();
  }

  /** Text that can't be read is not stepped over. */
  #step(times: number): boolean {
    const { field } = this;
    const { kind } = field;
    if (kind.stepped === undefined || this.readOnly || field.unreadable) return false;
    this.choose(kind.stepped(field.value, times), this.element);
    this.write(this.focused ? field.text : field.display);
    return true;
  }

  protected override show(): void {
    super.show();
    const { value, kind, display } = this.field;
    const choices = this.field.choices;
    const now = choices === undefined ? value : choices.findIndex((choice) => choice.const === value) + 1 || undefined;
    const set = (name: string, to: unknown): void =>
      toggleAttribute(this.element, name, to === undefined ? undefined : String(to));
    set("aria-valuemin", choices === undefined ? kind.reach?.least : 1);
    set("aria-valuemax", choices?.length ?? kind.reach?.greatest);
    set("aria-valuenow", now);
    set("aria-valuetext", value === undefined ? undefined : display);
  }

  protected override showReadOnly(readOnly: boolean): void {
    super.showReadOnly(readOnly);
    for (const button of this.#buttons) button.disabled = readOnly;
  }

  protected override showRelevant(relevant: boolean): void {
    super.showRelevant(relevant);
    for (const button of this.#buttons) button.hidden = !relevant;
  }

  override stop(): void {
    super.stop();
    platform.cancel(this.#timer);
    (this.element as HTMLInputElement).removeEventListener("wheel", this.#wheel);
    for (const button of this.#buttons) button.remove();
  }
}
