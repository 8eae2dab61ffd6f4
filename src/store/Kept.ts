import type { Draft } from "./drafts/Draft.ts";
import type { AbortSignalLike, Stoppable } from "../engine/index.ts";
import type { Conflict } from "../merge/index.ts";
import type { AnyModel, KeyOf, Problem, RowOf } from "../model/index.ts";
import type { RowResult, Table } from "../table/index.ts";
import type { UnsavedKind } from "./Unsaved.ts";

/**
 * How a table stands to the place where it is kept: all `saved`; something `unsaved`; `saving`; `refused`, where a person has to do
 * something; `unreachable`, where it is tried again; `conflict`, where somebody has to choose; `stopped`, where nothing is written any more.
 */
export type KeptState = "saved" | "unsaved" | "saving" | "refused" | "unreachable" | "conflict" | "stopped";

/** A row that is not as it is at its place. */
export interface UnsavedRow<M extends AnyModel> {
  /** What was done to it here. */
  readonly kind: UnsavedKind;
  /** Its key here; of a deleted row, its last. */
  readonly key: KeyOf<M>;
  /** The names of the fields that differ; of a new or deleted row, those that are not blank. */
  readonly fields: readonly string[];
  /** Why the place, or a rule, does not let it be saved; none where it was not tried. */
  readonly problems: readonly Problem[];
}

/** A row that was changed here and elsewhere, so that somebody has to choose. */
export interface KeptConflict<M extends AnyModel> {
  /** Its key here; of a row that was deleted here, its last. */
  readonly key: KeyOf<M>;
  /** The row as both began with it; `undefined` where both put one in. */
  readonly base: RowOf<M> | undefined;
  /** The row as it is here; `undefined` where it was deleted here. */
  readonly mine: RowOf<M> | undefined;
  /** The row as it is at the place; `undefined` where it was deleted there. */
  readonly theirs: RowOf<M> | undefined;
  /** By field, what both changed to different values; none where one side deleted the row. */
  readonly fields: Readonly<Record<string, Conflict>>;
}

/** What came of writing, or of reading again; `said` is the text for the status line. */
export type KeptResult =
  | {
      readonly ok: true;
      /** How many rows were written, or are there. */
      readonly rows: number;
      readonly said: string;
    }
  | { readonly ok: false; readonly state: KeptState; readonly said: string };

/** A row of the place that can't be shown. It stays there as it is. */
export interface LeftOutRow {
  /** Where it is, counted from 1. */
  readonly line: number;
  /** What is wrong with it. */
  readonly problems: readonly Problem[];
}

/** A table and the place where its rows are kept. Make one with `keep`. */
export interface Kept<M extends AnyModel = AnyModel> extends Stoppable {
  /** The table whose rows are kept. */
  readonly table: Table<M>;
  /** What people call the place. */
  readonly place: string;
  /** How it stands; followed. */
  readonly state: KeptState;
  /** The same in words, for a status line; followed. */
  readonly said: string;
  /** How many rows differ from the place; followed. */
  readonly unsavedCount: number;
  /** In how many rows something is typed that is not in the table yet; followed. */
  readonly editingCount: number;
  /** The rows that differ from the place: deleted ones first, new ones last; followed. */
  readonly unsaved: readonly UnsavedRow<M>[];
  /** Rows that were changed here and elsewhere; followed. */
  readonly conflicts: readonly KeptConflict<M>[];
  /** Rows of the place that can't be read; the first 1,000 of them. */
  readonly leftOut: readonly LeftOutRow[];
  /** What is unsaved, kept on this machine, and what an earlier window has left: with the option `drafts`; else `undefined`. */
  readonly draft: Draft | undefined;
  /** How the row with a key differs from the place, `conflict` where it was changed there too; `undefined` where it does not; followed. */
  unsavedOf(key: KeyOf<M>): "new" | "changed" | "conflict" | undefined;
  /**
   * Writes what is unsaved, now. Where a write is under way, what is new is written after it.
   *
   * @returns what came of it; a failure of the place is no exception
   * @throws the signal's reason when it is aborted
   */
  write(options?: { readonly signal?: AbortSignalLike | undefined }): Promise<KeptResult>;
  /** Reads all rows again. What is unsaved stays so, merged with what others have made of the rows. */
  reload(options?: { readonly signal?: AbortSignalLike | undefined }): Promise<KeptResult>;
  /**
   * Takes back what is unsaved: of one row, or of all. It can be undone where the table has a history.
   *
   * @throws `unknownKey` for a row that does not differ
   */
  revert(key?: KeyOf<M>): RowResult<void>;
  /**
   * Ends a conflict: with what was entered here, with what was changed elsewhere, or with a row. Changes of other fields are kept in any
   * case. What is chosen is unsaved then, unless it is what is at the place.
   *
   * @throws `unknownKey` for a row that is in no conflict; `wrongType`, `unknownField` for a row that does not fit the model
   */
  resolve(key: KeyOf<M>, choice: "mine" | "theirs" | Partial<RowOf<M>>): void;
  /** Ends it. What is unsaved stays in the table, and nothing is written any more. */
  stop(): void;
}
