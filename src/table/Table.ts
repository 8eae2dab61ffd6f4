import type { History, internal } from "../engine/index.ts";
import type { AnyModel, KeyOf, Problem, RowOf } from "../model/index.ts";
import type { LeftOut, RowResult } from "./TableOptions.ts";
import type { TableState } from "./TableState.ts";

/** Rows of one model, each whole, found by their keys. Make one with `table`. */
export interface Table<M extends AnyModel = AnyModel> {
  /** The model of its rows. */
  readonly model: M;
  /**
   * A BCP 47 tag: the language of its problems, and in which its values are shown, sorted and searched. Until one is given it is the
   * page's, once something of the table is bound. It may be set while the page runs; followed.
   */
  locale: string;
  /** The zone by whose clock instants are shown, as an IANA name. Reading it is followed. */
  readonly timeZone: string;
  /** Where its changes are noted. */
  readonly history: History | undefined;
  /** How many rows there are. */
  readonly size: number;
  /** What was left out when rows were loaded. */
  readonly leftOut: readonly LeftOut[];
  /** The row with a key; `undefined` when there is none. A follower that reads it runs again only when this row changes. */
  get(key: KeyOf<M>): RowOf<M> | undefined;
  /** Whether there is a row with a key. Reading it is followed. */
  has(key: KeyOf<M>): boolean;
  /** The key of a row that is in the table. @throws `unknownKey` for a row that is not */
  keyOf(row: RowOf<M>): KeyOf<M>;
  /** All rows, in the order in which they came. */
  [Symbol.iterator](): Iterator<RowOf<M>>;
  /** What is wrong with a row by itself. Rows that were loaded may break constraints. */
  problemsOf(row: RowOf<M>): readonly Problem[];
  /** The value of a field in a row, worked out where it is calculated; `undefined` where it is blank or not relevant. */
  valueOf(row: RowOf<M>, name: string): unknown;
  /**
   * Adds a row, at the end.
   *
   * @returns the row as it is in the table, or why it is refused; inside a transaction that fails the whole
   * @throws `wrongType`, `unknownField` for values that do not fit the model
   */
  insert(row: Partial<RowOf<M>>): RowResult<RowOf<M>>;
  /**
   * Changes some fields of a row; the others stay. `undefined` blanks. A changed key is another name of the same row.
   *
   * @throws `unknownKey` when there is no such row; `wrongType`, `unknownField`
   */
  update(key: KeyOf<M>, changes: Partial<RowOf<M>>): RowResult<RowOf<M>>;
  /**
   * Takes a row out.
   *
   * @returns the row as it was, or why it is refused: other rows refer to it
   * @throws `unknownKey` when there is no such row
   */
  delete(key: KeyOf<M>): RowResult<RowOf<M>>;
  /** Takes all rows out. */
  clear(): void;
  /** Puts other rows in the place of all that are there; if one of them is refused, nothing is changed. */
  replaceAll(rows: readonly Partial<RowOf<M>>[]): RowResult<readonly RowOf<M>[]>;
  /**
   * Puts other rows in the place of all that are there, as when a file is read: rows that break constraints are taken with
   * their problems. It is one change that is not undone, and what could be undone of this table is forgotten.
   *
   * @returns what was left out, which is in `leftOut` too: wrong types, keys that are taken, more rows than there may be
   */
  load(rows: readonly RowOf<M>[]): readonly LeftOut[];
  // What the library does with any table does not depend on its model.
  // eslint-disable-next-line @typescript-eslint/no-explicit-any
  readonly [internal]: TableState<any>;
}

/** A table of any model. */
// What a table takes and gives are both of its model, so only `any` takes them all.
// eslint-disable-next-line @typescript-eslint/no-explicit-any
export type AnyTable = Table<any>;
