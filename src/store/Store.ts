import type { AbortSignalLike } from "../engine/index.ts";
import type { Problem } from "../model/index.ts";

/** One row as it was read: the row, or what is wrong with it; a bad row never ends the reading. */
export type StoredRow<Row> =
  | { readonly ok: true; readonly row: Row; readonly line: number }
  | { readonly ok: false; readonly problems: readonly Problem[]; readonly line: number };

/** A row with the key that it has at its place, and its version there: an opaque text, and as long as it is equal, the row is unchanged. */
export interface VersionedRow<Row, Key> {
  /** The key that the row has at its place. */
  readonly key: Key;
  /** Equal as long as the row is unchanged; nothing else is to be read from it. */
  readonly version: string;
  /** The row as it is there. */
  readonly row: Row;
}

/** One change that a place is to keep. */
export type StoreChange<Row, Key> =
  | { readonly kind: "insert"; readonly row: Row }
  | {
      readonly kind: "update";
      /** The key that the row has at the place; `row` may have another. */
      readonly key: Key;
      /** The version that the change was made of. */
      readonly version: string;
      readonly row: Row;
    }
  | { readonly kind: "delete"; readonly key: Key; readonly version: string };

/** What became of a write: all of it is kept, or none. */
export type WriteResult<Row, Key> =
  | {
      readonly ok: true;
      /** In the order of the changes: the row as the place keeps it; `undefined` for one that was deleted. */
      readonly written: readonly (VersionedRow<Row, Key> | undefined)[];
      readonly mark: string;
    }
  | {
      readonly ok: false;
      /** Rows that others have changed meanwhile, as they are now; without a row where it is not there any more. */
      readonly conflicts: readonly { readonly key: Key; readonly now: VersionedRow<Row, Key> | undefined }[];
    }
  | {
      readonly ok: false;
      /** What only the place can know: a key that another row has, a row that is in use. By the index of the change. */
      readonly refused: readonly { readonly change: number; readonly problems: readonly Problem[] }[];
    };

/** What was written at a place after a mark, by whomever; or that it can't be told any more, and all has to be read again. */
export type StoreNews<Row, Key> =
  | {
      readonly kind: "changes";
      /** What its writer called the write. */
      readonly id: string;
      /** Rows as the write left them, or as they are now where they were written again since; without a row where it is not there any more. */
      readonly changes: readonly { readonly key: Key; readonly now: VersionedRow<Row, Key> | undefined }[];
      readonly mark: string;
    }
  | { readonly kind: "reload"; readonly mark: string };

/** Where a row was put, for the status line. */
export interface Receipt {
  /** Where the row is: a file's name, a folder, an address. */
  readonly place: string;
  /** What the person should know besides, as that a row which a crash left half written was found. A whole sentence. */
  readonly notice?: string | undefined;
}

/** A place where rows live. */
export interface Store<Row> {
  /** What people call it: a file's name, a service's address. */
  readonly place: string;
  /** Puts one row behind the others. It is there for good when the promise holds. @throws {@link StoreError} */
  append(row: Row, options?: { readonly signal?: AbortSignalLike | undefined }): Promise<Receipt>;
  /** Reads the rows in order, one after the other. @throws {@link StoreError} */
  read(options?: { readonly signal?: AbortSignalLike | undefined }): AsyncIterable<StoredRow<Row>>;
}

/** A place whose rows can be changed by their keys, by several at once, and followed: rows of a table can be kept in it. */
export interface ChangeableStore<Row, Key> extends Store<Row> {
  /** Reads the rows with their keys and versions. @throws {@link StoreError} */
  read(options?: {
    readonly signal?: AbortSignalLike | undefined;
  }): AsyncIterable<StoredRow<Row> & { readonly key?: Key; readonly version?: string }>;
  /** The same, some rows at a time: for a place that reads many rows faster so. @throws {@link StoreError} */
  readPages?(options?: {
    readonly signal?: AbortSignalLike | undefined;
  }): AsyncIterable<readonly (StoredRow<Row> & { readonly key?: Key; readonly version?: string })[]>;
  /**
   * Keeps all of some changes, or none of them.
   *
   * @param options - `id`: what the caller calls this write. The same id again gives the first answer again, and changes nothing: who did
   *   not hear the answer may ask again
   * @throws {@link StoreError}
   */
  write(
    changes: readonly StoreChange<Row, Key>[],
    options: { readonly id: string; readonly signal?: AbortSignalLike | undefined },
  ): Promise<WriteResult<Row, Key>>;
  /** Where the place is now: who asks, reads, and then follows from there, misses nothing. @throws {@link StoreError} */
  mark(): Promise<string>;
  /** Tells what was written after a mark, in order and once each, until it is aborted. */
  follow(
    since: string,
    listener: (news: StoreNews<Row, Key>) => void,
    options: { readonly signal: AbortSignalLike },
  ): void;
}

/** What keeps a store from doing its work: `refused` will be so again, `unreachable` may go away. */
export type StoreErrorKind = "refused" | "unreachable" | "full";

/** A failure of the place where rows live; its message is for the person at the window. */
export class StoreError extends Error {
  /** Always "StoreError". */
  override readonly name = "StoreError";

  constructor(
    /** Who can do something: `unreachable` may go away by itself, `refused` and `full` wait for a person. */
    readonly kind: StoreErrorKind,
    message: string,
    options?: { cause?: unknown },
  ) {
    super(message, options);
  }
}
