import { mirror, type Stoppable } from "../engine/index.ts";
import { type CalculatedFieldState, type EntryState, FieldState } from "../entry/index.ts";
import { type ControlElement, isControl } from "./dom.ts";
import { FoundElement } from "./found.ts";
import { showOutput } from "./output.ts";
import { showProblemsOf } from "./problems/shown.ts";

/** What only shows values in a form: outputs, and controls of calculated values. */
export class FormOutputs {
  /** By their elements, with the names of their fields. */
  readonly shown = new Map<Element, { readonly name: string; readonly stop: () => void }>();
  readonly #entry: EntryState;
  readonly #prefix: string;

  /** @param prefix - of the ids of messages */
  constructor(entry: EntryState, prefix: string) {
    this.#entry = entry;
    this.#prefix = prefix;
  }

  add(element: Element, name: string): void {
    if (this.shown.has(element)) return;
    const field = this.#entry.core.field(name);
    this.#add(element, field, showOutput(element, field));
  }

  /** A calculated value shown in an editable control is read-only. */
  addControl(element: ControlElement, name: string): void {
    if (this.shown.has(element) || !("readOnly" in element)) return;
    const field = this.#entry.core.field(name);
    const input = element as HTMLInputElement;
    const found = new FoundElement(element);
    input.readOnly = true;
    if (input.type === "number") input.type = "text";
    const showing = mirror(() => {
      input.value = field.display;
    }, name);
    this.#add(element, field, {
      stop: () => {
        showing.stop();
        found.restore();
      },
    });
  }

  /** What is wrong with a value that is only shown stands where it is shown first. */
  #add(element: Element, field: FieldState | CalculatedFieldState, showing: Pick<Stoppable, "stop">): void {
    const { name } = field;
    // A message can't follow a cell of a table or an item of a list.
    const takesMessage = element.localName === "output" || isControl(element);
    const isFirst = [...this.shown.values()].every((output) => output.name !== name);
    const problems =
      field instanceof FieldState || !takesMessage || !isFirst
        ? undefined
        : showProblemsOf(field, element as HTMLElement, `${this.#prefix}-${name}-problem`);
    this.shown.set(element, {
      name,
      stop: () => {
        problems?.stop();
        showing.stop();
      },
    });
  }

  /** Lets go of what is gone, or has another name. */
  dropIf(isOther: (element: Element, name: string) => boolean): void {
    for (const [element, { name, stop }] of this.shown)
      if (isOther(element, name)) {
        stop();
        this.shown.delete(element);
      }
  }

  stop(): void {
    for (const { stop } of this.shown.values()) stop();
    this.shown.clear();
  }
}
