import { choicesEnglish } from "../../model/choices/index.ts";
import { listKey, matching, type Matches } from "../../control/index.ts";
import { notices } from "../../command/index.ts";
import { platform, type SignalController } from "../../engine/index.ts";
import { type Choice, folded } from "../../model/index.ts";
import type { TextControl } from "../controls/textControl.ts";
import { ChoicePopup } from "./popup.ts";

/** How long typing pauses before a service is asked, in milliseconds. */
const QUIET = 150;
/** So many choices a page key moves. */
const PAGE = 10;

/** What a combo box does from its first focus on: it finds choices, moves among them, takes one, adds one. */
export class Combo {
  readonly #control: TextControl;
  /** Asks the service at once about what is waiting to be asked. */
  #askNow = (): void => undefined;
  readonly #popup: ChoicePopup;
  #matches: Matches | undefined;
  #found: readonly Choice[] | undefined;
  #active = -1;
  #open = false;
  #stopped = false;
  #quiet: unknown;
  #asking: SignalController | undefined;
  /** Whether Enter was pressed while the service was asked about the text, as a scanner does: it goes on once the answer is there. */
  #entered = false;

  constructor(control: TextControl) {
    this.#control = control;
    this.#popup = new ChoicePopup(control.element as HTMLInputElement, {
      id: `${control.id}-choices`,
      take: (place) => this.#takeAt(place),
      caption: (place) => this.#captionAt(place),
      isChosen: (place) => this.#isChosen(place),
    });
  }

  typed(): void {
    this.#openList(this.#control.element.value);
  }

  click(): void {
    if (!this.#open) this.#openList("");
  }

  /** The button with the arrow was pressed. */
  toggle(): void {
    if (this.#open) this.close();
    else this.#openList("");
  }

  keydown(event: KeyboardEvent): void {
    if (event.isComposing || event.ctrlKey || event.metaKey) return;
    if (event.key === "Escape" || event.key === "Enter") {
      if (!this.#open) return;
      if (event.key === "Enter" && this.#active < 0) return this.#enter(event);
      // Only what the list is open for: neither a dialog is closed nor a form saved by the same key.
      event.preventDefault();
      event.stopPropagation();
      if (event.key === "Enter" && this.#active >= 0) this.#takeAt(this.#active);
      else this.close();
      return;
    }
    if (!this.#open && (event.key === "ArrowDown" || event.key === "ArrowUp")) {
      event.preventDefault();
      // Alt only opens; else the chosen one, or the first, is active.
      return this.#openList("", !event.altKey);
    }
    if (!this.#open) return;
    // What is marked is taken by going on, as in the lists of the platform; the key goes on.
    if (event.key === "Tab" && this.#active >= 0) return this.#takeAt(this.#active);
    const next = listKey(event.key, this.#active, this.#length, PAGE);
    if (next === undefined) return;
    event.preventDefault();
    this.#active = next;
    this.#showList();
  }

  /** Enter with nothing marked: a new text is offered to be added, by one more Enter; all else does what Enter does in the form. */
  #enter(event: KeyboardEvent): void {
    const { source } = this.#control.field.kind;
    if (source?.find !== undefined && this.#found === undefined && this.#control.field.unreadable) {
      event.preventDefault();
      event.stopPropagation();
      this.#entered = true;
      return this.#askNow();
    }
    if (!this.#addable) return this.close();
    event.preventDefault();
    event.stopPropagation();
    this.#active = this.#length - 1;
    this.#showList();
  }

  #openList(typed: string, activate = false): void {
    this.#open = true;
    this.#active = -1;
    const { source } = this.#control.field.kind;
    if (source?.find === undefined) this.#find(this.#control.field.choices ?? [], typed);
    else this.#ask(typed);
    if (activate && this.#length > 0) this.#active = Math.max(0, this.#placeOfChosen());
    this.#showList();
  }

  #find(choices: readonly Choice[], typed: string): void {
    this.#matches = matching(choices, typed, this.#matches);
  }

  /** Asks the service once typing has paused; a newer text aborts the question before. */
  #ask(typed: string): void {
    const { source } = this.#control.field.kind;
    this.#found = undefined;
    this.#matches = undefined;
    this.#asking?.abort();
    platform.cancel(this.#quiet);
    const asking = platform.newController();
    this.#asking = asking;
    this.#askNow = () => {
      platform.cancel(this.#quiet);
      this.#askNow = () => undefined;
      source!.find!(typed.trim(), asking.signal).then(
        (found) => {
          if (asking.signal.aborted) return;
          this.#found = found;
          this.#find(found, "");
          // What was typed may have become a choice by what was found.
          if (this.#control.field.unreadable) this.#control.enter(this.#control.element.value, this.#control.element);
          if (this.#open) this.#showList();
          this.#goOn();
        },
        (reason: unknown) => {
          if (asking.signal.aborted) return;
          this.close();
          notices.say(reason instanceof Error ? reason.message : String(reason), "error");
        },
      );
    };
    this.#entered = false;
    this.#quiet = platform.after(QUIET, () => this.#askNow());
  }

  /** Does what Enter does once the text is known to be a choice. */
  #goOn(): void {
    const isKnown = this.#entered && !this.#control.field.unreadable;
    this.#entered = false;
    if (!isKnown || !this.#control.focused) return;
    this.close();
    const { element } = this.#control;
    const enter = new KeyboardEvent("keydown", { key: "Enter", bubbles: true, cancelable: true });
    // A key that a script makes does not save a form.
    if (element.dispatchEvent(enter)) element.form?.requestSubmit();
  }

  #choiceAt(place: number): Choice | undefined {
    const at = this.#matches?.places[place];
    return at === undefined ? undefined : this.#matches!.choices[at];
  }

  /** After the choices comes the typed text, where it can be added as a choice. */
  get #addable(): boolean {
    const typed = folded(this.#control.element.value);
    const { kind } = this.#control.field;
    return kind.source?.add !== undefined && typed !== "" && this.#control.field.unreadable;
  }

  get #length(): number {
    return (this.#matches?.places.length ?? 0) + (this.#addable ? 1 : 0);
  }

  #captionAt(place: number): string {
    return (
      this.#choiceAt(place)?.title ??
      this.#control.context.sayOf(choicesEnglish, "addChoice", { value: this.#control.element.value.trim() })
    );
  }

  #isChosen(place: number): boolean {
    const choice = this.#choiceAt(place);
    return choice !== undefined && choice.const === this.#control.field.value;
  }

  #placeOfChosen(): number {
    const { value } = this.#control.field;
    return this.#matches?.places.findIndex((at) => this.#matches!.choices[at]!.const === value) ?? -1;
  }

  #showList(): void {
    const length = this.#length;
    const asking = this.#control.field.kind.source?.find !== undefined && this.#found === undefined;
    const note = length > 0 ? "" : this.#control.context.sayOf(choicesEnglish, asking ? "searching" : "noChoices");
    const active = this.#popup.show(length, this.#active, note);
    this.#control.element.setAttribute("aria-expanded", "true");
    this.#control.element.setAttribute("aria-controls", this.#popup.id);
    if (active === undefined) this.#control.element.removeAttribute("aria-activedescendant");
    else this.#control.element.setAttribute("aria-activedescendant", active);
  }

  close(): void {
    this.#open = false;
    this.#asking?.abort();
    platform.cancel(this.#quiet);
    this.#popup.hide();
    this.#control.element.setAttribute("aria-expanded", "false");
    this.#control.element.removeAttribute("aria-activedescendant");
  }

  #takeAt(place: number): void {
    const choice = this.#choiceAt(place);
    if (choice === undefined) {
      if (this.#addable) void this.#add();
      return;
    }
    this.#control.choose(choice.const, this.#control.element);
    this.#control.write(this.#control.field.text);
    this.close();
  }

  async #add(): Promise<void> {
    const { source } = this.#control.field.kind;
    const typed = this.#control.element.value;
    this.close();
    const added = await source!.add!(typed, { locale: this.#control.field.locale });
    if (this.#stopped) return;
    if (added.ok) {
      // Unless something else was typed meanwhile.
      if (this.#control.element.value !== typed) return;
      this.#control.choose(added.value, this.#control.element);
      this.#control.write(this.#control.focused ? this.#control.field.text : this.#control.field.display);
    } else notices.say(added.message, "error");
  }

  stop(): void {
    this.#stopped = true;
    this.close();
    this.#popup.stop();
  }
}
