import type { ViewState } from "../../table/index.ts";
import type { Column } from "./gridColumns.ts";

/** The totals of a grid: sums that the view keeps by each change. */
export class GridFoot {
  readonly #section: HTMLTableSectionElement | undefined;
  readonly #row: HTMLTableRowElement | undefined;
  readonly #before: Node[] = [];
  readonly #table: HTMLTableElement;
  readonly #view: ViewState;
  readonly #totals: readonly string[];
  readonly #title: string;
  readonly #freeze: (cell: HTMLElement, column: number) => void;

  constructor(
    table: HTMLTableElement,
    view: ViewState,
    totals: readonly string[],
    title: string,
    freeze: (cell: HTMLElement, column: number) => void,
  ) {
    this.#table = table;
    this.#view = view;
    this.#totals = totals;
    this.#title = title;
    this.#freeze = freeze;
    if (totals.length === 0) return;
    this.#section = table.tFoot ?? table.createTFoot();
    this.#before = [...this.#section.childNodes];
    this.#row = table.ownerDocument.createElement("tr");
    this.#section.replaceChildren(this.#row);
  }

  get height(): number {
    return this.#row?.getBoundingClientRect().height ?? 0;
  }

  show(columns: readonly Column[], rows: number): void {
    if (this.#row === undefined) return;
    const { ownerDocument } = this.#table;
    while (this.#row.cells.length > columns.length + 1) this.#row.deleteCell(-1);
    while (this.#row.cells.length < columns.length + 1) this.#row.append(ownerDocument.createElement("td"));
    this.#row.setAttribute("aria-rowindex", String(rows + 2));
    let titled = false;
    [...this.#row.cells].forEach((cell, number) => {
      const column = columns[number - 1];
      cell.setAttribute("aria-colindex", String(number + 1));
      this.#freeze(cell, number - 1);
      if (column === undefined) return;
      if (column.align !== "start") cell.dataset["align"] = column.align;
      else delete cell.dataset["align"];
      const summed = column.name !== undefined && this.#totals.includes(column.name);
      // The first cell with room for it says what the row is.
      const words = titled ? "" : this.#title;
      const text = summed ? this.textOf(column.name) : words;
      if (!summed) titled = true;
      if (cell.textContent !== text) cell.textContent = text;
    });
  }

  /** The sum of a field, as it is shown. */
  textOf(name: string): string {
    const { table } = this.#view;
    const kind = table.model.kindOf(name);
    return table.show(kind, this.#view.total(name));
  }

  stop(): void {
    this.#section?.replaceChildren(...this.#before);
  }
}
