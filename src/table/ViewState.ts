import { IronwoodError, shown, unknownName } from "../errors/index.ts";
import { internal, type AbortSignalLike, Value } from "../engine/index.ts";
import type { AnyModel, KeyOf, RowOf } from "../model/index.ts";
import { columnFrom, listOf } from "./columns.ts";
import type { GroupsMethod } from "./Groups.ts";
import { requireAddable, type TotalMethod, type TotalOf } from "./Sum.ts";
import { Searching } from "./Searching.ts";
import { Selection } from "./Selection.ts";
import type { TableState } from "./TableState.ts";
import { ViewIndex, type ViewSettings } from "./ViewIndex.ts";
import type { ViewOptions } from "./ViewOptions.ts";

/** What is behind a `View`. */
export class ViewState<M extends AnyModel = AnyModel> {
  readonly #settings: ViewSettings<M>;
  readonly #index: ViewIndex<M>;
  readonly #searching: Searching<M>;
  readonly #selection: Selection;
  /** How often a search was asked for. */
  #searches = 0;

  constructor(
    readonly table: TableState<M>,
    parent: ViewState<M> | undefined,
    { where, orderBy, search = "", searchIn }: ViewOptions<M>,
  ) {
    this.#settings = { where: new Value(where), orderBy: new Value(orderBy), search: new Value(search) };
    this.#searching = new Searching(table, searchIn);
    this.#selection = new Selection(table.loads);
    this.#index = new ViewIndex(
      table,
      parent === undefined ? undefined : parent.#index,
      this.#settings,
      this.#searching,
      this.#selection,
    );
  }

  get [internal](): this {
    return this;
  }

  get where(): ((row: RowOf<M>) => boolean) | undefined {
    return this.#settings.where.read();
  }

  set where(where: ((row: RowOf<M>) => boolean) | undefined) {
    this.#settings.where.write(where);
  }

  get orderBy(): ViewOptions<M>["orderBy"] {
    return this.#settings.orderBy.read();
  }

  set orderBy(orderBy: ViewOptions<M>["orderBy"]) {
    for (const each of listOf(orderBy)) columnFrom(each, this.table);
    this.#settings.orderBy.write(orderBy);
  }

  get search(): string {
    return this.#settings.search.read();
  }

  set search(search: string) {
    this.#searches++;
    this.#searching.part.write(undefined);
    this.#settings.search.write(search);
  }

  async searchFor(
    search: string,
    { signal }: { readonly signal?: AbortSignalLike | undefined } = {},
  ): Promise<boolean> {
    const call = ++this.#searches;
    const isWanted = (): boolean => call === this.#searches && signal?.aborted !== true;
    if (!(await this.#searching.ready(search, isWanted))) {
      if (call === this.#searches) this.#searching.part.write(undefined);
      return false;
    }
    this.search = search;
    return true;
  }

  get preparing(): number | undefined {
    return this.#searching.part.read();
  }

  /** The index with every change taken in; followed. */
  get #now(): ViewIndex<M> {
    this.#index.bringUpToDate();
    return this.#index;
  }

  get length(): number {
    return this.#now.order.size;
  }

  at(place: number): RowOf<M> | undefined {
    const slot = this.#now.order.at(place);
    return slot === undefined ? undefined : this.table.rowAt(slot);
  }

  rows(from = 0, to = Infinity): RowOf<M>[] {
    return this.slots(from, to).map((slot) => this.table.rowAt(slot)!);
  }

  keys(from = 0, to = Infinity): KeyOf<M>[] {
    return this.slots(from, to).map((slot) => this.table.keyAt(slot));
  }

  /** The slots of these rows, which stay the same when rows move or get other keys. */
  slots(from = 0, to = Infinity): number[] {
    return this.#now.order.between(from, to);
  }

  *[Symbol.iterator](): Iterator<RowOf<M>> {
    for (const slot of this.#now.order) yield this.table.rowAt(slot)!;
  }

  placeOf(key: KeyOf<M>): number {
    const index = this.#now;
    const slot = this.table.slotFor(key);
    return slot === undefined || !index.has(slot) ? -1 : index.placeOf(slot);
  }

  /** Whether the row in a slot is among its rows. */
  hasSlot(slot: number): boolean {
    return this.#now.has(slot);
  }

  has(key: KeyOf<M>): boolean {
    return this.placeOf(key) >= 0;
  }

  readonly total: TotalMethod<M> = (name) => {
    this.#refuseUnknown([name], "total()");
    requireAddable(this.table.model, [name], "total()");
    const { sums, order } = this.#now;
    return sums.totals.of(name, order) as TotalOf<M, typeof name>;
  };

  readonly groups: GroupsMethod<M> = (name, totals = []) => {
    this.#refuseUnknown([name, ...totals], "groups()");
    requireAddable(this.table.model, totals, "groups()");
    const { sums, order } = this.#now;
    return sums.groups.of(name, totals, order) as ReturnType<GroupsMethod<M>>;
  };

  /** The slot of the current row; followed. */
  get currentSlot(): number | undefined {
    this.#index.bringUpToDate();
    return this.#selection.current;
  }

  get current(): RowOf<M> | undefined {
    const slot = this.currentSlot;
    return slot === undefined ? undefined : this.table.rowAt(slot);
  }

  get currentKey(): KeyOf<M> | undefined {
    const slot = this.currentSlot;
    return slot === undefined ? undefined : this.table.keyAt(slot);
  }

  set currentKey(key: KeyOf<M> | undefined) {
    this.#selection.current = key === undefined ? undefined : this.#slotOf(key);
  }

  get selected(): readonly RowOf<M>[] {
    return this.#selectedSlots.map((slot) => this.table.rowAt(slot)!);
  }

  get selectedKeys(): readonly KeyOf<M>[] {
    return this.#selectedSlots.map((slot) => this.table.keyAt(slot));
  }

  set selectedKeys(keys: readonly KeyOf<M>[]) {
    this.#selection.select(keys.map((key) => this.#slotOf(key)));
  }

  get #selectedSlots(): readonly number[] {
    const { subset, compare } = this.#now;
    return this.#selection.selectedIn(subset, compare);
  }

  /** Whether the row in a slot is selected: asked of each that is shown, so it looks at none of the others. */
  isSelectedAt(slot: number): boolean {
    return this.#selection.isSelected(slot);
  }

  get selectedCount(): number {
    return this.#selection.countIn(this.#now.subset);
  }

  toggle(key: KeyOf<M>, force?: boolean): boolean {
    const slot = this.#slotOf(key);
    const is = this.#selection.isSelected(slot);
    if (force !== is) this.#selection.toggle(slot);
    return force ?? !is;
  }

  selectRange(from: KeyOf<M>, to: KeyOf<M>): void {
    const a = this.#index.placeOf(this.#slotOf(from));
    const b = this.#index.placeOf(this.#slotOf(to));
    this.#selection.select(this.#index.order.between(Math.min(a, b), Math.max(a, b) + 1));
  }

  selectAll(): void {
    this.#selection.select(this.#now.order);
  }

  #refuseUnknown(given: readonly string[], where: string): void {
    const { names } = this.table.model;
    for (const name of given)
      if (!names.includes(name)) throw unknownName("unknownField", "The field", name, names, where);
  }

  #slotOf(key: KeyOf<M>): number {
    const index = this.#now;
    const slot = this.table.slotFor(key);
    if (slot !== undefined && index.has(slot)) return slot;
    throw new IronwoodError("unknownKey", `There is no row with the key ${shown(key)} in the view`, {
      where: this.table.where,
    });
  }
}
