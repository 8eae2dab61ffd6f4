import { IronwoodError, shown } from "../errors/index.ts";
import {
  because,
  beginCause,
  Calculation,
  type Change,
  changeNow,
  endCause,
  type Follower,
  internal,
  transaction,
  Value,
} from "../engine/index.ts";
import { asForRule } from "../check/index.ts";
import { type Conflict, disagree } from "../merge/index.ts";
import { type AnyKind, BLANK, type Choice, pointerTo, type Problem, type Reading, showValue } from "../model/index.ts";
import { type Answer, isOutOfDate } from "./Answer.ts";
import { type Entered, enteredText, enteredValue, FOLLOWING } from "./Entered.ts";
import { FieldChange } from "./FieldChange.ts";
import type { FieldOwner } from "./FieldOwner.ts";
import { fieldProblems } from "./fieldProblems.ts";
import { sameList } from "./gather.ts";
import type { Proposal } from "./Proposal.ts";
import { UndoableEntered, type UndoOptions } from "./UndoableValue.ts";

const noProblems: readonly Problem[] = [];
const grouped: UndoOptions = { grouped: true };
const joined: UndoOptions = { joins: true };

/** What a control tells of what a person did. */
type Doing = Partial<Pick<Change, "cause" | "control">>;

/** Whether a change is neither a person's nor made because of what one did. */
const isElsewhere = ({ cause }: Change): boolean => cause === "code" || cause === "stored";

/** What is behind a `Field`: what it holds, and what it asks of its entry. */
export class FieldState<V = unknown> {
  readonly #entered: UndoableEntered;
  #shown: Value<boolean> | undefined;
  #problems: Calculation<readonly Problem[]> | undefined;
  #answer: Value<Answer | undefined> | undefined;
  readonly #proposal: Proposal | undefined;
  /** Whether its choices depend on other fields. */
  readonly #narrowed: boolean;
  #pointer: string | undefined;
  /** What it held before a person began to type into a control that they have not left since. */
  #typedOver: Entered | undefined;

  constructor(
    readonly owner: FieldOwner,
    readonly name: string,
    readonly kind: AnyKind,
  ) {
    this.#narrowed = owner.model.parts.choices.has(name);
    this.#proposal = owner.newProposal(name, kind);
    this.#entered = new UndoableEntered(owner.baseline.entered(name), name, kind, owner);
  }

  get [internal](): this {
    return this;
  }

  get pointer(): string {
    return (this.#pointer ??= pointerTo(this.name));
  }

  get value(): V {
    const entered = this.#entered.read();
    return (entered === FOLLOWING ? this.#proposal!.value : entered.value) as V;
  }

  set value(value: V) {
    this.#set(value, undefined);
  }

  #set(value: V, options: UndoOptions | undefined): void {
    const given: unknown = value ?? this.kind.empty;
    if (given !== this.kind.empty && !this.kind.belongs(given))
      throw new IronwoodError("wrongType", `The field "${this.name}" was given ${shown(given)}`, {
        where: this.owner.where,
        expected: this.kind.expects,
      });
    const entered = this.#entered.peek();
    if (entered !== FOLLOWING && entered.unreadable === undefined && this.kind.same(entered.value, given)) return;
    const next = enteredValue(typeof given === "number" ? given + 0 : given);
    if (this.#typedOver === undefined || !isElsewhere(changeNow())) return this.#put(next, options);
    const before = this.owner.reports.conflictNow(this.name);
    const base = before === undefined ? this.#typedOver.value : before.base;
    const mine = before?.mine ?? entered;
    transaction(() => {
      this.#put(next, options);
      this.owner.reports.setConflict(this.name, { base, mine, theirs: given });
    });
  }

  get text(): string {
    const { text, value } = this.#held();
    return text ?? this.#kindNow.edit(value, this.locale, this.timeZone);
  }

  get display(): string {
    const { text, value, unreadable } = this.#held();
    return unreadable === undefined ? this.displayOf(value as V) : text!;
  }

  displayOf(value: V): string {
    return showValue(this.#kindNow, value, this.locale, this.timeZone);
  }

  get choices(): readonly Choice[] | undefined {
    const kind = this.#kindNow;
    return kind.choicesIn?.(this.locale) ?? kind.choices;
  }

  get unreadable(): boolean {
    return this.#entered.read().unreadable !== undefined;
  }

  get blank(): boolean {
    return this.unreadable || this.kind.isBlank(this.value);
  }

  get follows(): boolean {
    return this.#entered.read() === FOLLOWING;
  }

  get outOfDate(): boolean {
    const answer = this.#answer?.read();
    return answer !== undefined && this.kind.same(this.value, answer.value) && isOutOfDate(answer, this.owner);
  }

  enter(text: string, doing?: Doing): void {
    const entered = enteredText(text, this.#reading(text), this.kind);
    const typedOver = this.#typedOver ?? (doing?.control === undefined ? undefined : this.#entered.peek());
    const before = beginCause(this.#typed(doing));
    try {
      if (this.owner.reports.isEmptyNow) this.#put(entered, grouped);
      else this.#enterDisputed(entered);
    } finally {
      endCause(before);
    }
    this.#typedOver = typedOver;
  }

  /** Who types on has perhaps not seen yet what happened elsewhere; who comes back and enters something has chosen by that. */
  #enterDisputed(entered: Entered): void {
    const { reports } = this.owner;
    const conflict = reports.conflictNow(this.name);
    if (conflict === undefined) return this.#put(entered, grouped);
    transaction(() => {
      this.#put(entered, grouped);
      reports.setConflict(this.name, this.#typedOver === undefined ? undefined : { ...conflict, mine: undefined });
    });
  }

  choose(value: V, doing?: Doing): void {
    // What is moved by steps, as a slider is dragged, is moved as one.
    const options = this.kind.stepped === undefined || doing?.control === undefined ? undefined : grouped;
    because(this.#typed(doing), () =>
      transaction(() => {
        this.owner.reports.setConflict(this.name, undefined);
        this.#set(value, options);
      }),
    );
  }

  #typed(doing: Doing | undefined): Change {
    if (doing instanceof FieldChange && doing.field === this) return doing;
    return new FieldChange(doing?.cause ?? "typed", this, doing?.control);
  }

  leave(): void {
    this.tidy();
    this.owner.history.close();
    if (this.changed) this.showProblems();
  }

  /** Tidies its text, and gives a field that was blanked its default back. */
  tidy(): void {
    this.#typedOver = undefined;
    const entered = this.#entered.peek();
    if (entered === FOLLOWING || entered.unreadable !== undefined) return;
    const value: unknown = this.kind.tidy === undefined ? entered.value : this.kind.tidy(entered.value);
    const defaultValue: unknown = this.kind.options.default;
    if (defaultValue !== undefined && this.kind.isBlank(value))
      this.#entered.change(enteredValue(defaultValue), joined);
    else if (value !== entered.value) this.#entered.change(enteredValue(value), joined);
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
      () => fieldProblems(this as FieldState, this.#held(), this.#entered.read()),
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
    if (this.kind.options.saved === false) return false;
    const { baseline } = this.owner;
    const before = baseline.proposes(this.name) ? this.#proposal!.value : baseline.valueOf(this.name);
    return this.unreadable || !this.kind.same(this.value, before);
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
    return this.owner.model.titleOf(this.name);
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
    const { base, theirs, mine = this.#held() } = conflict;
    return { base, mine: mine.value, theirs } as Conflict<V>;
  }

  resolve(choice: "mine" | "theirs"): void {
    const conflict = this.owner.reports.conflictNow(this.name);
    if (conflict === undefined) return;
    const entered = choice === "theirs" ? enteredValue(conflict.theirs) : conflict.mine;
    this.#typedOver = undefined;
    because(new FieldChange("command", this), () =>
      transaction(() => {
        this.owner.reports.setConflict(this.name, undefined);
        if (entered !== undefined) this.#put(entered);
      }),
    );
  }

  revert(): void {
    this.#goBack(this.owner.baseline.entered(this.name));
    this.hideProblems();
  }

  /**
   * Holds again what it held, as what was typed in a cell is given up; where it was changed elsewhere meanwhile, that.
   */
  giveUp(entered: Entered): void {
    const conflict = this.owner.reports.conflictNow(this.name);
    this.#goBack(conflict === undefined ? entered : enteredValue(conflict.theirs), joined);
  }

  #goBack(entered: Entered, options?: UndoOptions): void {
    this.#typedOver = undefined;
    because(new FieldChange("revert", this), () =>
      transaction(() => {
        this.owner.reports.setConflict(this.name, undefined);
        this.#entered.change(entered, options);
      }),
    );
  }

  /** What it holds now, not followed: to tell later whether it was changed since. */
  peek(): Entered {
    return this.#entered.peek();
  }

  /** Holds something as if from the start, which is nothing to be undone. */
  startWith(entered: Entered): void {
    this.#typedOver = undefined;
    this.owner.reports.setConflict(this.name, undefined);
    this.#entered.write(entered);
    this.hideProblems();
  }

  /** Its baseline was changed elsewhere; what a person has changed here stays, and is in conflict where both differ. */
  rebase(base: unknown, theirs: unknown): void {
    const before = this.owner.reports.conflictNow(this.name);
    const first = before === undefined ? base : before.base;
    const inConflict = disagree(this.kind, first, this.#entered.peek(), theirs);
    this.owner.reports.setConflict(this.name, inConflict ? { base: first, theirs, mine: undefined } : undefined);
  }

  /** Takes an answer that was worked out. */
  takeAnswer(answer: Answer | undefined): void {
    because(new FieldChange("command", this), () => {
      this.#answer ??= new Value<Answer | undefined>(undefined);
      this.#answer.write(answer);
      this.value = (answer?.value ?? this.kind.empty) as V;
    });
  }

  /** Reads what was typed again, after the locale has changed. */
  readAgain(): void {
    const { text, unreadable, value } = this.#entered.peek();
    if (text === undefined) return;
    this.#entered.write(
      unreadable === undefined ? enteredValue(value) : enteredText(text, this.#reading(text), this.kind),
    );
  }

  /** Whether it follows a proposal that is made from another field, or could; not followed. */
  isProposedFrom(name: string): boolean {
    return this.#proposal?.reads(name) === true;
  }

  /** Follows what others propose from now on. */
  followAgain(): void {
    this.#entered.change(FOLLOWING);
  }

  /** For rules and calculations: the value; {@link BLANK} where it can't be read, or is needed and missing. */
  readForRule(): unknown {
    const entered = this.#entered.read();
    // Whether it follows is read in any case, so that it is known later that it does not any more.
    if (entered.unreadable !== undefined || (entered === FOLLOWING && this.#proposal!.running)) return BLANK;
    return asForRule(this.kind, entered === FOLLOWING ? this.#proposal!.value : entered.value);
  }

  /** Whether a calculation that is running has read its value and nothing else. */
  isAllThatIsReadBy(calculation: Calculation<unknown>): boolean {
    return calculation.hasReadOnly(this.#entered);
  }

  /** Has what runs depend on everything that its text is made from, without making it. */
  trackReads(): void {
    if (this.#entered.read() === FOLLOWING) void this.#proposal!.value;
    void this.owner.locale;
    if (this.#narrowed) this.owner.conditions.kindNow(this.name, this.kind);
  }

  /** Has a follower look when what is shown of the field may change, without looking now. */
  watchedBy(follower: Follower<unknown>): void {
    follower.watch(this.#entered, this.#shownValue(), ...this.owner.shared, this.owner.reports.source);
  }

  #put(entered: Entered, options?: UndoOptions): void {
    if (this.#proposal === undefined) return this.#entered.change(entered, options);
    // Both at once, so that nobody sees the two disagree.
    transaction(() => {
      this.#entered.change(entered, options);
      this.owner.letOthersFollow(this.name);
    });
  }

  #held(): Entered {
    const entered = this.#entered.read();
    return entered === FOLLOWING ? enteredValue(this.#proposal!.value) : entered;
  }

  #reading(text: string): Reading<unknown> {
    return this.#kindNow.read(text, this.locale, this.timeZone);
  }

  /** With the choices as of now. */
  get #kindNow(): AnyKind {
    return this.#narrowed ? this.owner.conditions.kindNow(this.name, this.kind) : this.kind;
  }

  #shownValue(): Value<boolean> {
    this.#shown ??= new Value(false);
    return this.#shown;
  }
}
