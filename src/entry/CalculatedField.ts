import { Calculation } from "../engine/index.ts";
import { type AnyKind, BLANK, type Otherwise, pointerTo, type Problem, runOverRow } from "../model/index.ts";
import type { EntryCore } from "./EntryCore.ts";
import type { Field } from "./Field.ts";
import { plainKind } from "./plainKind.ts";

const noProblems: readonly Problem[] = [];

/** A value worked out from other fields. It can be read, shown and followed like any other, and not entered. */
export class CalculatedField<V = unknown> {
  readonly pointer: string;
  /** What its value is, where the model says. */
  readonly kind: AnyKind;
  /** For the bindings and explanations. */
  readonly core: EntryCore;
  readonly #value: Calculation<unknown>;
  /** The field at whose reading it ended, where that was all that it read. */
  #endsAt: Field | undefined;

  /** Calculated fields are made by their entry. */
  constructor(
    entry: EntryCore,
    readonly name: string,
    work: (row: never) => unknown,
  ) {
    this.core = entry;
    this.pointer = pointerTo(name);
    const declared = entry.model.kindOf(name);
    this.kind = declared ?? plainKind;
    this.#value = new Calculation(() => this.#worked(work), name, declared && ((a, b) => declared.same(a, b)));
  }

  /**
   * Where it ended at the first thing that it read, it will end there again as long as that has no value: its function need not run
   * to find out, and what it throws then costs more than all the rest.
   */
  #worked(work: (row: never) => unknown): unknown {
    const { core } = this;
    if (this.#endsAt?.readForRule() === BLANK) return undefined;
    const outer = core.firstRead;
    core.firstRead = undefined;
    const value = runOverRow(work, core.reader, this.name, notCalculated);
    const first = core.firstRead as Field | undefined;
    core.firstRead = outer;
    this.#endsAt = value === undefined && first?.isAllThatIsReadBy(this.#value) === true ? first : undefined;
    // A division by a missing or zero measure has no value that could be shown or saved.
    return value === null || (typeof value === "number" && !Number.isFinite(value)) ? undefined : value;
  }

  /** The value as of now; `undefined` while something that it needs is missing or unreadable. */
  get value(): V | undefined {
    return this.#value.read() as V | undefined;
  }

  get text(): string {
    const { value } = this;
    return value === undefined ? "" : this.kind.edit(value, this.core.locale, this.core.timeZone);
  }

  get display(): string {
    return this.displayOf(this.value);
  }

  /** A value as it is shown; for what has read it already. */
  displayOf(value: V | undefined): string {
    return value === undefined ? "" : this.kind.show(value, this.core.locale, this.core.timeZone);
  }

  get blank(): boolean {
    return this.#value.read() === undefined;
  }

  get title(): string {
    return this.core.model.titleOf(this.name);
  }

  /** The locale that it is shown in. */
  get locale(): string {
    return this.core.locale;
  }

  get relevant(): boolean {
    return this.core.isRelevant(this.name);
  }

  /** Rules may be shown at a calculated field. */
  get problems(): readonly Problem[] {
    return this.relevant ? this.core.rulesAt(this.name) : noProblems;
  }

  get visibleProblems(): readonly Problem[] {
    return this.core.allShown ? this.problems : noProblems;
  }

  readonly checking = false;
  readonly unreadable = false;
  readonly outOfDate = false;
  readonly changed = false;
  readonly required = false;
  readonly readOnly = true;
}

const notCalculated: Otherwise<unknown> = {
  blank: undefined,
  broken: undefined,
  code: "calculationFailed",
  what: "The calculation of",
};
