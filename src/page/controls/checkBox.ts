import type { FieldState } from "../../entry/index.ts";
import type { ControlContext } from "./ControlContext.ts";
import { PageControl } from "./PageControl.ts";

/**
 * One check box for yes or no, or for one of two choices: ticked is the one in its `value`. While nobody has answered it
 * shows neither; an answer that may be left open is taken back by Delete or Backspace.
 */
export class CheckBox extends PageControl<HTMLInputElement> {
  readonly #element: HTMLInputElement;

  constructor(field: FieldState, element: HTMLInputElement, context: ControlContext) {
    super(field, [element], context);
    this.#element = element;
    if (element.checked !== element.defaultChecked) this.change();
  }

  protected override takeRestored(): void {
    this.change();
  }

  protected show(): void {
    const { value } = this.field;
    this.#element.checked = value !== undefined && value === this.#valueWhen(true);
    this.#element.indeterminate = value === undefined;
  }

  #valueWhen(ticked: boolean): unknown {
    if (this.field.kind.kind === "boolean") return ticked;
    return this.field.choices?.find((choice) => (String(choice.const) === this.#element.value) === ticked)?.const;
  }

  /** HTML's `required` of a check box means "must be ticked", which here is `const: true`. */
  protected override showRequired(required: boolean): void {
    this.#element.required = required && (this.field.kind.options as { const?: unknown }).const === true;
  }

  click(event: MouseEvent): void {
    if (this.readOnly) event.preventDefault();
  }

  keydown(event: KeyboardEvent): void {
    if (!["Delete", "Backspace"].includes(event.key) || this.readOnly) return;
    if (this.canBeBlank && this.field.kind.empty === undefined) this.choose(undefined, this.#element);
  }

  change(): void {
    this.choose(this.#valueWhen(this.#element.checked), this.#element);
  }
}
