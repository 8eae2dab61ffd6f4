import { type Conditions, firstPlaceOf, judged, problemsFrom } from "../check/index.ts";
import { Calculation } from "../engine/index.ts";
import { type AnyModel, asks, type Problem, type Rule } from "../model/index.ts";

/** What rules ask of the entry that they judge. */
export interface JudgedEntry {
  readonly model: AnyModel;
  readonly reader: object;
  readonly locale: string;
  readonly conditions: Conditions;
  readonly asking: {
    problemsOf(rule: Rule, at: string): readonly Problem[];
    beginSoon(): void;
  };
}

type Judgement = Calculation<readonly Problem[]>;

const noProblems: readonly Problem[] = [];

/** The rules of a model over one entry. A rule runs again only when something that it read has changed. */
export class EntryRules {
  readonly #judgements: readonly Judgement[];
  readonly #at = new Map<string, Judgement[]>();
  /** The rules that are shown at no field: they are about the row as a whole. */
  readonly ofRow: readonly Judgement[];

  constructor(entry: JudgedEntry) {
    const { rules } = entry.model.parts;
    this.#judgements = rules.map((rule) => judgement(rule, entry));
    this.ofRow = this.#judgements.filter((_, number) => rules[number]!.shownAt.length === 0);
    rules.forEach(({ shownAt }, number) => {
      for (const name of shownAt) this.#at.set(name, [...(this.#at.get(name) ?? []), this.#judgements[number]!]);
    });
  }

  /** Whether a rule is shown at a field. */
  has(name: string): boolean {
    return this.#judgements.length > 0 && this.#at.has(name);
  }

  /** The problems of the rules that are shown at a field. */
  at(name: string): readonly Problem[] {
    return this.#at.get(name)?.flatMap((each) => each.read()) ?? noProblems;
  }

  /** What one rule of the model says, by its number. */
  byNumber(number: number): readonly Problem[] {
    return this.#judgements[number]!.read();
  }
}

function judgement(rule: Rule, entry: JudgedEntry): Judgement {
  const judge = (): readonly Problem[] => {
    const at = firstPlaceOf(rule, entry.conditions);
    if (at === undefined) return noProblems;
    if (asks(rule)) return entry.asking.problemsOf(rule, at);
    const verdict = judged(rule, entry.reader);
    if (!asks(rule)) return problemsFrom(verdict, rule, entry.locale, at);
    // Only now the rule is known to ask; its verdict is followed from now on.
    entry.asking.beginSoon();
    return entry.asking.problemsOf(rule, at);
  };
  return new Calculation(judge, { sort: "rule", of: rule }, sameProblems);
}

const sameProblems = (a: readonly Problem[], b: readonly Problem[]): boolean =>
  a.length === b.length &&
  a.every((problem, place) => {
    const other = b[place]!;
    return problem.message === other.message && problem.code === other.code && problem.pointer === other.pointer;
  });
