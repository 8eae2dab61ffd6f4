import type { Field } from "../../entry/index.ts";
import { type ControlContext, PageControl } from "./PageControl.ts";

/** The platform's own control for a date, a time, or both: its value is the field's, in ISO 8601. */
export class DateControl extends PageControl<HTMLInputElement> {
  readonly #element: HTMLInputElement;

  constructor(field: Field, element: HTMLInputElement, context: ControlContext) {
    super(field, [element], context);
    this.#element = element;
    const { minimum, maximum } = field.kind.options as { minimum?: string; maximum?: string };
    // They limit the picker; what is typed beyond them stays and is explained.
    if (minimum !== undefined) element.min = minimum;
    if (maximum !== undefined) element.max = maximum;
    if (element.value !== "" && element.value !== element.defaultValue) this.input();
  }

  protected show(): void {
    const value = (this.field.value as string | undefined) ?? "";
    // What is half typed has no value yet, and must not be wiped away.
    if (this.#element.value !== value && !(value === "" && this.field.unreadable)) this.#element.value = value;
  }

  protected override showReadOnly(readOnly: boolean): void {
    this.#element.readOnly = readOnly;
  }

  input(): void {
    const { value, validity } = this.#element;
    if (value === "" && validity.badInput) this.enter("…", this.#element);
    else this.choose(value === "" ? undefined : value, this.#element);
  }

  change(): void {
    this.input();
  }
}
