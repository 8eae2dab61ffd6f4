import type { AbortSignalLike, Stoppable } from "../engine/index.ts";
import type { AnyModel } from "../model/index.ts";
import type { AnyTable, RowResult, Table } from "../table/index.ts";
import type { Draft } from "./drafts/Draft.ts";
import type { Kept, KeptConflict, KeptResult, KeptState } from "./Kept.ts";
import type { KeepOptions } from "./KeepOptions.ts";

/** Tables by the names that they have in the database. */
export type TablesByName = Readonly<Record<string, AnyTable>>;

/** How a table stands, with the keys and the rows of its model. */
export type KeptOf<T> = T extends Table<infer M> ? Kept<M> : Kept;

/** Options of `keepTogether`. */
export type TogetherOptions = Pick<KeepOptions, "writeAfter" | "drafts" | "progress" | "signal">;

/** How several tables stand whose rows are kept in one database. Made by `keepTogether`. */
export interface KeptTogether<T extends TablesByName> extends Stoppable {
  /** What people call the database. */
  readonly place: string;
  /** How each table stands, by its name: `unsavedOf`, `conflicts`, `resolve`, `revert`. To write one writes all. */
  readonly parts: { readonly [N in keyof T]: KeptOf<T[N]> };
  /** How all of them stand, which is how the worst does; followed. */
  readonly state: KeptState;
  /** The same in words; followed. */
  readonly said: string;
  /** How many rows of all differ from the database; followed. */
  readonly unsavedCount: number;
  /** In how many rows of all something is typed that is not in its table yet; followed. */
  readonly editingCount: number;
  /** What is not saved, as a draft on this machine, where `drafts` was given: one for all tables. */
  readonly draft: Draft | undefined;
  /** Rows of all that were changed here and elsewhere; followed. */
  readonly conflicts: readonly KeptConflict<AnyModel>[];
  /** One of the tables, for its language. */
  readonly table: { readonly locale: string };
  /**
   * Writes what is unsaved in all of them, in one transaction. What was changed together with a row that is in conflict or refused, or depends
   * on it, waits with it.
   *
   * @throws the signal's reason when it is aborted
   */
  write(options?: { readonly signal?: AbortSignalLike | undefined }): Promise<KeptResult>;
  /** Reads all rows again; what is unsaved stays so. */
  reload(options?: { readonly signal?: AbortSignalLike | undefined }): Promise<KeptResult>;
  /** Takes back what is unsaved in all of them. It is one step to be undone where they share a history. */
  revert(): RowResult<void>;
  /** Ends it. What is unsaved stays in the tables. */
  stop(): void;
}
