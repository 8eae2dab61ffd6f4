import type { internal } from "../engine/index.ts";
import type { Entry, SaveResult } from "../entry/index.ts";
import type { AnyModel, KeyOf, RowOf } from "../model/index.ts";
import type { Table } from "../table/index.ts";
import type { Committed } from "./RowLocation.ts";
import type { TableEntryState } from "./TableEntryState.ts";

/**
 * An entry over a row that is in a table: saving it updates the row, and what is changed in the table elsewhere is seen here,
 * but for the fields that a person has changed. While it is changed, its row stays where it is in every view.
 */
export interface TableEntry<M extends AnyModel = AnyModel> extends Entry<M> {
  /** The table that its row is in. */
  readonly table: Table<M>;
  /** The key of its row as of now; `undefined` when there is none. */
  readonly key: KeyOf<M> | undefined;
  /** The row as it is in the table. */
  readonly kept: RowOf<M> | undefined;
  /**
   * Puts what was changed into the table, at once where no rule has to ask elsewhere; rows inside the row that are being edited are put
   * into the row first.
   *
   * @returns whether it is there, or why not: the problems are then visible
   */
  commit(): Committed | Promise<SaveResult<RowOf<M>>>;
  // What the library does with any entry does not depend on its model.
  // eslint-disable-next-line @typescript-eslint/no-explicit-any
  readonly [internal]: TableEntryState<any>;
}
