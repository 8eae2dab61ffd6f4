import type { FieldState } from "../../entry/index.ts";
import { type Choice, sameChoices } from "../../model/index.ts";
import { toggleAttribute } from "../dom.ts";
import { followUntoldChoices, type KnownChoice } from "../list/untoldChoice.ts";
import type { ControlContext } from "./ControlContext.ts";
import { PageControl } from "./PageControl.ts";

/**
 * A drop-down list, or a list box for one or several of the choices. The page may list the options itself, in groups and
 * with captions of its own; otherwise they are the model's, and follow it.
 */
export class SelectControl extends PageControl<HTMLSelectElement> {
  readonly #element: HTMLSelectElement;
  /** Whether the options are made here. */
  readonly #fills: boolean;
  #filled: readonly Choice[] = [];
  /** The first option that stands for "nothing chosen"; made where the page has none. */
  #blank: HTMLOptionElement | undefined;
  /** The same, where it is the page's. */
  readonly #ownBlank: { readonly option: HTMLOptionElement; readonly disabled: boolean } | undefined;
  /** An extra option for a value that is none of the choices: kept, shown, and not to be chosen again. */
  #foreign: HTMLOptionElement | undefined;
  readonly #made = new Set<HTMLOptionElement>();
  readonly #known: KnownChoice;

  constructor(field: FieldState, element: HTMLSelectElement, context: ControlContext) {
    super(field, [element], context);
    this.#element = element;
    this.#known = followUntoldChoices(element, () => this.change());
    const { options } = element;
    this.#blank = element.multiple ? undefined : [...options].find((option) => option.value === "");
    if (this.#blank !== undefined) this.#ownBlank = { option: this.#blank, disabled: this.#blank.disabled };
    this.#fills = [...options].every((option) => option === this.#blank);
    const initial = [...options].find(
      (option) => option.selected && !option.defaultSelected && option.value !== "" && option !== options[0],
    );
    if (initial !== undefined) this.change();
  }

  protected override takeRestored(): void {
    this.change();
  }

  /** A list box can look empty, and has room for no blank option. */
  get #canLookEmpty(): boolean {
    return this.#element.multiple || this.#element.size > 1;
  }

  #make(value: string, title: string): HTMLOptionElement {
    const option = this.#element.ownerDocument.createElement("option");
    option.value = value;
    option.textContent = title;
    this.#made.add(option);
    return option;
  }

  protected show(): void {
    if (this.#fills) this.#fill(this.field.choices ?? []);
    const { value } = this.field;
    const values = [value ?? []]
      .flat()
      .map(String)
      .filter((each) => each !== "");
    if (this.#element.multiple)
      for (const option of this.#element.options) option.selected = values.includes(option.value);
    else this.#showOne(values[0]);
    this.#showForeign(values);
    this.#known.note();
  }

  #fill(choices: readonly Choice[]): void {
    if (sameChoices(choices, this.#filled)) return;
    this.#filled = choices;
    for (const option of this.#made) if (option !== this.#blank) option.remove();
    this.#made.clear();
    if (this.#blank !== undefined) this.#made.add(this.#blank);
    this.#element.append(...choices.map(({ const: value, title }) => this.#make(String(value), title)));
  }

  #showOne(value: string | undefined): void {
    const { options } = this.#element;
    if (!this.#canLookEmpty) this.#keepBlankInStep(value);
    if (value === undefined) {
      if (this.#canLookEmpty) this.#element.selectedIndex = -1;
      else this.#blank!.selected = true;
    } else for (const option of options) if (option.value === value) option.selected = true;
  }

  /** Once a required choice is made, or where a default comes back, there is no way to nothing. */
  #keepBlankInStep(value: string | undefined): void {
    const wanted = value === undefined || this.canBeBlank;
    if (wanted && this.#blank?.isConnected !== true) {
      this.#blank ??= this.#make("", "");
      this.#element.prepend(this.#blank);
    }
    if (this.#blank !== undefined && this.#made.has(this.#blank)) this.#blank.disabled = !wanted;
  }

  /** Options for values that are none of the choices. */
  #showForeign(values: readonly string[]): void {
    const offered = new Set(
      [...this.#element.options].filter((each) => each !== this.#foreign).map((each) => each.value),
    );
    const foreign = values.find((value) => !offered.has(value));
    if (foreign === undefined) {
      this.#foreign?.remove();
      return;
    }
    this.#foreign ??= this.#make(foreign, "");
    this.#foreign.value = foreign;
    this.#foreign.textContent = this.#element.multiple ? foreign : this.field.display;
    this.#foreign.disabled = true;
    if (!this.#foreign.isConnected) this.#element.append(this.#foreign);
    this.#foreign.selected = true;
  }

  change(): void {
    if (this.readOnly) return this.show();
    this.#known.note();
    const chosen = [...this.#element.selectedOptions].map((option) => option.value);
    const { choices, kind, value } = this.field;
    if (choices === undefined) return this.choose(chosen[0] ?? "", this.#element);
    const values = choices.map((choice) => choice.const).filter((each) => chosen.includes(String(each)));
    if (!Array.isArray(value)) return this.choose(values[0] ?? kind.empty, this.#element);
    // Values without an option, as from an old row, are kept.
    const known = new Set(choices.map((choice) => choice.const));
    this.choose([...values, ...(value as readonly unknown[]).filter((each) => !known.has(each))], this.#element);
  }

  /** A list box with one choice takes it back by Delete or Backspace. */
  keydown(event: KeyboardEvent): void {
    if (!["Delete", "Backspace"].includes(event.key) || this.readOnly || !this.canBeBlank || this.field.blank) return;
    event.preventDefault();
    this.choose(this.field.kind.empty, this.#element);
  }

  protected override showReadOnly(readOnly: boolean): void {
    super.showReadOnly(readOnly);
    // Assistive technology supports `aria-readonly` for list boxes; a drop-down needs `aria-disabled`.
    if (this.#canLookEmpty) toggleAttribute(this.#element, "aria-readonly", readOnly ? "true" : undefined);
  }

  protected override restorePage(): void {
    this.#known.stop();
    for (const option of this.#made) option.remove();
    this.#foreign?.remove();
    if (this.#ownBlank !== undefined && !this.#ownBlank.option.isConnected)
      this.#element.prepend(this.#ownBlank.option);
    if (this.#ownBlank !== undefined) this.#ownBlank.option.disabled = this.#ownBlank.disabled;
    super.restorePage();
  }
}
