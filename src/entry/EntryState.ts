import { IronwoodError, requireArgument } from "../errors/index.ts";
import { because, type Change, inOneUnit, transaction, type Undone, Value } from "../engine/index.ts";
import {
  type AnyModel,
  type DeclaredNames,
  type FieldValue,
  type KindOf,
  type CheckingMessage,
  type Problem,
  type ReadRowOf,
  type RowOf,
  rowTitle,
  say,
  valueIn,
} from "../model/index.ts";
import { answerFrom } from "./Answer.ts";
import type { NamedValues } from "./Baseline.ts";
import type { EntryOptions } from "./EntryOptions.ts";
import { EntryReading } from "./EntryReading.ts";
import { rowFrom } from "./rowFrom.ts";
import { FieldState } from "./FieldState.ts";
import { checkedValues, initialValues } from "./initialValues.ts";
import { said, type SaveAnswer } from "./saveMessages.ts";
import { type FixedRow, type Savable, type SaveResult, Saving } from "./Saving.ts";

/** What is behind an `Entry`: saving, taking back, and beginning anew. */
export class EntryState<M extends AnyModel = AnyModel> extends EntryReading<M> {
  readonly #options: EntryOptions<M>;
  readonly #rowsBegun = new Value(0);
  readonly #saving: Saving<RowOf<M>>;
  readonly #presenters: ((result: SaveResult<unknown>) => void)[] = [];
  #presented: Promise<unknown> | undefined;

  constructor(model: M, values: NamedValues, isNew: boolean, options: EntryOptions<M>) {
    super(model, values, isNew, options);
    this.#options = options;
    this.#saving = new Saving(this.#savable());
  }

  undo(): Undone {
    return this.history.undo();
  }

  redo(): Undone {
    return this.history.redo();
  }

  answer<N extends DeclaredNames<M>>(
    name: N,
    work: (row: ReadRowOf<M>) => FieldValue<KindOf<M, N>>,
  ): FieldValue<KindOf<M, N>> | undefined {
    requireArgument(typeof work === "function", "answer", work, "a function of the row that gives the answer");
    const field = this.core.field(name);
    if (!(field instanceof FieldState))
      throw new IronwoodError("calculatedField", `The field "${name}" is calculated and takes no answer`);
    const answer = answerFrom(this.core, work);
    transaction(() => field.takeAnswer(answer));
    return answer?.value as FieldValue<KindOf<M, N>> | undefined;
  }

  /** Whether it has somewhere to be saved. */
  get canSave(): boolean {
    return this.#options.save !== undefined;
  }

  /** How often a blank entry has begun here: bindings then put the focus on the first field. Followed. */
  get rowsBegun(): number {
    return this.#rowsBegun.read();
  }

  get busy(): boolean {
    return this.#saving.busy;
  }

  check(): Promise<readonly Problem[]> {
    return this.#saving.check();
  }

  save(): Promise<SaveResult<RowOf<M>>> {
    const saving = this.#saving.save();
    const present = this.#presenters.at(-1);
    if (present !== undefined && this.#presented !== saving) {
      this.#presented = saving;
      void saving.then(present);
    }
    return saving;
  }

  /**
   * Has the outcome of each save shown, whoever begins it, as long as something shows the entry.
   *
   * @returns what ends it
   */
  presentSaves(present: (result: SaveResult<unknown>) => void): () => void {
    this.#presenters.push(present);
    return () => {
      const index = this.#presenters.lastIndexOf(present);
      if (index >= 0) this.#presenters.splice(index, 1);
    };
  }

  /** Whether something shows what a save comes to. */
  get isPresented(): boolean {
    return this.#presenters.length > 0;
  }

  /** Saves what was changed, as when the row is left: at once where no rule has to ask elsewhere first. */
  commit(): SaveResult<RowOf<M>> | Promise<SaveResult<RowOf<M>>> {
    return this.#saving.commit();
  }

  /** What the one way to save asks of this entry. */
  #savable(): Savable<RowOf<M>> {
    const isUnwritten = (): boolean => this.core.isNew || this.changed;
    const refusal = (): Problem | undefined => this.#refusal();
    const { core } = this;
    const state = (): Pick<EntryState<M>, "locale" | "valid" | "problems"> => this;
    return {
      get locale() {
        return state().locale;
      },
      get valid() {
        return state().valid;
      },
      get problems() {
        return state().problems;
      },
      get isUnwritten() {
        return isUnwritten();
      },
      get refusal() {
        return refusal();
      },
      parts: core.parts,
      asking: core.asking,
      tidy: () => void transaction(() => this.#tidy()),
      showAll: () => core.showAll(true),
      fix: () => this.#fix(),
      write: (row, context) => this.#options.save?.(row, context),
      refused: (problems) => core.refuse(problems),
      written: (fixed) => because({ cause: "saved" }, () => void transaction(() => this.written(fixed))),
      said: (row, answer) => this.#said(row, answer),
    };
  }

  /** Why it may not be saved now; `undefined` where it may be. Followed. */
  get whyNotSaved(): string | undefined {
    const verdict = this.#options.allowed?.() ?? true;
    return verdict === true ? undefined : verdict;
  }

  #refusal(): Problem | undefined {
    const why = this.whyNotSaved;
    const own = { severity: "error", pointer: "" } as const;
    if (why !== undefined) return { ...own, code: "notAllowed", message: why };
    // Nothing that has nowhere to go is called saved.
    return this.canSave ? undefined : { ...own, code: "notSaved", message: say(this.locale, "nowhereToSave") };
  }

  #tidy(): void {
    for (const field of this.core.fieldsInUse()) field.tidy();
    this.core.refuse([]);
  }

  #fix(): FixedRow<RowOf<M>> {
    const values = this.valuesToSave();
    const entered = new Map(this.core.fieldsInUse().map((field) => [field, field.peek()] as const));
    return { row: Object.freeze(rowFrom(values)) as RowOf<M>, values, entered };
  }

  #said(row: RowOf<M>, answer: SaveAnswer): string {
    const key = this.model.parts.key.map((name) => valueIn(row, name));
    return said(answer, rowTitle(this.model, key), this.locale);
  }

  /** After a save: the row is what `changed` compares with; what was typed meanwhile stays. */
  protected written({ values, entered }: FixedRow<RowOf<M>>): void {
    const { core } = this;
    core.showAll(false);
    if (this.#options.afterSave !== "startNew") {
      core.baseline.set({ ...core.baseline.read(), ...values });
      for (const field of core.fieldsInUse()) field.hideProblems();
      return;
    }
    // A new row begins: an undo of what was typed into the last one would put that into the new row.
    this.history.forget(core);
    core.baseline.set(initialValues(this.model, undefined));
    this.startAgain(entered);
    this.#rowsBegun.write(this.rowsBegun + 1);
  }

  /** Sets the fields that were not changed since to their new baseline. */
  protected startAgain(entered: FixedRow<RowOf<M>>["entered"]): void {
    for (const field of this.core.fieldsInUse())
      if (field.peek() === entered.get(field)) field.startWith(this.core.baseline.entered(field.name));
  }

  revert(): void {
    this.#asOne("revert", "goingBack", () => this.#goBack());
  }

  #goBack(): void {
    this.core.showAll(false);
    this.core.parts.revert();
    for (const field of this.core.fieldsInUse()) field.revert();
  }

  startNew(): void {
    this.#asOne("code", "startingNew", () => {
      this.core.baseline.change(initialValues(this.model, undefined));
      this.#goBack();
      this.#rowsBegun.write(this.rowsBegun + 1);
    });
  }

  /** Starts to edit another row and drops everything of the row before. */
  begin(row: RowOf<M>): void {
    const { core } = this;
    const values = checkedValues(this.model, row);
    this.#saving.beginRow();
    this.history.forget(core);
    because({ cause: "revert" }, () =>
      transaction(() => {
        core.showAll(false);
        core.refuse([]);
        core.baseline.set(values);
        for (const field of core.fieldsInUse()) field.startWith(core.baseline.entered(field.name));
      }),
    );
  }

  /**
   * The row was changed where it is kept. What a person has changed here stays; where both changed the same field to different values, it
   * is in conflict.
   */
  rebase(row: RowOf<M>): void {
    const { core } = this;
    const values = checkedValues(this.model, row);
    const changed = new Set(core.problems.changedNames.read());
    because({ cause: "stored" }, () =>
      transaction(() => {
        const inUse = core.fieldsInUse();
        const before = inUse.map((field) => core.baseline.entered(field.name).value);
        core.baseline.set(values);
        inUse.forEach((field, number) => {
          const theirs = core.baseline.entered(field.name);
          if (changed.has(field.name)) field.rebase(before[number], theirs.value);
          else field.startWith(theirs);
        });
      }),
    );
  }

  #asOne(cause: Change["cause"], name: CheckingMessage, work: () => void): void {
    because({ cause }, () =>
      inOneUnit(
        () => say(this.locale, name),
        () => transaction(work),
      ),
    );
  }

  stop(): void {
    this.#saving.stop();
    this.core.asking.stop();
    this.history.forget(this.core);
  }

  [Symbol.dispose](): void {
    this.stop();
  }
}
