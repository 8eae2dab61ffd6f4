import { IronwoodError } from "../errors/index.ts";
import {
  because,
  Calculation,
  type Change,
  type History,
  inOneUnit,
  newHistory,
  platform,
  type Signal,
  type SignalController,
  transaction,
  type Undone,
  Value,
} from "../engine/index.ts";
import {
  type AnyModel,
  type DeclaredNames,
  type FieldValue,
  type GivenOf,
  type KindOf,
  type MessageName,
  type NamesOf,
  type Problem,
  putIn,
  type ReadRowOf,
  type RowOf,
  rowTitle,
  say,
  valueIn,
  type ValuesOf,
} from "../model/index.ts";
import { workOut } from "./Answer.ts";
import { canonical, checked, knownZone, startOf } from "./beginning.ts";
import type { CalculatedField } from "./CalculatedField.ts";
import type { Content } from "./content.ts";
import { EntryCore } from "./EntryCore.ts";
import { Field } from "./Field.ts";
import type { GroupFields } from "./GroupFields.ts";
import { fieldsOf, valuesOf } from "./members.ts";
import { notSaved, refusedBy, said, type SaveAnswer } from "./saying.ts";

export interface EntryOptions<M> {
  /** Values to begin with; they are not changes. */
  readonly values?: GivenOf<M> | undefined;
  /**
   * Puts a row where rows are kept. It is called when all checks hold. What it returns is told in the status line, or
   * shown at the fields where it refuses the row; what it throws is told as the reason why nothing was saved. Everything
   * typed stays.
   */
  readonly save?: ((row: RowOf<M>, context: { signal: Signal }) => SaveAnswer | Promise<SaveAnswer>) | undefined;
  /** A BCP 47 tag; default: the page's `lang` once it is bound, else the runtime's. */
  readonly locale?: string | undefined;
  /** An IANA name, as `Europe/Berlin`: by whose clock instants are read and shown; default: the runtime's. */
  readonly timeZone?: string | undefined;
  /** Where changes are noted to be undone; default: one of its own. Entries with the same one are undone in one order. */
  readonly history?: History | undefined;
  /** Whether people may only look now, or why: it is followed. Code can change everything all the same. */
  readonly readOnly?: (() => boolean | string) | undefined;
  /** What follows a save: the entry stays as it is (the default), or a blank one begins. */
  readonly afterSave?: "stay" | "startNew" | undefined;
}

/** What a save came to. `said` is for the status line. */
export type SaveResult<Row> =
  | { readonly ok: true; readonly row: Row; readonly said: string }
  | { readonly ok: false; readonly problems: readonly Problem[] };

/** An entry's fields by name: those that can be entered, and those that are calculated. Of any entry nothing is known. */
// eslint-disable-next-line @typescript-eslint/no-explicit-any
export type EntryFields<M> = 0 extends 1 & M ? any : FieldsByName<M>;

type FieldsByName<M> = {
  readonly [N in DeclaredNames<M>]: FieldOf<KindOf<M, N>>;
} & {
  readonly [N in Exclude<NamesOf<M>, DeclaredNames<M>>]: CalculatedField<
    NonNullable<ValuesOf<M>[N & keyof ValuesOf<M>]>
  >;
};

/** A field of a kind, or the fields of a group. */
type FieldOf<K> = K extends { readonly kind: "group"; readonly group?: infer G extends object }
  ? GroupFields<{ readonly [N in keyof G]: FieldOf<G[N]> }>
  : Field<FieldValue<K>>;

/** One row being filled in or edited, alive. Make one with `newEntry` or `editEntry`. */
export class Entry<M extends AnyModel = AnyModel> {
  /** The values, for reading and writing; what is calculated is read only. An irrelevant field is blank here. */
  readonly values: ValuesOf<M>;
  readonly fields: EntryFields<M>;
  /** For the bindings. */
  readonly core: EntryCore;
  readonly #options: EntryOptions<M>;
  readonly #isNew: boolean;
  readonly #busy = new Value(false);
  readonly #beginnings = new Value(0);
  #saving: Promise<SaveResult<RowOf<M>>> | undefined;
  #abort: SignalController | undefined;
  #localeGiven: boolean;
  /** How many rows have been edited here: what a save of one before comes to is not of this one. */
  #rows = 0;

  constructor(
    readonly model: M,
    start: Readonly<Record<string, unknown>>,
    isNew: boolean,
    options: EntryOptions<M>,
  ) {
    this.#options = options;
    this.#isNew = isNew;
    this.#localeGiven = options.locale !== undefined;
    const { history = newHistory(), readOnly } = options;
    this.core = new EntryCore(model, start, canonical(options.locale), isNew, knownZone(options.timeZone), history);
    if (readOnly !== undefined) this.core.viewOnly = new Calculation(readOnly, "whether it can be changed");
    this.values = valuesOf(this.core) as ValuesOf<M>;
    this.fields = fieldsOf(this.core) as EntryFields<M>;
  }

  /** The locale that text is read and shown in. When it is set, values stand and unreadable texts are read again. */
  get locale(): string {
    return this.core.locale;
  }

  set locale(locale: string) {
    this.#localeGiven = true;
    transaction(() => this.core.setLocale(canonical(locale)));
  }

  /** For the bindings: the page's language, used unless the builder has said another. */
  offerLocale(locale: string): void {
    if (this.#localeGiven || locale === "") return;
    this.locale = locale;
  }

  /** Everything that is wrong, in the order of the model. */
  get problems(): readonly Problem[] {
    return this.core.allProblems.read();
  }

  /** Those that a person is to see. */
  get visibleProblems(): readonly Problem[] {
    if (this.core.allShown) return this.problems;
    return this.core.visibleProblems.read();
  }

  /** Whether it could be saved: nothing is an error. Warnings do not count. */
  get valid(): boolean {
    return this.problems.every((problem) => problem.severity !== "error");
  }

  /** Whether anything differs from what it began with or last saved. */
  get changed(): boolean {
    return this.core.changedNames.read().length > 0;
  }

  /** Whether a save is under way, or the checks before it are. */
  get busy(): boolean {
    return this.#busy.read();
  }

  /** Whether a rule that asks elsewhere is being waited for. */
  get checking(): boolean {
    return this.core.asking.isChecking();
  }

  /** Whether people may change nothing now. */
  get readOnly(): boolean {
    return (this.core.viewOnly?.read() ?? false) !== false;
  }

  /** Why they may not; `undefined` where they may, or no reason was given. */
  get reason(): string | undefined {
    const reason = this.core.viewOnly?.read();
    return typeof reason === "string" ? reason : undefined;
  }

  /** Where its changes are noted. */
  get history(): History {
    return this.core.history;
  }

  /** Takes the last change back: what was typed in one field, or what one command, transaction or revert did. */
  undo(): Undone {
    return this.history.undo();
  }

  /** Brings again what was taken back last. */
  redo(): Undone {
    return this.history.redo();
  }

  /** Whether it has somewhere to be saved. */
  get canSave(): boolean {
    return this.#options.save !== undefined;
  }

  /** How often a blank entry has begun here; for bindings, which then put the focus on the first field. */
  get beginnings(): number {
    return this.#beginnings.read();
  }

  /** What happens after a save. */
  get afterSave(): "stay" | "startNew" {
    return this.#options.afterSave ?? "stay";
  }

  /** The values that were changed, as a merge patch (RFC 7396): a blanked one is `null`. */
  changes(): Record<string, unknown> {
    const patch: Record<string, unknown> = {};
    for (const name of this.core.changedNames.read()) {
      const { kind, value } = this.core.field(name);
      putIn(patch, name, kind.isBlank(value) ? null : value);
    }
    return patch;
  }

  /** The row as it would be saved now: what is irrelevant is blank, what is calculated or of the window is not in it. */
  row(): RowOf<M> {
    const row: Record<string, unknown> = {};
    for (const [name, value] of this.#saved()) putIn(row, name, value);
    return row as RowOf<M>;
  }

  *#saved(): Iterable<[name: string, value: unknown]> {
    for (const name of this.model.names) {
      const field = this.core.field(name);
      if (field instanceof Field && field.kind.options.saved !== false)
        yield [name, field.relevant ? field.value : (field.kind.empty as unknown)];
    }
  }

  /**
   * Works an answer out from the fields as of now and puts it into a field, as a button does. Once something that it
   * read is another, `field.outOfDate` is true, and outputs say so.
   *
   * @returns the answer; `undefined` while something that it needs is missing or unreadable: the field is then blank
   * @example command({ run: () => void desk.answer("estimate", (t) => t.diameter * factors[t.species]) })
   */
  answer<N extends DeclaredNames<M>>(
    name: N,
    work: (row: ReadRowOf<M>) => FieldValue<KindOf<M, N>>,
  ): FieldValue<KindOf<M, N>> | undefined {
    const field = this.core.field(name);
    if (!(field instanceof Field))
      throw new IronwoodError("calculatedField", `The field "${name}" is calculated and takes no answer`);
    const answer = workOut(this.core, work);
    transaction(() => field.take(answer));
    return answer?.value as FieldValue<KindOf<M, N>> | undefined;
  }

  /** Makes every problem visible and waits for the rules that ask elsewhere. @returns what is wrong */
  async check(): Promise<readonly Problem[]> {
    const inside = this.core.takeParts();
    this.core.showAll(true);
    await this.#settled();
    return inside.length === 0 ? this.problems : [...inside, ...this.problems];
  }

  /** Waits for what rules that ask elsewhere say, once the rest is right. */
  async #settled(): Promise<void> {
    // Whether it is valid is asked first: by that, a rule may turn out to ask.
    if (!this.valid || !this.core.asking.any) return;
    this.#busy.write(true);
    try {
      await this.core.asking.settled();
    } finally {
      if (this.#saving === undefined) this.#busy.write(false);
    }
  }

  /**
   * Gives blanked fields their defaults, checks everything and, when nothing is wrong, saves the row as it is at that
   * moment. While a save is under way, it gives that save's promise. An edited entry that was not changed writes nothing.
   *
   * @returns `{ ok: true, row, said }`, or `{ ok: false, problems }`; a failed write is the problem `notSaved`
   */
  save(): Promise<SaveResult<RowOf<M>>> {
    this.#saving ??= this.#save().finally(() => {
      this.#saving = undefined;
    });
    return this.#saving;
  }

  async #save(): Promise<SaveResult<RowOf<M>>> {
    const inside = this.core.takeParts();
    if (inside.length > 0) return { ok: false, problems: [...inside, ...this.problems] };
    transaction(() => {
      for (const field of this.core.inUse()) field.settle();
      this.core.refuse([]);
      this.core.showAll(true);
    });
    const { signal } = (this.#abort = platform.newController());
    try {
      // Without such rules the row is fixed at once.
      if (this.valid && this.core.asking.any) await this.#settled();
      if (signal.aborted) return { ok: false, problems: [notSaved(signal.reason, this.locale)] };
      if (!this.valid) return { ok: false, problems: this.problems };
      return await this.#write(signal);
    } finally {
      this.#abort = undefined;
      this.#busy.write(false);
    }
  }

  async #write(signal: Signal): Promise<SaveResult<RowOf<M>>> {
    const row = Object.freeze(this.row()) as RowOf<M>;
    const title = this.#rowTitle(row);
    if (!this.#isNew && !this.changed) return { ok: true, row, said: say(this.locale, "saved", { title }) };
    const held = new Map(this.core.inUse().map((field) => [field, field.peekContent()]));
    this.#busy.write(true);
    const saved = Object.fromEntries(this.#saved());
    const number = this.#rows;
    try {
      const answer = await this.#options.save?.(row, { signal });
      const refused = refusedBy(answer);
      if (refused !== undefined) {
        this.core.refuse(refused);
        return { ok: false, problems: refused };
      }
      if (number === this.#rows) because({ cause: "saved" }, () => transaction(() => this.#settle(saved, held)));
      return { ok: true, row, said: said(answer, title, this.locale) };
    } catch (reason) {
      return { ok: false, problems: [notSaved(reason, this.locale)] };
    }
  }

  /** After a save: the row is what `changed` compares with; what was typed meanwhile stays. */
  #settle(saved: Readonly<Record<string, unknown>>, held: ReadonlyMap<Field, Content>): void {
    this.core.showAll(false);
    if (this.afterSave === "stay") {
      this.core.setStart({ ...this.core.start(), ...saved });
      for (const field of this.core.inUse()) field.hideProblems();
      return;
    }
    // Another row begins: taking back what was typed into the one before would bring that into this one.
    this.history.forget(this.core);
    this.core.setStart(startOf(this.model, undefined));
    for (const field of this.core.inUse())
      if (field.peekContent() === held.get(field)) field.startWith(this.core.startContent(field.name));
    this.#beginnings.write(this.beginnings + 1);
  }

  #rowTitle(row: RowOf<M>): string {
    const key = this.model.parts.key.map((name) => valueIn(row, name));
    return rowTitle(this.model, key);
  }

  /** Goes back to what it began with or last saved, and hides problems. */
  revert(): void {
    this.#asOne("revert", "goingBack", () => {
      this.core.showAll(false);
      for (const field of this.core.inUse()) field.revert();
    });
  }

  /** Begins anew: blank, with defaults. What was here can be brought back by {@link undo}. */
  startNew(): void {
    this.#asOne("code", "startingNew", () => {
      this.core.holdStart(startOf(this.model, undefined));
      this.core.showAll(false);
      for (const field of this.core.inUse()) field.revert();
      this.#beginnings.write(this.beginnings + 1);
    });
  }

  /** For rows that are kept elsewhere: another row is edited from now on, and nothing of the one before is left. */
  begin(row: RowOf<M>): void {
    const start = checked(this.model, row);
    this.#rows++;
    this.history.forget(this.core);
    because({ cause: "revert" }, () =>
      transaction(() => {
        this.core.showAll(false);
        this.core.refuse([]);
        this.core.setStart(start);
        for (const field of this.core.inUse()) field.startWith(this.core.startContent(field.name));
      }),
    );
  }

  /**
   * For rows that are kept elsewhere: this row was changed there. What a person has changed here stays; where both changed the same
   * field to different values, it is in conflict.
   */
  meet(row: RowOf<M>): void {
    const start = checked(this.model, row);
    const changed = new Set(this.core.changedNames.read());
    because({ cause: "stored" }, () =>
      transaction(() => {
        const inUse = this.core.inUse();
        const before = inUse.map((field) => this.core.startContent(field.name).value);
        this.core.setStart(start);
        inUse.forEach((field, place) => {
          const theirs = this.core.startContent(field.name);
          if (changed.has(field.name)) field.meet(before[place], theirs.value);
          else field.startWith(theirs);
        });
      }),
    );
  }

  #asOne(cause: Change["cause"], name: MessageName, work: () => void): void {
    because({ cause }, () =>
      inOneUnit(
        () => say(this.locale, name),
        () => transaction(work),
      ),
    );
  }

  /** Aborts a save and checks that are under way. */
  stop(): void {
    this.#abort?.abort();
    this.core.asking.stop();
    this.history.forget(this.core);
  }

  [Symbol.dispose](): void {
    this.stop();
  }
}

/** An entry of any model. */
// An entry's model goes into its save function and comes out of its row, so only `any` takes them all.
// eslint-disable-next-line @typescript-eslint/no-explicit-any
export type AnyEntry = Entry<any>;

/**
 * Begins a new row. Defaults are there from the first moment.
 *
 * @throws `unknownField`, `wrongType` for `values` that do not fit the model; `wrongOption` for a locale that is none
 * @example
 * const card = newEntry(treeCard, { save: (row) => store.append(row) });
 */
export function newEntry<M extends AnyModel>(model: M, options: EntryOptions<M> = {}): Entry<M> {
  return new Entry(model, startOf(model, options.values), true, options);
}

/** Edits a row that is given. Defaults do not apply: a blank stays blank. */
export function editRow<M extends AnyModel>(model: M, row: RowOf<M>, options: EntryOptions<M> = {}): Entry<M> {
  return new Entry(model, checked(model, row), false, options);
}
