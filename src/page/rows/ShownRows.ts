import { notices, pressUndo, type RowCommand } from "../../command/index.ts";
import { undoKey } from "../../control/index.ts";
import { mirror, platform, type Stoppable, untracked } from "../../engine/index.ts";
import type { ViewState } from "../../table/index.ts";
import type { Undoing } from "../binding.ts";
import { placeInOrder, showLines, toggleAttribute, isElement, activeBeside } from "../dom.ts";
import type { Listening } from "../listening.ts";
import { bindCommands, RowEditing, type RowWays } from "./RowEditing.ts";
import type { Copy, RowTemplate } from "./RowTemplate.ts";

/** How rows are shown by a template, and edited where it has controls. */
export interface ShownRowsOptions extends Omit<RowWays, "view" | "listening" | "prefix"> {
  readonly commands: Readonly<Record<string, RowCommand>>;
  /** Whether a row without controls can be made the current one. */
  readonly choose: boolean;
}

/** A copy of the template that shows one row. */
interface ShownRow extends Copy {
  readonly editing: RowEditing | undefined;
  readonly standIns: readonly string[];
  row: object | undefined;
  key: unknown;
  /** The language in which it is shown. */
  locale: string | undefined;
  buttons: Undoing | undefined;
}

/** Where the focus was when its element was taken away: in which row, at which place, in which part of it. */
interface Lost {
  readonly key: unknown;
  readonly place: number;
  readonly part: number;
}

/** Where keys lead from a row; beyond the ends is at the end. */
const moves: Readonly<Partial<Record<string, (place: number, last: number) => number>>> = {
  ArrowDown: (place) => place + 1,
  ArrowUp: (place) => place - 1,
  PageDown: (place) => place + 10,
  PageUp: (place) => place - 10,
  Home: () => 0,
  End: (_, last) => last,
};
const reached = "button, input, select, textarea, a[href], [tabindex]";

/** The rows of a view, each by a copy of a template; a copy stays with its row wherever that goes. */
export class ShownRows {
  readonly #rows = new Map<number, ShownRow>();
  /** The row in which a person is typing while it is not in the view any more, and before which place it stands. */
  #gone: { readonly shown: ShownRow; readonly place: number } | undefined;
  readonly #showing: Stoppable;
  /** Which load of the table the places of its rows are of. */
  #loads = 0;
  /** Whether the page is being changed here: what loses the focus then is not left by the person. */
  #working = false;
  /** Whether what happens now is what the person in the row has asked for. */
  #isAsked = false;
  readonly #container: Element;
  readonly #view: ViewState;
  readonly #template: RowTemplate;
  readonly #options: ShownRowsOptions;
  readonly #listening: Listening;

  constructor(
    container: Element,
    view: ViewState,
    template: RowTemplate,
    options: ShownRowsOptions,
    listening: Listening,
  ) {
    this.#container = container;
    this.#view = view;
    this.#template = template;
    this.#options = options;
    this.#listening = listening;
    this.#showing = mirror(() => this.#show(), "rows");
    if (template.edits || options.choose) for (const type of events) container.addEventListener(type, this);
  }

  #show(): void {
    const view = this.#view;
    const container = this.#container;
    const slots = view.slots(0, view.length);
    const showsCurrent = this.#template.edits || this.#options.choose;
    const current = showsCurrent ? view.currentKey : undefined;
    const currentSlot = current === undefined ? undefined : view.table.slotFor(current);
    const { loads } = view.table;
    const replaced = loads === this.#loads ? undefined : this.#drop(new Set(this.#rows.keys()));
    this.#loads = loads;
    const gone = new Set(this.#rows.keys());
    const wanted = slots.map((slot) => {
      gone.delete(slot);
      const shown = this.#rows.get(slot) ?? this.#add(slot);
      shown.key = view.table.keyAt(slot);
      this.#fill(shown, view.table.rowAt(slot)!);
      if (showsCurrent) toggleAttribute(shown.element, "aria-current", slot === currentSlot ? "true" : undefined);
      return shown.element;
    });
    if (this.#options.choose) {
      const at = currentSlot === undefined ? -1 : slots.indexOf(currentSlot);
      // One of them is reached by Tab; from there on arrow keys move.
      wanted.forEach((element, place) => {
        element.tabIndex = place === Math.max(0, at) ? 0 : -1;
      });
    }
    this.#working = true;
    const lost = this.#drop(gone) ?? replaced;
    if (this.#gone !== undefined) wanted.splice(this.#gone.place, 0, this.#gone.shown.element);
    placeInOrder(container, wanted, container.querySelector(":scope > template")!.nextElementSibling);
    this.#working = false;
    // Where the focus goes is made current, which can't be written while this is being shown.
    if (lost !== undefined) platform.soon(() => this.#findFocus(wanted, lost));
  }

  #add(slot: number): ShownRow {
    const template = this.#template;
    const view = this.#view;
    const options = this.#options;
    const listening = this.#listening;
    const container = this.#container;
    const copy = template.copy();
    const prefix = container.id === "" ? "row" : container.id;
    const ways: RowWays = { ...options, view, listening, prefix };
    // What a copy follows is its own affair.
    const editing = template.edits ? untracked(() => new RowEditing(copy, slot, ways)) : undefined;
    const standIns = copy.parts.map(({ element }) => element.textContent);
    const shown: ShownRow = {
      ...copy,
      editing,
      standIns,
      row: undefined,
      key: undefined,
      locale: undefined,
      buttons: undefined,
    };
    this.#rows.set(slot, shown);
    return shown;
  }

  #fill(shown: ShownRow, row: object): void {
    const { locale } = this.#view.table;
    if (shown.row === row && shown.locale === locale) return;
    shown.row = row;
    shown.locale = locale;
    if (shown.editing === undefined)
      shown.parts.forEach(({ what, name, element }, place) => {
        if (what !== "output") return;
        const text = this.#view.table.showField(row, name);
        showLines(element, text === "" ? shown.standIns[place]! : text);
      });
    const { commands } = this.#options;
    shown.buttons?.stop();
    shown.buttons = untracked(() => bindCommands(shown, row, commands, this.#listening));
  }

  /** @returns where the focus was in what is gone now */
  #drop(gone: ReadonlySet<number>): Lost | undefined {
    let lost: Lost | undefined;
    for (const slot of gone) {
      const shown = this.#rows.get(slot)!;
      const { element } = shown;
      const active = activeBeside(this.#container);
      if (element.contains(active)) {
        const place = [...this.#container.children]
          .filter(({ localName }) => localName !== "template")
          .indexOf(element);
        if (this.#gone === undefined && this.#isBeingTyped(shown, active!)) {
          this.#keepGone(shown, slot, place);
          continue;
        }
        lost = { key: shown.key, place, part: [...element.querySelectorAll(reached)].indexOf(active!) };
      }
      this.#rows.delete(slot);
      element.remove();
      // What was entered in it goes into the table, which can't be written while this is being shown.
      platform.soon(() => stop(shown));
    }
    return lost;
  }

  /** Whether a person types in a row that others have taken away. A row that was loaded anew, and in which nothing was typed, is there again. */
  #isBeingTyped({ editing, key }: ShownRow, active: Element): boolean {
    if (editing === undefined || this.#isAsked || !editing.isTypedIn(active)) return false;
    return editing.changed || !this.#view.has(key);
  }

  /** What a person types goes on going where it went, until the person leaves. */
  #keepGone(shown: ShownRow, slot: number, place: number): void {
    this.#rows.delete(slot);
    this.#gone = { shown, place };
    toggleAttribute(shown.element, "data-gone", "");
    toggleAttribute(shown.element, "aria-current", undefined);
    platform.soon(() => shown.editing!.sayGone());
  }

  #leaveGone(): void {
    const { shown } = this.#gone!;
    this.#gone = undefined;
    this.#working = true;
    shown.element.remove();
    this.#working = false;
    stop(shown);
  }

  /** Who was in a row that is gone is in the one that took its place, at the same part of it. */
  #findFocus(wanted: readonly Element[], { key, place, part }: Lost): void {
    const slot = this.#view.has(key) ? this.#view.table.slotFor(key) : undefined;
    const same = slot === undefined ? undefined : this.#rows.get(slot)?.element;
    const row = (same ?? wanted[Math.min(place, wanted.length - 1)]) as HTMLElement | undefined;
    if (row?.hasAttribute("tabindex") === true && part < 0) return row.focus();
    const parts = row?.querySelectorAll<HTMLElement>(reached) ?? [];
    const next = parts[part] ?? parts[0];
    if (next !== undefined) return next.focus();
    const container = this.#container as HTMLElement;
    if (!container.hasAttribute("tabindex")) container.tabIndex = -1;
    container.focus();
  }

  #rowOf(target: EventTarget | null): ShownRow | undefined {
    if (!isElement(target)) return undefined;
    for (const shown of this.#rows.values()) if (shown.element.contains(target)) return shown;
    return this.#gone?.shown.element.contains(target) === true ? this.#gone.shown : undefined;
  }

  handleEvent(event: Event): void {
    if (this.#working) return;
    const shown = this.#rowOf(event.target);
    if (shown === undefined) return;
    if (this.#options.choose) return this.#choose(shown, event);
    const { editing } = shown;
    if (editing === undefined) return;
    const isGone = shown === this.#gone?.shown;
    this.#isAsked = !isGone;
    try {
      this.#handle(shown, editing, event, isGone);
    } finally {
      this.#isAsked = false;
    }
  }

  #handle(shown: ShownRow, editing: RowEditing, event: Event, isGone: boolean): void {
    switch (event.type) {
      case "focusin":
        if (isGone) return;
        this.#view.currentKey = this.#view.table.keyAt(editing.slot);
        return;
      case "focusout":
        return this.#left(shown, event as FocusEvent);
      case "change":
        // The control has taken it: its listener came first.
        return editing.leave(false);
      case "keydown":
        return this.#keydown(editing, event as KeyboardEvent);
    }
  }

  /** The row that has the focus is the current one; arrow keys at the row itself move it. */
  #choose(shown: ShownRow, event: Event): void {
    const view = this.#view;
    const slots = view.slots(0, view.length);
    const slot = [...this.#rows].find(([, each]) => each === shown)![0];
    if (event.type === "focusin") {
      view.currentKey = view.table.keyAt(slot);
      return;
    }
    const { key, target, altKey, ctrlKey, metaKey } = event as KeyboardEvent;
    if (event.type !== "keydown" || target !== shown.element || altKey || ctrlKey || metaKey) return;
    const move = moves[key];
    if (move === undefined) return;
    event.preventDefault();
    const to = move(slots.indexOf(slot), slots.length - 1);
    this.#rows.get(slots[Math.min(Math.max(0, to), slots.length - 1)]!)!.element.focus();
  }

  #left({ element, editing }: ShownRow, { relatedTarget }: FocusEvent): void {
    const to = relatedTarget as Node | null;
    if (to !== null && element.contains(to)) return;
    // Another window of the platform: the person comes back to where they are.
    if (to === null && !element.ownerDocument.hasFocus()) return;
    this.#listening.afterPress(() => {
      if (element.contains(activeBeside(element))) return;
      if (this.#gone?.shown.element === element) this.#leaveGone();
      else editing!.leave(true);
    });
  }

  #keydown(editing: RowEditing, event: KeyboardEvent): void {
    if (event.defaultPrevented || event.isComposing) return;
    const target = event.target as HTMLInputElement;
    const which = undoKey(event);
    if (which !== undefined) {
      const { undoing } = editing;
      // What was done before in the form round it is taken back there.
      if (target.form != null && undoing.history?.[which === "undo" ? "undoes" : "redoes"] === undefined) return;
      event.preventDefault();
      pressUndo(undoing, which);
    } else if (event.key === "Escape") {
      if (!editing.revert(target)) return;
      event.preventDefault();
      // What was said of it does not hold any more.
      notices.clear();
    } else if (event.key === "Enter" && target.localName === "input") editing.commit();
  }

  stop(): void {
    this.#showing.stop();
    for (const type of events) this.#container.removeEventListener(type, this);
    if (this.#gone !== undefined) this.#leaveGone();
    for (const shown of this.#rows.values()) {
      stop(shown);
      shown.element.remove();
    }
  }
}

const events = ["focusin", "focusout", "change", "keydown"] as const;

function stop({ buttons, editing }: ShownRow): void {
  buttons?.stop();
  editing?.stop();
}
