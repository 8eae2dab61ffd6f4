import type { FieldState } from "../../entry/index.ts";
import type { ControlContext } from "./ControlContext.ts";
import { PageControl } from "./PageControl.ts";

/** Radio buttons of one name in one form, wherever they stand. */
export class RadioGroup extends PageControl<HTMLInputElement> {
  constructor(field: FieldState, elements: readonly HTMLInputElement[], context: ControlContext) {
    super(field, elements, context);
    const chosen = elements.find((element) => element.checked && !element.defaultChecked);
    // In a nested scope, and in each row, they get the full name, or two scopes would make one group.
    const { scope = "" } = context;
    if (scope !== "" || field.name.includes(".")) for (const element of elements) element.name = scope + field.name;
    if (chosen !== undefined) this.#take(chosen);
  }

  protected override takeRestored(): void {
    const chosen = this.elements.find((element) => element.checked);
    if (chosen === undefined) this.show();
    else this.#take(chosen);
  }

  protected show(): void {
    const value = this.field.value === undefined ? undefined : String(this.field.value);
    for (const element of this.elements) element.checked = element.value === value;
  }

  /** Pressing the chosen one again takes an optional choice back. */
  click(event: MouseEvent): void {
    if (this.readOnly) event.preventDefault();
    else this.#takeBack(event.target as HTMLInputElement);
  }

  /** By key too, where the platform does nothing: Space on the chosen one, Delete and Backspace. */
  keydown(event: KeyboardEvent): void {
    if (![" ", "Delete", "Backspace"].includes(event.key) || this.readOnly) return;
    if (this.#takeBack(event.target as HTMLInputElement)) event.preventDefault();
  }

  #takeBack(element: HTMLInputElement): boolean {
    const { value, kind } = this.field;
    const optional = this.canBeBlank && kind.empty === undefined;
    if (!optional || value === undefined || String(value) !== element.value) return false;
    this.choose(undefined, element);
    return true;
  }

  change(event: Event): void {
    this.#take(event.target as HTMLInputElement);
  }

  #take(element: HTMLInputElement): void {
    const choice = this.field.choices?.find((each) => String(each.const) === element.value);
    if (choice !== undefined) this.choose(choice.const, element);
  }

  override focus(): void {
    (this.elements.find((element) => element.checked) ?? this.elements[0]!).focus();
  }
}
