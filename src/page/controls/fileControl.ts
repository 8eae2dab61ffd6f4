import { notices } from "../../command/index.ts";
import type { FieldState } from "../../entry/index.ts";
import type { ControlContext } from "./ControlContext.ts";
import { PageControl } from "./PageControl.ts";

/** A picked file: its value is the `File`, with name, size and type. */
export class FileControl extends PageControl<HTMLInputElement> {
  readonly #element: HTMLInputElement;

  constructor(field: FieldState, element: HTMLInputElement, context: ControlContext) {
    super(field, [element], context);
    this.#element = element;
    const { accept } = field.kind.options as { accept?: string };
    if (accept !== undefined) element.accept = accept;
    if ((element.files?.length ?? 0) > 0) this.change();
  }

  /** No page may put a file into this control, so it can only be emptied, or given the very files it had. */
  protected show(): void {
    const value = this.field.value;
    if (this.#element.files?.[0] === value) return;
    this.#element.value = "";
    if (typeof value !== "object" || value === null) return;
    const transfer = new DataTransfer();
    transfer.items.add(value as File);
    this.#element.files = transfer.files;
  }

  click(event: MouseEvent): void {
    if (this.readOnly) event.preventDefault();
  }

  keydown(event: KeyboardEvent): void {
    if (!["Delete", "Backspace"].includes(event.key) || this.readOnly) return;
    this.choose(undefined, this.#element);
  }

  /** One file is one; of several, none is taken without a word. */
  change(): void {
    const { files } = this.#element;
    if (files !== null && files.length > 1) {
      notices.sayNow(this.field.kind.say!(this.field.locale, "oneFile"), "error");
      // What was there before is there again.
      const value = this.field.value;
      this.#element.value = "";
      if (value !== undefined) this.show();
      return;
    }
    this.choose(files?.[0], this.#element);
  }
}
