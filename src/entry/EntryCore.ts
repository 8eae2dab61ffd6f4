import { unknownName } from "../errors/index.ts";
import { Calculation, Value } from "../engine/index.ts";
import { type AnyModel, BLANK, isEngines, newReader, type Problem, reportOnce } from "../model/index.ts";
import { CalculatedField } from "./CalculatedField.ts";
import { Field } from "./Field.ts";
import { gather } from "./gather.ts";
import { ruleProblem } from "./rules.ts";

export type AnyField = Field | CalculatedField;

type Conditions = ReadonlyMap<string, (row: never) => boolean>;

/** What an entry's fields share. A field, a condition or a rule comes into being when somebody first looks at it. */
export class EntryCore {
  readonly reader: object;
  readonly #fields = new Map<string, AnyField>();
  readonly #relevance = new Map<string, Calculation<boolean>>();
  readonly #requirement = new Map<string, Calculation<boolean>>();
  readonly #protection = new Map<string, Calculation<boolean>>();
  readonly #rules: readonly Calculation<readonly Problem[]>[];
  readonly #rulesAt = new Map<string, Calculation<readonly Problem[]>[]>();
  readonly #start: Value<Readonly<Record<string, unknown>>>;
  readonly #allShown = new Value(false);
  readonly #locale: Value<string>;
  readonly allProblems: Calculation<readonly Problem[]>;
  readonly visibleProblems: Calculation<readonly Problem[]>;
  readonly changedNames: Calculation<readonly string[]>;
  readonly #rowProblems: readonly Calculation<readonly Problem[]>[];

  constructor(
    readonly model: AnyModel,
    start: Readonly<Record<string, unknown>>,
    locale: string,
  ) {
    this.#start = new Value(start);
    this.#locale = new Value(locale);
    this.reader = newReader(model, (name) => this.#readForRule(name));
    this.#rules = model.parts.rules.map((rule) => ruleProblem(rule, this));
    model.parts.rules.forEach((rule, place) => {
      for (const name of rule.shownAt)
        this.#rulesAt.set(name, [...(this.#rulesAt.get(name) ?? []), this.#rules[place]!]);
    });
    this.#rowProblems = this.#rules.filter((_, place) => model.parts.rules[place]!.shownAt.length === 0);
    // A rule that is shown at several fields is one problem, at its first field.
    const parts = [
      ...model.names.map((name) => () => this.#ownProblems(name)),
      ...this.#rowProblems.map((rule) => () => rule.read()),
    ];
    this.allProblems = gather(parts, (part) => part(), "all problems");
    this.visibleProblems = gather(model.names, (name) => this.#visible(name), "visible problems");
    this.changedNames = gather(model.names, (name) => (this.field(name).changed ? [name] : []), "what was changed");
  }

  get where(): string {
    return `the entry of ${this.model.title === undefined ? "a model" : `"${this.model.title}"`}`;
  }

  get locale(): string {
    return this.#locale.read();
  }

  setLocale(locale: string): void {
    this.#locale.write(locale);
    for (const field of this.#fields.values()) if (field instanceof Field) field.readAgain(locale);
  }

  get allShown(): boolean {
    return this.#allShown.read();
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
    return new Field(this, name, kind);
  }

  /** The fields that somebody has looked at: all others still hold what they began with. */
  inUse(): Field[] {
    return [...this.#fields.values()].filter((field) => field instanceof Field);
  }

  /** What a field begins with. */
  startValue(name: string): unknown {
    return this.#start.peek()[name] ?? this.model.kindOf(name)!.empty;
  }

  /** What `changed` compares with: what the entry began with or last saved. */
  baseline(name: string): unknown {
    return this.#start.read()[name] ?? this.model.kindOf(name)!.empty;
  }

  setStart(start: Readonly<Record<string, unknown>>): void {
    this.#start.write(start);
  }

  isRelevant(name: string): boolean {
    return this.#condition(this.#relevance, this.model.parts.relevance, name, true);
  }

  isRequired(name: string): boolean {
    return this.#condition(this.#requirement, this.model.parts.requirement, name, false);
  }

  isReadOnly(name: string): boolean {
    return this.#condition(this.#protection, this.model.parts.protection, name, false);
  }

  /** The problems of the rules that are shown at a field. */
  rulesAt(name: string): readonly Problem[] {
    const rules = this.#rulesAt.get(name);
    return rules === undefined ? [] : rules.flatMap((rule) => rule.read());
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
      : problems.filter((problem) => problem.pointer === field.pointer);
  }

  #condition(made: Map<string, Calculation<boolean>>, declared: Conditions, name: string, without: boolean): boolean {
    const work = declared.get(name);
    if (work === undefined) return without;
    let condition = made.get(name);
    if (condition === undefined) {
      condition = new Calculation(() => holds(work, this.reader, name, without), `condition of ${name}`);
      made.set(name, condition);
    }
    return condition.read();
  }

  /** A field as a rule or calculation sees it. @throws {@link BLANK} when its row type promises a value and there is none */
  #readForRule(name: string): unknown {
    const field = this.field(name);
    if (field instanceof CalculatedField) {
      const { value } = field;
      if (value === undefined) throw BLANK;
      return value;
    }
    if (!field.relevant) return field.kind.empty;
    if (field.unreadable) throw BLANK;
    const { value } = field;
    const { options } = field.kind;
    if (field.kind.isBlank(value) && (options.required === true || options.default !== undefined)) throw BLANK;
    return value;
  }
}

function holds(work: (row: never) => boolean, reader: object, name: string, whenBroken: boolean): boolean {
  try {
    return work(reader as never);
  } catch (reason) {
    // What depends on something that is not there yet does not hold yet; a broken condition hides nothing.
    if (reason === BLANK) return false;
    if (isEngines(reason)) throw reason;
    reportOnce(work, "ruleFailed", `The condition of "${name}" threw`, reason);
    return whenBroken;
  }
}
