import { IronwoodError, shown } from "../errors/index.ts";
import {
  because,
  beginCause,
  Calculation,
  type Change,
  changeNow,
  endCause,
  type Follower,
  transaction,
  Value,
} from "../engine/index.ts";
import { type AnyKind, BLANK, type Choice, pointerTo, type Problem, type Reading } from "../model/index.ts";
import { type Answer, isOutOfDate } from "./Answer.ts";
import type { Conflict } from "./Conflict.ts";
import { type Content, contentFrom, contentOf, FOLLOWING } from "./content.ts";
import type { EntryCore } from "./EntryCore.ts";
import { FieldChange } from "./FieldChange.ts";
import { findProblems } from "./findProblems.ts";
import { sameList } from "./gather.ts";
import { HeldContent, type HoldOptions } from "./Held.ts";
import type { Proposal } from "./Proposal.ts";

const noProblems: readonly Problem[] = [];
const grouped: HoldOptions = { grouped: true };
const joined: HoldOptions = { joins: true };

/** Whether a change is neither a person's nor made because of what one did. */
const isElsewhere = ({ cause }: Change): boolean => cause === "code" || cause === "stored";

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
  /** What it held before a person began to type into a control that they have not left since. */
  #typedOver: Content | undefined;
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
    const next = contentOf(typeof given === "number" ? given + 0 : given);
    if (this.#typedOver === undefined || !isElsewhere(changeNow())) return this.#put(next, options);
    const { base = this.#typedOver.value, mine = content } = this.core.peekDisagreement(this.name) ?? {};
    transaction(() => {
      this.#put(next, options);
      this.core.disagree(this.name, { base, mine, theirs: given });
    });
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
    const kind = this.#kindNow;
    return kind.choicesIn?.(this.core.locale) ?? kind.choices;
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
  enter(text: string, change?: Partial<Pick<Change, "cause" | "control">>): void {
    const content = contentFrom(text, this.#reading(text), this.kind);
    const typedOver = this.#typedOver ?? (change?.control === undefined ? undefined : this.#content.peek());
    const before = beginCause(this.#typed(change));
    try {
      if (this.core.isUndisputed) this.#put(content, grouped);
      else this.#enterDisputed(content);
    } finally {
      endCause(before);
    }
    this.#typedOver = typedOver;
  }

  /** Who types on has perhaps not seen yet what happened elsewhere; who comes back and enters something has chosen by that. */
  #enterDisputed(content: Content): void {
    const disagreement = this.core.peekDisagreement(this.name);
    if (disagreement === undefined) return this.#put(content, grouped);
    transaction(() => {
      this.#put(content, grouped);
      this.core.disagree(this.name, this.#typedOver === undefined ? undefined : { ...disagreement, mine: undefined });
    });
  }

  /** Takes a value that a person chose, as {@link enter} takes a text. */
  choose(value: V, change?: Partial<Pick<Change, "cause" | "control">>): void {
    // What is moved by steps, as a slider is dragged, is moved as one.
    const options = this.kind.stepped === undefined || change?.control === undefined ? undefined : grouped;
    because(this.#typed(change), () =>
      transaction(() => {
        this.core.disagree(this.name, undefined);
        this.#set(value, options);
      }),
    );
  }

  #typed(change: Partial<Pick<Change, "cause" | "control">> | undefined): Change {
    if (change instanceof FieldChange && change.field === (this as Field)) return change;
    return new FieldChange(change?.cause ?? "typed", this, change?.control);
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
    this.#typedOver = undefined;
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
    this.#problems ??= new Calculation(
      () => findProblems(this, this.#now(), this.#kindNow),
      `problems of ${this.name}`,
      sameList,
    );
    return this.#problems.read();
  }

  /** Those that a person is to see: after the control was left changed, or a save was tried. */
  get visibleProblems(): readonly Problem[] {
    // What happened elsewhere is nobody's mistake, and is told at once.
    const visible = this.problemsVisible || this.core.disagreementAt(this.name) !== undefined;
    return visible ? this.problems : noProblems;
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

  /**
   * What a person entered here, and what it was changed to elsewhere meanwhile: in its row where that is kept, or by code while the
   * person was typing. It is the problem `changedElsewhere`, to be seen at once, until {@link resolve}, {@link revert}, or
   * something else is entered. Not there where both came to the same.
   */
  get conflict(): Conflict<V> | undefined {
    const disagreement = this.core.disagreementAt(this.name);
    if (disagreement === undefined) return undefined;
    const { base, theirs, mine = this.#now() } = disagreement;
    return { base, mine: mine.value, theirs } as Conflict<V>;
  }

  /**
   * Ends a {@link conflict}: the field holds what was entered here (`mine`) or what it was changed to elsewhere (`theirs`), which
   * can be undone. Without a conflict it does nothing.
   */
  resolve(choice: "mine" | "theirs"): void {
    const disagreement = this.core.peekDisagreement(this.name);
    if (disagreement === undefined) return;
    const content = choice === "theirs" ? contentOf(disagreement.theirs) : disagreement.mine;
    this.#typedOver = undefined;
    because(new FieldChange("command", this as Field), () =>
      transaction(() => {
        this.core.disagree(this.name, undefined);
        if (content !== undefined) this.#put(content);
      }),
    );
  }

  /** Goes back to what the entry began with or last saved: a field that followed others does so again. */
  revert(): void {
    this.#goBack(this.core.startContent(this.name));
    this.hideProblems();
  }

  /**
   * For the bindings: holds again what it held, as what was typed in a cell is given up; where it was changed elsewhere meanwhile,
   * that.
   */
  giveUp(content: Content): void {
    const disagreement = this.core.peekDisagreement(this.name);
    this.#goBack(disagreement === undefined ? content : contentOf(disagreement.theirs), joined);
  }

  #goBack(content: Content, options?: HoldOptions): void {
    this.#typedOver = undefined;
    because(new FieldChange("revert", this as Field), () =>
      transaction(() => {
        this.core.disagree(this.name, undefined);
        this.#content.hold(content, options);
      }),
    );
  }

  /** For the entry: what it holds now, to tell later whether it was changed since. */
  peekContent(): Content {
    return this.#content.peek();
  }

  /** For the entry: holds something as if from the start, which is nothing to be taken back. */
  startWith(content: Content): void {
    this.#typedOver = undefined;
    this.core.disagree(this.name, undefined);
    this.#content.write(content);
    this.hideProblems();
  }

  /** For the entry: what it began with was changed elsewhere, and what a person has changed here stays. */
  meet(base: unknown, theirs: unknown): void {
    const { base: first = base } = this.core.peekDisagreement(this.name) ?? {};
    const { value, unreadable } = this.#content.peek();
    const agrees = this.kind.same(first, theirs) || (unreadable === undefined && this.kind.same(value, theirs));
    this.core.disagree(this.name, agrees ? undefined : { base: first, theirs, mine: undefined });
  }

  /** For the entry: takes an answer that was worked out. */
  take(answer: Answer | undefined): void {
    because(new FieldChange("command", this as Field), () => {
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
    if (this.#narrowed) this.core.kindNow(this.name, this.kind);
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
}
