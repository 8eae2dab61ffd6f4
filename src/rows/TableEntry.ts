import { follow, type Stoppable, transaction } from "../engine/index.ts";
import { Entry, type EntryOptions, type SaveResult } from "../entry/index.ts";
import type { AnyModel, KeyOf, RowOf } from "../model/index.ts";
import type { Table } from "../table/index.ts";
import { openRows } from "./openRows.ts";
import { type Committed, Place } from "./Place.ts";

/** Options of an entry over a row of a table: it is saved into the table. */
export type TableEntryOptions<M> = Omit<EntryOptions<M>, "save" | "values" | "afterSave">;

/**
 * An entry over a row that is in a table: saving it updates the row, and what is changed in the table elsewhere is seen here,
 * but for the fields that a person has changed. While it is changed, its row stays where it is in every view.
 */
export class TableEntry<M extends AnyModel = AnyModel> extends Entry<M> {
  readonly table: Table<M>;
  readonly #place: Place<M>;
  #held: number | undefined;
  readonly #following: readonly Stoppable[];

  constructor(table: Table<M>, slot: number | undefined, options: TableEntryOptions<M>) {
    const place = new Place(table, slot);
    const { readOnly, history = table.history, locale = table.locale } = options;
    super(table.model, {}, false, {
      ...options,
      locale,
      history,
      readOnly: () => (place.row === undefined ? place.missing : (readOnly?.() ?? false)),
      save: (row) => place.put(row),
    });
    // What was typed is in the table then, where it is one step of its own.
    place.whenPut = () => this.history.forget(this.core);
    this.core.rowNow = () => place.row;
    this.table = table;
    this.#place = place;
    this.#enter();
    this.#following = [
      follow(
        () => place.row,
        () => this.#meetRow(),
      ),
      follow(
        () => this.changed,
        () => this.#hold(),
      ),
    ];
  }

  /** The key of its row as of now; `undefined` when there is none. */
  get key(): KeyOf<M> | undefined {
    return this.#place.row === undefined ? undefined : this.table.keyAt(this.#place.slot!);
  }

  /** Whether its row is of those that are loaded now. After another load its place belongs to another row. */
  get isOfNow(): boolean {
    return this.#place.isOfNow;
  }

  /** The place of its row in the table: it stays the same when the row gets another key. */
  get slot(): number | undefined {
    return this.#place.slot;
  }

  /** The row as it is in the table. */
  get kept(): RowOf<M> | undefined {
    return this.#place.row;
  }

  /**
   * Puts what was changed into the table, at once where no rule has to ask elsewhere first.
   *
   * @returns whether it is there, or why not: the problems are then visible
   */
  commit(): Committed | Promise<SaveResult<RowOf<M>>> {
    transaction(() => {
      for (const field of this.core.inUse()) field.settle();
      this.core.refuse([]);
    });
    if (!this.changed) return { ok: true };
    this.core.showAll(true);
    if (!this.valid) return { ok: false, problems: this.problems };
    if (this.core.asking.any) return this.save();
    const result = this.#place.put(this.row());
    if (result.ok) this.begin(this.kept!);
    else this.core.refuse(result.problems);
    return result;
  }

  /** Edits another row from now on: the one at a place of the table, or none. */
  protected goTo(slot: number | undefined): void {
    this.#leave();
    this.#place.slot = slot;
    this.#enter();
  }

  #enter(): void {
    const { slot, row } = this.#place;
    this.begin((row ?? {}) as RowOf<M>);
    if (slot !== undefined) openRows(this.table).add(slot, this);
  }

  #leave(): void {
    this.#release();
    if (this.#place.slot !== undefined) openRows(this.table).delete(this.#place.slot, this);
  }

  #meetRow(): void {
    const { row } = this.#place;
    if (row !== undefined) this.meet(row);
  }

  #hold(): void {
    if (!this.changed || this.#place.slot === undefined) return this.#release();
    if (this.#held !== undefined) return;
    this.#held = this.#place.slot;
    this.table.hold(this.#held);
  }

  #release(): void {
    if (this.#held !== undefined) this.table.release(this.#held);
    this.#held = undefined;
  }

  override stop(): void {
    for (const each of this.#following) each.stop();
    this.#leave();
    super.stop();
  }
}
