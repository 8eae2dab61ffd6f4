import { activeBeside } from "../dom.ts";
import type { FieldState } from "../../entry/index.ts";
import type { ControlContext } from "../controls/ControlContext.ts";
import { TextControl } from "../controls/textControl.ts";
import type { Combo } from "./combo.ts";
import { makeOpener, type Opener } from "./opener.ts";

/**
 * A combo box on a plain text field, after the combobox pattern of ARIA: typing filters the choices, arrow keys walk them,
 * Enter takes one, Escape closes. Where choices can grow, what was typed can be added. Its list is loaded when somebody
 * comes to it; until then it is a text field that reads captions.
 */
export class ComboControl extends TextControl {
  #combo: Combo | undefined;
  #loading: Promise<void> | undefined;
  #stopped = false;
  readonly #opener: Opener;
  /** The keys that were pressed while the list was being loaded, from the first on that opens it. */
  #keys: KeyboardEvent[] = [];

  constructor(field: FieldState, element: HTMLInputElement, context: ControlContext) {
    super(field, element, context);
    element.setAttribute("role", "combobox");
    element.setAttribute("aria-autocomplete", "list");
    element.setAttribute("aria-expanded", "false");
    this.#opener = makeOpener(element, () => void this.#press());
    // What was typed before the page was bound is looked for too.
    if (activeBeside(element) === element) void this.#load("");
  }

  override focusin(): void {
    super.focusin();
    void this.#load();
  }

  /** @param before - what stood in the field before anything was typed */
  #load(before = this.element.value): Promise<void> {
    this.#loading ??= import("./combo.ts").then(({ Combo: Loaded }) => {
      if (this.#stopped) return;
      this.#combo = new Loaded(this);
      // What was typed while it was loaded.
      const isTyped = this.element.value !== before && (before !== "" || this.field.unreadable);
      if (this.focused && isTyped) this.#combo.typed();
      for (const key of this.#keys.splice(0)) if (this.focused) this.#combo.keydown(key);
    });
    return this.#loading;
  }

  async #press(): Promise<void> {
    await this.#load();
    this.#combo?.toggle();
  }

  protected override showReadOnly(readOnly: boolean): void {
    super.showReadOnly(readOnly);
    this.#opener.button.disabled = readOnly;
  }

  protected override showRelevant(relevant: boolean): void {
    super.showRelevant(relevant);
    this.#opener.button.hidden = !relevant;
  }

  protected override take(): void {
    super.take();
    this.#combo?.typed();
  }

  click(): void {
    if (!this.readOnly) this.#combo?.click();
  }

  keydown(event: KeyboardEvent): void {
    if (this.readOnly) return;
    if (this.#combo !== undefined) return this.#combo.keydown(event);
    const opens = event.key === "ArrowDown" || event.key === "ArrowUp";
    if ((this.#keys.length === 0 && !opens) || event.ctrlKey || event.metaKey || event.key === "Tab") return;
    // What is typed goes on being typed; the other keys are of the list.
    if (event.key.length > 1) event.preventDefault();
    if (event.key.length > 1) this.#keys.push(new KeyboardEvent("keydown", event));
    void this.#load();
  }

  override focusout(event?: FocusEvent): void {
    this.#combo?.close();
    super.focusout(event);
  }

  override stop(): void {
    this.#stopped = true;
    this.#combo?.stop();
    this.#opener.stop();
    super.stop();
  }
}
