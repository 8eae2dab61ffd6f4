import { type AnyModel, pointerTo, type Problem } from "../../model/index.ts";
import { openEntryAt, TableEntryState } from "../../rows/index.ts";
import type { ViewState } from "../../table/index.ts";
import { commitRow } from "../rows/commitRow.ts";

/**
 * The rows that are being edited in a grid. One that is left is put into the table; one that is wrong stays open and marked.
 * A row that is open elsewhere too, as in a details form, has its entry there, and that says what happens when it is left.
 */
export class OpenEntries {
  readonly #own = new Map<number, TableEntryState>();
  readonly #view: ViewState;

  constructor(view: ViewState) {
    this.#view = view;
  }

  /** The entry over a row, as others have it or made now. */
  over(slot: number): TableEntryState {
    const there = this.at(slot);
    if (there !== undefined) return there;
    const entry: TableEntryState = new TableEntryState<AnyModel>(this.#view.table, slot, {});
    // One of the rows before a load may have had the place.
    this.#own.get(slot)?.stop();
    this.#own.set(slot, entry);
    return entry;
  }

  /** Whether nobody else edits a row. */
  owns(slot: number): boolean {
    return this.#own.has(slot);
  }

  /** The entry that is open over a row; followed. */
  at(slot: number): TableEntryState | undefined {
    return openEntryAt(this.#view.table, slot);
  }

  /** What is wrong with a cell, in words. */
  wrongAt(slot: number, name: string | undefined, pasted: ReadonlyMap<string, Problem> | undefined): string {
    if (name === undefined) return "";
    const { table } = this.#view;
    const row = table.rowAt(slot);
    const own = this.at(slot)?.core.field(name).visibleProblems ?? (row === undefined ? [] : table.problemsOf(row));
    const problems = [pasted?.get(name), ...own.filter(({ pointer }) => pointer === pointerTo(name))];
    return problems.flatMap((problem) => problem?.message ?? []).join("\n");
  }

  /** Puts what was changed in a row into the table, and says where the row went, or why it is not there. */
  commit(slot: number, own = true): void {
    const entry = own ? this.#own.get(slot) : this.at(slot);
    if (entry !== undefined) commitRow(this.#view, entry, () => this.#close(slot));
  }

  #close(slot: number): void {
    this.#own.get(slot)?.stop();
    this.#own.delete(slot);
  }

  /** Commits all that can be, as when the grid is left. */
  commitAll(): void {
    for (const slot of [...this.#own.keys()]) this.commit(slot);
  }

  stop(): void {
    for (const entry of this.#own.values()) entry.stop();
    this.#own.clear();
  }
}
