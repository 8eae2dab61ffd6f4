import { Calculation, internal, type Source, sourcesOf } from "../engine/index.ts";
import { type AnyKind, BLANK, plainKind, pointerTo, type Problem, showValue } from "../model/index.ts";
import type { FieldOwner } from "./FieldOwner.ts";

const noProblems: readonly Problem[] = [];

/** A field at which a calculation may stop. */
interface ReadField {
  readonly name: string;
  readForRule(): unknown;
  isAllThatIsReadBy(calculation: Calculation<unknown>): boolean;
}

/** What a calculated field asks of its entry. */
interface CalculatingOwner extends FieldOwner {
  calculate(
    work: (row: never) => unknown,
    name: string,
  ): { readonly value: unknown; readonly first: ReadField | undefined };
}

/** What is behind a `CalculatedField`. */
export class CalculatedFieldState<V = unknown> {
  readonly pointer: string;
  readonly kind: AnyKind;
  readonly #value: Calculation<unknown>;
  /** The field without a usable value at which the calculation stopped, if it had read no other field. */
  #endsAt: ReadField | undefined;

  constructor(
    readonly owner: CalculatingOwner,
    readonly name: string,
    work: (row: never) => unknown,
  ) {
    this.pointer = pointerTo(name);
    const declared = owner.model.kindOf(name);
    this.kind = declared ?? plainKind;
    const same = declared && ((a: unknown, b: unknown) => declared.same(a, b));
    this.#value = new Calculation(() => this.#worked(work), { sort: "calculation", of: this }, same);
  }

  get [internal](): this {
    return this;
  }

  /**
   * A calculation that stopped at the first field that it read will stop there again while that field has no value. So its function
   * is not run: the exception by which it stops would cost more than everything else.
   */
  #worked(work: (row: never) => unknown): unknown {
    if (this.#endsAt?.readForRule() === BLANK) return undefined;
    const { value, first } = this.owner.calculate(work, this.name);
    this.#endsAt = value === undefined && first?.isAllThatIsReadBy(this.#value) === true ? first : undefined;
    return value;
  }

  get value(): V | undefined {
    return this.#value.read() as V | undefined;
  }

  /** What its calculation has read, for explanations. */
  readNow(): readonly Source[] {
    this.#value.read();
    return sourcesOf(this.#value);
  }

  get text(): string {
    const { value } = this;
    return value === undefined ? "" : this.kind.edit(value, this.locale, this.timeZone);
  }

  get display(): string {
    return this.displayOf(this.value);
  }

  displayOf(value: V | undefined): string {
    return showValue(this.kind, value, this.locale, this.timeZone);
  }

  get blank(): boolean {
    return this.#value.read() === undefined;
  }

  get title(): string {
    return this.owner.model.titleOf(this.name, this.owner.locale);
  }

  get locale(): string {
    return this.owner.locale;
  }

  get timeZone(): string {
    return this.owner.timeZone;
  }

  get relevant(): boolean {
    return this.owner.conditions.isRelevant(this.name);
  }

  get problems(): readonly Problem[] {
    return this.relevant ? this.owner.rules.at(this.name) : noProblems;
  }

  get visibleProblems(): readonly Problem[] {
    return this.owner.allShown ? this.problems : noProblems;
  }

  readonly checking = false as const;
  readonly unreadable = false as const;
  readonly outOfDate = false as const;
  readonly changed = false as const;
  readonly required = false as const;
  readonly readOnly = true as const;
}
