import { type Choice, sameChoices } from "../../model/index.ts";
import { TextControl } from "./textControl.ts";

/** A text field with the platform's own suggestions: the `datalist` that it names gets the choices, unless it lists some. */
export class SuggestedControl extends TextControl {
  #filled: readonly Choice[] = [];
  #made: HTMLOptionElement[] = [];
  #own: boolean | undefined;

  protected override show(): void {
    super.show();
    const list = (this.element as HTMLInputElement).list;
    if (list === null) return;
    this.#own ??= list.options.length > 0;
    const choices = this.field.choices ?? [];
    if (this.#own || sameChoices(choices, this.#filled)) return;
    this.#filled = choices;
    this.#clear();
    this.#made = choices.map(({ title }) => {
      const option = list.ownerDocument.createElement("option");
      option.value = title;
      return option;
    });
    list.append(...this.#made);
  }

  #clear(): void {
    for (const option of this.#made) option.remove();
  }

  override stop(): void {
    super.stop();
    this.#clear();
  }
}
