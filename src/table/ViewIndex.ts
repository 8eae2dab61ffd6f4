import { Calculation, type Source, sourcesOf, untracked, type Value } from "../engine/index.ts";
import type { AnyModel, RowOf } from "../model/index.ts";
import { columnFrom, compareRows, listOf, type SortColumn } from "./columns.ts";
import { both, isNarrower, type OfSlot } from "./criteria.ts";
import type { OrderedSlots } from "./OrderedSlots.ts";
import { OrderedSubset } from "./OrderedSubset.ts";
import type { SlotContent } from "./RowStorage.ts";
import { wordsOf } from "./SearchIndex.ts";
import type { Searching } from "./Searching.ts";
import type { Selection } from "./Selection.ts";
import { inOneGo, type Slices } from "./slices.ts";
import { SlotSet } from "./SlotSet.ts";
import { slotsOf, slotsThatMeet } from "./slotsThatMeet.ts";
import { type SortedSlots, sortInSlices } from "./sortInSlices.ts";
import { sortSlots } from "./sortSlots.ts";
import { Summaries } from "./Summaries.ts";
import type { TableState } from "./TableState.ts";
import type { SummedPart } from "./Totals.ts";
import type { ViewOptions } from "./ViewOptions.ts";

/** What a view asks of its rows, as of now. */
export interface ViewSettings<M extends AnyModel> {
  readonly where: Value<((row: RowOf<M>) => boolean) | undefined>;
  readonly orderBy: Value<ViewOptions<M>["orderBy"]>;
  readonly search: Value<string>;
}

/** The contents of slots before they were changed. */
type Befores<M extends AnyModel> = ReadonlyMap<number, SlotContent<RowOf<M>>>;

/** The rows that meet what a view asks for, and their slots in the order of the table until these are sorted. */
interface Met {
  readonly members: SlotSet;
  slots: Uint32Array | undefined;
}

/** An order that was made in slices. */
interface Prepared {
  /** The rows that were asked for when it was begun, and what else it depends on. */
  readonly met: Met;
  readonly loads: number;
  readonly locale: string;
  readonly orderBy: unknown;
  readonly sorted: SortedSlots["sorted"];
  readonly readings: SortedSlots["readings"];
  /** How far the changes of the table were read when it was begun. */
  readonly read: number;
}

/** What a row is placed by. */
interface Placed<M extends AnyModel> {
  readonly row: RowOf<M> | undefined;
  readonly order: number;
}

/**
 * Which rows are in a view, and in what order. It is built when somebody first asks, and from then on reads the changes of its table when
 * it is asked: a view that nobody looks at costs nothing.
 */
export class ViewIndex<M extends AnyModel> {
  readonly sums: Summaries<M>;
  /** All rows that meet what the view asks for but its search, and of these what is found. */
  #all = new OrderedSubset();
  #found: OrderedSubset | undefined;
  #columns: readonly SortColumn[];
  /** An order that was made beforehand, for the next build. */
  #prepared: Prepared | undefined;
  /** How far the changes of the table are read. */
  #read = -1;
  /** What was read when it was built, beside the rows. */
  #sources: ReadonlySet<Source> = new Set();
  #met!: Calculation<Met>;
  #built!: Calculation<number>;
  #searched!: Calculation<number>;
  #builds = 0;
  /** The last build of which the sources and the current row were looked at. */
  #settledBuild = 0;
  /** The words that were searched for, and the build in which. */
  #foundWords: readonly string[] = [];
  #foundIn = 0;
  /** The index by which, and how often that had been begun. */
  #foundBy: unknown;
  #foundBegun = 0;
  /** Which load of the table its slots are of. */
  #loads = 0;
  /** Rows that keep their place while they are edited, with the row by which they were placed. */
  readonly #placedBy = new Map<number, Placed<M>>();
  readonly #table: TableState<M>;
  readonly #parent: ViewIndex<M> | undefined;
  readonly #settings: ViewSettings<M>;
  readonly #searching: Searching<M>;
  readonly #selection: Selection;

  constructor(
    table: TableState<M>,
    parent: ViewIndex<M> | undefined,
    settings: ViewSettings<M>,
    searching: Searching<M>,
    selection: Selection,
  ) {
    this.#table = table;
    this.#parent = parent;
    this.#settings = settings;
    this.#searching = searching;
    this.#selection = selection;
    this.sums = new Summaries(table);
    this.#columns = this.#columnsNow();
    this.#beginCalculations();
  }

  #beginCalculations(): void {
    this.#beginMeeting();
    this.#built = new Calculation(() => this.#build(), { sort: "other", of: "a view" });
    this.#searched = new Calculation(() => this.#find(), { sort: "other", of: "a search" });
  }

  #beginMeeting(): void {
    this.#met = new Calculation(() => this.#meet(), { sort: "other", of: "a view" });
  }

  /** What is in the view. */
  get subset(): OrderedSubset {
    return this.#found ?? this.#all;
  }

  /** The sums and groups that are kept for what is in the view. */
  get summed(): SummedPart {
    return this.#found === undefined ? "all" : "found";
  }

  get order(): OrderedSlots {
    return this.subset.order;
  }

  has(slot: number): boolean {
    return this.subset.has(slot);
  }

  /** The place of a slot that is in the view. */
  placeOf(slot: number): number {
    return this.order.placeOf(slot, this.compare);
  }

  /** Rows that are alike in all columns are in the order of the table. */
  readonly compare = (a: number, b: number): number => {
    if (this.#placedBy.size > 0) return this.#compareWith(a, b, undefined);
    return compareRows(this.#table.rowAt(a), this.#table.rowAt(b), this.#columns) || this.#table.compareSlots(a, b);
  };

  #compareWith(a: number, b: number, befores: Befores<M> | undefined): number {
    const [x, y] = [this.#placed(a, befores), this.#placed(b, befores)];
    return compareRows(x.row, y.row, this.#columns) || x.order - y.order;
  }

  #placed(slot: number, befores: Befores<M> | undefined): Placed<M> {
    return this.#placedBy.get(slot) ?? befores?.get(slot) ?? this.#table.contentAt(slot);
  }

  /** What the row in a slot has to meet for this view and those that it is a view of; `undefined` where all do. */
  criterion(): OfSlot {
    return both(this.#condition(), this.#finder());
  }

  /** The same without the search of this view. */
  #condition(): OfSlot {
    const where = this.#settings.where.read();
    const table = this.#table;
    return both(this.#parent?.criterion(), where && ((slot) => where(table.rowAt(slot)!)));
  }

  #finder(): OfSlot {
    return this.#searching.finder(this.#settings.search.read());
  }

  #columnsNow(): readonly SortColumn[] {
    const own = this.#settings.orderBy.read();
    if (own === undefined && this.#parent !== undefined) return this.#parent.#columnsNow();
    return listOf(own).map((each) => columnFrom(each, this.#table));
  }

  /** Takes in whatever was changed since; followed. */
  bringUpToDate(): void {
    this.#table.trackReads();
    this.#buildIfNeeded();
    if (this.#read === this.#table.log.end) return;
    if (untracked(() => this.#catchUp())) return;
    this.#beginCalculations();
    this.#buildIfNeeded();
  }

  /** Builds it if something other than the table has changed. */
  #buildIfNeeded(): void {
    // A rebuilt view takes the table as it is now.
    this.#searched.read();
    // Whoever follows the view may have had it built already.
    if (this.#builds === this.#settledBuild) return;
    this.#settledBuild = this.#builds;
    this.#sources = new Set([this.#met, this.#built, this.#searched].flatMap((each) => [...sourcesOf(each)]));
    untracked(() => this.#settleCurrent(undefined));
  }

  /** Which rows meet what the view asks for; a value outside the rows that `where` reads makes them be asked again. */
  #meet(): Met {
    const condition = this.#condition();
    const members = new SlotSet();
    return { members, slots: slotsThatMeet(this.#table, condition, members) };
  }

  /** Builds the whole view. Another order of the same rows asks none of them again. */
  #build(): number {
    const columns = this.#columnsNow();
    const table = this.#table;
    if (this.#read !== table.log.end || this.#loads !== table.loads) this.#beginMeeting();
    const met = this.#met.read();
    if (this.#loads !== table.loads) this.#beginLoad();
    const before = this.#all;
    const kept = [...table.keptInPlace.keys()].filter((slot) => before.has(slot) && table.rowAt(slot) !== undefined);
    // Only now: what `where` throws leaves the view as it was.
    this.#placedBy.clear();
    this.#columns = columns;
    // The sums are of other rows then, also where the sorting below throws.
    if (met.slots !== undefined) this.sums.forget("all");
    this.#all = this.#takePrepared(met) ?? this.#sort(met);
    for (const slot of kept) if (!this.#all.has(slot)) this.#all.add(slot, this.compare);
    // What was changed since is not known one by one.
    if (this.#read !== table.log.end) this.sums.totals.drop();
    this.#read = table.log.end;
    return ++this.#builds;
  }

  #sort(met: Met): OrderedSubset {
    const slots = met.slots ?? slotsOf(this.#table, met.members);
    // They are used up by sorting; the members change with every row from now on.
    met.slots = undefined;
    const all = new OrderedSubset(met.members);
    all.order.fill(inOneGo(sortSlots(slots, this.#columns, this.#table)), slots.length);
    return all;
  }

  /** Whether there is an order to be made beforehand. @throws `unknownField`, `wrongOption` */
  canPrepare(orderBy: ViewOptions<M>["orderBy"]): boolean {
    return listOf(orderBy).map((each) => columnFrom(each, this.#table)).length > 0;
  }

  /** Makes another order, for the next build. It is of the rows as they are now; what is changed meanwhile is put right at the end. */
  *prepare(orderBy: ViewOptions<M>["orderBy"]): Slices<true> {
    untracked(() => this.bringUpToDate());
    const { log, loads, model, locale, timeZone, rowsBySlot } = this.#table;
    const read = log.end;
    const met = untracked(() => this.#met.read());
    const slots = slotsOf(this.#table, this.#all.members);
    const valueOf = (row: never, name: string): unknown => this.#table.valueOf(row, name);
    const source = { model, locale, timeZone, rowsBySlot, valueOf };
    const { sorted, readings } = yield* sortInSlices(slots, listOf(orderBy), source);
    this.#prepared = { met, loads, locale, orderBy, sorted, readings, read };
    return true;
  }

  /** The order that was made beforehand, where it is the one that is wanted, with all that was changed meanwhile. */
  #takePrepared(met: Met): OrderedSubset | undefined {
    const prepared = this.#prepared;
    this.#prepared = undefined;
    const { log, loads, locale } = this.#table;
    if (prepared?.met !== met || prepared.loads !== loads || prepared.locale !== locale) return undefined;
    if (prepared.orderBy !== this.#settings.orderBy.peek()) return undefined;
    // It depends on what was read for it, and is of no use where that has changed.
    if (prepared.readings.some((reading) => reading.read() !== 1)) return undefined;
    const changed = log.since(prepared.read);
    if (changed === undefined) return undefined;
    const all = new OrderedSubset(met.members);
    const { order, members } = all;
    order.fill(prepared.sorted, prepared.sorted.length);
    for (const [slot, { row }] of changed)
      if (row !== undefined) order.remove(slot, (a, b) => this.#compareWith(a, b, changed));
    this.#readKeys(changed.keys());
    for (const slot of changed.keys()) if (members.has(slot)) order.add(slot, this.compare);
    return all;
  }

  /** Has what runs depend on what calculated keys of some rows read: rows that are few may be put in order without that anybody compares them. */
  #readKeys(slots: Iterable<number>): void {
    const calculated = this.#columns.filter(({ isOfRow }) => !isOfRow);
    if (calculated.length === 0) return;
    for (const slot of slots) {
      const row = this.#table.rowAt(slot);
      if (row !== undefined) for (const { keyOf } of calculated) keyOf(row);
    }
  }

  /** What of all is found; another search does not sort again, and a longer one looks only at what was found. */
  #find(): number {
    const build = this.#built.read();
    const words = wordsOf(this.#settings.search.read());
    const { index } = this.#searching;
    const found = words.length === 0 ? undefined : index.found(words);
    const { keptInPlace } = this.#table;
    const stay = [...keptInPlace.keys()].filter(
      (slot) => this.subset.has(slot) && this.#all.has(slot) && found?.has(slot) === false,
    );
    const isSame = build === this.#foundIn && index.begun === this.#foundBegun && index === this.#foundBy;
    const narrows = isSame && isNarrower(words, this.#foundWords) && this.#found !== undefined;
    this.#found = found && OrderedSubset.of(narrows ? this.#found! : this.#all, found);
    for (const slot of stay) this.#found!.add(slot, this.compare);
    [this.#foundIn, this.#foundWords, this.#foundBy, this.#foundBegun] = [build, words, index, index.begun];
    this.sums.forget("found");
    return ++this.#builds;
  }

  #beginLoad(): void {
    this.#loads = this.#table.loads;
    this.#all = new OrderedSubset();
    this.#found = undefined;
    this.#selection.beginLoad(this.#loads);
  }

  /**
   * Takes in what was changed since. All that was changed is taken out first, since an order is only one as a whole.
   *
   * @returns whether that could be done; otherwise it has to be built from the beginning
   */
  #catchUp(): boolean {
    const changed = this.#table.log.since(this.#read);
    if (changed === undefined || changed.size > 1024 + (this.order.size >> 3)) return false;
    const come = this.#whatMeets([...changed.keys()]);
    if (come === undefined) return false;
    this.#read = this.#table.log.end;
    const replaced = [...changed].flatMap(([slot, { id }]) => (this.#table.contentAt(slot).id === id ? [] : [slot]));
    if (replaced.length > 0) this.#selection.dropReplaced(replaced);
    this.#keepHeld(changed);
    const left = this.#takeOut(changed);
    for (const slot of come.slots) if (!this.#all.has(slot)) this.#putIn(slot, come.found?.has(slot) === true);
    this.#settleCurrent(left, replaced);
    return true;
  }

  /**
   * Which of some slots have rows that are to be in the view. It is found out before anything is moved: what `where` throws leaves the
   * view as it was.
   *
   * @returns `undefined` where `where`, or what they are sorted by, has read something for these rows that it did not read before
   */
  #whatMeets(
    changed: readonly number[],
  ): { readonly slots: readonly number[]; readonly found: ReadonlySet<number> | undefined } | undefined {
    const meeting = new Calculation(
      () => {
        const meets = this.#condition();
        const finds = this.#finder();
        const slots = changed.filter((slot) => this.#table.rowAt(slot) !== undefined && meets?.(slot) !== false);
        this.#readKeys(slots);
        return { slots, found: finds === undefined ? undefined : new Set(slots.filter(finds)) };
      },
      { sort: "other", of: "a view" },
    );
    const meets = meeting.read();
    return sourcesOf(meeting).some((source) => !this.#sources.has(source)) ? undefined : meets;
  }

  /** Of what the row in a slot is a part. */
  #partsWith(slot: number): readonly SummedPart[] {
    if (!this.#all.has(slot)) return [];
    return this.#found?.has(slot) === true ? ["all", "found"] : ["all"];
  }

  #putIn(slot: number, isFound: boolean): void {
    this.#all.add(slot, this.compare);
    if (this.#found !== undefined && isFound) this.#found.add(slot, this.compare);
    this.sums.add(this.#partsWith(slot), slot, this.#table.rowAt(slot)!);
  }

  /** Rows that are edited keep their place; only the totals follow their changes. */
  #keepHeld(changed: Map<number, SlotContent<RowOf<M>>>): void {
    for (const slot of this.#table.keptInPlace.keys()) {
      const before = changed.get(slot);
      const row = this.#table.rowAt(slot);
      if (before?.row === undefined || row === undefined || !this.#all.has(slot)) continue;
      if (!this.#placedBy.has(slot)) this.#placedBy.set(slot, before);
      const parts = this.#partsWith(slot);
      this.sums.take(parts, slot, before.row);
      this.sums.add(parts, slot, row);
      changed.delete(slot);
    }
  }

  /** @returns the place that the current row had, if it was taken out */
  #takeOut(changed: Befores<M>): number | undefined {
    const compare = (a: number, b: number): number => this.#compareWith(a, b, changed);
    const current = this.#selection.peekCurrent();
    const left =
      current !== undefined && changed.has(current) && this.has(current)
        ? this.order.placeOf(current, compare)
        : undefined;
    for (const [slot, { row }] of changed) {
      const parts = this.#partsWith(slot);
      if (parts.length > 0) this.sums.take(parts, slot, row!);
      else this.sums.totals.changed(slot);
      this.#found?.remove(slot, compare);
      if (this.#all.remove(slot, compare)) this.#placedBy.delete(slot);
    }
    return left;
  }

  /**
   * @param left - the place that the current row had, where it was taken out
   * @param replaced - slots that have other rows now
   */
  #settleCurrent(left: number | undefined, replaced: readonly number[] = []): void {
    const current = this.#selection.peekCurrent();
    this.#selection.keepWithin(
      this.subset,
      (slot) => left ?? (this.#table.rowAt(slot) === undefined ? 0 : this.order.placeFor(slot, this.compare)),
      current !== undefined && replaced.includes(current),
    );
  }
}
