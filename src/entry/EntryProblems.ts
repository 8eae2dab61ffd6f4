import type { Calculation } from "../engine/index.ts";
import { type AnyModel, pointsInto, type Problem } from "../model/index.ts";
import type { EntryRules } from "./EntryRules.ts";
import { gather } from "./gather.ts";

/** A field as its entry's lists are gathered from it. */
interface GatheredField {
  readonly pointer: string;
  readonly problems: readonly Problem[];
  readonly visibleProblems: readonly Problem[];
  readonly changed: boolean;
}

interface GatheredEntry {
  readonly model: AnyModel;
  readonly rules: EntryRules;
  readonly allShown: boolean;
  field(name: string): GatheredField;
}

type Gathered<T> = Calculation<readonly T[]>;

/** What is wrong in an entry, and what was changed: gathered from its fields in the order of the model. */
export class EntryProblems {
  #all: Gathered<Problem> | undefined;
  #visible: Gathered<Problem> | undefined;
  #changed: Gathered<string> | undefined;
  readonly #entry: GatheredEntry;

  constructor(entry: GatheredEntry) {
    this.#entry = entry;
  }

  /** All of them, followed: field by field, then what is of the row as a whole. */
  get all(): readonly Problem[] {
    const { model, rules } = this.#entry;
    this.#all ??= gather<() => readonly Problem[], Problem>(
      [...model.names.map((name) => () => this.#at(name)), ...rules.ofRow.map((rule) => () => rule.read())],
      (part) => part(),
      "all problems",
    );
    return this.#all.read();
  }

  /** Those that a person is to see; followed. */
  get visible(): readonly Problem[] {
    if (this.#entry.allShown) return this.all;
    this.#visible ??= gather(this.#entry.model.names, (name) => this.#visibleAt(name), "visible problems");
    return this.#visible.read();
  }

  /** The names of the fields that differ from the baseline. */
  get changedNames(): Gathered<string> {
    const { model } = this.#entry;
    this.#changed ??= gather(
      model.names,
      (name) => (this.#entry.field(name).changed ? [name] : []),
      "what was changed",
    );
    return this.#changed;
  }

  /** A rule that is shown at several fields is one problem, at the first of these fields that is relevant. */
  #at(name: string): readonly Problem[] {
    const { pointer, problems } = this.#entry.field(name);
    return problems.every((problem) => problem.pointer === pointer)
      ? problems
      : problems.filter((problem) => pointsInto(problem.pointer, pointer));
  }

  #visibleAt(name: string): readonly Problem[] {
    const { visibleProblems } = this.#entry.field(name);
    return visibleProblems.length === 0 ? visibleProblems : this.#at(name);
  }
}
