import { IronwoodError, shown } from "../errors/index.ts";
import {
  because,
  beginCause,
  Calculation,
  type Change,
  endCause,
  type Follower,
  transaction,
  Value,
} from "../engine/index.ts";
import {
  type AnyKind,
  BLANK,
  type Choice,
  type Finding,
  missingAt,
  pointerTo,
  type Problem,
  problemAt,
  type Reading,
} from "../model/index.ts";
import { type Answer, isOutOfDate } from "./Answer.ts";
import { type Content, contentFrom, contentOf, FOLLOWING } from "./content.ts";
import type { EntryCore } from "./EntryCore.ts";
import { sameList } from "./gather.ts";
import { HeldContent, type HoldOptions } from "./Held.ts";
import type { Proposal } from "./Proposal.ts";

const noProblems: readonly Problem[] = [];
const grouped: HoldOptions = { grouped: true };
const joined: HoldOptions = { joins: true };

/**
 * One value of an entry, with its text and its state. Everything that is read here is followed by
 * `follow()` and by what is bound.
 */
export class Field<V = unknown> {
  readonly #content: HeldContent;
  #shown: Value<boolean> | undefined;
  #problems: Calculation<readonly Problem[]> | undefined;
  #answer: Value<Answer | undefined> | undefined;
  /** What others propose for it; `undefined` where the model has no proposal. */
  readonly #proposal: Proposal | undefined;
  /** Whether its choices depend on other fields. */
  readonly #narrowed: boolean;
  #pointer: string | undefined;
  /** For the bindings and explanations. */
  readonly core: EntryCore;

  /** Fields are made by their entry. */
  constructor(
    entry: EntryCore,
    readonly name: string,
    readonly kind: AnyKind,
  ) {
    this.core = entry;
    this.#narrowed = entry.model.parts.choices.has(name);
    this.#proposal = entry.newProposal(name, kind);
    this.#content = new HeldContent(entry.startContent(name), name, kind, entry);
  }

  /** Where it is in the row: a JSON Pointer (RFC 6901). */
  get pointer(): string {
    return (this.#pointer ??= pointerTo(this.name));
  }

  /** The value; blank while the text can't be read. Writing a value of the right type is always possible by code. */
  get value(): V {
    const content = this.#content.read();
    return (content === FOLLOWING ? this.#proposal!.value : content.value) as V;
  }

  set value(value: V) {
    this.#set(value, undefined);
  }

  #set(value: V, options: HoldOptions | undefined): void {
    const given: unknown = value ?? this.kind.empty;
    if (given !== this.kind.empty && !this.kind.belongs(given))
      throw new IronwoodError("wrongType", `The field "${this.name}" was given ${shown(given)}`, {
        where: this.core.where,
        expected: this.kind.expects,
      });
    const content = this.#content.peek();
    if (content !== FOLLOWING && content.unreadable === undefined && this.kind.same(content.value, given)) return;
    this.#put(contentOf(typeof given === "number" ? given + 0 : given), options);
  }

  /** The text to edit it with: what was typed, else the value in the entry's locale, in full and with no unit. */
  get text(): string {
    const { text, value } = this.#now();
    return text ?? this.#kindNow.edit(value, this.core.locale, this.core.timeZone);
  }

  /** The text to show it with: in its display format with unit or caption; what can't be read, as it was typed. */
  get display(): string {
    const { text, value, unreadable } = this.#now();
    return unreadable === undefined ? this.displayOf(value as V) : text!;
  }

  /** A value as it is shown; for what has read it already. */
  displayOf(value: V): string {
    return this.#kindNow.show(value, this.core.locale, this.core.timeZone);
  }

  /** What can be chosen as of now, in order; `undefined` where anything can be entered. */
  get choices(): readonly Choice[] | undefined {
    return this.#kindNow.choices;
  }

  /** Whether there is a text that can't be read. */
  get unreadable(): boolean {
    return this.#content.read().unreadable !== undefined;
  }

  /** Whether there is no value: nothing was given, or what was typed can't be read. */
  get blank(): boolean {
    return this.unreadable || this.kind.isBlank(this.value);
  }

  /** Whether its value is what others propose, until somebody gives another. */
  get follows(): boolean {
    return this.#content.read() === FOLLOWING;
  }

  /**
   * Whether it holds an answer (`entry.answer`) and something that this was worked out from is another now. What a person
   * or code gives instead is no answer and never out of date.
   */
  get outOfDate(): boolean {
    const answer = this.#answer?.read();
    return answer !== undefined && this.kind.same(this.value, answer.value) && isOutOfDate(answer, this.core);
  }

  /**
   * Takes what a person typed, exactly as it is. What can be read sets the value; what can't leaves the value blank and
   * is a problem that says what is expected.
   *
   * @param change - what brought it about, for followers; default: typed
   */
  enter(text: string, change?: Partial<Change>): void {
    const content = contentFrom(text, this.#reading(text), this.kind);
    const before = beginCause(this.#typed(change));
    try {
      this.#put(content, grouped);
    } finally {
      endCause(before);
    }
  }

  /** Takes a value that a person chose, as {@link enter} takes a text. */
  choose(value: V, change?: Partial<Change>): void {
    // What is moved by steps, as a slider is dragged, is moved as one.
    const options = this.kind.stepped === undefined || change?.control === undefined ? undefined : grouped;
    because(this.#typed(change), () => this.#set(value, options));
  }

  /** What a person brings about, member by member: a spread costs as much as the rest of a key press. */
  #typed(change: Partial<Change> | undefined): Change {
    if (change === undefined) return { cause: "typed", field: this };
    if (change.cause !== undefined && change.field === this) return change as Change;
    const { cause = "typed", field = this, control, row } = change;
    return { cause, field, control, row };
  }

  /**
   * To be called when a person leaves the control: its text is tidied, a blanked default comes back, and from now on the
   * problems of a changed field are visible.
   */
  leave(): void {
    this.settle();
    this.core.history.close();
    if (this.changed) this.showProblems();
  }

  /** Tidies its text, and gives a field that was blanked its default back. */
  settle(): void {
    const content = this.#content.peek();
    if (content === FOLLOWING || content.unreadable !== undefined) return;
    const value: unknown = this.kind.tidy === undefined ? content.value : this.kind.tidy(content.value);
    const standard: unknown = this.kind.options.default;
    if (standard !== undefined && this.kind.isBlank(value)) this.#content.hold(contentOf(standard), joined);
    else if (value !== content.value) this.#content.hold(contentOf(value), joined);
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
    return this.core.allShown || this.#shownCell().read();
  }

  /**
   * Whether it differs from what the entry began with or last saved; a text that can't be read always does, and what is
   * of the window only never.
   */
  get changed(): boolean {
    if (this.kind.options.saved === false) return false;
    return this.unreadable || !this.kind.same(this.value, this.core.baseline(this.name));
  }

  /** Whether a rule that asks elsewhere is being waited for, which is shown here. */
  get checking(): boolean {
    return this.core.asking.isChecking(this.name);
  }

  get relevant(): boolean {
    return this.core.isRelevant(this.name);
  }

  get required(): boolean {
    return this.kind.options.required === true || this.core.isRequired(this.name) !== false;
  }

  get readOnly(): boolean {
    return this.kind.options.readOnly === true || this.core.isReadOnly(this.name) !== false;
  }

  /** Why a person may not change it, in the words of the model; `undefined` where they may, or no reason was given. */
  get reason(): string | undefined {
    const reason = this.core.isReadOnly(this.name);
    return typeof reason === "string" ? reason : undefined;
  }

  /** What people call it. */
  get title(): string {
    return this.core.model.titleOf(this.name);
  }

  /** The locale that its text is read and shown in. */
  get locale(): string {
    return this.core.locale;
  }

  /** The IANA name of the zone by whose clock instants are read and shown. */
  get timeZone(): string {
    return this.core.timeZone;
  }

  /** Goes back to what the entry began with or last saved: a field that followed others does so again. */
  revert(): void {
    because({ cause: "revert", field: this }, () => this.#content.hold(this.core.startContent(this.name)));
    this.hideProblems();
  }

  /** For the bindings: holds again what it held, as what was typed in a cell is given up. */
  giveUp(content: Content): void {
    because({ cause: "revert", field: this }, () => this.#content.hold(content, joined));
  }

  /** For the entry: what it holds now, to tell later whether it was changed since. */
  peekContent(): Content {
    return this.#content.peek();
  }

  /** For the entry: holds something as if from the start, which is nothing to be taken back. */
  startWith(content: Content): void {
    this.#content.write(content);
    this.hideProblems();
  }

  /** For the entry: takes an answer that was worked out. */
  take(answer: Answer | undefined): void {
    because({ cause: "command", field: this }, () => {
      this.#answer ??= new Value<Answer | undefined>(undefined);
      this.#answer.write(answer);
      this.value = (answer?.value ?? this.kind.empty) as V;
    });
  }

  /** For the entry: reads what was typed again, after its locale has changed. */
  readAgain(): void {
    const { text, unreadable, value } = this.#content.peek();
    if (text === undefined) return;
    this.#content.write(
      unreadable === undefined ? contentOf(value) : contentFrom(text, this.#reading(text), this.kind),
    );
  }

  /** For the entry: what others propose for it. */
  get proposal(): Proposal | undefined {
    return this.#proposal;
  }

  /** For the entry: follows what others propose from now on. */
  followAgain(): void {
    this.#content.hold(FOLLOWING);
  }

  /** For rules and calculations: the value; {@link BLANK} where it can't be read, or is needed and missing. */
  readForRule(): unknown {
    const content = this.#content.read();
    // Whether it follows is read in any case, so that it is known later that it does not any more.
    if (content.unreadable !== undefined || (content === FOLLOWING && this.#proposal!.running)) return BLANK;
    const value: unknown = content === FOLLOWING ? this.#proposal!.value : content.value;
    const { kind } = this;
    const needed = kind.options.required === true || kind.options.default !== undefined;
    return needed && kind.isBlank(value) ? BLANK : value;
  }

  /** Whether a calculation that is running has read its value and nothing else. */
  isAllThatIsReadBy(calculation: Calculation<unknown>): boolean {
    return calculation.hasReadOnly(this.#content);
  }

  /** For the bindings: has what runs depend on everything that its text is made from, without making it. */
  noteReads(): void {
    if (this.#content.read() === FOLLOWING) this.#proposal!.noteRead();
    this.core.noteLocale();
    void this.#kindNow;
  }

  /** For the bindings: has a follower look when what is shown of the field may change, without looking now. */
  watchedBy(follower: Follower<unknown>): void {
    follower.watch(this.#content, this.#shownCell(), ...this.core.shared);
  }

  #put(content: Content, options?: HoldOptions): void {
    if (this.#proposal === undefined) return this.#content.hold(content, options);
    // Both at once, so that nobody sees the two disagree.
    transaction(() => {
      this.#content.hold(content, options);
      this.core.letOthersFollow(this);
    });
  }

  #now(): Content {
    const content = this.#content.read();
    return content === FOLLOWING ? contentOf(this.#proposal!.value) : content;
  }

  #reading(text: string): Reading<unknown> {
    return this.#kindNow.read(text, this.core.locale, this.core.timeZone);
  }

  /** With the choices as of now. */
  get #kindNow(): AnyKind {
    return this.#narrowed ? this.core.kindNow(this.name, this.kind) : this.kind;
  }

  #shownCell(): Value<boolean> {
    this.#shown ??= new Value(false);
    return this.#shown;
  }

  #findProblems(): readonly Problem[] {
    if (!this.relevant) return noProblems;
    const { value, unreadable } = this.#now();
    if (unreadable !== undefined) return [this.#problem(unreadable)];
    if (this.kind.isBlank(value)) return this.#whenBlank();
    const found = this.#kindNow.check(value, this.core.locale, this.core.timeZone);
    const broken = this.core.rulesAt(this.name);
    if (found.length === 0) return broken.length === 0 ? noProblems : broken;
    return [...found.map((finding) => this.#problem(finding)), ...broken];
  }

  #whenBlank(): readonly Problem[] {
    if (!this.required) return this.core.rulesAt(this.name);
    const reason = this.kind.options.required === true || this.core.isRequired(this.name);
    return [missingAt(this.kind, this.pointer, this.core.locale, reason)];
  }

  #problem(finding: Finding): Problem {
    return problemAt(finding, this.kind, this.pointer, this.core.locale);
  }
}
