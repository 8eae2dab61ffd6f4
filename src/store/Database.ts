import type { AbortSignalLike } from "../engine/index.ts";
import type { AnyModel, FieldPathsOf, KeyOf, RowOf } from "../model/index.ts";
import type { ChangeableStore, StoreChange, StoreNews, WriteResult } from "./Store.ts";

/** What is to be changed in one store of a database. */
export interface DatabasePart {
  /** A store that the database has given. */
  readonly store: ChangeableStore<never, never>;
  /** What is to be changed there. */
  readonly changes: readonly StoreChange<never, never>[];
}

/** What one write has changed in the tables of a database; or that it can't be told any more, and all has to be read again. */
export type DatabaseNews =
  | {
      readonly kind: "changes";
      /** What its writer called the write. */
      readonly id: string;
      /** By the name of a table, rows as {@link StoreNews} tells them; no table that the write has not changed. */
      readonly tables: Readonly<Record<string, Extract<StoreNews<never, never>, { kind: "changes" }>["changes"]>>;
      readonly mark: string;
    }
  | { readonly kind: "reload"; readonly mark: string };

/** What a database is told of a kind of rows. */
export interface StoreOptions<M extends AnyModel = AnyModel> {
  /** By field, the table whose keys it has. */
  readonly references?: { readonly [_ in FieldPathsOf<M>]?: string | undefined } | undefined;
}

/** A place with several kinds of rows, which can be written in one transaction. */
export interface Database {
  /** What people call it. */
  readonly place: string;
  /** The rows of a model. @param name - of their table */
  store<M extends AnyModel>(model: M, name: string, options?: StoreOptions<M>): ChangeableStore<RowOf<M>, KeyOf<M>>;
  /**
   * Keeps changes of several stores: all of them, or none.
   *
   * @param options - `id`: what the caller calls this write; the same again is done once
   * @returns what became of each part; where one is not `ok`, nothing is kept, and a part with nothing wrong in it has no conflicts
   * @throws {@link StoreError}
   */
  write(
    parts: readonly DatabasePart[],
    options: { readonly id: string; readonly signal?: AbortSignalLike | undefined },
  ): Promise<readonly WriteResult<never, never>[]>;
  /** Where the database is now: who asks, reads, and then follows from there, misses nothing. @throws {@link StoreError} */
  mark(): Promise<string>;
  /** Tells what was written after a mark in the tables that were given out, a write at a time, until it is aborted. */
  follow(since: string, listener: (news: DatabaseNews) => void, options: { readonly signal: AbortSignalLike }): void;
}
