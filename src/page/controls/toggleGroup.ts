import type { FieldState } from "../../entry/index.ts";
import { FoundElement } from "../found.ts";
import type { ControlContext } from "./ControlContext.ts";
import { PageControl } from "./PageControl.ts";

/**
 * Toggle buttons: `<button type="button" name="…">`. One alone is pressed for yes; several with a `value` each stand for
 * choices, of which one is pressed, or of a list any number.
 *
 * A button that the page gives a text keeps it, and its state is `aria-pressed`. One without text has the title of the
 * value for its caption, which follows; then the caption says the state, and `aria-pressed` would say it twice.
 */
export class ToggleGroup extends PageControl<HTMLButtonElement> {
  readonly #captioned: readonly HTMLButtonElement[];
  /** Those that have the title of their choice for a caption. */
  readonly #named: readonly HTMLButtonElement[];
  readonly #bare: readonly FoundElement[];

  constructor(field: FieldState, elements: readonly HTMLButtonElement[], context: ControlContext) {
    super(field, elements, context);
    // An icon is a caption of its own.
    const isBare = (element: HTMLButtonElement): boolean =>
      element.textContent.trim() === "" && element.childElementCount === 0;
    this.#bare = elements.filter(isBare).map((element) => new FoundElement(element, true));
    this.#captioned = elements.filter((element) => isBare(element) && element.value === "");
    this.#named = elements.filter((element) => isBare(element) && element.value !== "");
  }

  protected show(): void {
    const { value, display, choices = [] } = this.field;
    for (const element of this.#named)
      element.textContent = choices.find((each) => String(each.const) === element.value)?.title ?? element.value;
    for (const element of this.elements) {
      if (this.#captioned.includes(element)) element.textContent = value === undefined ? "…" : display;
      else element.ariaPressed = String(this.#isPressed(element));
    }
  }

  #isPressed(element: HTMLButtonElement): boolean {
    const { value } = this.field;
    if (element.value === "") return value === true;
    return Array.isArray(value) ? value.map(String).includes(element.value) : String(value) === element.value;
  }

  protected override showRequired(): void {
    // HTML has no required buttons; that one has to be pressed is said by the message.
  }

  click(event: MouseEvent): void {
    const element = (event.target as Element).closest("button");
    if (element === null || this.readOnly) return;
    this.choose(this.#next(element), element);
  }

  #next(element: HTMLButtonElement): unknown {
    const { value, choices = [] } = this.field;
    if (element.value === "") return value !== true;
    const choice = choices.find((each) => String(each.const) === element.value)?.const;
    // What stands for no choice takes none away; the judge of pages tells the builder.
    if (choice === undefined) return value;
    if (Array.isArray(value))
      return choices
        .map((each) => each.const)
        .filter((each) => (each === choice ? !value.includes(each) : value.includes(each)));
    // Pressing the pressed one again takes a choice back, where nothing has to be chosen.
    return this.#isPressed(element) && this.canBeBlank && this.field.kind.empty === undefined ? undefined : choice;
  }

  override focus(): void {
    (this.elements.find((element) => element.ariaPressed === "true") ?? this.elements[0]!).focus();
  }

  override get label(): string {
    return this.elements.length === 1 ? this.elements[0]!.textContent.trim() : super.label;
  }

  protected override restorePage(): void {
    for (const found of this.#bare) found.restore();
    super.restorePage();
  }
}
