import { stepped, type StepLimits } from "../../control/index.ts";
import type { Field } from "../../entry/index.ts";
import { toggleAttribute } from "../dom.ts";
import { type ControlContext, PageControl } from "./PageControl.ts";

/** A slider. It can't look empty, so while nothing is set it says so. */
export class RangeControl extends PageControl<HTMLInputElement> {
  readonly #element: HTMLInputElement;
  readonly #notSet: HTMLElement;
  readonly #words: ControlContext;

  constructor(field: Field, element: HTMLInputElement, context: ControlContext) {
    super(field, [element], context);
    this.#element = element;
    this.#words = context;
    const { minimum, maximum, multipleOf, step = multipleOf } = field.kind.options as StepLimits;
    if (minimum !== undefined) element.min = String(minimum);
    if (maximum !== undefined) element.max = String(maximum);
    element.step = String(step ?? (field.kind.kind === "integer" ? 1 : "any"));
    if (field.value === undefined && element.value !== element.defaultValue && element.defaultValue !== "")
      this.#take();
    this.#notSet = element.ownerDocument.createElement("span");
    this.#notSet.dataset["notSet"] = "";
    element.after(this.#notSet);
  }

  protected show(): void {
    const value = this.field.value as number | undefined;
    const blank = value === undefined;
    const wanted = blank ? this.#element.min || "0" : String(value);
    if (this.#element.value !== wanted) this.#element.value = wanted;
    const text = blank ? this.#words.say("notSet") : this.field.display;
    toggleAttribute(this.#element, "aria-valuetext", text);
    this.#notSet.textContent = blank ? text : "";
    this.#notSet.hidden = !blank || !this.field.relevant;
  }

  protected override showRequired(): void {
    // HTML has no required sliders; that it is missing is said by its message.
  }

  input(): void {
    if (this.readOnly) this.show();
    else this.#take();
  }

  #take(): void {
    this.choose(this.#element.valueAsNumber, this.#element);
  }

  keydown(event: KeyboardEvent): void {
    if (this.readOnly) return event.preventDefault();
    const { required, kind } = this.field;
    const canBeBlank = !required && kind.options.default === undefined;
    if ((event.key === "Delete" || event.key === "Backspace") && canBeBlank) {
      event.preventDefault();
      this.choose(undefined, this.#element);
    } else if (this.field.blank && (event.key === "Home" || event.key === "ArrowLeft" || event.key === "ArrowDown")) {
      // At its end already, the platform would see no change and say nothing.
      event.preventDefault();
      this.choose(stepped(undefined, 1, kind.options as StepLimits), this.#element);
    }
  }

  override stop(): void {
    super.stop();
    this.#notSet.remove();
    this.#element.removeAttribute("aria-valuetext");
  }
}
