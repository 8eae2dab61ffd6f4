import { follow, type Stoppable } from "../engine/index.ts";
import { Entry } from "../entry/index.ts";
import type { AnyModel, RowOf } from "../model/index.ts";
import type { Table } from "../table/index.ts";
import { Place } from "./Place.ts";

/**
 * An entry over a copy of a row of a table: nothing that is entered is in the table, or in other entries over the row, before it is
 * saved. What is changed in the table meanwhile is seen here, so that a save overwrites nothing unseen.
 */
export class RowCopy<M extends AnyModel = AnyModel> extends Entry<M> {
  readonly #following: Stoppable;

  constructor(table: Table<M>, slot: number) {
    const place = new Place(table, slot);
    super(table.model, {}, false, {
      locale: table.locale,
      readOnly: () => place.row === undefined && place.missing,
      save: (row) => place.put(row),
    });
    this.core.rowNow = () => place.row;
    this.begin(place.row!);
    this.#following = follow(
      () => place.row,
      (row: RowOf<M> | undefined) => row !== undefined && this.meet(row),
    );
  }

  override stop(): void {
    this.#following.stop();
    super.stop();
  }
}
