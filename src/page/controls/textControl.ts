import { changeNow } from "../../engine/index.ts";
import { spinnerKey, stepped, type StepLimits, whatToShow } from "../../control/index.ts";
import type { Field } from "../../entry/index.ts";
import { toggleAttribute } from "../dom.ts";
import { type ControlContext, PageControl } from "./PageControl.ts";

const misjudging = new Set(["maxlength", "minlength", "pattern"]);

type TextElement = HTMLInputElement | HTMLTextAreaElement;

/** A text field, a field for numbers, or a multi-line text. */
export class TextControl extends PageControl<TextElement> {
  readonly #element: TextElement;
  readonly #numeric: boolean;
  readonly #spins: boolean;
  #focused = false;
  #composing = false;
  /** Whether something that a person asked for waits until the text is composed. */
  #rewriteLater = false;
  /** What the element held when it was last written or read here. */
  #last = "";

  constructor(field: Field, element: TextElement, context: ControlContext) {
    super(field, [element], context);
    this.#element = element;
    this.#numeric = ["number", "integer", "decimal"].includes(field.kind.kind);
    this.#spins = this.#numeric && field.kind.kind !== "decimal" && element.type === "number";
    if (this.#numeric) this.#becomeText(element as HTMLInputElement);
    // These would cut text off, or judge it otherwise than the model does.
    for (const name of element.getAttributeNames()) if (misjudging.has(name)) element.removeAttribute(name);
    this.#last = element.value;
    this.#focused = element.ownerDocument.activeElement === element;
    this.#takeWhatIsThere();
  }

  /** A platform number control loses or misreads text that it can't parse, so it becomes a text field. */
  #becomeText(element: HTMLInputElement): void {
    if (element.type !== "text") element.type = "text";
    const { minimum, multipleOf } = this.field.kind.options as StepLimits;
    const whole = this.field.kind.kind === "integer" || (multipleOf !== undefined && Number.isInteger(multipleOf));
    // The keyboard of `numeric` has no minus sign on some devices.
    element.inputMode = minimum !== undefined && minimum >= 0 ? (whole ? "numeric" : "decimal") : "text";
    if (this.#spins) element.setAttribute("role", "spinbutton");
    element.autocomplete ||= "off";
  }

  /** What a person, autofill or a restored page put in before this was bound counts as typed. */
  #takeWhatIsThere(): void {
    const { value, defaultValue } = this.#element;
    if (value !== defaultValue && value !== "" && value !== this.field.text) this.enter(value, this.#element);
  }

  protected show(): void {
    const { field } = this;
    // Read in any case, so that each of them is followed.
    const { display } = field;
    const change = changeNow();
    const what = whatToShow({
      focused: this.#focused,
      composing: this.#composing,
      cause: change.cause,
      own: change.cause === "typed" && change.control === this.#element,
    });
    if (what === "display") this.#write(display);
    else if (what === "text") this.#write(field.text);
    else if (what === "later") this.#rewriteLater = true;
    if (this.#spins) this.#showRange();
  }

  #showRange(): void {
    const { minimum, maximum } = this.field.kind.options as StepLimits;
    const value = this.field.value as number | undefined;
    toggleAttribute(this.#element, "aria-valuemin", minimum === undefined ? undefined : String(minimum));
    toggleAttribute(this.#element, "aria-valuemax", maximum === undefined ? undefined : String(maximum));
    toggleAttribute(this.#element, "aria-valuenow", value === undefined ? undefined : String(value));
  }

  protected override showReadOnly(readOnly: boolean): void {
    this.#element.readOnly = readOnly;
  }

  input(event: Event): void {
    if ((event as InputEvent).isComposing) {
      this.#composing = true;
      return;
    }
    this.#take();
  }

  compositionend(): void {
    this.#composing = false;
    if (!this.#rewriteLater) return this.#take();
    this.#rewriteLater = false;
    this.#write(this.field.text);
  }

  change(): void {
    // Autofill of some browsers says only this.
    if (this.#element.value !== this.#last) this.#take();
  }

  #take(): void {
    this.#last = this.#element.value;
    this.enter(this.#element.value, this.#element);
  }

  focusin(): void {
    this.#focused = true;
    if (this.readOnly || this.#element.value === this.field.text) return;
    this.#write(this.field.text);
    // A pointer puts the caret where it points; a key or code selects the whole, as the platform would have done.
    if (!this.#element.matches(":active")) this.#element.select();
  }

  override focusout(): void {
    this.#focused = false;
    if (this.#composing) this.compositionend();
    super.focusout();
    this.#write(this.field.display);
  }

  keydown(event: KeyboardEvent): void {
    if (!this.#spins || this.readOnly || event.altKey || event.ctrlKey || event.metaKey) return;
    const what = spinnerKey(event.key);
    if (what === undefined || this.field.unreadable) return;
    event.preventDefault();
    this.choose(
      stepped(this.field.value as number | undefined, what, this.field.kind.options as StepLimits),
      this.#element,
    );
    this.#write(this.field.text);
  }

  /** Writes only what differs; what was selected as a whole, as by Tab, stays so. */
  #write(text: string): void {
    const element = this.#element;
    if (element.value === text) return;
    const all =
      this.#focused &&
      element.value !== "" &&
      element.selectionStart === 0 &&
      element.selectionEnd === element.value.length;
    element.value = text;
    this.#last = element.value;
    if (all) element.select();
  }
}
