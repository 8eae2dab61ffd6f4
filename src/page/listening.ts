import { activeBeside, isElement, isOfInputMethod } from "./dom.ts";
import { memberOf } from "./memberOf.ts";

/** The events that a bound control listens to; each handler is optional. */
export interface Listener {
  input?(event: Event): void;
  change?(event: Event): void;
  click?(event: MouseEvent): void;
  keydown?(event: KeyboardEvent): void;
  focusin?(event: FocusEvent): void;
  focusout?(event: FocusEvent): void;
  compositionstart?(event: CompositionEvent): void;
  compositionend?(event: CompositionEvent): void;
  submit?(event: SubmitEvent): void;
  reset?(event: Event): void;
  /** Treats what was typed so far as if the control had been left. */
  commitTyped?(): void;
}

/** Listens to keys anywhere in the page, unless a control has used them. */
export interface KeysListener {
  keys(event: KeyboardEvent): void;
}

const types = [
  "change",
  "click",
  "keydown",
  "focusin",
  "focusout",
  "compositionstart",
  "compositionend",
  "submit",
  "reset",
] as const;

/** The events that begin and end a press of a pointer. */
const presses = ["pointerdown", "pointerup", "pointercancel", "click"] as const;

/** The events by which a press is seen to have ended elsewhere. */
const ends = ["pointermove", "change", "contextmenu", "dragend"] as const;

/** One listener for each type of event at the root, however many controls there are under it. */
export class Listening {
  readonly #listeners = new Map<EventTarget, Listener>();
  readonly #adopters = new Map<EventTarget, (element: EventTarget) => Listener | undefined>();
  readonly #root: EventTarget;
  readonly #document: EventTarget;
  #pressed = false;
  /** Whether it is looked for what tells that a press has ended. */
  #isWatching = false;
  readonly #waiting: (() => void)[] = [];
  readonly #keys = new Set<KeysListener>();

  constructor(root: EventTarget) {
    this.#root = root;
    this.#document = memberOf(root as Node, "ownerDocument") ?? root;
    const listen = memberOf(root, "addEventListener");
    listen("input", this.#input);
    for (const type of types) listen(type, this);
    for (const type of presses) this.#document.addEventListener(type, this.#press, true);
  }

  /**
   * Does something now, or where a pointer is being pressed, once that becomes a click: before anybody hears of that, so that
   * what a button does finds what was entered. What it shows could move what is pressed away from under the pointer, and the
   * press would be lost.
   */
  afterPress(work: () => void): void {
    if (this.#pressed) this.#waiting.push(work);
    else work();
  }

  readonly #press = ({ type }: Event): void => {
    this.#pressed = type === "pointerdown";
    if (this.#pressed && !this.#isWatching) {
      this.#isWatching = true;
      for (const each of ends) this.#document.addEventListener(each, this.#mayHaveEnded, true);
    }
    if (type === "click") return this.#release();
    // The click comes right after the release, if one comes.
    if (!this.#pressed && this.#waiting.length > 0) setTimeout(() => this.#release());
  };

  /**
   * A press that opened a menu of the platform ends there, and no event tells the page: a key, a change of a list of choices, or a
   * pointer that moves with nothing pressed does.
   */
  readonly #mayHaveEnded = (event: Event): void => {
    if (event.type === "pointermove" && (event as PointerEvent).buttons !== 0) return;
    if (event.type === "change" && (event.target as Element).localName !== "select") return;
    this.#endPress();
  };

  #endPress(): void {
    this.#pressed = false;
    this.#release();
  }

  #release(): void {
    if (this.#isWatching) for (const type of ends) this.#document.removeEventListener(type, this.#mayHaveEnded, true);
    this.#isWatching = false;
    for (const work of this.#waiting.splice(0)) work();
  }

  set(element: EventTarget, listener: Listener): void {
    this.#listeners.set(element, listener);
  }

  delete(element: EventTarget): void {
    this.#listeners.delete(element);
  }

  addKeys(listener: KeysListener): void {
    this.#keys.add(listener);
  }

  deleteKeys(listener: KeysListener): void {
    this.#keys.delete(listener);
  }

  /** Has the control with the focus commit what was typed into it. */
  commitFocused(): void {
    // In a shadow tree the document knows only whom the tree belongs to.
    let { activeElement: active } = this.#document as Document;
    while (active?.shadowRoot?.activeElement != null) active = active.shadowRoot.activeElement;
    if (active !== null) this.#listeners.get(active)?.commitTyped?.();
  }

  /** Who is to listen to the controls of a form that have no listener of their own yet. */
  adopt(form: HTMLFormElement, wake: (element: EventTarget) => Listener | undefined): void {
    this.#adopters.set(form, wake);
  }

  get(element: EventTarget): Listener | undefined {
    return this.#listeners.get(element);
  }

  /** A listener of its own, since it is called at each key. */
  readonly #input = (event: Event): void => {
    const target = event.target!;
    const listener = this.#listeners.get(target) ?? this.#adopted(target);
    listener?.input?.(event);
  };

  #adopted(target: EventTarget): Listener | undefined {
    const { form } = target as HTMLInputElement;
    return form != null && form !== target ? this.#adopters.get(form)?.(target) : undefined;
  }

  /** The platform calls this: an object with `handleEvent` is a listener. */
  handleEvent(event: Event): void {
    const type = event.type as (typeof types)[number];
    const { target } = event;
    if (target === null) return;
    if (type === "keydown" && this.#isSwallowed(event as KeyboardEvent)) return;
    let listener = this.#listeners.get(target) ?? this.#adopted(target);
    if (listener === undefined && type === "click" && isElement(target)) {
      // A press may land on something inside a button.
      const button = memberOf(target, "closest")("button");
      if (button !== null) listener = this.#listeners.get(button);
    }
    if (type === "click" && listener !== undefined) focusPressed(event as MouseEvent);
    (listener?.[type] as ((event: Event) => void) | undefined)?.call(listener, event);
    if (type === "keydown" && this.#keys.size > 0) this.#tellKeys(event as KeyboardEvent);
  }

  /**
   * Keys of an input method are none of a control. And Enter is pressed once, however long it is held: a platform saves a form, or presses
   * a button, again each time that it comes.
   */
  #isSwallowed(event: KeyboardEvent): boolean {
    if (isOfInputMethod(event)) return true;
    if (this.#pressed) this.#endPress();
    const { target, key, repeat } = event;
    if (!repeat || key !== "Enter" || !isElement(target) || target.localName === "textarea") return false;
    if (!this.#listeners.has(target) && this.#adopted(target) === undefined) return false;
    event.preventDefault();
    return true;
  }

  #tellKeys(event: KeyboardEvent): void {
    for (const each of this.#keys) if (!event.defaultPrevented) each.keys(event);
  }

  stop(): void {
    const unlisten = memberOf(this.#root, "removeEventListener");
    unlisten("input", this.#input);
    for (const type of types) unlisten(type, this);
    for (const type of presses) this.#document.removeEventListener(type, this.#press, true);
    this.#release();
    this.#listeners.clear();
    this.#adopters.clear();
    this.#keys.clear();
  }
}

/** Boxes and buttons, which get no focus by a press on some platforms. Without it nobody would know when they are left. */
function focusPressed({ target, detail }: MouseEvent): void {
  const pressed = isElement(target)
    ? target.closest<HTMLElement>("button, input[type=checkbox], input[type=radio]")
    : null;
  if (pressed !== null && detail > 0 && activeBeside(pressed) !== pressed) pressed.focus({ preventScroll: true });
}
