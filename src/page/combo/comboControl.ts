import { listKey, matching, type Matches } from "../../control/index.ts";
import { notices } from "../../command/index.ts";
import { platform, type SignalController } from "../../engine/index.ts";
import type { Field } from "../../entry/index.ts";
import { type Choice, folded } from "../../model/index.ts";
import type { ControlContext } from "../controls/PageControl.ts";
import { TextControl } from "../controls/textControl.ts";
import type { ChoicePopup } from "./popup.ts";

/** How long typing pauses before a service is asked, in milliseconds. */
const QUIET = 150;
/** So many choices a page key moves. */
const PAGE = 10;

/**
 * A combo box on a plain text field, after the combobox pattern of ARIA: typing filters the choices, arrow keys walk them,
 * Enter takes one, Escape closes. Where choices can grow, what was typed can be added.
 */
export class ComboControl extends TextControl {
  #popup: ChoicePopup | undefined;
  #loading: Promise<void> | undefined;
  #matches: Matches | undefined;
  #found: readonly Choice[] | undefined;
  #active = -1;
  #open = false;
  #stopped = false;
  #quiet: unknown;
  #asking: SignalController | undefined;

  constructor(field: Field, element: HTMLInputElement, context: ControlContext) {
    super(field, element, context);
    element.setAttribute("role", "combobox");
    element.setAttribute("aria-autocomplete", "list");
    element.setAttribute("aria-expanded", "false");
  }

  override focusin(): void {
    super.focusin();
    void this.#load();
  }

  /** The list itself is loaded when somebody comes to it. */
  #load(): Promise<void> {
    this.#loading ??= import("./popup.ts").then(({ ChoicePopup: Popup }) => {
      if (this.#stopped) return;
      this.#popup = new Popup(this.element as HTMLInputElement, {
        id: `${this.id}-choices`,
        take: (place) => this.#takeAt(place),
        caption: (place) => this.#captionAt(place),
        isChosen: (place) => this.#isChosen(place),
      });
      if (this.#open) this.#showList();
    });
    return this.#loading;
  }

  protected override take(): void {
    super.take();
    this.#openList(this.element.value);
  }

  click(): void {
    if (!this.readOnly && !this.#open) this.#openList("");
  }

  keydown(event: KeyboardEvent): void {
    if (this.readOnly || event.isComposing || event.ctrlKey || event.metaKey) return;
    if (event.key === "Escape" || event.key === "Enter") {
      if (!this.#open) return;
      // Only what the list is open for: neither a dialog is closed nor a form saved by the same key.
      event.preventDefault();
      event.stopPropagation();
      if (event.key === "Enter" && this.#active >= 0) this.#takeAt(this.#active);
      else this.#close();
      return;
    }
    if (!this.#open && (event.key === "ArrowDown" || event.key === "ArrowUp")) {
      event.preventDefault();
      // Alt only opens; else the chosen one, or the first, is active.
      return this.#openList("", !event.altKey);
    }
    if (!this.#open) return;
    const next = listKey(event.key, this.#active, this.#length, PAGE);
    if (next === undefined) return;
    event.preventDefault();
    this.#activate(next);
  }

  #openList(typed: string, activate = false): void {
    this.#open = true;
    this.#active = -1;
    const { source } = this.field.kind;
    if (source?.find === undefined) this.#find(this.field.choices ?? [], typed);
    else this.#ask(typed);
    if (activate) this.#active = Math.max(0, this.#placeOfChosen());
    void this.#load();
    this.#showList();
  }

  #find(choices: readonly Choice[], typed: string): void {
    this.#matches = matching(choices, typed, this.#matches);
  }

  /** Asks the service once typing has paused; a newer text aborts the question before. */
  #ask(typed: string): void {
    const { source } = this.field.kind;
    this.#found = undefined;
    this.#matches = undefined;
    this.#asking?.abort();
    platform.cancel(this.#quiet);
    const asking = (this.#asking = platform.newController());
    this.#quiet = platform.after(QUIET, () => {
      source!.find!(typed.trim(), asking.signal).then(
        (found) => {
          if (asking.signal.aborted) return;
          this.#found = found;
          this.#find(found, "");
          // What was typed may have become a choice by what was found.
          if (this.field.unreadable) this.enter(this.element.value, this.element);
          if (this.#open) this.#showList();
        },
        (reason: unknown) => {
          if (asking.signal.aborted) return;
          this.#close();
          notices.say(reason instanceof Error ? reason.message : String(reason), "assertive");
        },
      );
    });
  }

  #choiceAt(place: number): Choice | undefined {
    const at = this.#matches?.places[place];
    return at === undefined ? undefined : this.#matches!.choices[at];
  }

  /** Behind the choices stands what was typed, where it can be added. */
  get #addable(): boolean {
    const typed = folded(this.element.value);
    const { kind } = this.field;
    return kind.source?.add !== undefined && typed !== "" && this.field.unreadable;
  }

  get #length(): number {
    return (this.#matches?.places.length ?? 0) + (this.#addable ? 1 : 0);
  }

  #captionAt(place: number): string {
    return this.#choiceAt(place)?.title ?? this.context.say("addChoice", { value: this.element.value.trim() });
  }

  #isChosen(place: number): boolean {
    const choice = this.#choiceAt(place);
    return choice !== undefined && choice.const === this.field.value;
  }

  #placeOfChosen(): number {
    const { value } = this.field;
    return this.#matches?.places.findIndex((at) => this.#matches!.choices[at]!.const === value) ?? -1;
  }

  #activate(place: number): void {
    this.#active = place;
    this.#showList();
  }

  #showList(): void {
    const length = this.#length;
    const asking = this.field.kind.source?.find !== undefined && this.#found === undefined;
    const note = length > 0 ? "" : this.context.say(asking ? "searching" : "noChoices");
    const active = this.#popup?.show(length, this.#active, note);
    this.element.setAttribute("aria-expanded", "true");
    if (this.#popup !== undefined) this.element.setAttribute("aria-controls", this.#popup.id);
    if (active === undefined) this.element.removeAttribute("aria-activedescendant");
    else this.element.setAttribute("aria-activedescendant", active);
  }

  #close(): void {
    this.#open = false;
    this.#asking?.abort();
    platform.cancel(this.#quiet);
    this.#popup?.hide();
    this.element.setAttribute("aria-expanded", "false");
    this.element.removeAttribute("aria-activedescendant");
  }

  #takeAt(place: number): void {
    const choice = this.#choiceAt(place);
    if (choice === undefined) return void this.#add();
    this.choose(choice.const, this.element);
    this.write(this.field.text);
    this.#close();
  }

  async #add(): Promise<void> {
    const { source } = this.field.kind;
    const typed = this.element.value;
    this.#close();
    const added = await source!.add!(typed);
    if (this.#stopped) return;
    if (added.ok) {
      // Unless something else was typed meanwhile.
      if (this.element.value !== typed) return;
      this.choose(added.value, this.element);
      this.write(this.focused ? this.field.text : this.field.display);
    } else notices.say(this.#whyNotAdded(added.why, added.reason ?? "", typed), "assertive");
  }

  #whyNotAdded(why: "valueMissing" | "duplicate" | "notSaved", reason: string, typed: string): string {
    if (why === "duplicate") return this.context.say("choiceExists", { value: typed.trim() });
    return this.context.say(why, { reason });
  }

  override focusout(event?: FocusEvent): void {
    this.#close();
    super.focusout(event);
  }

  override stop(): void {
    this.#stopped = true;
    this.#close();
    this.#popup?.stop();
    super.stop();
    for (const name of ["role", "aria-autocomplete", "aria-expanded", "aria-controls"])
      this.element.removeAttribute(name);
  }
}
