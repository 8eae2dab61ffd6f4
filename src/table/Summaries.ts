import type { AnyModel, RowOf } from "../model/index.ts";
import { Groups } from "./Groups.ts";
import type { TableState } from "./TableState.ts";
import { type SummedPart, Totals } from "./Totals.ts";

/** What is known of the rows of a view together, kept by each row that comes and goes: who takes a search back has it at once. */
export class Summaries<M extends AnyModel> {
  readonly totals: Totals<M>;
  readonly groups: Readonly<Record<SummedPart, Groups<M>>>;

  constructor(table: TableState<M>) {
    this.totals = new Totals(table);
    this.groups = { all: new Groups(table), found: new Groups(table) };
  }

  add(parts: readonly SummedPart[], slot: number, row: RowOf<M>): void {
    this.totals.add(parts, slot, row);
    for (const part of parts) this.groups[part].add(row);
  }

  take(parts: readonly SummedPart[], slot: number, row: RowOf<M>): void {
    this.totals.take(parts, slot, row);
    for (const part of parts) this.groups[part].take(row);
  }

  /** Other rows are there: everything is calculated again at the next read. */
  forget(part: SummedPart): void {
    this.totals.forget(part);
    this.groups[part].forget();
  }
}
