import type { FieldState } from "../../entry/index.ts";
import type { ControlAdapter } from "./adapters.ts";
import type { ControlContext } from "./ControlContext.ts";
import { PageControl } from "./PageControl.ts";

/** A custom element, as of a component library, shown by what an adapter says of it, or by its `value` or `checked`. */
export class CustomControl extends PageControl {
  readonly #element: HTMLElement;
  readonly #adapter: ControlAdapter;
  /** Some elements say that they changed when the page changes them too. */
  #showing = false;
  readonly #hear = (event: Event): void => {
    if (event.target === this.#element && !this.#showing) this.#take();
  };
  readonly #leave = (): void => this.leave();

  constructor(field: FieldState, element: HTMLElement, adapter: ControlAdapter, context: ControlContext) {
    super(field, [element], context);
    this.#element = element;
    this.#adapter = adapter;
    for (const type of adapter.hears) element.addEventListener(type, this.#hear);
    element.addEventListener("blur", this.#leave);
  }

  protected show(): void {
    const { field } = this;
    // As with the platform's own text fields, what a person is typing is not rewritten by the typing.
    const focused = this.#element.matches(":focus-within");
    this.#showing = true;
    try {
      this.#adapter.show(this.#element, {
        value: field.value,
        text: focused && !field.blank ? field.text : field.display,
        choices: field.choices,
        focused,
      });
    } finally {
      this.#showing = false;
    }
    const wrong = field.visibleProblems[0]?.message;
    this.#adapter.showProblem?.(this.#element, wrong);
  }

  #take(): void {
    if (this.readOnly) return this.show();
    const taken = this.#adapter.take(this.#element, this.field.choices, this.field.value);
    if ("text" in taken) this.enter(taken.text, this.#element);
    else this.choose(taken.value ?? this.field.kind.empty, this.#element);
  }

  protected override showReadOnly(readOnly: boolean): void {
    if ("readOnly" in this.#element) this.#element.readOnly = readOnly;
    else if ("readonly" in this.#element) this.#element.readonly = readOnly;
    else super.showReadOnly(readOnly);
  }

  override focusout(): void {
    this.#leave();
    this.show();
  }

  override stop(): void {
    super.stop();
    for (const type of this.#adapter.hears) this.#element.removeEventListener(type, this.#hear);
    this.#element.removeEventListener("blur", this.#leave);
  }
}
