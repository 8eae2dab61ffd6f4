import { IronwoodError, requireArgument, shown } from "../errors/index.ts";
import {
  because,
  beginCause,
  type Change,
  changeNow,
  endCause,
  transaction,
  untracked,
  Value,
} from "../engine/index.ts";
import { type Finding, givenTo, kept } from "../model/index.ts";
import { disagree } from "../merge/index.ts";
import { type Answer } from "./Answer.ts";
import { type Entered, enteredText, enteredValue, FOLLOWING } from "./Entered.ts";
import { FieldChange } from "./FieldChange.ts";
import { FieldReading } from "./FieldReading.ts";
import { type UndoOptions } from "./UndoableValue.ts";

const grouped: UndoOptions = { grouped: true };
const joined: UndoOptions = { joins: true };

/** What a control passes on when a person has done something in it. */
type Doing = Partial<Pick<Change, "cause" | "control">>;

/** Whether a change is neither a person's nor made because of what one did. */
const isElsewhere = ({ cause }: Change): boolean => cause === "code" || cause === "stored";

/** What is behind a `Field`: what people, code and others elsewhere do to it. */
export class FieldState<V = unknown> extends FieldReading<V> {
  /** The content from before the person began to type, while the person has not left the control. */
  #typedOver: Entered | undefined;

  protected override setValue(value: V): void {
    this.#requireOwn();
    this.#set(value, undefined);
  }

  #set(value: V, options: UndoOptions | undefined): void {
    const given: unknown = value ?? this.kind.empty;
    if (given !== this.kind.empty && !this.kind.belongs(given))
      throw new IronwoodError("wrongType", `The field "${this.name}" was given ${shown(given)}`, {
        where: this.owner.where,
        expected: this.kind.expects,
      });
    const entered = this.entered.peek();
    const now = entered === FOLLOWING ? this.proposal!.value : entered.value;
    // Who writes what is there already changes nothing: what follows others goes on following them.
    if (entered.unreadable === undefined && this.kind.same(now, given)) return;
    const next = enteredValue(kept(given));
    if (this.#typedOver === undefined || !isElsewhere(changeNow())) return this.#put(next, options);
    const before = this.owner.reports.conflictNow(this.name);
    const base = before === undefined ? this.#typedOver.value : before.base;
    const mine = before?.mine ?? entered;
    transaction(() => {
      this.#put(next, options);
      this.owner.reports.setConflict(this.name, { base, mine, theirs: given });
    });
  }

  /** @param found - why the text can't be read, where only the control knows */
  enter(text: string, doing?: Doing, found?: Finding): void {
    if (typeof (text as unknown) !== "string")
      throw new IronwoodError("wrongType", `The field "${this.name}" was entered ${shown(text)}`, {
        where: this.owner.where,
        expected: "a text, as a person types it; a value is set by values",
      });
    this.#requireOwn();
    const reading = found === undefined ? this.reading(text) : ({ ok: false, finding: found } as const);
    const entered = enteredText(text, reading, this.kind);
    const typedOver = this.#typedOver ?? (doing?.control === undefined ? undefined : this.entered.peek());
    if (this.#isThere(entered)) {
      this.#typedOver = typedOver;
      return;
    }
    const before = beginCause(this.#typed(doing));
    try {
      if (this.owner.reports.isEmptyNow) this.#put(entered, grouped);
      else this.#enterDisputed(entered);
    } finally {
      endCause(before);
    }
    this.#typedOver = typedOver;
  }

  /** Whether a text that is typed is the one that is shown already: then nothing is changed, and nothing is to be undone. */
  #isThere({ text, value, unreadable }: Entered): boolean {
    const now = this.entered.peek();
    if (now === FOLLOWING || now.text !== undefined || now.unreadable !== undefined || unreadable !== undefined)
      return false;
    if (!this.owner.reports.isEmptyNow || !this.kind.same(now.value, value)) return false;
    return untracked(() => this.text) === text;
  }

  /** A person who goes on typing may not have seen the conflict; a person who comes back and enters a value has chosen by that. */
  #enterDisputed(entered: Entered): void {
    const { reports } = this.owner;
    const conflict = reports.conflictNow(this.name);
    if (conflict === undefined) return this.#put(entered, grouped);
    transaction(() => {
      this.#put(entered, grouped);
      reports.setConflict(this.name, this.#typedOver === undefined ? undefined : { ...conflict, mine: undefined });
    });
  }

  /** @throws `givenField` for a field that the place gives */
  #requireOwn(): void {
    if (givenTo(this.kind) !== undefined)
      throw new IronwoodError("givenField", `The field "${this.name}" is given by the place where its row is kept`, {
        where: this.owner.where,
        expected: "no value: it is blank until the row is saved",
      });
  }

  choose(value: V, doing?: Doing): void {
    this.#requireOwn();
    // All steps of one movement, as of a slider, are one undo step.
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
    if (this.differs) this.showProblems();
  }

  /** Tidies its text, and gives a field that was blanked its default back. */
  tidy(): void {
    this.#typedOver = undefined;
    const entered = this.entered.peek();
    if (entered === FOLLOWING || entered.unreadable !== undefined) return;
    const value: unknown = this.kind.tidy === undefined ? entered.value : this.kind.tidy(entered.value);
    const defaultValue: unknown = this.kind.options.default;
    if (defaultValue !== undefined && this.kind.isBlank(value)) this.entered.change(enteredValue(defaultValue), joined);
    else if (value !== entered.value) this.entered.change(enteredValue(value), joined);
  }

  resolve(choice: "mine" | "theirs"): void {
    requireArgument(["mine", "theirs"].includes(choice), "resolve", choice, '"mine" or "theirs"');
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
   * Gives up what was typed and restores the content from before; if the field was changed elsewhere meanwhile, takes that value.
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
        this.entered.change(entered, options);
      }),
    );
  }

  /** Sets the content as an initial one: no change, and nothing to undo. */
  startWith(entered: Entered): void {
    this.#typedOver = undefined;
    this.owner.reports.setConflict(this.name, undefined);
    this.entered.write(entered);
    this.hideProblems();
  }

  /** Its baseline was changed elsewhere; what a person has changed here stays, and is in conflict where both differ. */
  rebase(base: unknown, theirs: unknown): void {
    const before = this.owner.reports.conflictNow(this.name);
    const first = before === undefined ? base : before.base;
    const inConflict = disagree(this.kind, first, this.entered.peek(), theirs);
    this.owner.reports.setConflict(this.name, inConflict ? { base: first, theirs, mine: undefined } : undefined);
  }

  /** Sets the answer that `entry.answer` calculated. */
  takeAnswer(answer: Answer | undefined): void {
    because(new FieldChange("command", this), () => {
      this.answer ??= new Value<Answer | undefined>(undefined);
      this.answer.write(answer);
      this.value = (answer?.value ?? this.kind.empty) as V;
    });
  }

  /** Reads what was typed again, after the locale has changed. */
  readAgain(): void {
    const { text, unreadable, value } = this.entered.peek();
    if (text === undefined) return;
    this.entered.write(
      unreadable === undefined ? enteredValue(value) : enteredText(text, this.reading(text), this.kind),
    );
  }

  /** Follows what others propose from now on. */
  followAgain(): void {
    this.entered.change(FOLLOWING);
  }

  #put(entered: Entered, options?: UndoOptions): void {
    if (this.proposal === undefined) return this.entered.change(entered, options);
    // In one transaction, so that no follower sees the two disagree.
    transaction(() => {
      this.entered.change(entered, options);
      this.owner.letOthersFollow(this.name);
    });
  }
}
