import { type Condition, workOut } from "../check/index.ts";
import { unknownName } from "../errors/index.ts";
import { getOrMake, type History, transaction, Value } from "../engine/index.ts";
import { type AnyKind, type AnyModel, BLANK, newReader, pointerTo, pointsInto, type Problem } from "../model/index.ts";
import { Asking } from "./Asking.ts";
import type { AskingEntry } from "./AskingRule.ts";
import { Baseline, type NamedValues } from "./Baseline.ts";
import { CalculatedFieldState } from "./CalculatedFieldState.ts";
import { EntryConditions } from "./EntryConditions.ts";
import { EntryProblems } from "./EntryProblems.ts";
import { EntryRules, type JudgedEntry } from "./EntryRules.ts";
import { FOLLOWING } from "./Entered.ts";
import type { FieldOwner } from "./FieldOwner.ts";
import { FieldState } from "./FieldState.ts";
import { OpenParts } from "./OpenParts.ts";
import { Proposal } from "./Proposal.ts";
import { type Refusal, Reports } from "./Reports.ts";

export type AnyFieldState = FieldState | CalculatedFieldState;

/** What an entry is made with. */
export interface CoreOptions {
  readonly model: AnyModel;
  /** What it begins with, by full names. */
  readonly values: NamedValues;
  readonly locale: string;
  /** An IANA name: the zone by whose clock instants are read and shown. */
  readonly timeZone: string;
  readonly history: History;
  /** Whether defaults and proposals apply. */
  readonly isNew: boolean;
  /** Whether, or why, people may change nothing at all now. */
  readonly viewOnly?: (() => Condition) | undefined;
}

/** What an entry's fields share. A field, a condition or a rule comes into being when somebody first looks at it. */
export class EntryCore implements FieldOwner, JudgedEntry, AskingEntry {
  readonly model: AnyModel;
  readonly timeZone: string;
  readonly history: History;
  readonly isNew: boolean;
  readonly baseline: Baseline;
  readonly conditions: EntryConditions;
  readonly reports = new Reports();
  readonly rules: EntryRules;
  readonly asking: Asking;
  readonly problems: EntryProblems;
  /** What is open inside, as rows in its row that are being edited. */
  readonly parts = new OpenParts();
  /** The row of a table that this is about, where it is about one. */
  rowNow: (() => unknown) | undefined;
  firstRead: FieldState | undefined;
  /** Told of each field that comes into being: what shows one that nobody had looked at follows it from then on. */
  readonly whenMade = new Set<(field: FieldState) => void>();
  readonly #fields = new Map<string, AnyFieldState>();
  readonly #allShown = new Value(false);
  readonly #locale: Value<string>;
  #reader: object | undefined;

  constructor({ model, values, locale, timeZone, history, isNew, viewOnly }: CoreOptions) {
    this.model = model;
    this.timeZone = timeZone;
    this.history = history;
    this.isNew = isNew;
    this.baseline = new Baseline(model, values, isNew, this);
    this.conditions = new EntryConditions(model, () => this.reader, viewOnly);
    this.#locale = new Value(locale);
    this.asking = new Asking(this);
    this.rules = new EntryRules(this);
    this.problems = new EntryProblems(this);
    this.asking.begin();
  }

  get reader(): object {
    this.#reader ??= newReader(this.model, (name) => this.readForRule(name));
    return this.#reader;
  }

  get shared(): readonly [Value<boolean>, Value<string>] {
    return [this.#allShown, this.#locale];
  }

  get where(): string {
    return `the entry of ${this.model.title === undefined ? "a model" : `"${this.model.title}"`}`;
  }

  get locale(): string {
    return this.#locale.read();
  }

  trackLocale(): void {
    this.#locale.read();
  }

  set locale(locale: string) {
    this.#locale.write(locale);
    for (const field of this.fieldsInUse()) field.readAgain();
  }

  get allShown(): boolean {
    return this.#allShown.read();
  }

  /** Makes all problems visible, or only those of fields that were left. */
  showAll(shown: boolean): void {
    this.#allShown.write(shown);
  }

  /** @throws `unknownField` with the nearest name */
  field(name: string): AnyFieldState {
    return getOrMake(this.#fields, name, () => this.#newField(name));
  }

  #newField(name: string): AnyFieldState {
    const work = this.model.parts.calculations.get(name);
    if (work !== undefined) return new CalculatedFieldState(this, name, work);
    const kind = this.model.kindOf(name);
    if (kind === undefined) throw unknownName("unknownField", "The field", name, this.model.names, this.where);
    const field = new FieldState(this, name, kind);
    for (const made of this.whenMade) made(field);
    return field;
  }

  /** Whether somebody has looked at a field; all others hold what they began with. */
  isMade(name: string): boolean {
    return this.#fields.has(name);
  }

  /** The fields that somebody has looked at and that can be entered. */
  fieldsInUse(): FieldState[] {
    return [...this.#fields.values()].filter((field) => field instanceof FieldState);
  }

  newProposal(name: string, kind: AnyKind): Proposal | undefined {
    const work = this.model.parts.proposals.get(name);
    return work === undefined ? undefined : new Proposal(work, name, kind, this);
  }

  letOthersFollow(name: string): void {
    const given = this.field(name) as FieldState;
    for (const each of this.model.parts.proposals.keys()) {
      const other = this.field(each);
      if (other === given || !(other instanceof FieldState) || other.peek() === FOLLOWING) continue;
      if (other.isProposedFrom(name) && given.isProposedFrom(each)) other.followAgain();
    }
  }

  get isEdited(): boolean {
    return this.problems.changedNames.read().length > 0;
  }

  isRelevant(name: string): boolean {
    return this.conditions.isRelevant(name);
  }

  holdsAlone(name: string): boolean {
    return this.field(name).problems.every(({ severity, code }) => severity !== "error" || this.asking.isCode(code));
  }

  /** Shows at their fields what a save was refused for, each until its field holds something else. */
  refuse(problems: readonly Problem[]): void {
    const refusals = new Map<string, Refusal>();
    for (const problem of problems) {
      const name = this.model.names.find((each) => pointsInto(problem.pointer, pointerTo(each)));
      const field = name === undefined ? undefined : this.field(name);
      if (!(field instanceof FieldState)) continue;
      const before = refusals.get(field.name)?.problems ?? [];
      refusals.set(field.name, { entered: field.peek(), problems: [...before, problem] });
    }
    this.reports.refuse(refusals);
  }

  /** The same for a row that was put where it belongs, and is then refused where it is kept: seen at once, at what was not changed since. */
  refuseAtPlace(problems: readonly Problem[]): void {
    const fields = this.fieldsInUse().filter((field) => !field.changed);
    const isAt = (field: FieldState, { pointer }: Problem): boolean => pointsInto(pointer, pointerTo(field.name));
    transaction(() => {
      this.refuse(problems.filter((problem) => fields.some((field) => isAt(field, problem))));
      for (const field of fields) if (problems.some((problem) => isAt(field, problem))) field.showProblems();
    });
  }

  /** A field as a rule or calculation sees it. @throws {@link BLANK} when its row type promises a value and there is none */
  readForRule(name: string): unknown {
    const field = this.field(name);
    if (field instanceof CalculatedFieldState) {
      const { value } = field;
      if (value === undefined) throw BLANK;
      return value;
    }
    this.firstRead ??= field;
    if (!field.relevant) return field.kind.empty;
    const value = field.readForRule();
    if (value === BLANK) throw BLANK;
    return value;
  }

  /**
   * Works a calculated value out.
   *
   * @returns its value, and the field at whose reading it ended, as far as that is known
   */
  calculate(
    work: (row: never) => unknown,
    name: string,
  ): { readonly value: unknown; readonly first: FieldState | undefined } {
    const outer = this.firstRead;
    this.firstRead = undefined;
    const value = workOut(work, this.reader, name);
    const first = this.firstRead as FieldState | undefined;
    this.firstRead = outer;
    return { value, first };
  }
}
