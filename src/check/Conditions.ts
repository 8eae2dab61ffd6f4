import { type AnyKind, type AnyModel, type Otherwise, outerName, runOverRow } from "../model/index.ts";

/** What a condition came to; a text is the reason for a yes. */
export type Condition = boolean | string;

/** The parts of a model that depend on the row. */
export type ConditionPart = "relevance" | "requirement" | "protection" | "choices";

type Work = (row: never) => unknown;

/**
 * What depends on the rest of a row: which fields are relevant, required and read-only, and what can be chosen. Entries, tables, the
 * service and the command line all ask here; they differ only in how long a result is kept.
 */
export abstract class Conditions {
  /** The row as conditions read it. */
  readonly #reader: () => object;

  constructor(
    protected readonly model: AnyModel,
    reader: () => object,
  ) {
    this.#reader = reader;
  }

  /** Gives the result of one function of the model, worked out by {@link run} now or before. */
  protected abstract result(part: ConditionPart, name: string, work: Work): unknown;

  /** Runs one function of the model over the row. What depends on something that is missing does not hold. */
  protected run(part: ConditionPart, name: string, work: Work): unknown {
    return runOverRow<unknown>(work, this.#reader(), name, otherwise[part]);
  }

  /** What is in a group is relevant only where the group is. */
  isRelevant(name: string): boolean {
    if (this.model.parts.relevance.size === 0) return true;
    for (let each: string | undefined = name; each !== undefined; each = outerName(each))
      if (this.#condition("relevance", each, true) === false) return false;
    return true;
  }

  /** Whether a field is required by a condition, or why. */
  isRequired(name: string): Condition {
    return this.#condition("requirement", name, false);
  }

  /** Whether people may not change a field, or why: the field itself, or a group that it is in. */
  isReadOnly(name: string): Condition {
    const { groups, parts } = this.model;
    if (parts.protection.size === 0 && groups.size === 0) return false;
    for (let each: string | undefined = name; each !== undefined; each = outerName(each)) {
      const own = this.#condition("protection", each, false);
      if (own !== false) return own;
      if (groups.get(each)?.options.readOnly === true) return true;
    }
    return false;
  }

  /** The kind of a field as of now: its choices may depend on other fields. */
  kindNow(name: string, kind: AnyKind): AnyKind {
    const { choices } = this.model.parts;
    const work = choices.size === 0 ? undefined : choices.get(name);
    if (work === undefined || kind.narrowed === undefined) return kind;
    return this.narrowed(name, kind, work);
  }

  protected narrowed(name: string, kind: AnyKind, work: Work): AnyKind {
    return kind.narrowed!((this.result("choices", name, work) ?? []) as readonly unknown[]);
  }

  #condition(part: "relevance" | "requirement" | "protection", name: string, without: boolean): Condition {
    const work = this.model.parts[part].get(name);
    return work === undefined ? without : (this.result(part, name, work) as Condition);
  }
}

// What depends on something that is not there yet does not hold yet; a broken condition hides nothing.
const condition = { blank: false, code: "ruleFailed", what: "The condition of" } as const;
const otherwise: Readonly<Record<ConditionPart, Otherwise<unknown>>> = {
  relevance: { ...condition, broken: true },
  requirement: { ...condition, broken: false },
  protection: { ...condition, broken: false },
  choices: { blank: [], broken: [], code: "calculationFailed", what: "The choices of" },
};
