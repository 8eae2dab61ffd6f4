import type { AnyModel, KeyOf, Problem, RowOf } from "../model/index.ts";
import type { StoreChange, StoredRow, VersionedRow } from "../store/index.ts";
import type { Cell } from "./columns.ts";
import type { Connection } from "./driver.ts";
import type { TableChanges } from "./SqliteDatabase.ts";

/** A row with where it is, and its version there. */
export type Versioned<M extends AnyModel> = VersionedRow<RowOf<M>, KeyOf<M>>;
/** A row as it was read. */
export type ReadRow<M extends AnyModel> = StoredRow<RowOf<M>> & { readonly key?: KeyOf<M>; readonly version?: string };
/** Changes of the rows of a model. */
export type Changes<M extends AnyModel> = readonly StoreChange<RowOf<M>, KeyOf<M>>[];

/** Where a page of rows ends; the next one begins behind it. */
export type PageEnd = number | readonly Cell[];

/** What a write has done in one table. */
export interface DoneChanges<M extends AnyModel> {
  readonly written: (Versioned<M> | undefined)[];
  readonly changes: TableChanges;
}

/** A write that is not done: all of it is taken back. */
export class NotWritten<M extends AnyModel> {
  readonly conflicts: { readonly change: number; readonly key: KeyOf<M>; readonly now: Versioned<M> | undefined }[] =
    [];
  readonly refused: { readonly change: number; readonly problems: readonly Problem[] }[] = [];
}

/** The rows of one model in a table of a database, whoever has made it. */
export interface TableInDatabase<M extends AnyModel> {
  readonly name: string;
  /** Whether another program has made it, and writes in it without telling the library. */
  readonly isOfOthers: boolean;
  /** The column of the key where it is one field: others can refer to it. */
  readonly keyColumn: string | undefined;
  /** The columns, by the names of their fields. */
  readonly columnNames: ReadonlyMap<string, string>;
  /** The SQL that brings what is there to what the model says; none where it is so already. @throws `StoreError` where it can't be */
  plan(connection: Connection): string[];
  prepare(connection: Connection): void;
  /** So many rows of those behind the end of a page, or the first ones, and where they end. */
  page(
    connection: Connection,
    after: PageEnd | undefined,
    count: number,
    line: number,
  ): { readonly rows: ReadRow<M>[]; readonly last: PageEnd | undefined };
  /** The row with a key, as it is now. */
  find(connection: Connection, key: KeyOf<M>): Versioned<M> | undefined;
  /** The rows that a write has left as they are now; `undefined` where that is not known. */
  writtenBy(connection: Connection, number: number): Versioned<M>[] | undefined;
  readonly model: M;
  /** Its columns that have keys of rows of others, as far as they were declared. */
  readonly references: readonly { readonly field: string; readonly table: string }[];
  /**
   * Does some changes; to be called in a transaction.
   *
   * @param number - the number of the write
   * @throws {@link NotWritten} with everything that keeps it from being done
   */
  write(connection: Connection, changes: Changes<M>, number: number): DoneChanges<M>;
  /** The answer that a write had, which is asked for again. */
  writtenBefore(
    connection: Connection,
    changes: Changes<M>,
    number: number,
    before: Partial<TableChanges>,
  ): (Versioned<M> | undefined)[];
  /** What of some changes that are done refers to no row, or takes away a row that others refer to. To be called when all tables are written. */
  requireReferences(connection: Connection, changes: Changes<M>): void;
}
