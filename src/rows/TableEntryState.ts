import { follow, type Stoppable } from "../engine/index.ts";
import { EntryState, type FixedRow } from "../entry/index.ts";
import type { AnyModel, KeyOf, RowOf } from "../model/index.ts";
import type { TableState } from "../table/index.ts";
import { lockOf } from "./holding.ts";
import { openRows } from "./openRows.ts";
import { RowLocation } from "./RowLocation.ts";
import type { TableEntryOptions } from "./TableEntryOptions.ts";

/** What is behind a `TableEntry`. */
export class TableEntryState<M extends AnyModel = AnyModel> extends EntryState<M> {
  readonly #location: RowLocation<M>;
  #keptSlot: number | undefined;
  #title = "";
  readonly #following: readonly Stoppable[];

  constructor(
    readonly table: TableState<M>,
    slot: number | undefined,
    options: TableEntryOptions<M>,
  ) {
    const location = new RowLocation(table, slot);
    const { readOnly, history = table.history ?? table.typedHistory } = options;
    super(table.model, {}, false, {
      locale: table.locale,
      timeZone: table.timeZone,
      ...options,
      history,
      readOnly: () => (location.row === undefined ? location.missing : readOnly?.() || lockOf(table)),
      save: (row) => location.put(row),
    });
    // What was typed is in the table then, where it is one step of its own.
    location.whenPut = () => this.history.forget(this.core);
    this.core.rowNow = () => location.row;
    this.#location = location;
    this.#enter();
    this.#following = [
      follow(
        () => location.row,
        () => this.#rebaseOnTable(),
      ),
      follow(
        () => location.row && table.placeProblemsOf(location.row),
        (problems) => this.core.refuseAtPlace(problems ?? []),
      ),
      follow(
        () => this.changed,
        () => this.#holdRow(),
      ),
      follow(
        () => table.locale,
        (locale) => {
          if (options.locale === undefined) this.locale = locale;
        },
      ),
    ];
  }

  get key(): KeyOf<M> | undefined {
    return this.#location.row === undefined ? undefined : this.table.keyAt(this.#location.slot!);
  }

  /** What people call its row, also once the row is gone. */
  get title(): string {
    return this.#title;
  }

  /** Whether its row is of those that are loaded now. After another load its slot belongs to another row. */
  get isOfNow(): boolean {
    return this.#location.isOfNow;
  }

  /** The slot of its row in the table: it stays the same when the row gets another key. */
  get slot(): number | undefined {
    return this.#location.slot;
  }

  get kept(): RowOf<M> | undefined {
    return this.#location.row;
  }

  /** What was entered is in the table: fields that hold what was put there show it as the table has it. */
  protected override written(fixed: FixedRow<RowOf<M>>): void {
    super.written(fixed);
    this.startAgain(fixed.entered);
  }

  /** Edits another row from now on: the one in a slot of the table, or none. */
  protected goTo(slot: number | undefined): void {
    this.#leave();
    this.#location.slot = slot;
    this.#enter();
  }

  #enter(): void {
    const { slot, row } = this.#location;
    this.begin((row ?? {}) as RowOf<M>);
    this.#noteTitle();
    if (slot === undefined) return;
    this.#location.pin();
    openRows(this.table).add(slot, this);
  }

  #leave(): void {
    this.#release();
    if (this.#location.slot === undefined) return;
    this.#location.unpin();
    openRows(this.table).delete(this.#location.slot, this);
  }

  #rebaseOnTable(): void {
    const { row } = this.#location;
    if (row === undefined) return;
    this.rebase(row);
    this.#noteTitle();
  }

  #noteTitle(): void {
    if (this.#location.row !== undefined) this.#title = this.table.titleAt(this.#location.slot!);
  }

  #holdRow(): void {
    if (!this.changed || this.#location.slot === undefined) return this.#release();
    if (this.#keptSlot !== undefined) return;
    this.#keptSlot = this.#location.slot;
    this.table.keepInPlace(this.#keptSlot);
  }

  #release(): void {
    if (this.#keptSlot !== undefined) this.table.release(this.#keptSlot);
    this.#keptSlot = undefined;
  }

  override stop(): void {
    for (const each of this.#following) each.stop();
    this.#leave();
    super.stop();
  }
}
