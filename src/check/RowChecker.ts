import {
  type AnyKind,
  type AnyModel,
  asks,
  BLANK,
  newReader,
  pointerTo,
  type Problem,
  type Rule,
  valueIn,
} from "../model/index.ts";
import { IronwoodError } from "../errors/index.ts";
import { Conditions, type ConditionPart } from "./Conditions.ts";
import { ownProblems } from "./ownProblems.ts";
import { asForRule, workOut } from "./reading.ts";
import { firstPlaceOf, judged, problemsFrom } from "./rules.ts";

/** Conditions of a row that stands still: each is worked out where it is asked for. */
class ConditionsNow extends Conditions {
  protected override result(part: ConditionPart, name: string, work: (row: never) => unknown): unknown {
    return this.run(part, name, work);
  }
}

/** A field and what there is to check of it, found out once for a model. */
interface FieldToCheck {
  readonly name: string;
  /** `undefined` where it is calculated: then only rules may be shown at it. */
  readonly kind: AnyKind | undefined;
  readonly pointer: string;
  /** The rules that may be told at it, in the order of the model. */
  readonly rules: readonly Rule[];
}

/**
 * Checks rows as they are in tables and files, with no entry: the same constraints, conditions, calculations and rules, in the same
 * order, one row after the other. Rules that ask elsewhere are left to those who edit the row or keep it.
 */
export class RowChecker {
  #row: unknown;
  readonly #worked = new Map<string, unknown>();
  /** The calculations that are being worked out, the outermost first. */
  readonly #running: string[] = [];
  readonly #reader: object;
  readonly #conditions: Conditions;
  #fields: readonly FieldToCheck[] | undefined;
  readonly #model: AnyModel;
  readonly #locale: string;
  readonly #timeZone: string;

  constructor(model: AnyModel, locale: string, timeZone: string) {
    this.#model = model;
    this.#locale = locale;
    this.#timeZone = timeZone;
    this.#reader = newReader(model, (name) => this.#read(name));
    this.#conditions = new ConditionsNow(model, () => this.#reader);
  }

  /** What is wrong with a row: field by field in the order of the model, then what is of the row as a whole. */
  check(row: unknown): readonly Problem[] {
    this.#begin(row);
    this.#fields ??= fieldsOf(this.#model);
    const problems: Problem[] = [];
    for (const field of this.#fields) if (this.#conditions.isRelevant(field.name)) this.#checkField(field, problems);
    for (const rule of this.#model.parts.rules) if (rule.shownAt.length === 0) this.#checkRule(rule, "", problems);
    return problems;
  }

  #checkField({ name, kind, pointer, rules }: FieldToCheck, problems: Problem[]): void {
    if (kind !== undefined) {
      const locale = this.#locale;
      const timeZone = this.#timeZone;
      const value: unknown = own(this.#row, name) ?? kind.empty;
      const found = ownProblems(this.#conditions, name, kind, value, { pointer, locale, timeZone });
      if (found.length > 0) {
        problems.push(...found);
        // What is missing has that problem only.
        if (kind.isBlank(value)) return;
      }
    }
    for (const rule of rules) if (firstPlaceOf(rule, this.#conditions) === name) this.#checkRule(rule, name, problems);
  }

  #checkRule(rule: Rule, at: string, problems: Problem[]): void {
    if (asks(rule)) return;
    const verdict = judged(rule, this.#reader);
    if (verdict !== true) problems.push(...problemsFrom(verdict, rule, this.#locale, at));
  }

  /** The value of a field in a row, worked out where it is calculated; `undefined` where it is blank or not relevant. */
  valueOf(row: unknown, name: string): unknown {
    if (!this.#model.isCalculated(name) && this.#model.parts.relevance.size === 0) return own(row, name) ?? undefined;
    this.#begin(row);
    if (this.#model.isCalculated(name)) return this.#calculated(name);
    return this.#conditions.isRelevant(name) ? (own(row, name) ?? undefined) : undefined;
  }

  #begin(row: unknown): void {
    this.#row = row;
    this.#worked.clear();
  }

  #calculated(name: string): unknown {
    if (this.#worked.has(name)) return this.#worked.get(name);
    if (this.#running.includes(name)) throw this.#ring(name);
    this.#running.push(name);
    try {
      const value = workOut(this.#model.parts.calculations.get(name)!, this.#reader, name);
      this.#worked.set(name, value);
      return value;
    } finally {
      this.#running.pop();
    }
  }

  #ring(name: string): IronwoodError {
    const ring = [...this.#running.slice(this.#running.indexOf(name)), name];
    return new IronwoodError("ring", `Calculations read each other in a ring: ${ring.join(" → ")}`, {
      where: this.#model.title,
      expected: "calculations that can be put in an order",
    });
  }

  /** A field as a rule or calculation sees it. @throws {@link BLANK} */
  #read(name: string): unknown {
    if (this.#model.isCalculated(name)) {
      const value = this.#calculated(name);
      if (value === undefined) throw BLANK;
      return value;
    }
    const kind = this.#model.kindOf(name)!;
    if (!this.#conditions.isRelevant(name)) return kind.empty;
    const value = asForRule(kind, own(this.#row, name) ?? kind.empty);
    if (value === BLANK) throw BLANK;
    return value;
  }
}

function fieldsOf(model: AnyModel): readonly FieldToCheck[] {
  return model.names
    .map((name) => ({
      name,
      // What is of the window only is in no row.
      kind: model.isCalculated(name) || model.kindOf(name)?.options.saved === false ? undefined : model.kindOf(name),
      pointer: pointerTo(name),
      rules: model.parts.rules.filter(({ shownAt }) => shownAt.includes(name)),
    }))
    .filter(({ kind, rules }) => kind !== undefined || rules.length > 0);
}

/** A member by its full name; most names have no dot. */
const own = (row: unknown, name: string): unknown =>
  name.includes(".") ? valueIn(row, name) : (row as Readonly<Record<string, unknown>>)[name];
