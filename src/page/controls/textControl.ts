import { activeBeside } from "../dom.ts";
import { changeNow } from "../../engine/index.ts";
import { whatToShow } from "../../control/index.ts";
import type { FieldState } from "../../entry/index.ts";
import type { AnyKind } from "../../model/index.ts";
import type { ControlContext } from "./ControlContext.ts";
import { PageControl } from "./PageControl.ts";

/** They would cut text off, or judge it otherwise than the model does. */
const misjudging = ["maxlength", "minlength", "pattern"];

export type TextElement = HTMLInputElement | HTMLTextAreaElement;

/** Makes a field for text of any element that text is typed into: a platform number control loses what it can't parse. */
export function prepareText(element: TextElement, { inputMode, kind }: AnyKind): void {
  if (inputMode === undefined) {
    // Dates may stand in a text field; a slider, a date picker and their like have controls of their own.
    if (element.type === "number") (element as HTMLInputElement).type = "text";
    // The platform's own suggestions would lie over the choices.
    if (kind === "oneOf" && element.autocomplete === "") element.autocomplete = "off";
    return;
  }
  // A multi-line text takes a number as a text field does, and has no other type.
  if (element.localName === "input" && element.type !== "text") (element as HTMLInputElement).type = "text";
  if (element.inputMode !== inputMode) element.inputMode = inputMode;
}

/** A text field, a field for numbers, or a multi-line text. */
export class TextControl extends PageControl<TextElement> {
  readonly element: TextElement;
  #focused = false;
  #composing = false;
  #isShown = false;
  /** Whether something that a person asked for waits until the text is composed. */
  #rewriteLater = false;
  /** The text of the element when it was last written or read here. */
  #last: string;

  constructor(field: FieldState, element: TextElement, context: ControlContext) {
    super(field, [element], context);
    this.element = element;
    prepareText(element, field.kind);
    for (const name of misjudging) element.removeAttribute(name);
    this.#last = element.value;
    this.#focused = activeBeside(element) === element;
  }

  /** What it shows is what the field began with, so anything else in it was put there since. */
  override wake(): this {
    this.#last = this.field.display;
    this.#isShown = true;
    return super.wake();
  }

  override start(): this {
    this.#takeWhatIsThere();
    return super.start();
  }

  /** What a person, autofill or a restored page put in before this was bound counts as typed. */
  #takeWhatIsThere(): void {
    const { value, defaultValue } = this.element;
    if (value !== "" && value !== defaultValue && value !== this.field.text) this.enter(value, this.element);
  }

  protected show(): void {
    const { field } = this;
    const { cause, control } = changeNow();
    const own = cause === "typed" && control === this.element;
    // Who is in it already when it is bound has nothing to keep: what they had typed was taken.
    if (!this.#isShown && !own) {
      this.#isShown = true;
      this.write(this.#focused ? field.text : field.display);
      return;
    }
    const what = own ? "keep" : whatToShow({ focused: this.#focused, composing: this.#composing, cause, own });
    if (what === "display") this.write(field.display);
    else if (what === "text") this.write(field.text);
    else {
      if (what === "later") this.#rewriteLater = true;
      // Nothing is shown, but what would be is followed.
      field.trackReads();
    }
  }

  protected override showReadOnly(readOnly: boolean): void {
    this.element.readOnly = readOnly;
  }

  protected override get readOnlyIsPlain(): boolean {
    return true;
  }

  get focused(): boolean {
    return this.#focused;
  }

  input(): void {
    if (!this.#composing) this.take();
  }

  compositionstart(): void {
    this.#composing = true;
  }

  compositionend(): void {
    this.#composing = false;
    if (!this.#rewriteLater) return this.take();
    this.#rewriteLater = false;
    this.write(this.field.text);
  }

  override restored(): void {
    if (this.element.value === this.#last) return;
    this.take();
    this.write(this.#focused ? this.field.text : this.field.display);
  }

  change(): void {
    // Autofill of some browsers says only this.
    if (this.element.value !== this.#last) this.take();
  }

  protected take(): void {
    this.#last = this.element.value;
    this.enter(this.#last, this.element);
  }

  focusin(): void {
    this.#focused = true;
    if (this.readOnly || this.element.value === this.field.text) return;
    this.write(this.field.text);
    // A pointer puts the caret where it points; a key or code selects the whole, as the platform would have done.
    if (!this.element.matches(":active")) this.element.select();
  }

  override focusout(event?: FocusEvent): void {
    this.#focused = false;
    if (this.#composing) this.compositionend();
    this.write(this.field.display);
    super.focusout(event);
  }

  /** Writes only what differs; what was selected as a whole, as by Tab, stays so. */
  write(text: string): void {
    const { element } = this;
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
