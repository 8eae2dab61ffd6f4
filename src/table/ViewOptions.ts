import type { FieldPathsOf, RowOf } from "../model/index.ts";
import type { OrderColumn } from "./columns.ts";

/** A field, and perhaps which way, or a column with its options. */
export type OrderBy<M> =
  FieldPathsOf<M> | `${FieldPathsOf<M>} ${"asc" | "desc" | "ascending" | "descending"}` | OrderColumn<FieldPathsOf<M>>;

/** Options of a view; each can be set later. */
export interface ViewOptions<M> {
  /** Which rows are in it. What it reads beside the row is followed. */
  readonly where?: ((row: RowOf<M>) => boolean) | undefined;
  /** In which order: `"species"`, `"height desc"`, or several; without it, as in the table. */
  readonly orderBy?: OrderBy<M> | readonly OrderBy<M>[] | undefined;
  /** Words that a row has to have, in any order and without regard to case and accents. */
  readonly search?: string | undefined;
  /** The fields that are searched; default: all text and choices. */
  readonly searchIn?: readonly FieldPathsOf<M>[] | undefined;
}
