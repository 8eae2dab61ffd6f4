import { placeInOrder, activeBeside } from "../dom.ts";
import type { Column } from "./gridColumns.ts";
import { GridRow, type RowContext, type RowFacts } from "./GridRow.ts";

/** The rows of a grid that are in the page: those that can be seen, and a few more. */
export class GridBody {
  readonly element: HTMLTableSectionElement;
  readonly #above: HTMLTableRowElement;
  readonly #below: HTMLTableRowElement;
  #rows: GridRow[] = [];
  readonly #parked: GridRow[] = [];
  /** The row that is edited while it is not in the view any more, and before which place it stands. */
  #gone: { readonly row: GridRow; readonly place: number } | undefined;
  /** Which load of the table the slots of the rows are of. */
  #loads = -1;
  readonly #context: RowContext;
  readonly #freeze: (cell: HTMLElement, column: number) => void;

  constructor(table: HTMLTableElement, context: RowContext, freeze: (cell: HTMLElement, column: number) => void) {
    this.#context = context;
    this.#freeze = freeze;
    this.element = table.tBodies[0] ?? table.createTBody();
    this.#above = spaceIn(table.ownerDocument);
    this.#below = spaceIn(table.ownerDocument);
    this.element.replaceChildren(this.#above, this.#below);
  }

  /** Shows these rows, with so much room above and below them; a row that was there already keeps its element. */
  show(all: readonly RowFacts[], columns: readonly Column[], above: number, below: number): void {
    const { view } = this.#context;
    const isOther = this.#loads !== view.table.loads;
    this.#loads = view.table.loads;
    if (isOther) for (const row of this.#rows) row.forget();
    const wanted = new Set(all.map(({ slot }) => slot));
    const spare: GridRow[] = [];
    const kept = new Map<number, GridRow>();
    const active = activeBeside(this.element);
    if (this.#gone !== undefined) this.#rows.splice(this.#gone.place, 0, this.#gone.row);
    this.#gone = undefined;
    for (const [place, row] of this.#rows.entries()) {
      if (row.editing >= 0 && (row.isOfBefore || isOther || !view.hasSlot(row.slot))) {
        row.isOfBefore ||= isOther;
        this.#gone = { row, place };
      } else if (wanted.has(row.slot) && !row.isOfBefore) kept.set(row.slot, row);
      // What a person is in does not turn into another row under them.
      else if (row.editing >= 0 || row.element.contains(active)) this.#park(row);
      else spare.push(row);
    }
    this.#rows = all.map((facts) => {
      const row = kept.get(facts.slot) ?? spare.pop() ?? new GridRow(this.element.ownerDocument, this.#context);
      row.lay(columns, this.#freeze);
      row.show(facts);
      return row;
    });
    for (const row of spare) row.stop();
    const elements = this.#rows.map(({ element }) => element);
    if (this.#gone !== undefined) {
      const { row, place } = this.#gone;
      row.lay(columns, this.#freeze);
      row.showGone();
      elements.splice(place, 0, row.element);
    }
    placeInOrder(this.element, elements, this.#above.nextElementSibling, this.#below);
    setHeight(this.#above, above, columns.length + 1);
    setHeight(this.#below, below, columns.length + 1);
  }

  /** It is hidden until what a person does in it was taken in: to take it out now would end that here, where nothing may be written. */
  #park(row: GridRow): void {
    row.element.hidden = true;
    this.#parked.push(row);
  }

  /** The row that is edited while it is not in the view any more. */
  get gone(): GridRow | undefined {
    return this.#gone?.row;
  }

  get hasParked(): boolean {
    return this.#parked.length > 0;
  }

  dropParked(): void {
    for (const row of this.#parked.splice(0)) row.stop();
  }

  rowFor(slot: number | undefined): GridRow | undefined {
    return slot === undefined ? undefined : this.#rows.find((row) => row.slot === slot);
  }

  rowOf(element: Element): GridRow | undefined {
    return this.#rows.find((row) => row.element.contains(element));
  }

  get rows(): readonly GridRow[] {
    return this.#rows;
  }

  /** How high a row is, the one in the middle where they are of unequal height; `undefined` while there is none. */
  get rowHeight(): number | undefined {
    const heights = this.#rows.map(({ element }) => element.getBoundingClientRect().height).sort((a, b) => a - b);
    const height = heights[Math.floor(heights.length / 2)] ?? 0;
    return height > 0 ? height : undefined;
  }

  forget(): void {
    for (const row of this.#rows) row.forget();
  }

  stop(): void {
    this.dropParked();
    this.#gone?.row.stop();
    for (const row of this.#rows) row.stop();
    this.#rows = [];
    this.#above.remove();
    this.#below.remove();
  }
}

function spaceIn(document: Document): HTMLTableRowElement {
  const row = document.createElement("tr");
  row.dataset["space"] = "";
  row.setAttribute("aria-hidden", "true");
  row.append(document.createElement("td"));
  return row;
}

function setHeight(space: HTMLTableRowElement, height: number, columns: number): void {
  const cell = space.cells[0]!;
  space.hidden = height <= 0;
  if (cell.colSpan !== columns) cell.colSpan = columns;
  const written = `${height}px`;
  if (cell.style.blockSize !== written) cell.style.blockSize = written;
}
