import type { History, internal } from "../engine/index.ts";
import type { AnyModel, FieldPathsOf, Problem } from "../model/index.ts";
import type { Referred } from "./References.ts";

/** A table whose rows others refer to by their keys: any table is one. */
export interface ReferredTable {
  readonly [internal]: Referred;
}

/** Options of `table`. */
export interface TableOptions<M = AnyModel> {
  /** How many rows there may be. */
  readonly maxItems?: number | undefined;
  /** Fields, or sets of fields, that no two rows may have alike. Rows in which one of them is blank are not compared. */
  readonly unique?: readonly (FieldPathsOf<M> | readonly FieldPathsOf<M>[])[] | undefined;
  /** Fields with keys of rows of other tables: a key without a row is refused, and a row that others refer to can't be deleted. */
  readonly references?: { readonly [N in FieldPathsOf<M>]?: ReferredTable } | undefined;
  /** Where changes are noted to be undone; without it, they are not. */
  readonly history?: History | undefined;
  /** A BCP 47 tag: the language of its problems, and the order of text in its views. Default: the page's `lang` once it is bound, else the runtime's. */
  readonly locale?: string | undefined;
  /** An IANA name, as `Europe/Berlin`: by whose clock instants are read and shown. Default: the runtime's. */
  readonly timeZone?: string | undefined;
}

/** A loaded row that was left out, and why. */
export interface LeftOut {
  /** Its place among those that were given, counted from 0. */
  readonly place: number;
  /** Why it can't be in the table. */
  readonly problems: readonly Problem[];
}

/** What a change of one row came to. */
export type RowResult<Row> =
  { readonly ok: true; readonly row: Row } | { readonly ok: false; readonly problems: readonly Problem[] };
