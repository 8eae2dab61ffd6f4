import { follow, type Stoppable } from "../engine/index.ts";
import { EntryState } from "../entry/index.ts";
import type { AnyModel, RowOf } from "../model/index.ts";
import type { TableState } from "../table/index.ts";
import { RowLocation } from "./RowLocation.ts";

/**
 * An entry over a copy of a row of a table: nothing that is entered is in the table, or in other entries over the row, before it is
 * saved. What is changed in the table meanwhile is seen here, so that a save overwrites nothing unseen.
 */
export class RowCopyState<M extends AnyModel = AnyModel> extends EntryState<M> {
  readonly #location: RowLocation<M>;
  readonly #following: Stoppable;

  constructor(table: TableState<M>, slot: number) {
    const location = new RowLocation(table, slot);
    super(table.model, {}, false, {
      locale: table.locale,
      timeZone: table.timeZone,
      readOnly: () => location.row === undefined && location.missing,
      save: (row) => location.put(row),
    });
    this.#location = location;
    this.core.rowNow = () => location.row;
    this.begin(location.row!);
    location.pin();
    this.#following = follow(
      () => location.row,
      (row: RowOf<M> | undefined) => {
        if (row !== undefined) this.rebase(row);
      },
    );
  }

  override stop(): void {
    this.#following.stop();
    this.#location.unpin();
    super.stop();
  }
}
