import { follow, type Stoppable } from "../../engine/index.ts";
import { type AnyModel, pointerTo, type Problem } from "../../model/index.ts";
import { adopt, openEntryAt, TableEntryState } from "../../rows/index.ts";
import type { ViewState } from "../../table/index.ts";
import { commitLast, commitRow } from "../rows/commitRow.ts";

/**
 * The rows that are being edited in a grid. One that is left is put into the table; one that is wrong stays open and marked.
 * A row that is open elsewhere too, as in a details form, has its entry there, and that says what happens when it is left.
 */
export class OpenEntries {
  readonly #own = new Map<number, TableEntryState>();
  readonly #following = new Map<TableEntryState, Stoppable>();
  readonly #view: ViewState;
  readonly #isEdited: (entry: TableEntryState) => boolean;

  /** @param isEdited - whether a person is in a row now */
  constructor(view: ViewState, isEdited: (entry: TableEntryState) => boolean) {
    this.#view = view;
    this.#isEdited = isEdited;
  }

  /** The entry over a row, as others have it or made now. */
  over(slot: number): TableEntryState {
    const there = this.at(slot);
    if (there !== undefined) {
      // Nobody else shows it any more.
      if (adopt(there)) this.#add(slot, there);
      return there;
    }
    const entry: TableEntryState = new TableEntryState<AnyModel>(this.#view.table, slot, {});
    this.#add(slot, entry);
    return entry;
  }

  #add(slot: number, entry: TableEntryState): void {
    // One of the rows before a load may have had the place.
    const before = this.#own.get(slot);
    if (before !== undefined) this.close(before);
    this.#own.set(slot, entry);
    // Who has left a row with something wrong in it is told when others delete the row.
    const following = follow(
      () => entry.key === undefined,
      (isGone) => {
        if (isGone && !this.#isEdited(entry)) this.close(entry);
      },
    );
    this.#following.set(entry, following);
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
    if (entry !== undefined) commitRow(this.#view, entry, () => this.#forget(slot)?.stop());
  }

  #forget(slot: number): TableEntryState | undefined {
    const entry = this.#own.get(slot);
    if (entry === undefined) return undefined;
    this.#own.delete(slot);
    this.#following.get(entry)?.stop();
    this.#following.delete(entry);
    return entry;
  }

  /** Ends the editing of a row: what can't be put into the table is left open there, and what was entered in a row that is gone is told. */
  close(entry: TableEntryState): void {
    for (const [slot, each] of this.#own)
      if (each === entry) {
        this.#forget(slot);
        commitLast(this.#view, entry);
      }
  }

  /** Commits all that can be, as when the grid is left. */
  commitAll(): void {
    for (const slot of [...this.#own.keys()]) this.commit(slot);
  }

  /** Commits all that can be; the others are left open in the table. */
  stop(): void {
    for (const entry of [...this.#own.values()]) this.close(entry);
  }
}
