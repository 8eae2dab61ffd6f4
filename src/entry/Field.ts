import { IronwoodError, shown } from "../errors/index.ts";
import { because, Calculation, type Change, Value } from "../engine/index.ts";
import { type AnyKind, type Finding, pointerTo, type Problem, say } from "../model/index.ts";
import { type Content, contentFrom, contentOf, sameContent } from "./content.ts";
import type { EntryCore } from "./EntryCore.ts";
import { sameList } from "./gather.ts";

const noProblems: readonly Problem[] = [];

/**
 * One value of an entry, with its text and its state. Everything that is read here is followed by
 * `follow()` and by what is bound.
 */
export class Field<V = unknown> {
  readonly #content: Value<Content>;
  #shown: Value<boolean> | undefined;
  #problems: Calculation<readonly Problem[]> | undefined;
  /** What is known only to the entry and to the bindings. */
  readonly #entry: EntryCore;

  /** Fields are made by their entry. */
  constructor(
    entry: EntryCore,
    readonly name: string,
    readonly kind: AnyKind,
  ) {
    this.#entry = entry;
    this.#content = new Value(contentOf(entry.startValue(name)), sameContent(kind));
  }

  /** Where it is in the row: a JSON Pointer (RFC 6901). */
  get pointer(): string {
    return pointerTo(this.name);
  }

  /** The value; blank while the text can't be read. Writing a value of the right type is always possible by code. */
  get value(): V {
    return this.#content.read().value as V;
  }

  set value(value: V) {
    const given: unknown = value ?? this.kind.empty;
    if (given !== this.kind.empty && !this.kind.belongs(given))
      throw new IronwoodError("wrongType", `The field "${this.name}" was given ${shown(given)}`, {
        where: this.#entry.where,
        expected: this.kind.expects,
      });
    const { value: before, unreadable } = this.#content.peek();
    if (unreadable === undefined && this.kind.same(before, given)) return;
    this.#content.write(contentOf(typeof given === "number" ? given + 0 : given));
  }

  /** The text to edit it with: what was typed, else the value in the entry's locale, in full and with no unit. */
  get text(): string {
    const { text, value } = this.#content.read();
    return text ?? this.kind.edit(value, this.#entry.locale);
  }

  /** The text to show it with: in its display format with unit or caption; what can't be read, as it was typed. */
  get display(): string {
    const { text, value, unreadable } = this.#content.read();
    return unreadable === undefined ? this.kind.show(value, this.#entry.locale) : text!;
  }

  /** Whether there is a text that can't be read. */
  get unreadable(): boolean {
    return this.#content.read().unreadable !== undefined;
  }

  /** Whether there is no value: nothing was given, or what was typed can't be read. */
  get blank(): boolean {
    const { value, unreadable } = this.#content.read();
    return unreadable !== undefined || this.kind.isBlank(value);
  }

  /**
   * Takes what a person typed, exactly as it is. What can be read sets the value; what can't leaves the value blank and
   * is a problem that says what is expected.
   *
   * @param change - what brought it about, for followers; default: typed
   */
  enter(text: string, change?: Partial<Change>): void {
    const content = contentFrom(text, this.kind, this.#entry.locale);
    because({ cause: "typed", field: this, ...change }, () => this.#content.write(content));
  }

  /** Takes a value that a person chose, as {@link enter} takes a text. */
  choose(value: V, change?: Partial<Change>): void {
    because({ cause: "typed", field: this, ...change }, () => {
      this.value = value;
    });
  }

  /**
   * To be called when a person leaves the control: a blanked default comes back, and from now on the problems of a
   * changed field are visible.
   */
  leave(): void {
    this.restoreDefault();
    if (this.changed) this.showProblems();
  }

  /** Gives a field that was blanked its default back. */
  restoreDefault(): void {
    const standard: unknown = this.kind.options.default;
    if (standard === undefined) return;
    const { value, unreadable } = this.#content.peek();
    if (unreadable === undefined && this.kind.isBlank(value)) this.#content.write(contentOf(standard));
  }

  /** Makes problems visible from now on. */
  showProblems(): void {
    this.#shownCell().write(true);
  }

  hideProblems(): void {
    this.#shown?.write(false);
  }

  /** Everything that is wrong with it, at once: text, then the kind's constraints, then rules. */
  get problems(): readonly Problem[] {
    this.#problems ??= new Calculation(() => this.#findProblems(), `problems of ${this.name}`, sameList);
    return this.#problems.read();
  }

  /** Those that a person is to see: after the control was left changed, or a save was tried. */
  get visibleProblems(): readonly Problem[] {
    return this.problemsVisible ? this.problems : noProblems;
  }

  get problemsVisible(): boolean {
    return this.#entry.allShown || this.#shownCell().read();
  }

  /** Whether it differs from what the entry began with or last saved; a text that can't be read always does. */
  get changed(): boolean {
    const { value, unreadable } = this.#content.read();
    return unreadable !== undefined || !this.kind.same(value, this.#entry.baseline(this.name));
  }

  get relevant(): boolean {
    return this.#entry.isRelevant(this.name);
  }

  get required(): boolean {
    return this.kind.options.required === true || this.#entry.isRequired(this.name);
  }

  get readOnly(): boolean {
    return this.kind.options.readOnly === true || this.#entry.isReadOnly(this.name);
  }

  /** What people call it. */
  get title(): string {
    return this.#entry.model.titleOf(this.name);
  }

  /** Goes back to what the entry began with or last saved. */
  revert(): void {
    because({ cause: "revert", field: this }, () => this.#content.write(contentOf(this.#entry.baseline(this.name))));
    this.hideProblems();
  }

  /** For the entry: what it holds now, to tell later whether it was changed since. */
  peekContent(): Content {
    return this.#content.peek();
  }

  /** For the entry: holds a value as if from the start. */
  startWith(value: unknown): void {
    this.#content.write(contentOf(value));
    this.hideProblems();
  }

  /** For the entry: reads what was typed again, after its locale has changed. */
  readAgain(locale: string): void {
    const { text, unreadable, value } = this.#content.peek();
    if (text === undefined) return;
    this.#content.write(unreadable === undefined ? contentOf(value) : contentFrom(text, this.kind, locale));
  }

  #shownCell(): Value<boolean> {
    this.#shown ??= new Value(false);
    return this.#shown;
  }

  #findProblems(): readonly Problem[] {
    if (!this.relevant) return noProblems;
    const { value, unreadable } = this.#content.read();
    if (unreadable !== undefined) return [this.#problem(unreadable)];
    if (this.kind.isBlank(value)) return this.#whenBlank();
    const found = this.kind.check(value, this.#entry.locale);
    const broken = this.#entry.rulesAt(this.name);
    if (found.length === 0) return broken.length === 0 ? noProblems : broken;
    return [...found.map((finding) => this.#problem(finding)), ...broken];
  }

  #whenBlank(): readonly Problem[] {
    const { examples } = this.kind.options;
    const example = examples?.[0] === undefined ? {} : { example: this.kind.edit(examples[0], this.#entry.locale) };
    if (this.required) return [this.#problem({ code: "valueMissing", message: this.kind.missing, facts: example })];
    return this.#entry.rulesAt(this.name);
  }

  #problem({ code, message, facts }: Finding): Problem {
    return { code, message: say(this.#entry.locale, message, facts), severity: "error", pointer: this.pointer };
  }
}
