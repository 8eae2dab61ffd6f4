import { atEnd, record } from "../engine/index.ts";
import type { AnyModel, Problem } from "../model/index.ts";
import type { LookUp } from "./KeyIndex.ts";
import { type Referred, References } from "./References.ts";
import { alike, inUse, keyTaken, notThere, tableFull } from "./tableProblems.ts";
import { UniqueSets } from "./UniqueSets.ts";

/** What of a table is asked about its rows together. */
export interface Together extends Referred {
  readonly model: AnyModel;
  readonly locale: string;
  readonly count: number;
  rowAt(slot: number): unknown;
  lookUpAt(slot: number): LookUp;
  /** Whether more than one row has a key. */
  isDouble(key: LookUp): boolean;
  /** Has rows refer to the same row by its new key. */
  refer(name: string, from: LookUp, to: unknown): void;
}

/** What is to hold of the rows of a table together. */
export interface TogetherOptions {
  readonly maxItems?: number | undefined;
  readonly unique?: readonly (string | readonly string[])[] | undefined;
  readonly references?: Readonly<Record<string, Referred>> | undefined;
}

/** What a transaction has changed: places, and keys that were of rows before. */
interface Touched {
  readonly slots: Set<number>;
  readonly gone: Set<LookUp>;
}

/** What concerns several rows: keys, what no two may have alike, references and how many there are. It is looked at when a transaction ends. */
export class RowsTogether {
  readonly #unique: UniqueSets;
  readonly #references: References | undefined;
  #touched: Touched | undefined;
  readonly #table: Together;
  readonly #options: TogetherOptions;

  /** @throws `unknownField` with the nearest name */
  constructor(table: Together, options: TogetherOptions) {
    this.#table = table;
    this.#options = options;
    this.#unique = new UniqueSets(table, options.unique ?? []);
    if (Object.keys(options.references ?? {}).length > 0)
      this.#references = new References(table.model, options.references!, (...all) => table.refer(...all));
  }

  /** Begins anew with the rows that are there. */
  fill(rows: readonly unknown[]): void {
    this.#unique.clear();
    this.#references?.clear();
    if (this.#options.unique === undefined && this.#references === undefined) return;
    rows.forEach((row, slot) => {
      if (row !== undefined) this.add(row, slot);
    });
  }

  add(row: unknown, slot: number): void {
    this.#unique.add(row, slot);
    this.#references?.count(row, 1);
  }

  remove(row: unknown, slot: number): void {
    this.#unique.remove(row, slot);
    this.#references?.count(row, -1);
  }

  /** The rows that a row refers to. */
  referencesOf(row: unknown): ReturnType<References["of"]> {
    return this.#references?.of(row) ?? [];
  }

  /** A place is about to be changed by the running transaction. @param stays - whether a row will be there */
  touch(slot: number, stays: boolean): void {
    const touched = this.#touchedNow();
    if (stays) touched.slots.add(slot);
    const table = this.#table;
    if (table.referrers.size > 0 && table.rowAt(slot) !== undefined) touched.gone.add(table.lookUpAt(slot));
  }

  #touchedNow(): Touched {
    if (this.#touched !== undefined) return this.#touched;
    const touched: Touched = { slots: new Set(), gone: new Set() };
    this.#touched = touched;
    const forget = (): undefined => {
      this.#touched = undefined;
    };
    // A transaction that is taken back is not looked at.
    record({ restore: forget }, undefined);
    atEnd(() => {
      forget();
      return this.#check(touched);
    });
    return touched;
  }

  /** Rows that were loaded may be alike; only what was changed now is looked at. */
  #check({ slots, gone }: Touched): readonly Problem[] {
    const table = this.#table;
    const { locale, model } = table;
    const problems: Problem[] = [];
    // Of rows that are alike each is meant, and it is said once.
    const said = new Set<LookUp>();
    const isNews = (text: LookUp): boolean => {
      const { size } = said;
      return said.add(text).size > size;
    };
    for (const slot of slots) {
      const row = table.rowAt(slot);
      if (row === undefined) continue;
      const key = table.lookUpAt(slot);
      if (table.isDouble(key) && isNews(key)) problems.push(keyTaken(locale, model, row));
      for (const { name, value, text } of this.#unique.alike(row))
        if (isNews(text)) problems.push(alike(locale, name, value));
      for (const { name, value } of this.#references?.missing(row) ?? []) problems.push(notThere(locale, name, value));
    }
    problems.push(...this.#stillUsed(gone));
    const { maxItems = Infinity } = this.#options;
    if (table.count > maxItems) problems.push(tableFull(locale, maxItems));
    return problems;
  }

  #stillUsed(gone: ReadonlySet<LookUp>): readonly Problem[] {
    const table = this.#table;
    return [...gone].flatMap((key) => {
      if (table.hasLookUp(key)) return [];
      const count = table.referrers.countOf(key, table);
      return count > 0 ? [inUse(table.locale, String(key), count)] : [];
    });
  }
}
