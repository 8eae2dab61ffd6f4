import type { AbortSignalLike } from "../engine/index.ts";
import type { AnyModel, KeyOf, RowOf } from "../model/index.ts";
import type { ChangeableStore, StoreChange, WriteResult } from "./Store.ts";

/** What is to be changed in one store of a database. */
export interface DatabasePart {
  /** A store that the database has given. */
  readonly store: ChangeableStore<never, never>;
  /** What is to be changed there. */
  readonly changes: readonly StoreChange<never, never>[];
}

/** A place with several kinds of rows, which can be written in one transaction. */
export interface Database {
  /** What people call it. */
  readonly place: string;
  /** The rows of a model. @param name - of their table */
  store<M extends AnyModel>(model: M, name: string): ChangeableStore<RowOf<M>, KeyOf<M>>;
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
}
