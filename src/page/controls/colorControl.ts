import type { FieldState } from "../../entry/index.ts";
import { toggleAttribute } from "../dom.ts";
import { StandIn } from "./standIn.ts";
import type { ControlContext } from "./ControlContext.ts";
import { PageControl } from "./PageControl.ts";

/** The platform's colour picker. It can't look empty, so while nothing is chosen it says so. */
export class ColorControl extends PageControl<HTMLInputElement> {
  readonly #element: HTMLInputElement;
  readonly #standIn: StandIn;

  constructor(field: FieldState, element: HTMLInputElement, context: ControlContext) {
    super(field, [element], context);
    this.#element = element;
    this.#standIn = new StandIn(element);
    if (element.value !== element.defaultValue && element.defaultValue !== "") this.input();
  }

  protected override takeRestored(): void {
    this.input();
  }

  protected show(): void {
    const value = this.field.value as string;
    const blank = this.field.blank;
    if (!blank) this.#element.value = value;
    const text = blank ? this.context.say("notSet") : this.field.display;
    toggleAttribute(this.#element, "aria-description", text);
    this.#standIn.show(text, blank, this.field.relevant);
  }

  protected override showRequired(): void {
    // HTML has no required colours; that it is missing is said by its message.
  }

  click(event: MouseEvent): void {
    if (this.readOnly) event.preventDefault();
  }

  keydown(event: KeyboardEvent): void {
    if (this.readOnly && (event.key === " " || event.key === "Enter")) return event.preventDefault();
    if (!["Delete", "Backspace"].includes(event.key) || this.readOnly || !this.canBeBlank) return;
    this.choose("", this.#element);
  }

  input(): void {
    if (this.readOnly) this.show();
    else this.choose(this.#element.value, this.#element);
  }

  override stop(): void {
    super.stop();
    this.#standIn.stop();
  }
}
