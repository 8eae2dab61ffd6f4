import type { GridLayout } from "../../control/index.ts";
import type { OrderedBy } from "../../table/index.ts";
import { toggleAttribute } from "../dom.ts";
import type { Column } from "./gridColumns.ts";

/** A column that takes what is left is no narrower than this, in CSS pixels. */
const LEAST_STRETCH = 120;
/** Beyond this, the column of a long text is as wide as the page says or the person makes it. */
const MOST_FITTING = 360;
const MARK = 32;

/** What headings do for a person. */
export interface HeadActions {
  press(column: number, more: boolean): void;
  widen(column: number, width: number, done: boolean): void;
  reorder(column: number, by: number): void;
}

/** The headings of a grid, the widths of its columns, and what a pointer does with them. */
export class GridHead {
  readonly #columns: HTMLTableColElement[] = [];
  readonly row: HTMLTableRowElement;
  readonly #group: HTMLTableColElement;
  readonly #section: HTMLTableSectionElement;
  readonly #before: Node[];
  headings: HTMLTableCellElement[] = [];
  #widths: (number | undefined)[] = [];
  readonly #table: HTMLTableElement;
  readonly #actions: HeadActions;
  readonly #sticky: number;
  readonly #markTitle: string;

  constructor(table: HTMLTableElement, actions: HeadActions, sticky: number, markTitle: string) {
    this.#table = table;
    this.#actions = actions;
    this.#sticky = sticky;
    this.#markTitle = markTitle;
    const { ownerDocument } = table;
    this.#group = ownerDocument.createElement("colgroup");
    this.#section = table.tHead ?? table.createTHead();
    this.#before = [...this.#section.childNodes];
    this.row = ownerDocument.createElement("tr");
    this.row.setAttribute("aria-rowindex", "1");
    this.#section.replaceChildren(this.row);
    if (table.caption === null) table.prepend(this.#group);
    else table.caption.after(this.#group);
    this.row.addEventListener("click", this.#click);
    this.row.addEventListener("pointerdown", this.#press);
  }

  get height(): number {
    return this.row.getBoundingClientRect().height;
  }

  /** Makes headings for these columns. */
  lay(columns: readonly Column[]): void {
    const { ownerDocument } = this.#table;
    const mark = ownerDocument.createElement("th");
    mark.scope = "col";
    const words = ownerDocument.createElement("span");
    words.textContent = this.#markTitle;
    mark.append(words);
    mark.setAttribute("aria-colindex", "1");
    mark.dataset["mark"] = "";
    this.headings = columns.map((column, number) => {
      const heading = ownerDocument.createElement("th");
      heading.scope = "col";
      heading.tabIndex = -1;
      heading.setAttribute("aria-colindex", String(number + 2));
      if (column.align !== "start") heading.dataset["align"] = column.align;
      if (column.name !== undefined) heading.dataset["sortable"] = "";
      heading.dataset["heading"] = column.id;
      const grip = ownerDocument.createElement("span");
      grip.dataset["grip"] = "";
      grip.setAttribute("aria-hidden", "true");
      heading.append(column.title, grip);
      return heading;
    });
    this.row.replaceChildren(mark, ...this.headings);
    this.#columns.splice(0);
    for (let number = 0; number <= columns.length; number++) this.#columns.push(ownerDocument.createElement("col"));
    this.#group.replaceChildren(...this.#columns);
    this.freeze(mark, -1);
    this.headings.forEach((heading, number) => this.freeze(heading, number));
  }

  /** Gives each column its width: what a person has set, else what was declared. */
  size(columns: readonly Column[], layout: GridLayout, fitting: (column: number) => number): void {
    this.#widths = columns.map(({ id, width }, number) => {
      const own = layout.widths[id];
      if (own !== undefined) return own;
      if (width === "stretch") return undefined;
      return width === "fit-content" ? Math.min(MOST_FITTING, fitting(number)) : this.#pixels(width);
    });
    const least = this.#widths.reduce<number>((sum, width) => sum + (width ?? LEAST_STRETCH), MARK);
    [MARK, ...this.#widths].forEach((width, number) => {
      this.#columns[number]!.style.inlineSize = width === undefined ? "auto" : `${width}px`;
    });
    // Without a column that takes what is left, the others keep their widths.
    const stretches = this.#widths.includes(undefined);
    Object.assign(this.#table.style, {
      inlineSize: stretches ? "100%" : `${least}px`,
      minInlineSize: stretches ? `${least}px` : "0",
    });
    this.headings.forEach((heading, number) => this.freeze(heading, number));
  }

  #pixels(width: string): number {
    const probe = this.#table.ownerDocument.createElement("div");
    Object.assign(probe.style, { position: "absolute", visibility: "hidden", inlineSize: width });
    this.#table.parentElement!.append(probe);
    const pixels = probe.getBoundingClientRect().width;
    probe.remove();
    return Math.round(pixels);
  }

  widthOf(column: number): number {
    return this.headings[column]?.getBoundingClientRect().width ?? 0;
  }

  /** Where the columns that scroll begin. */
  get frozenWidth(): number {
    if (this.#sticky === 0) return 0;
    return this.#startOf(this.#sticky);
  }

  #startOf(column: number): number {
    return this.#widths.slice(0, column).reduce<number>((sum, width) => sum + (width ?? LEAST_STRETCH), MARK);
  }

  /** Keeps a cell where it is when the others are scrolled sideways. */
  freeze(cell: HTMLElement, column: number): void {
    const is = this.#sticky > 0 && column < this.#sticky;
    toggleAttribute(cell, "data-sticky", is ? "" : undefined);
    if (is) cell.style.insetInlineStart = `${column < 0 ? 0 : this.#startOf(column)}px`;
  }

  showSorting(columns: readonly Column[], sorted: readonly OrderedBy[]): void {
    this.headings.forEach((heading, number) => {
      const place = sorted.findIndex((each) => each.name === columns[number]!.name);
      toggleAttribute(heading, "aria-sort", place < 0 ? undefined : sorted[place]!.direction);
      toggleAttribute(heading, "data-sort-place", place >= 0 && sorted.length > 1 ? String(place + 1) : undefined);
    });
  }

  readonly #click = (event: MouseEvent): void => {
    const heading = (event.target as Element).closest<HTMLElement>("th[data-heading]");
    if (heading === null || (event.target as HTMLElement).dataset["grip"] !== undefined) return;
    this.#actions.press(this.headings.indexOf(heading as HTMLTableCellElement), event.shiftKey);
  };

  /** A grip makes its column wider or narrower; a heading that is dragged far enough goes to where it is let go. */
  readonly #press = (event: PointerEvent): void => {
    const target = event.target as HTMLElement;
    const heading = target.closest<HTMLTableCellElement>("th[data-heading]");
    if (heading === null || event.button !== 0) return;
    const column = this.headings.indexOf(heading);
    const gripped = target.dataset["grip"] !== undefined;
    const rtl = getComputedStyle(this.#table).direction === "rtl";
    const start = event.clientX;
    const width = heading.getBoundingClientRect().width;
    const { row } = this;
    const wide = (x: number): number => width + (rtl ? start - x : x - start);
    if (gripped) event.preventDefault();
    // What has the pointer gets its click too: a heading that is only pressed must not lose its own.
    if (gripped) row.setPointerCapture(event.pointerId);
    const move = (moving: PointerEvent): void => {
      if (gripped) return this.#actions.widen(column, wide(moving.clientX), false);
      if (Math.abs(moving.clientX - start) <= 8 || heading.dataset["dragged"] !== undefined) return;
      row.setPointerCapture(event.pointerId);
      heading.dataset["dragged"] = "";
    };
    const end = (ending: PointerEvent): void => {
      row.removeEventListener("pointermove", move);
      row.removeEventListener("pointerup", end);
      row.removeEventListener("pointercancel", end);
      const dragged = heading.dataset["dragged"] !== undefined;
      delete heading.dataset["dragged"];
      if (ending.type === "pointercancel") return;
      if (gripped) this.#actions.widen(column, wide(ending.clientX), true);
      else if (dragged) this.#actions.reorder(column, this.#columnAt(ending.clientX) - column);
    };
    row.addEventListener("pointermove", move);
    row.addEventListener("pointerup", end);
    row.addEventListener("pointercancel", end);
  };

  #columnAt(x: number): number {
    const over = this.headings.findIndex((heading) => {
      const { left, right } = heading.getBoundingClientRect();
      return x >= left && x < right;
    });
    if (over >= 0) return over;
    return x < this.headings[0]!.getBoundingClientRect().left ? 0 : this.headings.length - 1;
  }

  stop(): void {
    this.row.removeEventListener("click", this.#click);
    this.row.removeEventListener("pointerdown", this.#press);
    this.#group.remove();
    this.#section.replaceChildren(...this.#before);
    Object.assign(this.#table.style, { inlineSize: "", minInlineSize: "" });
  }
}
