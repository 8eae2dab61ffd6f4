import { IronwoodError, shown, unknownName } from "../errors/index.ts";
import { Calculation, type Source, sourcesOf, untracked, Value } from "../engine/index.ts";
import type { AnyModel, KeyOf, RowOf } from "../model/index.ts";
import { columnFrom, compareRows, type OrderColumn, type SortColumn, sortSlots } from "./columns.ts";
import { OrderedSlots } from "./OrderedSlots.ts";
import { Searching } from "./Searching.ts";
import type { Table } from "./Table.ts";
import { Totals } from "./Totals.ts";

/** Options of {@link view}; each can be set later. */
export interface ViewOptions<M> {
  /** Which rows are in it. What it reads beside the row is followed. */
  readonly where?: ((row: RowOf<M>) => boolean) | undefined;
  /** In which order: `"species"`, `"height desc"`, or several; without it, as in the table. */
  readonly orderBy?: string | OrderColumn | readonly (string | OrderColumn)[] | undefined;
  /** Words that a row has to have, in any order and without regard to case and accents. */
  readonly search?: string | undefined;
  /** The fields that are searched; default: all text and choices. */
  readonly searchIn?: readonly string[] | undefined;
}

/** Part of a table's rows, in an order: it follows every change, and a change costs what it costs to find one row. */
export class View<M extends AnyModel = AnyModel> {
  readonly table: Table<M>;
  readonly #parent: View<M> | undefined;
  readonly #where: Value<((row: RowOf<M>) => boolean) | undefined>;
  readonly #orderBy: Value<ViewOptions<M>["orderBy"]>;
  readonly #search: Value<string>;
  readonly #searching: Searching<M>;
  readonly #order = new OrderedSlots();
  readonly #totals: Totals<M>;
  /** One bit for each slot: whether its row is in the view. */
  #members = new Uint8Array(0);
  #columns: readonly SortColumn[] = [];
  #read = -1;
  #sources: ReadonlySet<Source> = new Set();
  #whole: Calculation<number>;
  #builds = 0;
  readonly #current = new Value<number | undefined>(undefined);
  readonly #selected = new Value<ReadonlySet<number>>(new Set());

  constructor(source: Table<M> | View<M>, { where, orderBy, search = "", searchIn }: ViewOptions<M>) {
    this.#parent = source instanceof View ? source : undefined;
    this.table = source instanceof View ? source.table : source;
    this.#where = new Value(where);
    this.#orderBy = new Value(orderBy);
    this.#search = new Value(search);
    this.#searching = new Searching(this.table, searchIn);
    this.#totals = new Totals(this.table);
    this.#columns = this.#columnsNow();
    this.#whole = this.#fromTheBeginning();
  }

  #fromTheBeginning(): Calculation<number> {
    return new Calculation(() => this.#build(), "a view");
  }

  get where(): ((row: RowOf<M>) => boolean) | undefined {
    return this.#where.read();
  }

  set where(where: ((row: RowOf<M>) => boolean) | undefined) {
    this.#where.write(where);
  }

  get orderBy(): ViewOptions<M>["orderBy"] {
    return this.#orderBy.read();
  }

  /** @throws `unknownField`, `wrongOption`; the order then stays as it was */
  set orderBy(orderBy: ViewOptions<M>["orderBy"]) {
    for (const each of listOf(orderBy)) columnFrom(each, this.table);
    this.#orderBy.write(orderBy);
  }

  get search(): string {
    return this.#search.read();
  }

  set search(search: string) {
    this.#search.write(search);
  }

  /** How many rows are in it. */
  get size(): number {
    this.#upToDate();
    return this.#order.size;
  }

  /** The row at a place, counted from 0; `undefined` past the end. */
  at(place: number): RowOf<M> | undefined {
    this.#upToDate();
    const slot = this.#order.at(place);
    return slot === undefined ? undefined : this.table.rowAt(slot);
  }

  /** The rows from one place up to, and without, another. */
  rows(from = 0, to = Infinity): RowOf<M>[] {
    this.#upToDate();
    return this.#order.between(from, to).map((slot) => this.table.rowAt(slot)!);
  }

  /** The keys of these rows. */
  keys(from = 0, to = Infinity): KeyOf<M>[] {
    this.#upToDate();
    return this.#order.between(from, to).map((slot) => this.table.keyAt(slot));
  }

  *[Symbol.iterator](): Iterator<RowOf<M>> {
    this.#upToDate();
    for (const slot of this.#order) yield this.table.rowAt(slot)!;
  }

  /** The place of the row with a key; -1 when it is not in the view. */
  placeOf(key: KeyOf<M>): number {
    this.#upToDate();
    const slot = this.table.slotFor(key);
    return slot === undefined || !this.#has(slot) ? -1 : this.#order.placeOf(slot, this.#compare);
  }

  has(key: KeyOf<M>): boolean {
    return this.placeOf(key) >= 0;
  }

  /** The sum of a field over all rows of the view, kept by change: exact, and rounded once. Blanks count as nothing. */
  total(name: string): number {
    if (!this.table.model.names.includes(name))
      throw unknownName("unknownField", "The field", name, this.table.model.names, "total()");
    this.#upToDate();
    return this.#totals.of(name, this.#order);
  }

  /** The row that a person is at; `undefined` when there is none. */
  get current(): RowOf<M> | undefined {
    this.#upToDate();
    const slot = this.#current.read();
    return slot === undefined ? undefined : this.table.rowAt(slot);
  }

  /** The key of the current row. Setting one that is not in the view is an error. */
  get currentKey(): KeyOf<M> | undefined {
    this.#upToDate();
    const slot = this.#current.read();
    return slot === undefined ? undefined : this.table.keyAt(slot);
  }

  set currentKey(key: KeyOf<M> | undefined) {
    this.#current.write(key === undefined ? undefined : this.#slotOf(key));
  }

  /** The rows that a person has selected, in the order of the view. */
  get selected(): readonly RowOf<M>[] {
    return this.selectedKeys.map((key) => this.table.get(key)!);
  }

  get selectedKeys(): readonly KeyOf<M>[] {
    this.#upToDate();
    const slots = [...this.#selected.read()].filter((slot) => this.#has(slot));
    return slots.toSorted(this.#compare).map((slot) => this.table.keyAt(slot));
  }

  set selectedKeys(keys: readonly KeyOf<M>[]) {
    this.#selected.write(new Set(keys.map((key) => this.#slotOf(key))));
  }

  /** Selects all rows from one to another, both included, whichever comes first. */
  selectRange(from: KeyOf<M>, to: KeyOf<M>): void {
    const [a, b] = [this.#slotOf(from), this.#slotOf(to)].map((slot) => this.#order.placeOf(slot, this.#compare)) as [
      number,
      number,
    ];
    this.#selected.write(new Set(this.#order.between(Math.min(a, b), Math.max(a, b) + 1)));
  }

  selectAll(): void {
    this.#upToDate();
    this.#selected.write(new Set(this.#order));
  }

  /** What a row has to meet for this view and those that it is a view of; `undefined` where all do. */
  criterion(): ((row: RowOf<M>) => boolean) | undefined {
    const outer = this.#parent?.criterion();
    const where = this.#where.read();
    const finds = this.#searching.finder(this.#search.read());
    const all = [outer, where, finds].filter((each) => each !== undefined);
    const [first, ...more] = all;
    return more.length === 0 ? first : (row) => all.every((each) => each(row));
  }

  #columnsNow(): readonly SortColumn[] {
    const own = this.#orderBy.read();
    if (own === undefined && this.#parent !== undefined) return this.#parent.#columnsNow();
    return listOf(own).map((each) => columnFrom(each, this.table as never));
  }

  /** Slots are in the order of the table, which decides where all columns are alike. */
  readonly #compare = (a: number, b: number): number => this.#compareWith(a, b, undefined);

  #compareWith(a: number, b: number, befores: ReadonlyMap<number, RowOf<M> | undefined> | undefined): number {
    const row = (slot: number): RowOf<M> | undefined =>
      befores?.has(slot) === true ? befores.get(slot) : this.table.rowAt(slot);
    return compareRows(row(a), row(b), this.#columns) || a - b;
  }

  /** Everything from the beginning; what `where` reads beside the rows is what it is built again for. */
  #build(): number {
    this.#columns = this.#columnsNow();
    const { table } = this;
    const size = untracked(() => table.size);
    const slots = new Uint32Array(size);
    const rows = table.rowsBySlot;
    const meets = this.criterion();
    this.#members = new Uint8Array((table.slots >> 3) + 1);
    let count = 0;
    if (meets === undefined && size === table.slots) {
      for (; count < size; count++) slots[count] = count;
      this.#members.fill(0xff);
      // The rows to come are not in it yet.
      this.#members[size >> 3] = (1 << (size & 7)) - 1;
    } else
      for (let slot = 0; slot < rows.length; slot++) {
        const row = rows[slot];
        if (row === undefined || meets?.(row) === false) continue;
        slots[count++] = slot;
        this.#members[slot >> 3]! |= 1 << (slot & 7);
      }
    const chosen = count === slots.length ? slots : slots.subarray(0, count);
    this.#order.fill(sortSlots(chosen, this.#columns, table), count);
    this.#totals.forget();
    this.#read = table.log.end;
    return ++this.#builds;
  }

  #upToDate(): void {
    this.table.noteRead();
    if (this.#isBuilt() || this.#read === this.table.log.end) return;
    if (untracked(() => this.#catchUp())) return;
    this.#whole = this.#fromTheBeginning();
    this.#isBuilt();
  }

  /** Builds it if something other than the table has changed. @returns whether it did */
  #isBuilt(): boolean {
    const before = this.#builds;
    this.#whole.read();
    if (this.#builds === before) return false;
    this.#sources = new Set(sourcesOf(this.#whole));
    untracked(() => this.#settleCurrent(undefined));
    return true;
  }

  /**
   * Takes in what was changed since. All that was changed is taken out first, since an order is only one as a whole.
   *
   * @returns whether that could be done; otherwise it has to be built from the beginning
   */
  #catchUp(): boolean {
    const changed = this.table.log.since(this.#read);
    if (changed === undefined || changed.size > 1024 + (this.#order.size >> 3)) return false;
    // Before anything is moved: what `where` throws leaves the view as it was.
    const meeting = new Calculation(() => {
      const meets = this.criterion();
      return [...changed.keys()].filter((slot) => {
        const row = this.table.rowAt(slot);
        return row !== undefined && meets?.(row) !== false;
      });
    }, "a view");
    const meant = meeting.read();
    // `where` may have read something for these rows that it did not read before.
    if (sourcesOf(meeting).some((source) => !this.#sources.has(source))) return false;
    this.#read = this.table.log.end;
    const left = this.#takeOut(changed);
    for (const slot of meant) this.#putIn(slot);
    this.#settleCurrent(left);
    return true;
  }

  /** @returns the place that the current row had, if it was taken out */
  #takeOut(changed: ReadonlyMap<number, RowOf<M> | undefined>): number | undefined {
    const compare = (a: number, b: number): number => this.#compareWith(a, b, changed);
    const current = this.#current.peek();
    let left: number | undefined;
    if (current !== undefined && changed.has(current) && this.#has(current))
      left = this.#order.placeOf(current, compare);
    for (const [slot, before] of changed) {
      if (!this.#has(slot)) continue;
      this.#order.remove(slot, compare);
      this.#totals.take(before!);
      this.#mark(slot, false);
    }
    return left;
  }

  #putIn(slot: number): void {
    this.#order.add(slot, this.#compare);
    this.#totals.add(this.table.rowAt(slot)!);
    this.#mark(slot, true);
  }

  /** A current row that is gone makes the next one current, else the one before, else none. */
  #settleCurrent(left: number | undefined): void {
    const slot = this.#current.peek();
    if (slot === undefined || this.#has(slot)) return;
    const place = left ?? (this.table.rowAt(slot) === undefined ? 0 : this.#order.placeFor(slot, this.#compare));
    // What is read here is what is true already; it is only written down.
    this.#current.settle(this.#order.at(place) ?? this.#order.at(this.#order.size - 1));
  }

  #slotOf(key: KeyOf<M>): number {
    this.#upToDate();
    const slot = this.table.slotFor(key);
    if (slot !== undefined && this.#has(slot)) return slot;
    throw new IronwoodError("unknownKey", `There is no row with the key ${shown(key)} in the view`, {
      where: this.table.where,
    });
  }

  #has(slot: number): boolean {
    return ((this.#members[slot >> 3] ?? 0) & (1 << (slot & 7))) !== 0;
  }

  #mark(slot: number, is: boolean): void {
    const place = slot >> 3;
    if (place >= this.#members.length) {
      const more = new Uint8Array(place + (place >> 1) + 16);
      more.set(this.#members);
      this.#members = more;
    }
    if (is) this.#members[place]! |= 1 << (slot & 7);
    else this.#members[place]! &= ~(1 << (slot & 7));
  }
}

const listOf = (given: ViewOptions<AnyModel>["orderBy"]): readonly (string | OrderColumn)[] =>
  given === undefined ? [] : Array.isArray(given) ? (given as readonly (string | OrderColumn)[]) : [given as string];

/**
 * Makes a view of a table, or of another view: some of its rows, in an order, kept by each change.
 *
 * @throws `unknownField` with the nearest name, `wrongOption`
 * @example const bed7 = view(stock, { where: (p) => p.bed === 7, orderBy: ["species", "height desc"] });
 */
export function view<M extends AnyModel>(source: Table<M> | View<M>, options: ViewOptions<M> = {}): View<M> {
  return new View(source, options);
}
