import { IronwoodError, requireArgument, requireOptions, shown, unknownName } from "../errors/index.ts";
import { internal, type AbortSignalLike, untracked, Value } from "../engine/index.ts";
import type { AnyModel, KeyOf, RowOf } from "../model/index.ts";
import { columnFrom, listOf } from "./columns.ts";
import type { GroupsMethod } from "./Groups.ts";
import { requireAddable, type TotalMethod, type TotalOf } from "./Sum.ts";
import { inPauses } from "./slices.ts";
import { Searching } from "./Searching.ts";
import { Selection } from "./Selection.ts";
import type { TableState } from "./TableState.ts";
import { ViewIndex, type ViewSettings } from "./ViewIndex.ts";
import type { ViewOptions } from "./ViewOptions.ts";

/** So many milliseconds at most a view sorts without a pause. */
const AT_ONCE = 12;

const requireText = (call: string, given: unknown): void =>
  requireArgument(typeof given === "string", call, given, "a text");

const requireWhere = (where: unknown): void =>
  requireArgument(
    where === undefined || typeof where === "function",
    "where",
    where,
    "a function of the row, or undefined",
  );

function requirePlaces(call: string, ...places: readonly unknown[]): void {
  for (const place of places) requireArgument(typeof place === "number", call, place, "places, counted from 0");
}

/** What is behind a `View`. */
export class ViewState<M extends AnyModel = AnyModel> {
  readonly #settings: ViewSettings<M>;
  readonly #index: ViewIndex<M>;
  readonly #searching: Searching<M>;
  readonly #selection: Selection;
  /** How often an order was asked for, and how much of one that is made in slices is made. */
  #sorts = 0;
  readonly #sorting = new Value<number | undefined>(undefined);
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
    requireWhere(where);
    this.#settings.where.write(where);
  }

  get orderBy(): ViewOptions<M>["orderBy"] {
    return this.#settings.orderBy.read();
  }

  set orderBy(orderBy: ViewOptions<M>["orderBy"]) {
    for (const each of listOf(orderBy)) columnFrom(each, this.table);
    this.#sorts++;
    this.#sorting.write(undefined);
    this.#settings.orderBy.write(orderBy);
  }

  async sortBy(
    orderBy: ViewOptions<M>["orderBy"],
    options: { readonly signal?: AbortSignalLike | undefined } = {},
  ): Promise<boolean> {
    requireOptions("sortBy", options, { signal: "signal" });
    const { signal } = options;
    const canPrepare = this.#index.canPrepare(orderBy);
    const call = ++this.#sorts;
    this.#sorting.write(undefined);
    const isWanted = (part: number): boolean => {
      if (call !== this.#sorts) return false;
      const goesOn = signal?.aborted !== true;
      this.#sorting.write(goesOn ? part : undefined);
      return goesOn;
    };
    if (canPrepare) {
      const prepared = await inPauses(this.#index.prepare(orderBy), AT_ONCE, isWanted);
      if (prepared === undefined || call !== this.#sorts) return false;
    }
    if (signal?.aborted === true) return false;
    // What was changed meanwhile is taken in before and not by sorting again.
    untracked(() => this.#index.bringUpToDate());
    this.orderBy = orderBy;
    untracked(() => this.#index.bringUpToDate());
    return true;
  }

  get sorting(): number | undefined {
    return this.#sorting.read();
  }

  get search(): string {
    return this.#settings.search.read();
  }

  set search(search: string) {
    requireText("search", search);
    this.#searches++;
    this.#searching.part.write(undefined);
    this.#settings.search.write(search);
  }

  async searchFor(search: string, options: { readonly signal?: AbortSignalLike | undefined } = {}): Promise<boolean> {
    requireText("searchFor", search);
    requireOptions("searchFor", options, { signal: "signal" });
    const { signal } = options;
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
    requireArgument(Number.isInteger(place), "at", place, "a place, counted from 0");
    const slot = this.#now.order.at(place);
    return slot === undefined ? undefined : this.table.rowAt(slot);
  }

  rows(from = 0, to = Infinity): RowOf<M>[] {
    requirePlaces("rows", from, to);
    return this.slots(from, to).map((slot) => this.table.rowAt(slot)!);
  }

  keys(from = 0, to = Infinity): KeyOf<M>[] {
    requirePlaces("keys", from, to);
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
    const { sums, summed, order } = this.#now;
    return sums.totals.of(summed, name, order) as TotalOf<M, typeof name>;
  };

  readonly groups: GroupsMethod<M> = (name, totals = []) => {
    this.#refuseUnknown([name, ...totals], "groups()");
    requireAddable(this.table.model, totals, "groups()");
    const { sums, summed, order } = this.#now;
    return sums.groups[summed].of(name, totals, order) as ReturnType<GroupsMethod<M>>;
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
    requireArgument(Array.isArray(keys), "selectedKeys", keys, "a list of keys");
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
    requireArgument(force === undefined || typeof force === "boolean", "toggle", force, "true, false or nothing");
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
    this.#selection.selectAll(this.#now.subset);
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
