import { Calculation, type Follower, internal, Value } from "../engine/index.ts";
import { asForRule } from "../check/index.ts";
import { type Conflict } from "../merge/index.ts";
import {
  type AnyKind,
  BLANK,
  type Choice,
  pointerTo,
  type Problem,
  type Reading,
  showValue,
  showWhole,
} from "../model/index.ts";
import { type Answer, isOutOfDate } from "./Answer.ts";
import { type Entered, enteredValue, FOLLOWING } from "./Entered.ts";
import type { FieldOwner } from "./FieldOwner.ts";
import { fieldProblems } from "./fieldProblems.ts";
import { sameList } from "./gather.ts";
import type { Proposal } from "./Proposal.ts";
import { UndoableEntered } from "./UndoableValue.ts";

const noProblems: readonly Problem[] = [];

/** What there is to know of a field: what it holds, how it is shown, what is wrong with it. It changes nothing. */
export abstract class FieldReading<V = unknown> {
  protected readonly entered: UndoableEntered;
  protected readonly proposal: Proposal | undefined;
  protected answer: Value<Answer | undefined> | undefined;
  #shown: Value<boolean> | undefined;
  #problems: Calculation<readonly Problem[]> | undefined;
  /** Whether its choices depend on other fields. */
  readonly #narrowed: boolean;
  #pointer: string | undefined;

  constructor(
    readonly owner: FieldOwner,
    readonly name: string,
    readonly kind: AnyKind,
  ) {
    this.#narrowed = owner.model.parts.choices.has(name);
    this.proposal = owner.newProposal(name, kind);
    this.entered = new UndoableEntered(owner.baseline.entered(name), name, kind, owner);
  }

  get [internal](): this {
    return this;
  }

  get pointer(): string {
    this.#pointer ??= pointerTo(this.name);
    return this.#pointer;
  }

  get value(): V {
    const entered = this.entered.read();
    return (entered === FOLLOWING ? this.proposal!.value : entered.value) as V;
  }

  set value(value: V) {
    this.setValue(value);
  }

  protected abstract setValue(value: V): void;

  get text(): string {
    const { text, value } = this.content();
    return text ?? this.kindNow.edit(value, this.locale, this.timeZone);
  }

  get display(): string {
    const { text, value, unreadable } = this.content();
    return unreadable === undefined ? this.displayOf(value as V) : text!;
  }

  displayOf(value: V): string {
    return showValue(this.kindNow, value, this.locale, this.timeZone);
  }

  wholeOf(value: V): string {
    return showWhole(this.kindNow, value, this.locale, this.timeZone);
  }

  get choices(): readonly Choice[] | undefined {
    const kind = this.kindNow;
    return kind.choicesIn?.(this.locale) ?? kind.choices;
  }

  get unreadable(): boolean {
    return this.entered.read().unreadable !== undefined;
  }

  get blank(): boolean {
    return this.unreadable || this.kind.isBlank(this.value);
  }

  get follows(): boolean {
    return this.entered.read() === FOLLOWING;
  }

  get outOfDate(): boolean {
    const answer = this.answer?.read();
    return answer !== undefined && this.kind.same(this.value, answer.value) && isOutOfDate(answer, this.owner);
  }

  /** Makes problems visible from now on. */
  showProblems(): void {
    this.#shownValue().write(true);
  }

  hideProblems(): void {
    this.#shown?.write(false);
  }

  get problems(): readonly Problem[] {
    this.#problems ??= new Calculation(
      () => fieldProblems(this, this.content(), this.entered.read()),
      { sort: "gathered", of: this },
      sameList,
    );
    return this.#problems.read();
  }

  get visibleProblems(): readonly Problem[] {
    // What happened elsewhere is nobody's mistake, and is told at once.
    const visible = this.problemsVisible || this.owner.reports.conflictAt(this.name) !== undefined;
    return visible ? this.problems : noProblems;
  }

  get problemsVisible(): boolean {
    return this.owner.allShown || this.#shownValue().read();
  }

  get changed(): boolean {
    return this.kind.options.saved !== false && this.differs;
  }

  /** Whether it differs from what it began with, also where it is of the window only. */
  protected get differs(): boolean {
    const { baseline } = this.owner;
    const before = baseline.proposes(this.name) ? this.#proposedByOthers() : baseline.valueOf(this.name);
    return this.unreadable || !this.kind.same(this.value, before);
  }

  /** What is proposed for it by other fields; what another one has from this field is nothing that it could have begun with. */
  #proposedByOthers(): unknown {
    const proposal = this.proposal!;
    return !this.follows && proposal.isMadeFrom(this.entered) ? this.kind.empty : proposal.value;
  }

  get checking(): boolean {
    return this.owner.asking.isChecking(this.name);
  }

  get relevant(): boolean {
    return this.owner.conditions.isRelevant(this.name);
  }

  get required(): boolean {
    return this.kind.options.required === true || this.owner.conditions.isRequired(this.name) !== false;
  }

  get readOnly(): boolean {
    return this.kind.options.readOnly === true || this.owner.conditions.isReadOnly(this.name) !== false;
  }

  get reason(): string | undefined {
    const reason = this.owner.conditions.isReadOnly(this.name);
    return typeof reason === "string" ? reason : undefined;
  }

  get title(): string {
    return this.owner.model.titleOf(this.name, this.owner.locale);
  }

  get locale(): string {
    return this.owner.locale;
  }

  get timeZone(): string {
    return this.owner.timeZone;
  }

  get conflict(): Conflict<V> | undefined {
    const conflict = this.owner.reports.conflictAt(this.name);
    if (conflict === undefined) return undefined;
    const { base, theirs, mine = this.content() } = conflict;
    return { base, mine: mine.value, theirs } as Conflict<V>;
  }

  /** What it holds now, not followed: to tell later whether it was changed since. */
  peek(): Entered {
    return this.entered.peek();
  }

  /** What it holds; followed. */
  get held(): Entered {
    return this.entered.read();
  }

  /** Whether it follows a proposal that is made from another field, or could; not followed. */
  isProposedFrom(name: string): boolean {
    return this.proposal?.reads(name) === true;
  }

  /** For rules and calculations: the value; {@link BLANK} where it can't be read, or is needed and missing. */
  readForRule(): unknown {
    const entered = this.entered.read();
    // Whether it follows is read in any case, so that it is known later that it does not any more.
    if (entered.unreadable !== undefined || (entered === FOLLOWING && this.proposal!.running)) return BLANK;
    return asForRule(this.kind, entered === FOLLOWING ? this.proposal!.value : entered.value);
  }

  /** Whether a calculation that is running has read its value and nothing else. */
  isAllThatIsReadBy(calculation: Calculation<unknown>): boolean {
    return calculation.hasReadOnly(this.entered);
  }

  /** Has what runs depend on everything that its text is made from, without making it. */
  trackReads(): void {
    if (this.entered.read() === FOLLOWING) this.proposal!.track();
    this.owner.trackLocale();
    if (this.#narrowed) this.owner.conditions.kindNow(this.name, this.kind);
  }

  /** Has a follower look when what is shown of the field may change, without looking now. */
  watchedBy(follower: Follower<unknown>): void {
    follower.watch(this.entered, this.#shownValue(), ...this.owner.shared, this.owner.reports.source);
  }

  protected content(): Entered {
    const entered = this.entered.read();
    return entered === FOLLOWING ? enteredValue(this.proposal!.value) : entered;
  }

  protected reading(text: string): Reading<unknown> {
    return this.kindNow.read(text, this.locale, this.timeZone);
  }

  /** With the choices as of now. */
  protected get kindNow(): AnyKind {
    return this.#narrowed ? this.owner.conditions.kindNow(this.name, this.kind) : this.kind;
  }

  #shownValue(): Value<boolean> {
    this.#shown ??= new Value(false);
    return this.#shown;
  }
}
