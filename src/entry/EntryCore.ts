import { unknownName } from "../errors/index.ts";
import { Calculation, type History, sameValue, Value } from "../engine/index.ts";
import {
  type AnyKind,
  type AnyModel,
  BLANK,
  newReader,
  type Otherwise,
  outerName,
  pointerTo,
  pointsInto,
  type Problem,
  runOverRow,
} from "../model/index.ts";
import { Asking } from "./Asking.ts";
import { CalculatedField } from "./CalculatedField.ts";
import type { Disagreement } from "./Conflict.ts";
import { type Content, contentOf, FOLLOWING } from "./content.ts";
import { Field } from "./Field.ts";
import { gather } from "./gather.ts";
import { HeldStart } from "./Held.ts";
import { Proposal } from "./Proposal.ts";
import { ruleProblem } from "./rules.ts";

export type AnyField = Field | CalculatedField;

/** A reason is a condition that holds. */
type Condition = boolean | string;
type Conditions = ReadonlyMap<string, (row: never) => Condition>;

/** What was refused of a field, and what it held. */
interface Refusal {
  readonly content: Content;
  readonly problems: readonly Problem[];
}

/** What was said of fields from outside the entry, by their names. */
interface SaidOutside {
  readonly refused: ReadonlyMap<string, Refusal>;
  readonly disagreements: ReadonlyMap<string, Disagreement>;
}

const nothingSaid: SaidOutside = { refused: new Map(), disagreements: new Map() };

const noProblems: readonly Problem[] = [];

/** What an entry's fields share. A field, a condition or a rule comes into being when somebody first looks at it. */
export class EntryCore {
  #reader: object | undefined;
  readonly #fields = new Map<string, AnyField>();
  readonly #relevance = new Map<string, Calculation<Condition>>();
  readonly #requirement = new Map<string, Calculation<Condition>>();
  readonly #protection = new Map<string, Calculation<Condition>>();
  readonly #narrowed = new Map<string, Calculation<AnyKind>>();
  readonly #rules: readonly Calculation<readonly Problem[]>[];
  readonly #rulesAt = new Map<string, Calculation<readonly Problem[]>[]>();
  readonly #start: HeldStart;
  readonly asking = new Asking(this);
  readonly #allShown = new Value(false);
  readonly #outside = new Value<SaidOutside>(nothingSaid);
  readonly #locale: Value<string>;
  #allProblems: Calculation<readonly Problem[]> | undefined;
  #visibleProblems: Calculation<readonly Problem[]> | undefined;
  #changedNames: Calculation<readonly string[]> | undefined;
  readonly #rowProblems: readonly Calculation<readonly Problem[]>[];
  /** Whether, or why, people may change nothing at all now. */
  viewOnly: Calculation<Condition> | undefined;
  #plain: boolean | undefined;
  /** What has to be taken in before the entry is checked or saved, as rows inside it that are being edited. */
  readonly parts = new Set<() => readonly Problem[]>();
  /** The row of a table that this is about, where it is about one. */
  rowNow: (() => unknown) | undefined;
  /** What the function that runs now has read first. */
  firstRead: Field | undefined;
  /** Told of each field that comes into being: what shows one that nobody had looked at follows it from then on. */
  readonly whenMade = new Set<(field: Field) => void>();

  constructor(
    readonly model: AnyModel,
    start: Readonly<Record<string, unknown>>,
    locale: string,
    /** Whether defaults and proposals apply. */
    readonly isNew: boolean,
    /** An IANA name; the zone by whose clock instants are read and shown. */
    readonly timeZone: string,
    readonly history: History,
  ) {
    this.#start = new HeldStart(start, sameStart, this);
    this.#locale = new Value(locale);
    this.#rules = model.parts.rules.map((rule) => ruleProblem(rule, this));
    model.parts.rules.forEach((rule, place) => {
      for (const name of rule.shownAt)
        this.#rulesAt.set(name, [...(this.#rulesAt.get(name) ?? []), this.#rules[place]!]);
    });
    this.#rowProblems = this.#rules.filter((_, place) => model.parts.rules[place]!.shownAt.length === 0);
    this.asking.begin();
  }

  get reader(): object {
    return (this.#reader ??= newReader(this.model, (name) => this.readForRule(name)));
  }

  get allProblems(): Calculation<readonly Problem[]> {
    // A rule that is shown at several fields is one problem, at its first field.
    this.#allProblems ??= gather(
      [
        ...this.model.names.map((name) => () => this.#ownProblems(name)),
        ...this.#rowProblems.map((rule) => () => rule.read()),
      ],
      (part) => part(),
      "all problems",
    );
    return this.#allProblems;
  }

  get visibleProblems(): Calculation<readonly Problem[]> {
    return (this.#visibleProblems ??= gather(this.model.names, (name) => this.#visible(name), "visible problems"));
  }

  get changedNames(): Calculation<readonly string[]> {
    this.#changedNames ??= gather(
      this.model.names,
      (name) => (this.field(name).changed ? [name] : []),
      "what was changed",
    );
    return this.#changedNames;
  }

  /** What the look of every field depends on. */
  get shared(): readonly [Value<boolean>, Value<string>, Value<SaidOutside>] {
    return [this.#allShown, this.#locale, this.#outside];
  }

  get where(): string {
    return `the entry of ${this.model.title === undefined ? "a model" : `"${this.model.title}"`}`;
  }

  get locale(): string {
    return this.#locale.read();
  }

  /** Has what runs depend on the language. */
  noteLocale(): void {
    this.#locale.read();
  }

  setLocale(locale: string): void {
    this.#locale.write(locale);
    for (const field of this.#fields.values()) if (field instanceof Field) field.readAgain();
  }

  get allShown(): boolean {
    return this.#allShown.read();
  }

  /** Takes in what is being edited inside. @returns what can't be */
  takeParts(): readonly Problem[] {
    return this.parts.size === 0 ? noProblems : [...this.parts].flatMap((take) => take());
  }

  showAll(shown: boolean): void {
    this.#allShown.write(shown);
  }

  /** @throws `unknownField` with the nearest name */
  field(name: string): AnyField {
    let field = this.#fields.get(name);
    if (field === undefined) this.#fields.set(name, (field = this.#newField(name)));
    return field;
  }

  #newField(name: string): AnyField {
    const work = this.model.parts.calculations.get(name);
    if (work !== undefined) return new CalculatedField(this, name, work);
    const kind = this.model.kindOf(name);
    if (kind === undefined) throw unknownName("unknownField", "The field", name, this.model.names, this.where);
    const field = new Field(this, name, kind);
    for (const told of this.whenMade) told(field);
    return field;
  }

  /** A field only if somebody has looked at it; all others hold what they began with. */
  madeField(name: string): AnyField | undefined {
    return this.#fields.get(name);
  }

  /** Whether the model has no conditions, proposals or dependent choices at all. */
  get #allPlain(): boolean {
    return (this.#plain ??= noneIn(this.model));
  }

  /** Whether nothing but a person or code can change a field or its state. */
  isPlain(name: string): boolean {
    if (this.viewOnly !== undefined) return false;
    if (this.#allPlain) return true;
    const { relevance, requirement, protection, proposals, choices } = this.model.parts;
    for (const parts of [relevance, requirement, protection, proposals, choices])
      for (let each: string | undefined = name; parts.size > 0 && each !== undefined; each = outerName(each))
        if (parts.has(each)) return false;
    return true;
  }

  /** The fields that somebody has looked at: all others still hold what they began with. */
  inUse(): Field[] {
    return [...this.#fields.values()].filter((field) => field instanceof Field);
  }

  /** What a field begins with, and goes back to. */
  startContent(name: string): Content {
    const start = this.#start.peek();
    if (Object.hasOwn(start, name)) return contentOf(start[name] ?? this.model.kindOf(name)!.empty);
    if (this.isNew && this.model.parts.proposals.has(name)) return FOLLOWING;
    return contentOf(this.model.kindOf(name)!.empty);
  }

  /** What `changed` compares with: what the entry began with or last saved, or what is proposed. */
  baseline(name: string): unknown {
    const start = this.#start.read();
    if (Object.hasOwn(start, name)) return start[name] ?? this.model.kindOf(name)!.empty;
    if (this.isNew && this.model.parts.proposals.has(name)) return (this.field(name) as Field).proposal!.value;
    return this.model.kindOf(name)!.empty;
  }

  /** For what shows fields that nobody has looked at: reads what they began with, to be told when that changes. */
  start(): Readonly<Record<string, unknown>> {
    return this.#start.read();
  }

  newProposal(name: string, kind: AnyKind): Proposal | undefined {
    const work = this.model.parts.proposals.get(name);
    return work === undefined ? undefined : new Proposal(work, name, kind, this);
  }

  /** A field was given a value: the one that is converted from it, and into it, follows it from now on. */
  letOthersFollow(field: Field): void {
    for (const name of this.model.parts.proposals.keys()) {
      const other = this.field(name);
      if (other === field || !(other instanceof Field) || other.peekContent() === FOLLOWING) continue;
      if (other.proposal!.reads(field.name) && field.proposal!.reads(name)) other.followAgain();
    }
  }

  /** The kind of a field as of now: its choices may depend on other fields. */
  kindNow(name: string, kind: AnyKind): AnyKind {
    const { choices } = this.model.parts;
    const work = choices.size === 0 ? undefined : choices.get(name);
    if (work === undefined) return kind;
    let made = this.#narrowed.get(name);
    if (made === undefined) {
      const narrowed = (): AnyKind =>
        kind.narrowed?.(
          runOverRow(work as (row: never) => readonly unknown[] | undefined, this.reader, name, noChoices) ?? [],
        ) ?? kind;
      made = new Calculation(narrowed, `choices of ${name}`, sameChoices);
      this.#narrowed.set(name, made);
    }
    return made.read();
  }

  setStart(start: Readonly<Record<string, unknown>>): void {
    this.#start.write(start);
  }

  /** Begins with something else, which can be taken back. */
  holdStart(start: Readonly<Record<string, unknown>>): void {
    this.#start.hold(start);
  }

  /** Whether a field is right but for what rules that ask elsewhere say. */
  holdsAlone(name: string): boolean {
    return this.field(name).problems.every(({ severity, code }) => severity !== "error" || this.asking.isCode(code));
  }

  /** What is in a group is relevant only where the group is. */
  isRelevant(name: string): boolean {
    const { relevance } = this.model.parts;
    if (relevance.size === 0) return true;
    for (let each: string | undefined = name; each !== undefined; each = outerName(each))
      if (this.#condition(this.#relevance, relevance, each, true) === false) return false;
    return true;
  }

  /** Whether it is required, or why. */
  isRequired(name: string): Condition {
    return this.#condition(this.#requirement, this.model.parts.requirement, name, false);
  }

  /** Whether people may not change it, or why: the field itself, a group that it is in, or the whole entry. */
  isReadOnly(name: string): Condition {
    const { protection } = this.model.parts;
    const { groups } = this.model;
    const whole = this.viewOnly?.read() ?? false;
    if (whole !== false || (protection.size === 0 && groups.size === 0)) return whole;
    for (let each: string | undefined = name; each !== undefined; each = outerName(each)) {
      const own = this.#condition(this.#protection, protection, each, false);
      if (own !== false || groups.get(each)?.options.readOnly === true) return own === false || own;
    }
    return false;
  }

  /** What one rule of the model says, by its place. */
  rule(place: number): readonly Problem[] {
    return this.#rules[place]!.read();
  }

  /** The problems of the rules that are shown at a field, and what a save was refused for there. */
  rulesAt(name: string): readonly Problem[] {
    const rules = this.#rulesAt.get(name);
    const { refused } = this.#outside.read();
    const found = rules === undefined ? noProblems : rules.flatMap((rule) => rule.read());
    if (refused.size === 0) return found;
    const refusal = refused.get(name);
    if (refusal === undefined || (this.field(name) as Field).peekContent() !== refusal.content) return found;
    return [...found, ...refusal.problems];
  }

  /** Shows at their fields what a save was refused for, each until its field holds something else. */
  refuse(problems: readonly Problem[]): void {
    const refused = new Map<string, Refusal>();
    for (const problem of problems) {
      const name = this.model.names.find((each) => pointsInto(problem.pointer, pointerTo(each)));
      const field = name === undefined ? undefined : this.field(name);
      if (!(field instanceof Field)) continue;
      const before = refused.get(name!)?.problems ?? [];
      refused.set(name!, { content: field.peekContent(), problems: [...before, problem] });
    }
    const outside = this.#outside.peek();
    if (refused.size > 0 || outside.refused.size > 0) this.#say({ ...outside, refused });
  }

  /** Whether no rule is shown at a field, and nothing was said of any from outside. */
  saysNothingOf(name: string): boolean {
    return this.#outside.read() === nothingSaid && (this.#rules.length === 0 || !this.#rulesAt.has(name));
  }

  /** What a field was changed to elsewhere while a person changed it here, until somebody has chosen. */
  disagreementAt(name: string): Disagreement | undefined {
    return this.#outside.read().disagreements.get(name);
  }

  /** Whether nothing was said of any field from outside: the usual case, known at once. */
  get isUndisputed(): boolean {
    return this.#outside.peek() === nothingSaid;
  }

  peekDisagreement(name: string): Disagreement | undefined {
    return this.#outside.peek().disagreements.get(name);
  }

  disagree(name: string, disagreement: Disagreement | undefined): void {
    const outside = this.#outside.peek();
    if (disagreement === outside.disagreements.get(name)) return;
    const disagreements = new Map(outside.disagreements);
    if (disagreement === undefined) disagreements.delete(name);
    else disagreements.set(name, disagreement);
    this.#say({ ...outside, disagreements });
  }

  #say(outside: SaidOutside): void {
    const nothing = outside.refused.size + outside.disagreements.size === 0;
    this.#outside.write(nothing ? nothingSaid : outside);
  }

  #visible(name: string): readonly Problem[] {
    const { visibleProblems } = this.field(name);
    return visibleProblems.length === 0 ? visibleProblems : this.#ownProblems(name);
  }

  #ownProblems(name: string): readonly Problem[] {
    const field = this.field(name);
    const { problems } = field;
    return problems.every((problem) => problem.pointer === field.pointer)
      ? problems
      : problems.filter(({ pointer }) => pointsInto(pointer, field.pointer));
  }

  #condition(
    made: Map<string, Calculation<Condition>>,
    declared: Conditions,
    name: string,
    without: boolean,
  ): Condition {
    const work = declared.get(name);
    if (work === undefined) return without;
    let condition = made.get(name);
    if (condition === undefined) {
      const otherwise = without ? holdsWhenBroken : failsWhenBroken;
      condition = new Calculation(
        () => runOverRow<Condition>(work, this.reader, name, otherwise),
        `condition of ${name}`,
      );
      made.set(name, condition);
    }
    return condition.read();
  }

  /** A field as a rule or calculation sees it. @throws {@link BLANK} when its row type promises a value and there is none */
  readForRule(name: string): unknown {
    const field = this.field(name);
    if (field instanceof CalculatedField) {
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
}

const noneIn = ({ parts }: AnyModel): boolean => {
  const { relevance, requirement, protection, proposals, choices } = parts;
  return relevance.size + requirement.size + protection.size + proposals.size + choices.size === 0;
};

// What depends on something that is not there yet does not hold yet; a broken condition hides nothing.
const condition = { blank: false, code: "ruleFailed", what: "The condition of" } as const;
const holdsWhenBroken: Otherwise<Condition> = { ...condition, broken: true };
const failsWhenBroken: Otherwise<Condition> = { ...condition, broken: false };

const noChoices: Otherwise<readonly unknown[] | undefined> = {
  blank: [],
  broken: [],
  code: "calculationFailed",
  what: "The choices of",
};

const sameStart = (a: object, b: object): boolean => a === b;

const sameChoices = (a: AnyKind, b: AnyKind): boolean => sameValue(a.choices, b.choices);
