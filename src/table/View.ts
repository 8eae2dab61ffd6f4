import type { internal, AbortSignalLike } from "../engine/index.ts";
import type { AnyModel, KeyOf, RowOf } from "../model/index.ts";
import type { GroupsMethod } from "./Groups.ts";
import type { TotalMethod } from "./Sum.ts";
import type { Table } from "./Table.ts";
import type { ViewOptions } from "./ViewOptions.ts";
import type { ViewState } from "./ViewState.ts";

/** Part of a table's rows, in an order: it follows every change, and a change costs what it costs to find one row. */
export interface View<M extends AnyModel = AnyModel> {
  /** The table, or the one under all views that it is over. */
  readonly table: Table<M>;
  /** Which rows are in it; what it reads beside the row is followed. */
  where: ((row: RowOf<M>) => boolean) | undefined;
  /**
   * By which fields the rows are sorted, the first one first; followed and writable.
   *
   * @throws `unknownField`, `wrongOption`; the order then stays as it was
   */
  orderBy: ViewOptions<M>["orderBy"];
  /**
   * Sorts the rows in the pauses of the page, and only then shows the new order: to set {@link orderBy} for a million rows can take
   * seconds at once. A later call, and a new `orderBy`, take the place of one that is under way. Rows that change meanwhile are put right at
   * the end. Where something else changes meanwhile that a calculated field reads, it is sorted again at once.
   *
   * @returns whether it is sorted by this now: not when it was stopped, or another order was wanted meanwhile
   * @throws `unknownField`, `wrongOption`; the order then stays as it was
   * @example if (await stock.sortBy("height desc", { signal })) …
   */
  sortBy(
    orderBy: ViewOptions<M>["orderBy"],
    options?: { readonly signal?: AbortSignalLike | undefined },
  ): Promise<boolean>;
  /** How much of the order that {@link sortBy} makes is made, from 0 to 1; `undefined` while none is made. Followed. */
  readonly sorting: number | undefined;
  /** Words that a row has to have, in any order and without regard to case and accents. */
  search: string;
  /**
   * Makes ready what a search needs, in the pauses of the page, and then searches: of a million rows the first search would
   * else take a second at once. A later call takes the place of one that is under way.
   *
   * @returns whether it searched for this: not when it was stopped, or something else was searched for meanwhile
   */
  searchFor(search: string, options?: { readonly signal?: AbortSignalLike | undefined }): Promise<boolean>;
  /** How much of what {@link searchFor} needs is made ready, from 0 to 1; `undefined` while nothing waits for it. Followed. */
  readonly preparing: number | undefined;
  /** How many rows are in it. */
  readonly length: number;
  /** The row at a place, counted from 0; `undefined` past the end. */
  at(place: number): RowOf<M> | undefined;
  /** The rows from one place up to, and without, another. */
  rows(from?: number, to?: number): RowOf<M>[];
  /** The keys of these rows. */
  keys(from?: number, to?: number): KeyOf<M>[];
  [Symbol.iterator](): Iterator<RowOf<M>>;
  /** The place of the row with a key; -1 when it is not in the view. */
  placeOf(key: KeyOf<M>): number;
  /** Whether the row with a key is among those that it shows. Reading it is followed. */
  has(key: KeyOf<M>): boolean;
  /**
   * The sum of a field over all rows of the view, kept by change: of `decimal` an exact `Decimal`, of numbers the exact sum, rounded
   * once. Blanks count as nothing.
   *
   * @throws `unknownField` with the nearest name; `wrongType` for a field of which there is no sum
   */
  readonly total: TotalMethod<M>;
  /**
   * The rows by what they have alike in a field, in the order of that field, each with how many they are and the sums of other
   * fields: kept by change as totals are.
   *
   * @throws `unknownField` with the nearest name; `wrongType` for `totals` of which there is no sum
   * @example for (const { title, length, totals } of shown.groups("species", ["count"])) …
   */
  readonly groups: GroupsMethod<M>;
  /** The row that a person is at; `undefined` when there is none. */
  readonly current: RowOf<M> | undefined;
  /** The key of the current row. @throws `unknownKey` when one is set that is not in the view */
  currentKey: KeyOf<M> | undefined;
  /** The rows that a person has selected, in the order of the view. */
  readonly selected: readonly RowOf<M>[];
  /** The keys of these. @throws `unknownKey` when one is set that is not in the view */
  selectedKeys: readonly KeyOf<M>[];
  /** How many rows are selected: cheaper to know than which. */
  readonly selectedCount: number;
  /**
   * Selects a row beside the others, or takes it out.
   *
   * @param force - `true` only selects, `false` only takes out, as of a `DOMTokenList`
   * @returns whether it is selected now
   * @throws `unknownKey`
   */
  toggle(key: KeyOf<M>, force?: boolean): boolean;
  /** Selects all rows from one to another, both included, whichever comes first. @throws `unknownKey` */
  selectRange(from: KeyOf<M>, to: KeyOf<M>): void;
  /** Selects all rows that it shows. */
  selectAll(): void;
  // What the library does with any view does not depend on its model.
  // eslint-disable-next-line @typescript-eslint/no-explicit-any
  readonly [internal]: ViewState<any>;
}
