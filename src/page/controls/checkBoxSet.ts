import type { FieldState } from "../../entry/index.ts";
import type { ControlContext } from "./ControlContext.ts";
import { PageControl } from "./PageControl.ts";

/** Check boxes of one name, bound to one list of values. */
export class CheckBoxSet extends PageControl<HTMLInputElement> {
  constructor(field: FieldState, elements: readonly HTMLInputElement[], context: ControlContext) {
    super(field, elements, context);
    if (elements.some((element) => element.checked !== element.defaultChecked)) this.#take(elements[0]!);
  }

  protected override takeRestored(): void {
    this.#take(this.elements[0]!);
  }

  protected show(): void {
    const values = (this.field.value as readonly unknown[]).map(String);
    for (const element of this.elements) element.checked = values.includes(element.value);
  }

  /** No one box of a set has to be ticked. */
  protected override showRequired(): void {}

  click(event: MouseEvent): void {
    if (this.readOnly) event.preventDefault();
  }

  change(event: Event): void {
    this.#take(event.target as HTMLInputElement);
  }

  /** Values without a box, as from an old row, are kept. */
  #take(control: HTMLInputElement): void {
    const boxes = new Set(this.elements.map((element) => element.value));
    const ticked = new Set(this.elements.filter((element) => element.checked).map((element) => element.value));
    const choices = (this.field.kind.choices ?? [])
      .map((choice) => choice.const)
      .filter((value) => ticked.has(String(value)));
    const others = (this.field.value as readonly unknown[]).filter((value) => !boxes.has(String(value)));
    this.choose([...choices, ...others], control);
  }
}
