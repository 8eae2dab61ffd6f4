import type { AnyModel, RowOf } from "../model/index.ts";
import { Groups } from "./Groups.ts";
import type { TableState } from "./TableState.ts";
import { Totals } from "./Totals.ts";

/** What is known of the rows of a view together, kept by each row that comes and goes. */
export class Summaries<M extends AnyModel> {
  readonly totals: Totals<M>;
  readonly groups: Groups<M>;

  constructor(table: TableState<M>) {
    this.totals = new Totals(table);
    this.groups = new Groups(table);
  }

  add(slot: number, row: RowOf<M>): void {
    this.totals.add(slot, row);
    this.groups.add(row);
  }

  take(slot: number, row: RowOf<M>): void {
    this.totals.take(slot, row);
    this.groups.take(row);
  }

  /** Other rows are in the view: everything is calculated again at the next read. */
  forget(): void {
    this.totals.forget();
    this.groups.forget();
  }
}
