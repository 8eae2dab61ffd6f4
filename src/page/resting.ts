import { untracked } from "../engine/index.ts";
import type { EntryCore, FieldState } from "../entry/index.ts";
import { type AnyKind, showValue } from "../model/index.ts";
import { describe, prepareText, TextControl, type ControlContext, type TextElement } from "./controls/index.ts";
import type { ControlElement } from "./dom.ts";
import { FoundElement } from "./found.ts";

/**
 * Text controls of fields that nobody has looked at yet. Such a field holds what its entry began with, so its control
 * shows that, and nothing more is made for it: most controls of a large form are never touched. One wakes when an event
 * comes to it, or when anybody looks at its field.
 */
export class RestingControls {
  readonly #found = new Map<string, TextElement>();
  /** Controls that rest and are not in the index by name yet: most forms are never asked for one by name. */
  #names: string[] = [];
  #resting: TextElement[] = [];
  #active: Element | null = null;
  #start: Readonly<Record<string, unknown>> = {};
  /** All that ever rested here; and those that had attributes which were written, as they were. */
  readonly #shown: TextElement[] = [];
  readonly #before: FoundElement[] = [];
  /** The attributes that they were given, where they had none such. */
  readonly #required: TextElement[] = [];
  readonly #given: (readonly [element: TextElement, attribute: string])[] = [];
  readonly #core: EntryCore;
  readonly #context: ControlContext;
  readonly #woken: (name: string, control: TextControl) => void;

  constructor(core: EntryCore, context: ControlContext, woken: (name: string, control: TextControl) => void) {
    this.#core = core;
    this.#context = context;
    this.#woken = woken;
  }

  /**
   * Shows what the field began with, if this is a control that can rest: a plain field for text, without choices, that
   * nothing but a person or code can change.
   *
   * @returns whether it is
   */
  rest(name: string, element: ControlElement): boolean {
    const core = this.#core;
    const kind = core.model.kindOf(name);
    if (kind === undefined || kind.choices !== undefined || kind.options.readOnly === true) return false;
    if (!core.conditions.isPlain(name) || core.isMade(name)) return false;
    // What a person put in before this was bound is taken by the control itself.
    if (element === this.#active || (element as TextElement).value !== "") return false;
    this.#names.push(name);
    this.#resting.push(element as TextElement);
    this.#shown.push(element as TextElement);
    this.#showFirst(name, element as TextElement, kind);
    return true;
  }

  get #elements(): Map<string, TextElement> {
    if (this.#names.length > 0) {
      this.#names.forEach((name, place) => this.#found.set(name, this.#resting[place]!));
      this.#names = [];
      this.#resting = [];
    }
    return this.#found;
  }

  #showFirst(name: string, element: TextElement, kind: AnyKind): void {
    const { description, placeholder, required } = kind.options;
    const { inputMode } = kind;
    if (inputMode !== undefined) {
      // Most have no attributes that are written here, and need not be remembered whole.
      if (element.inputMode === "") this.#given.push([element, "inputmode"]);
      else this.#before.push(new FoundElement(element));
      prepareText(element, kind);
    }
    if (description !== undefined || placeholder !== undefined)
      describe(element, kind, (attribute) => this.#given.push([element, attribute]));
    // What rests has no type and no constraint in the page.
    if (required === true) {
      element.required = true;
      this.#required.push(element);
    }
    const text = this.#textOf(name, kind, this.#start);
    if (text !== "") element.value = text;
  }

  #textOf(name: string, kind: AnyKind, start: Readonly<Record<string, unknown>>): string {
    return showValue(kind, start[name], this.#core.locale, this.#core.timeZone);
  }

  /** Takes what the entry begins with, for the controls that are about to rest. */
  begin(active: Element | null): this {
    this.#active = active;
    this.#start = this.#core.baseline.read();
    return this;
  }

  has(name: string): boolean {
    return this.#elements.has(name);
  }

  /** Gives a control away, as one that shares its name with another is bound otherwise. */
  give(name: string): TextElement {
    const element = this.#elements.get(name)!;
    this.#elements.delete(name);
    return element;
  }

  /** The name of a resting control. */
  nameOf(element: EventTarget): string | undefined {
    const { name } = element as HTMLInputElement;
    if (this.#elements.get(name) === element) return name;
    for (const [full, resting] of this.#elements) if (resting === element) return full;
    return undefined;
  }

  /** Makes the field of a resting control, which wakes it. */
  wake(name: string): void {
    if (this.#elements.has(name)) this.#core.field(name);
  }

  /** A field was made: its control, if it has one here, follows the field from now on. */
  follow(field: FieldState): void {
    const element = this.#elements.get(field.name);
    if (element === undefined) return;
    this.#elements.delete(field.name);
    // A calculation may be the one that looked at the field; what the control reads is none of its business.
    untracked(() => this.#woken(field.name, new TextControl(field, element, this.#context).wake()));
  }

  /** The names of all that rest. */
  names(): string[] {
    return [...this.#elements.keys()];
  }

  /** Shows the initial values again: after a new row was begun, or the language has changed. */
  showAgain(): void {
    const core = this.#core;
    const start = core.baseline.read();
    for (const [name, element] of this.#elements) {
      const kind = core.model.kindOf(name)!;
      const text = this.#textOf(name, kind, start);
      if (element.value !== text) element.value = text;
    }
  }

  /** The names of those that hold something else than what was shown. */
  restored(): string[] {
    const core = this.#core;
    const start = core.baseline.read();
    return this.names().filter((name) => {
      const kind = core.model.kindOf(name)!;
      return this.#elements.get(name)!.value !== this.#textOf(name, kind, start);
    });
  }

  /** Those that rest, by the names of their fields. */
  elements(): Iterable<readonly [name: string, element: object]> {
    return this.#elements;
  }

  /** Lets go of all, and leaves the page as it was found. */
  clear(): void {
    this.#elements.clear();
    for (const element of this.#shown) if (element.value !== "") element.value = element.defaultValue;
    for (const element of this.#required) element.required = false;
    for (const [element, attribute] of this.#given) element.removeAttribute(attribute);
    for (const found of this.#before) found.restore();
  }
}
