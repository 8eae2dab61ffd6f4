import type { AbortSignalLike } from "../engine/index.ts";
import type { Problem } from "../model/index.ts";

/** One row as it was read: the row, or what is wrong with it; a bad row never ends the reading. */
export type StoredRow<Row> =
  | { readonly ok: true; readonly row: Row; readonly line: number }
  | { readonly ok: false; readonly problems: readonly Problem[]; readonly line: number };

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
