/** What a bound control hears. Each is called only where it is there. */
export interface Listener {
  input?(event: Event): void;
  change?(event: Event): void;
  click?(event: MouseEvent): void;
  keydown?(event: KeyboardEvent): void;
  focusin?(event: FocusEvent): void;
  focusout?(event: FocusEvent): void;
  compositionend?(event: CompositionEvent): void;
  submit?(event: SubmitEvent): void;
  reset?(event: Event): void;
}

const types = [
  "input",
  "change",
  "click",
  "keydown",
  "focusin",
  "focusout",
  "compositionend",
  "submit",
  "reset",
] as const;

/** One listener for each type of event at the root, however many controls there are under it. */
export class Listening {
  readonly #listeners = new Map<EventTarget, Listener>();
  readonly #adopters = new Map<EventTarget, (element: EventTarget) => Listener | undefined>();
  readonly #root: EventTarget;

  constructor(root: EventTarget) {
    this.#root = root;
    for (const type of types) root.addEventListener(type, this);
  }

  set(element: EventTarget, listener: Listener): void {
    this.#listeners.set(element, listener);
  }

  delete(element: EventTarget): void {
    this.#listeners.delete(element);
  }

  /** Who is to listen to the controls of a form that have no listener of their own yet. */
  adopt(form: HTMLFormElement, wake: (element: EventTarget) => Listener | undefined): void {
    this.#adopters.set(form, wake);
  }

  get(element: EventTarget): Listener | undefined {
    return this.#listeners.get(element);
  }

  /** The platform calls this: an object with `handleEvent` is a listener. */
  handleEvent(event: Event): void {
    const type = event.type as (typeof types)[number];
    const { target } = event;
    if (target === null) return;
    let listener = this.#listeners.get(target);
    if (listener === undefined) {
      const { form } = target as HTMLInputElement;
      if (form != null && form !== target) listener = this.#adopters.get(form)?.(target);
    }
    if (listener === undefined && type === "click" && target instanceof Element) {
      // A press may land on something inside a button.
      const button = target.closest("button");
      if (button !== null) listener = this.#listeners.get(button);
    }
    (listener?.[type] as ((event: Event) => void) | undefined)?.call(listener, event);
  }

  stop(): void {
    for (const type of types) this.#root.removeEventListener(type, this);
    this.#listeners.clear();
    this.#adopters.clear();
  }
}
