import { type AnyModel, givenFields, hasGivenKey, isForNow, type RowOf, rowWith, valueIn } from "../model/index.ts";
import { type LookUp, lookUpOf } from "./KeyIndex.ts";
import { fieldsBetween } from "./rowShape.ts";

/** The fields of the rows of a table that the place gives where the rows are kept. */
export class GivenFields<M extends AnyModel> {
  /** Whether the place gives rows their keys. */
  readonly isKey: boolean;
  readonly #model: M;
  readonly #names: readonly string[];
  /** The next key of a new row whose key the place gives. */
  #keyForNow = -1;

  constructor(model: M) {
    this.#model = model;
    this.isKey = hasGivenKey(model);
    this.#names = givenFields(model).map(([name]) => name);
  }

  /** A new row whose key the place gives has one for now: the one that it was given here, as in a draft, if that is free. */
  withKeyForNow(whole: RowOf<M>, given: object, isTaken: (key: LookUp) => boolean): RowOf<M> {
    if (!this.isKey) return whole;
    const [name] = this.#model.parts.key as readonly [string];
    const isFree = (key: unknown): boolean => isForNow(key) && !isTaken(lookUpOf(key));
    const wanted = valueIn(given, name);
    if (isFree(wanted)) return Object.freeze({ ...(whole as object), [name]: wanted }) as RowOf<M>;
    while (!isFree(this.#keyForNow)) this.#keyForNow--;
    return Object.freeze({ ...(whole as object), [name]: this.#keyForNow-- }) as RowOf<M>;
  }

  /** Whether two rows differ in nothing but what the place has given. */
  isSameAsEntered(a: unknown, b: unknown): boolean {
    if (a === b) return true;
    const mayBe = this.#names.length > 0 && a !== undefined && b !== undefined;
    return mayBe && fieldsBetween(this.#model, a, b).length === 0;
  }

  /** A row of before with what the place has given it since. */
  withGivenOf(row: RowOf<M> | undefined, now: RowOf<M> | undefined): RowOf<M> | undefined {
    if (this.#names.length === 0 || row === undefined || now === undefined) return row;
    return this.#names.reduce<object>((whole, name) => rowWith(whole, name, valueIn(now, name)), row) as RowOf<M>;
  }
}
