import type { AnyKind } from "./kinds/kind.ts";
import type { AnyModel } from "./Model.ts";
import { outerName, valueIn } from "./nesting.ts";
import { pointerTo, type Problem } from "./problem.ts";
import { missingAt, problemAt } from "./problemAt.ts";
import { BLANK, newReader } from "./reader.ts";
import { type Otherwise, runOverRow } from "./reported.ts";
import { asks, nowAsks, type RuleContext } from "./rule.ts";
import { problemsFrom } from "./verdicts.ts";

/**
 * Checks rows as they are in tables and files, with no entry: the same constraints, conditions, calculations and rules, one
 * row after the other. Rules that ask elsewhere are left to those who edit the row or keep it.
 */
export class RowChecker {
  #row: unknown;
  readonly #worked = new Map<string, unknown>();
  readonly #reader: object;

  constructor(
    private readonly model: AnyModel,
    private readonly locale: string,
  ) {
    this.#reader = newReader(model, (name) => this.#read(name));
  }

  /** What is wrong with a row, in the order of the model; then what rules say that are shown at no field. */
  check(row: unknown): readonly Problem[] {
    this.#begin(row);
    const problems: Problem[] = [];
    const wrong = new Set<string>();
    for (const [name, kind] of this.model.kinds)
      if (!this.model.isCalculated(name) && this.#isRelevant(name)) {
        const before = problems.length;
        this.#checkField(name, kind, problems);
        if (problems.length > before) wrong.add(name);
      }
    for (const rule of this.model.parts.rules) {
      const at = rule.shownAt[0];
      // As with an entry: what is missing has that problem only, and what is not there has none.
      if (asks(rule) || (at !== undefined && (!this.#isRelevant(at) || this.#isMissing(at, wrong)))) continue;
      const verdict = runOverRow<unknown>((given) => rule.holds(given, noContext), this.#reader, rule.name, held);
      if (typeof verdict === "object" && verdict !== null && "then" in verdict) nowAsks(rule);
      else problems.push(...problemsFrom(verdict, rule, this.locale));
    }
    return problems;
  }

  /** The value of a field in a row, worked out where it is calculated; `undefined` where it is blank or not relevant. */
  valueOf(row: unknown, name: string): unknown {
    if (!this.model.isCalculated(name) && this.model.parts.relevance.size === 0) return own(row, name) ?? undefined;
    this.#begin(row);
    if (this.model.isCalculated(name)) return this.#calculated(name);
    return this.#isRelevant(name) ? (own(row, name) ?? undefined) : undefined;
  }

  #begin(row: unknown): void {
    this.#row = row;
    this.#worked.clear();
  }

  #checkField(name: string, kind: AnyKind, problems: Problem[]): void {
    const value: unknown = own(this.#row, name) ?? kind.empty;
    const at = pointerTo(name);
    if (!kind.isBlank(value)) {
      for (const finding of this.#kindNow(name, kind).check(value, this.locale))
        problems.push(problemAt(finding, kind, at, this.locale));
      return;
    }
    const required = kind.options.required === true || this.#condition("requirement", name, false);
    if (required !== false) problems.push(missingAt(kind, at, this.locale, required));
  }

  #kindNow(name: string, kind: AnyKind): AnyKind {
    const work = this.model.parts.choices.get(name);
    if (work === undefined || kind.narrowed === undefined) return kind;
    const choices = runOverRow(work as (row: never) => readonly unknown[], this.#reader, name, noChoices);
    return kind.narrowed(choices);
  }

  #isMissing(name: string, wrong: ReadonlySet<string>): boolean {
    const kind = this.model.kindOf(name);
    return kind !== undefined && wrong.has(name) && kind.isBlank(own(this.#row, name) ?? kind.empty);
  }

  #isRelevant(name: string): boolean {
    if (this.model.parts.relevance.size === 0) return true;
    for (let each: string | undefined = name; each !== undefined; each = outerName(each))
      if (this.#condition("relevance", each, true) === false) return false;
    return true;
  }

  #condition(part: "relevance" | "requirement", name: string, without: boolean): boolean | string {
    const work = this.model.parts[part].get(name);
    if (work === undefined) return without;
    const otherwise = { blank: false, broken: without, code: "ruleFailed", what: "The condition of" } as const;
    return runOverRow<boolean | string>(work, this.#reader, name, otherwise);
  }

  #calculated(name: string): unknown {
    if (this.#worked.has(name)) return this.#worked.get(name);
    const work = this.model.parts.calculations.get(name)!;
    const value = runOverRow(work, this.#reader, name, notCalculated);
    const kept = value === null || (typeof value === "number" && !Number.isFinite(value)) ? undefined : value;
    this.#worked.set(name, kept);
    return kept;
  }

  /** A field as a rule or calculation sees it. @throws {@link BLANK} */
  #read(name: string): unknown {
    if (this.model.isCalculated(name)) {
      const value = this.#calculated(name);
      if (value === undefined) throw BLANK;
      return value;
    }
    const kind = this.model.kindOf(name)!;
    if (!this.#isRelevant(name)) return kind.empty;
    const value: unknown = own(this.#row, name) ?? kind.empty;
    const { required, default: standard } = kind.options as { required?: boolean; default?: unknown };
    if (kind.isBlank(value) && (required === true || standard !== undefined)) throw BLANK;
    return value;
  }
}

/** A member by its full name; most names have no dot. */
const own = (row: unknown, name: string): unknown =>
  name.includes(".") ? valueIn(row, name) : (row as Readonly<Record<string, unknown>>)[name];

const noContext = undefined as unknown as RuleContext;
const held: Otherwise<unknown> = { blank: true, broken: true, code: "ruleFailed", what: "The rule" };
const noChoices: Otherwise<readonly unknown[]> = {
  blank: [],
  broken: [],
  code: "calculationFailed",
  what: "The choices of",
};
const notCalculated: Otherwise<unknown> = {
  blank: undefined,
  broken: undefined,
  code: "calculationFailed",
  what: "The calculation of",
};
