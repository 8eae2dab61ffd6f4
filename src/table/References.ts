import { unknownName } from "../errors/index.ts";
import { type AnyModel, valueIn } from "../model/index.ts";
import { type LookUp, lookUpOf } from "./KeyIndex.ts";

/** What of a table others refer to. */
export interface Referred {
  readonly model: AnyModel;
  /** What its errors call it. */
  readonly where: string;
  /** Whether the place where its rows are kept gives them their keys. */
  readonly isKeyGiven: boolean;
  /** What people call the place where its rows are kept, while they are kept at one. */
  readonly keptAt: string | undefined;
  hasLookUp(key: LookUp): boolean;
  /** Who refers to its rows. */
  readonly referrers: Referrers;
}

/** Who refers to the rows of a table: as long as their own tables are used by somebody, and no longer. */
export class Referrers {
  readonly #all = new Set<WeakRef<References>>();

  add(referrer: References): void {
    this.#all.add(new WeakRef(referrer));
  }

  get size(): number {
    return this.#all.size;
  }

  /** Has rows that refer to a key of a table refer to another. */
  follow(from: LookUp, to: unknown, by: Referred): void {
    for (const each of this.#all) each.deref()?.follow(from, to, by);
  }

  /** How many rows refer to a key of a table. */
  countOf(key: LookUp, by: Referred): number {
    let count = 0;
    for (const each of this.#all) {
      const referrer = each.deref();
      if (referrer === undefined) this.#all.delete(each);
      else count += referrer.countOf(key, by);
    }
    return count;
  }
}

/** Fields with keys of rows of other tables, and how many rows refer to each key. */
export class References {
  readonly #fields: readonly {
    readonly name: string;
    readonly to: Referred;
    readonly counts: Map<LookUp, number>;
  }[];

  readonly #refer: (name: string, from: LookUp, to: unknown) => void;

  /**
   * @param refer - has the rows whose field has one key have another
   * @throws `unknownField` with the nearest name
   */
  constructor(
    model: AnyModel,
    given: Readonly<Record<string, Referred>>,
    refer: (name: string, from: LookUp, to: unknown) => void,
  ) {
    this.#refer = refer;
    const known = [...model.kinds.keys()];
    for (const name of Object.keys(given))
      if (!known.includes(name)) throw unknownName("unknownField", "The field", name, known, "references");
    this.#fields = Object.entries(given).map(([name, to]) => ({ name, to, counts: new Map<LookUp, number>() }));
    for (const { to } of this.#fields) to.referrers.add(this);
  }

  /** Counts what a row holds, or with -1 does not hold any more. */
  count(row: unknown, by: 1 | -1): void {
    for (const { name, counts } of this.#fields) {
      const key = keyAt(row, name);
      if (key === undefined) continue;
      const count = (counts.get(key) ?? 0) + by;
      if (count === 0) counts.delete(key);
      else counts.set(key, count);
    }
  }

  clear(): void {
    for (const { counts } of this.#fields) counts.clear();
  }

  /** The fields of a row whose keys are of no row. */
  missing(row: unknown): readonly { readonly name: string; readonly value: string }[] {
    return this.#fields.flatMap(({ name, to }) => {
      const key = keyAt(row, name);
      return key === undefined || to.hasLookUp(key) ? [] : [{ name, value: String(key) }];
    });
  }

  /** The rows that a row refers to: their table, and the key. */
  of(row: unknown): readonly { readonly to: Referred; readonly key: LookUp }[] {
    return this.#fields.flatMap(({ name, to }) => {
      const key = keyAt(row, name);
      return key === undefined ? [] : [{ to, key }];
    });
  }

  follow(from: LookUp, now: unknown, by: Referred): void {
    for (const { name, to, counts } of this.#fields) if (to === by && counts.has(from)) this.#refer(name, from, now);
  }

  /** How many rows refer to a key of a table. */
  countOf(key: LookUp, by: Referred): number {
    return this.#fields.reduce((sum, { to, counts }) => sum + (to === by ? (counts.get(key) ?? 0) : 0), 0);
  }
}

/** Blank refers to nothing. */
function keyAt(row: unknown, name: string): LookUp | undefined {
  const value = valueIn(row, name);
  return value === undefined || value === null || value === "" ? undefined : lookUpOf(value);
}
