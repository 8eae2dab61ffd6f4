import { type Condition, Conditions, type ConditionPart } from "../check/index.ts";
import { Calculation, getOrMake, type NodeSort, sameValue } from "../engine/index.ts";
import { type AnyKind, type AnyModel, outerName } from "../model/index.ts";

type Results = Map<string, Calculation<unknown>>;

const sorts: Readonly<Record<ConditionPart, NodeSort>> = {
  relevance: "condition",
  requirement: "condition",
  protection: "condition",
  choices: "choices",
};

/** The conditions of an entry: each is worked out when somebody first asks, and again when something that it read has changed. */
export class EntryConditions extends Conditions {
  readonly #results: Readonly<Record<ConditionPart, Results>> = {
    relevance: new Map(),
    requirement: new Map(),
    protection: new Map(),
    choices: new Map(),
  };
  readonly #narrowed = new Map<string, Calculation<AnyKind>>();
  /** Whether, or why, people may change nothing at all now. */
  #viewOnly: Calculation<Condition> | undefined;
  readonly #isPlain: boolean;

  constructor(model: AnyModel, reader: () => object, viewOnly: (() => Condition) | undefined) {
    super(model, reader);
    if (viewOnly !== undefined)
      this.#viewOnly = new Calculation(viewOnly, { sort: "condition", of: "whether it can be changed" });
    this.#isPlain = conditionsIn(model) === 0;
  }

  protected override result(part: ConditionPart, name: string, work: (row: never) => unknown): unknown {
    const make = (): Calculation<unknown> =>
      new Calculation(() => this.run(part, name, work), { sort: sorts[part], of: name });
    return getOrMake(this.#results[part], name, make).read();
  }

  protected override narrowed(name: string, kind: AnyKind, work: (row: never) => unknown): AnyKind {
    const make = (): Calculation<AnyKind> =>
      new Calculation(() => super.narrowed(name, kind, work), { sort: "choices", of: name }, sameKind);
    return getOrMake(this.#narrowed, name, make).read();
  }

  /** Whether people may change nothing at all, or why; followed. */
  get whole(): Condition {
    return this.#viewOnly?.read() ?? false;
  }

  override isReadOnly(name: string): Condition {
    const { whole } = this;
    return whole === false ? super.isReadOnly(name) : whole;
  }

  /** Whether a field depends on no condition: only a person or code can change it or its state. */
  isPlain(name: string): boolean {
    if (this.#viewOnly !== undefined) return false;
    if (this.#isPlain) return true;
    const { relevance, requirement, protection, proposals, choices } = this.model.parts;
    for (const part of [relevance, requirement, protection, proposals, choices])
      for (let each: string | undefined = name; part.size > 0 && each !== undefined; each = outerName(each))
        if (part.has(each)) return false;
    return true;
  }
}

const conditionsIn = ({ parts }: AnyModel): number =>
  parts.relevance.size + parts.requirement.size + parts.protection.size + parts.proposals.size + parts.choices.size;

const sameKind = (a: AnyKind, b: AnyKind): boolean => sameValue(a.choices, b.choices);
