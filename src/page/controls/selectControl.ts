import type { Field } from "../../entry/index.ts";
import { type ControlContext, PageControl } from "./PageControl.ts";

/** A drop-down list, or with `multiple` a list box, of the model's choices. */
export class SelectControl extends PageControl<HTMLSelectElement> {
  readonly #element: HTMLSelectElement;
  /** The first option that stands for "nothing chosen"; made where the page has none. */
  #blank: HTMLOptionElement | undefined;
  /** An extra option for a value that is none of the choices: kept, shown, and not to be chosen again. */
  #foreign: HTMLOptionElement | undefined;
  readonly #made: HTMLOptionElement[] = [];

  constructor(field: Field, element: HTMLSelectElement, context: ControlContext) {
    super(field, [element], context);
    this.#element = element;
    const initial = [...element.options].find(
      (option) => option.selected && !option.defaultSelected && option.value !== "",
    );
    const shownFirst = element.multiple ? undefined : element.options[0];
    this.#fill();
    if (initial !== undefined && initial !== shownFirst) this.change();
  }

  #fill(): void {
    const { options } = this.#element;
    this.#blank = [...options].find((option) => option.value === "");
    if ([...options].some((option) => option !== this.#blank)) return;
    for (const { const: value, title } of this.field.kind.choices ?? [])
      this.#element.append(this.#make(String(value), title));
  }

  #make(value: string, title: string): HTMLOptionElement {
    const option = this.#element.ownerDocument.createElement("option");
    option.value = value;
    option.textContent = title;
    this.#made.push(option);
    return option;
  }

  protected show(): void {
    if (this.#element.multiple) this.#showSome();
    else this.#showOne();
  }

  #showOne(): void {
    const { value } = this.field;
    if (value === undefined) {
      this.#ensureBlank();
      this.#blank!.selected = true;
    } else {
      const option = [...this.#element.options].find((each) => each !== this.#foreign && each.value === String(value));
      if (option !== undefined) option.selected = true;
      else this.#showForeign(String(value));
      if (option !== undefined) this.#dropForeign();
    }
    if (value === undefined) this.#dropForeign();
    this.#keepBlankInStep();
  }

  #showSome(): void {
    const values = (this.field.value as readonly unknown[]).map(String);
    for (const option of this.#element.options) option.selected = values.includes(option.value);
  }

  #ensureBlank(): void {
    if (this.#blank?.isConnected === true) return;
    this.#blank ??= this.#make("", "");
    this.#element.prepend(this.#blank);
  }

  /** Once a required choice is made, or where a default comes back, there is no way to nothing. */
  #keepBlankInStep(): void {
    const { required, kind, value } = this.field;
    const canBeBlank = value === undefined || !(required || kind.options.default !== undefined);
    if (canBeBlank) this.#ensureBlank();
    if (this.#blank !== undefined && this.#made.includes(this.#blank)) this.#blank.disabled = !canBeBlank;
  }

  #showForeign(value: string): void {
    this.#foreign ??= this.#make(value, value);
    this.#foreign.value = value;
    this.#foreign.textContent = value;
    this.#foreign.disabled = true;
    if (!this.#foreign.isConnected) this.#element.append(this.#foreign);
    this.#foreign.selected = true;
  }

  #dropForeign(): void {
    this.#foreign?.remove();
  }

  change(): void {
    if (this.readOnly) return this.show();
    const chosen = [...this.#element.selectedOptions].map((option) => option.value);
    const choices = (this.field.kind.choices ?? [])
      .map((choice) => choice.const)
      .filter((value) => chosen.includes(String(value)));
    this.choose(this.#element.multiple ? choices : choices[0], this.#element);
  }

  override stop(): void {
    super.stop();
    for (const option of this.#made) option.remove();
  }
}
