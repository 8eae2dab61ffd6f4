import type { AnyModel, KeyOf, Problem, RowOf } from "../model/index.ts";
import type { TableState } from "../table/index.ts";

/** Why rows of a table are not written: by the very row, so that a row which is changed may be tried again. */
export class Refusals<M extends AnyModel> {
  readonly #refused = new Map<object, { readonly key: KeyOf<M>; readonly problems: readonly Problem[] }>();
  readonly #table: TableState<M>;

  constructor(table: TableState<M>) {
    this.#table = table;
  }

  get size(): number {
    return this.#refused.size;
  }

  /** The reasons, by row. */
  get all(): readonly (readonly Problem[])[] {
    return [...this.#refused.values()].map(({ problems }) => problems);
  }

  problemsOf(row: object): readonly Problem[] | undefined {
    return this.#refused.get(row)?.problems;
  }

  /** A row is not to be written, for reasons that the table knows itself. */
  add(key: KeyOf<M>, row: object, problems: readonly Problem[]): void {
    this.#refused.set(row, { key, problems });
  }

  /** The place does not take a row as it is: its reasons are problems of the row. @param isHere - whether it is in the table */
  addOfPlace(key: KeyOf<M>, row: object, problems: readonly Problem[], isHere: boolean): void {
    this.add(key, row, problems);
    if (isHere) this.#show(key, row, problems);
  }

  #show(key: KeyOf<M>, row: object, problems: readonly Problem[] | undefined): void {
    const table = this.#table;
    table.setPlaceProblems(row as RowOf<M>, problems);
    const slot = table.slotFor(key);
    if (slot !== undefined) table.showAgain(slot);
  }

  /** Forgets the rows that are others now. */
  keepOnly(rows: ReadonlySet<object>): void {
    for (const row of this.#refused.keys()) if (!rows.has(row)) this.#refused.delete(row);
  }

  /** Forgets all: the place is asked again. */
  clear(): void {
    for (const [row, { key }] of this.#refused) this.#show(key, row, undefined);
    this.#refused.clear();
  }
}
