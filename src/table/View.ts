import { IronwoodError, shown, unknownName } from "../errors/index.ts";
import { Calculation, type Signal, type Source, sourcesOf, untracked, Value } from "../engine/index.ts";
import type { AnyModel, KeyOf, RowOf } from "../model/index.ts";
import { Chosen } from "./Chosen.ts";
import { columnFrom, compareRows, listOf, type SortColumn, sortSlots } from "./columns.ts";
import { both, isNarrower } from "./criteria.ts";
import type { RowGroup } from "./Groups.ts";
import { Layer } from "./Layer.ts";
import type { OrderedSlots } from "./OrderedSlots.ts";
import type { ViewOptions } from "./ViewOptions.ts";
import { wordsOf } from "./SearchIndex.ts";
import { Searching } from "./Searching.ts";
import type { Table } from "./Table.ts";
import { Summaries } from "./Summaries.ts";

/** Part of a table's rows, in an order: it follows every change, and a change costs what it costs to find one row. */
export class View<M extends AnyModel = AnyModel> {
  readonly table: Table<M>;
  readonly #parent: View<M> | undefined;
  readonly #where: Value<((row: RowOf<M>) => boolean) | undefined>;
  readonly #orderBy: Value<ViewOptions<M>["orderBy"]>;
  readonly #search: Value<string>;
  readonly #searching: Searching<M>;
  /** All rows that meet what the view asks for but its search, and of these what is found. */
  #all = new Layer();
  #found: Layer | undefined;
  readonly #sums: Summaries<M>;
  #columns: readonly SortColumn[] = [];
  #read = -1;
  #sources: ReadonlySet<Source> = new Set();
  #whole: Calculation<number>;
  #searched: Calculation<number>;
  #builds = 0;
  #calls = 0;
  /** The words that were searched for, and the build in which. */
  #foundWords: readonly string[] = [];
  #foundIn = 0;
  /** Which load of the table its places are of. */
  #loads = 0;
  /** Rows that are held where they are, by what they are placed by. */
  readonly #placedBy = new Map<number, RowOf<M>>();
  readonly #chosen = new Chosen();

  constructor(source: Table<M> | View<M>, { where, orderBy, search = "", searchIn }: ViewOptions<M>) {
    this.#parent = source instanceof View ? source : undefined;
    this.table = source instanceof View ? source.table : source;
    this.#where = new Value(where);
    this.#orderBy = new Value(orderBy);
    this.#search = new Value(search);
    this.#searching = new Searching(this.table, searchIn);
    this.#sums = new Summaries(this.table);
    this.#columns = this.#columnsNow();
    this.#whole = new Calculation(() => this.#build(), "a view");
    this.#searched = new Calculation(() => this.#find(), "a search");
  }

  /** What is in the view. */
  get #layer(): Layer {
    return this.#found ?? this.#all;
  }

  get #order(): OrderedSlots {
    return this.#layer.order;
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
    this.#calls++;
    this.#searching.part.write(undefined);
    this.#search.write(search);
  }

  /**
   * Makes ready what a search needs, in the pauses of the page, and then searches: of a million rows the first search would
   * else take a second at once. A later call takes the place of one that is under way.
   *
   * @returns whether it searched for this: not when it was stopped, or something else was searched for meanwhile
   */
  async searchFor(search: string, { signal }: { readonly signal?: Signal | undefined } = {}): Promise<boolean> {
    const call = ++this.#calls;
    const isWanted = (): boolean => call === this.#calls && signal?.aborted !== true;
    if (!(await this.#searching.ready(search, isWanted))) {
      if (call === this.#calls) this.#searching.part.write(undefined);
      return false;
    }
    this.search = search;
    return true;
  }

  /** How much of what {@link searchFor} needs is made ready, from 0 to 1; `undefined` while nothing waits for it. Followed. */
  get preparing(): number | undefined {
    return this.#searching.part.read();
  }

  /** How many rows are in it. */
  get length(): number {
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

  /** Their places in the table, which stay the same when rows move or get other keys. */
  slots(from = 0, to = Infinity): number[] {
    this.#upToDate();
    return this.#order.between(from, to);
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
    this.#refuseUnknown([name], "total()");
    this.#upToDate();
    return this.#sums.totals.of(name, this.#order);
  }

  /**
   * The rows by what they have alike in a field, in the order of that field, each with how many they are and the sums of other
   * fields: kept by change as totals are.
   *
   * @throws `unknownField` with the nearest name
   * @example for (const { title, length, totals } of shown.groups("species", ["count"])) …
   */
  groups(name: string, totals: readonly string[] = []): readonly RowGroup[] {
    this.#refuseUnknown([name, ...totals], "groups()");
    this.#upToDate();
    return this.#sums.groups.of(name, totals, this.#order);
  }

  /** The row that a person is at; `undefined` when there is none. */
  get current(): RowOf<M> | undefined {
    this.#upToDate();
    const slot = this.#chosen.current;
    return slot === undefined ? undefined : this.table.rowAt(slot);
  }

  /** The key of the current row. Setting one that is not in the view is an error. */
  get currentKey(): KeyOf<M> | undefined {
    this.#upToDate();
    const slot = this.#chosen.current;
    return slot === undefined ? undefined : this.table.keyAt(slot);
  }

  set currentKey(key: KeyOf<M> | undefined) {
    this.#chosen.current = key === undefined ? undefined : this.#slotOf(key);
  }

  /** The rows that a person has selected, in the order of the view. */
  get selected(): readonly RowOf<M>[] {
    return this.selectedKeys.map((key) => this.table.get(key)!);
  }

  /** Whether the row at a place of the table is selected: asked of each that is shown, so it looks at none of the others. */
  isSelectedAt(slot: number): boolean {
    return this.#chosen.isSelected(slot);
  }

  /** How many rows are selected: cheaper to know than which. */
  get selectedCount(): number {
    this.#upToDate();
    return this.#chosen.countIn(this.#layer);
  }

  get selectedKeys(): readonly KeyOf<M>[] {
    this.#upToDate();
    return this.#chosen.selectedIn(this.#layer, this.#compare).map((slot) => this.table.keyAt(slot));
  }

  set selectedKeys(keys: readonly KeyOf<M>[]) {
    this.#chosen.select(keys.map((key) => this.#slotOf(key)));
  }

  /** Selects a row beside the others, or takes it out. */
  toggleSelected(key: KeyOf<M>): void {
    this.#chosen.toggle(this.#slotOf(key));
  }

  /** Selects all rows from one to another, both included, whichever comes first. */
  selectRange(from: KeyOf<M>, to: KeyOf<M>): void {
    const [a, b] = [this.#slotOf(from), this.#slotOf(to)].map((slot) => this.#order.placeOf(slot, this.#compare)) as [
      number,
      number,
    ];
    this.#chosen.select(this.#order.between(Math.min(a, b), Math.max(a, b) + 1));
  }

  selectAll(): void {
    this.#upToDate();
    this.#chosen.select(this.#order);
  }

  /** What the row at a place has to meet for this view and those that it is a view of; `undefined` where all do. */
  criterion(): ((slot: number) => boolean) | undefined {
    return both(this.#condition(), this.#finder());
  }

  /** The same without the search of this view. */
  #condition(): ((slot: number) => boolean) | undefined {
    const where = this.#where.read();
    const { table } = this;
    return both(this.#parent?.criterion(), where && ((slot) => where(table.rowAt(slot)!)));
  }

  #finder(): ((slot: number) => boolean) | undefined {
    return this.#searching.finder(this.#search.read());
  }

  #columnsNow(): readonly SortColumn[] {
    const own = this.#orderBy.read();
    if (own === undefined && this.#parent !== undefined) return this.#parent.#columnsNow();
    return listOf(own).map((each) => columnFrom(each, this.table));
  }

  /** Slots are in the order of the table, which decides where all columns are alike. */
  readonly #compare = (a: number, b: number): number => this.#compareWith(a, b, undefined);

  #compareWith(a: number, b: number, befores: ReadonlyMap<number, RowOf<M> | undefined> | undefined): number {
    const row = (slot: number): RowOf<M> | undefined => {
      const placedBy = this.#placedBy.size === 0 ? undefined : this.#placedBy.get(slot);
      return placedBy ?? (befores?.has(slot) === true ? befores.get(slot) : this.table.rowAt(slot));
    };
    return compareRows(row(a), row(b), this.#columns) || a - b;
  }

  /** Everything from the beginning; what `where` reads beside the rows is what it is built again for. */
  #build(): number {
    const columns = this.#columnsNow();
    const { table } = this;
    const size = untracked(() => table.size);
    const slots = new Uint32Array(size);
    const meets = this.#condition();
    if (this.#loads !== table.loads) this.#forgetPlaces();
    const before = this.#all;
    const held = [...table.held.keys()].filter((slot) => before.has(slot) && table.rowAt(slot) !== undefined);
    const all = new Layer();
    let count = 0;
    if (meets === undefined && size === table.slots) {
      for (; count < size; count++) slots[count] = count;
      all.members.fill(size);
    } else
      for (let slot = 0; slot < table.slots; slot++) {
        if (table.rowAt(slot) === undefined || meets?.(slot) === false) continue;
        slots[count++] = slot;
        all.members.add(slot);
      }
    const chosen = count === slots.length ? slots : slots.subarray(0, count);
    // Only now: what `where` throws leaves the view as it was.
    this.#placedBy.clear();
    this.#columns = columns;
    all.order.fill(sortSlots(chosen, columns, table), count);
    for (const slot of held) if (!all.has(slot)) all.add(slot, this.#compare);
    this.#all = all;
    // What was changed since is not known one by one.
    if (this.#read !== table.log.end) this.#sums.totals.drop();
    this.#read = table.log.end;
    return ++this.#builds;
  }

  /** What of all is found; another search does not sort again, and a longer one looks only at what was found. */
  #find(): number {
    const whole = this.#whole.read();
    const words = wordsOf(this.#search.read());
    const found = words.length === 0 ? undefined : this.#searching.index.found(words);
    const { held } = this.table;
    const stay = [...held.keys()].filter(
      (slot) => this.#layer.has(slot) && this.#all.has(slot) && found?.has(slot) === false,
    );
    const narrows = whole === this.#foundIn && isNarrower(words, this.#foundWords) && this.#found !== undefined;
    this.#found = found && Layer.of(narrows ? this.#found! : this.#all, found);
    for (const slot of stay) this.#found!.add(slot, this.#compare);
    [this.#foundIn, this.#foundWords] = [whole, words];
    this.#sums.forget();
    return ++this.#builds;
  }

  /** All rows are others now: nobody is at one of them, and none is selected. */
  #forgetPlaces(): void {
    this.#loads = this.table.loads;
    this.#all = new Layer();
    this.#found = undefined;
    this.#chosen.forget();
  }

  #upToDate(): void {
    this.table.noteRead();
    this.#bringUp();
    if (this.#read === this.table.log.end) return;
    if (untracked(() => this.#catchUp())) return;
    this.#whole = new Calculation(() => this.#build(), "a view");
    this.#searched = new Calculation(() => this.#find(), "a search");
    this.#bringUp();
  }

  /** Builds it if something other than the table has changed. */
  #bringUp(): void {
    const before = this.#builds;
    // What is built anew is built of the table as it is now.
    this.#searched.read();
    if (this.#builds === before) return;
    this.#sources = new Set([...sourcesOf(this.#whole), ...sourcesOf(this.#searched)]);
    untracked(() => this.#settleCurrent(undefined));
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
      const meets = this.#condition();
      const finds = this.#finder();
      const there = [...changed.keys()].filter(
        (slot) => this.table.rowAt(slot) !== undefined && meets?.(slot) !== false,
      );
      return { there, found: finds === undefined ? undefined : new Set(there.filter(finds)) };
    }, "a view");
    const { there, found } = meeting.read();
    // `where` may have read something for these rows that it did not read before.
    if (sourcesOf(meeting).some((source) => !this.#sources.has(source))) return false;
    this.#read = this.table.log.end;
    this.#keepHeld(changed);
    const left = this.#takeOut(changed);
    for (const slot of there)
      if (!this.#all.has(slot)) {
        this.#all.add(slot, this.#compare);
        if (this.#found !== undefined && found!.has(slot)) this.#found.add(slot, this.#compare);
        if (this.#has(slot)) this.#sums.add(slot, this.table.rowAt(slot)!);
      }
    this.#settleCurrent(left);
    return true;
  }

  /** Rows that are held stay where they are; only the totals follow them. */
  #keepHeld(changed: Map<number, RowOf<M> | undefined>): void {
    for (const slot of this.table.held.keys()) {
      const before = changed.get(slot);
      const row = this.table.rowAt(slot);
      if (before === undefined || row === undefined || !this.#all.has(slot)) continue;
      if (!this.#placedBy.has(slot)) this.#placedBy.set(slot, before);
      if (this.#has(slot)) {
        this.#sums.take(slot, before);
        this.#sums.add(slot, row);
      }
      changed.delete(slot);
    }
  }

  /** @returns the place that the current row had, if it was taken out */
  #takeOut(changed: ReadonlyMap<number, RowOf<M> | undefined>): number | undefined {
    const compare = (a: number, b: number): number => this.#compareWith(a, b, changed);
    const current = this.#chosen.peekCurrent();
    let left: number | undefined;
    if (current !== undefined && changed.has(current) && this.#has(current))
      left = this.#order.placeOf(current, compare);
    for (const [slot, before] of changed) {
      if (this.#has(slot)) this.#sums.take(slot, before!);
      else this.#sums.totals.changed(slot);
      this.#found?.remove(slot, compare);
      if (this.#all.remove(slot, compare)) this.#placedBy.delete(slot);
    }
    return left;
  }

  #refuseUnknown(given: readonly string[], where: string): void {
    const { names } = this.table.model;
    for (const name of given)
      if (!names.includes(name)) throw unknownName("unknownField", "The field", name, names, where);
  }

  /** @param left - the place that the current row had, where it was taken out */
  #settleCurrent(left: number | undefined): void {
    this.#chosen.settle(
      this.#layer,
      (slot) => left ?? (this.table.rowAt(slot) === undefined ? 0 : this.#order.placeFor(slot, this.#compare)),
    );
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
    return this.#layer.has(slot);
  }
}
