import type { ViewState } from "../../table/index.ts";

/** Where a person is in a grid: the place of the row in the view, and the number of the column that is seen. */
export interface CellPlace {
  readonly row: number;
  readonly column: number;
}

const within = (index: number, length: number): number => Math.max(0, Math.min(index, length - 1));

/** Where a person is in a grid, and how far a range of selected rows reaches. It knows the view, and nothing of the page. */
export class GridCursor {
  /** Whether the person is at a heading. */
  inHead = false;
  /** The last row that the person was at, for when no row is the current one. */
  #row = 0;
  #column = 0;
  /** The row at which a range of selected rows began. */
  #anchor: number | undefined;
  readonly #view: ViewState;
  readonly #columnCount: () => number;

  constructor(view: ViewState, columnCount: () => number) {
    this.#view = view;
    this.#columnCount = columnCount;
  }

  get place(): CellPlace {
    return { row: this.row, column: this.column };
  }

  /** The place of the current row wherever it is now; else the place where the person was. */
  get row(): number {
    const key = this.#view.currentKey;
    if (key !== undefined) this.#row = this.#view.placeOf(key);
    return within(this.#row, this.#view.length);
  }

  get column(): number {
    this.#column = within(this.#column, this.#columnCount());
    return this.#column;
  }

  /** The row that the person is at; none in a view without rows. */
  get slot(): number | undefined {
    return this.#slotAt(this.row);
  }

  get currentSlot(): number | undefined {
    const key = this.#view.currentKey;
    return key === undefined ? undefined : this.#view.table.slotFor(key);
  }

  #slotAt(row: number): number | undefined {
    return this.#view.slots(row, row + 1)[0];
  }

  /** The row that `goTo(row)` would make the current one. */
  targetOf(row: number): number | undefined {
    return row < 0 ? undefined : this.#slotAt(row);
  }

  /** Goes to a heading. */
  goToHeading(column: number): void {
    this.inHead = true;
    this.#column = column;
  }

  /** Goes to a cell; its row becomes the current one of the view. With `extend` the rows between are selected. */
  goTo({ row, column }: CellPlace, extend: boolean): void {
    this.inHead = false;
    this.#column = column;
    const target = this.#slotAt(row);
    if (target === undefined) return;
    const view = this.#view;
    const key = view.table.keyAt(target);
    const anchor = this.#anchor ?? this.currentSlot ?? target;
    this.#row = row;
    view.currentKey = key;
    this.#anchor = extend ? anchor : undefined;
    if (!extend) return;
    const from = view.table.keyAt(anchor);
    if (view.has(from)) view.selectRange(from, key);
  }

  /** Selects the row that the person is at, or takes it out; all rows; or none. */
  select(which: "this" | "only" | "all" | "none"): void {
    const view = this.#view;
    if (which === "all") return view.selectAll();
    if (which === "none") return this.#selectOnly([]);
    const { slot } = this;
    if (slot === undefined) return;
    const key = view.table.keyAt(slot);
    if (which === "only") return this.#selectOnly([key]);
    view.toggle(key);
  }

  #selectOnly(keys: readonly unknown[]): void {
    this.#view.selectedKeys = keys;
  }
}
