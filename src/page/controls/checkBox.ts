import type { Field } from "../../entry/index.ts";
import { type ControlContext, PageControl } from "./PageControl.ts";

/** One check box for yes or no. While nobody has answered what must be answered, it shows neither. */
export class CheckBox extends PageControl<HTMLInputElement> {
  readonly #element: HTMLInputElement;

  constructor(field: Field, element: HTMLInputElement, context: ControlContext) {
    super(field, [element], context);
    this.#element = element;
    if (element.checked !== element.defaultChecked) this.choose(element.checked, element);
  }

  protected show(): void {
    const value = this.field.value as boolean | undefined;
    this.#element.checked = value === true;
    this.#element.indeterminate = value === undefined;
  }

  /** HTML's `required` of a check box means "must be ticked", which here is `const: true`. */
  protected override showRequired(required: boolean): void {
    this.#element.required = required && (this.field.kind.options as { const?: boolean }).const === true;
  }

  click(event: MouseEvent): void {
    if (this.readOnly) event.preventDefault();
  }

  change(): void {
    this.choose(this.#element.checked, this.#element);
  }
}
