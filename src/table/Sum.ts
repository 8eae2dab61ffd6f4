import { IronwoodError, shown } from "../errors/index.ts";
import type { AnyKind, AnyModel, DeclaredPathsOf, FieldPathsOf, NamesOf, ReadRowOf } from "../model/index.ts";
import { type Decimal, isDecimal, plainNumber } from "../notation/index.ts";
import { ExactSum } from "./ExactSum.ts";

/** What a sum of a field is: of `decimal` a Decimal, exact to the last digit; of numbers the exact sum, rounded once. */
export type Total = number | Decimal;

/** The type of the value of a field, calculated ones too, by its full name. */
type ValueAt<M, N extends string> = N extends `${infer A}.${infer B}`
  ? A extends keyof ReadRowOf<M>
    ? InGroup<ReadRowOf<M>[A], B>
    : never
  : N extends keyof ReadRowOf<M>
    ? ReadRowOf<M>[N]
    : never;
type InGroup<G, N extends string> = N extends `${infer A}.${infer B}`
  ? A extends keyof G
    ? InGroup<G[A], B>
    : never
  : N extends keyof G
    ? G[N]
    : never;

/**
 * What the sum of a field is. Of a calculation that the model does not declare, only its values show what it is: while there are none,
 * its sum is the number 0, so declare it as `decimal()` where it is one.
 */
export type TotalOf<M, N extends string> = string extends N
  ? Total
  : NonNullable<ValueAt<M, N>> extends Decimal
    ? N extends DeclaredPathsOf<M>
      ? Decimal
      : Total
    : number;

/** The full names of the fields of which there is a sum; any, of a model whose fields are not known to the compiler. */
export type AddableNamesOf<M> =
  string extends NamesOf<M>
    ? string
    : { [N in FieldPathsOf<M>]: NonNullable<ValueAt<M, N>> extends Total ? N : never }[FieldPathsOf<M>];

/** How a view is asked for a sum. An interface, since the compiler compares those of one model at once. */
export interface TotalMethod<M> {
  <N extends AddableNamesOf<M>>(name: N): TotalOf<M, N>;
}

const addable: readonly string[] = ["number", "integer", "decimal"];

/**
 * Refuses fields of which there is no sum.
 *
 * @param where - the call or option that names them
 * @throws `wrongType`
 */
export function requireAddable(model: AnyModel, names: readonly string[], where: string): void {
  for (const name of names) {
    const kind = model.kindOf(name)?.kind;
    // What is calculated and not declared shows what it is by its values.
    if (kind !== undefined && !addable.includes(kind))
      throw new IronwoodError("wrongType", `There is no sum of the field "${name}", which is of ${kind}()`, {
        where,
        expected: "a field of number(), integer() or decimal()",
        names: model.names.filter((each) => addable.includes(model.kindOf(each)?.kind ?? "")),
      });
  }
}

/** The sum of a field over rows that come and go. */
export class Sum {
  readonly #numbers = new ExactSum();
  #decimals: Decimal | undefined;
  /** How many values were decimal numbers. */
  #decimalCount = 0;
  /** A value that can't be added, and how many there are. */
  #wrong: unknown;
  #wrongCount = 0;
  /** The kind of the field, where it is `decimal`: it makes the sum of nothing. */
  readonly #exact: AnyKind | undefined;

  constructor(kind: AnyKind | undefined) {
    this.#exact = kind?.kind === "decimal" ? kind : undefined;
  }

  /** @param by - 1 for a value that comes, -1 for one that goes */
  add(value: unknown, by: 1 | -1): void {
    if (typeof value === "number") this.#numbers.add(by * value);
    else if (isDecimal(value)) this.#addDecimal(value, by);
    else if (value !== undefined && value !== null) {
      this.#wrong = value;
      this.#wrongCount += by;
    }
  }

  #addDecimal(value: Decimal, by: 1 | -1): void {
    const signed = by === 1 ? value : value.negate();
    this.#decimals = this.#decimals?.add(signed) ?? signed;
    this.#decimalCount += by;
  }

  /** @throws `wrongType` when a row has a value that can't be added */
  valueOf(name: string): Total {
    if (this.#wrongCount > 0)
      throw new IronwoodError("wrongType", `There is no sum of the field "${name}": it has ${shown(this.#wrong)}`, {
        expected: "numbers or Decimals in all rows",
      });
    const numbers = this.#numbers.value;
    if (this.#decimals === undefined) return (this.#exact?.revive?.("0") as Decimal | undefined) ?? numbers;
    return this.#exact === undefined && this.#decimalCount === 0 ? numbers : this.#decimals.add(plainNumber(numbers));
  }
}
