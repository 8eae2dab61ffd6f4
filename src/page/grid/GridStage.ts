import { sayOfRows } from "../../model/index.ts";
import { type GridLayout, layoutFrom, seenColumns, TallScroll } from "../../control/index.ts";
import { mirror, type Stoppable, Value, getOrMake } from "../../engine/index.ts";
import { orderOf, type ViewState } from "../../table/index.ts";
import { toggleAttribute, activeBeside } from "../dom.ts";
import type { Listening } from "../listening.ts";
import { GridBody } from "./GridBody.ts";
import { type Column, columnsIn } from "./gridColumns.ts";
import { GridFoot } from "./GridFoot.ts";
import { GridHead, type HeadActions } from "./GridHead.ts";
import type { RowFacts } from "./GridRow.ts";
import { FoundElement } from "../found.ts";
import { gridStyles } from "./gridStyles.ts";
import { keepLayout, keptLayout } from "./keptLayout.ts";
import type { OpenEntries } from "./OpenEntries.ts";
import type { PasteProblems } from "./PasteProblems.ts";

/** So many rows beyond what can be seen are there at each end. */
const MORE = 4;
/** So many rows are printed at most. */
const PRINTED = 2000;
/** How wide a column is made by what is in so many rows at each end. */
const SAMPLE = 40;

/** The options of a grid that its stage needs. */
export interface StageOptions {
  readonly columns: readonly Column[];
  readonly totals: readonly string[];
  readonly sticky: number;
  readonly keepLayout: string | undefined;
  readonly empty: string | undefined;
  readonly loading: () => boolean | string;
  readonly failed: () => string | undefined;
  readonly readOnly: () => boolean;
  readonly unsaved: (key: unknown) => "new" | "changed" | "conflict" | undefined;
}

/** What a grid shows: headings, the rows that can be seen, totals; of any number of rows only those are in the page. */
export class GridStage {
  readonly window: HTMLElement;
  readonly head: GridHead;
  readonly body: GridBody;
  readonly layout: Value<GridLayout>;
  readonly #foot: GridFoot;
  readonly #tall = new TallScroll();
  readonly #scrolled = new Value(0);
  readonly #found: readonly FoundElement[];
  /** The columns with their titles in a language, and which one that is. */
  #named: readonly Column[] = [];
  #titled: string | undefined;
  readonly #wrapped: boolean;
  readonly #dropStyles: () => void;
  readonly #resizes: ResizeObserver;
  readonly #showing: readonly Stoppable[];
  readonly #fitting = new Map<string, number>();
  #state: HTMLTableSectionElement | undefined;
  #rowHeight = 36;
  #room = 400;
  #columns: readonly Column[] = [];
  #laid: GridLayout | undefined;
  /** Which rows the widths of columns were measured by. */
  #sampled = -1;
  #printing = false;
  #isShowing = false;
  #frame = 0;
  /** Called whenever what is shown has changed, with whether the focus was lost by that. */
  whenShown: (lost: boolean) => void = () => undefined;
  /** The slot of the row that stays where it is on the screen while rows above it come and go. */
  anchor = (): number | undefined => undefined;
  /** That row as it was shown last: its place, and whether it was seen. */
  #anchored: { readonly slot: number; readonly place: number; seen: boolean } | undefined;
  /** Called before a column is hidden. */
  beforeHiding: (id: string) => void = () => undefined;

  readonly #options: StageOptions;
  readonly #entries: OpenEntries;
  readonly #pasted: () => PasteProblems | undefined;

  constructor(
    readonly table: HTMLTableElement,
    readonly view: ViewState,
    options: StageOptions,
    actions: HeadActions,
    entries: OpenEntries,
    pasted: () => PasteProblems | undefined,
    listening: Listening,
  ) {
    this.#options = options;
    this.#entries = entries;
    this.#pasted = pasted;
    const parent = table.parentElement!;
    this.#wrapped = parent.children.length > 1 || parent === table.ownerDocument.body;
    this.window = this.#wrapped ? table.ownerDocument.createElement("div") : parent;
    if (this.#wrapped) {
      table.replaceWith(this.window);
      this.window.append(table);
    }
    this.#found = [
      new FoundElement(table, true, ["style"]),
      new FoundElement(this.window, false, ["style", "data-grid", "data-reorders"]),
    ];
    this.window.dataset["grid"] = "";
    this.#dropStyles = gridStyles.use(table);
    const { locale } = view.table;
    this.layout = new Value<GridLayout>(
      layoutFrom(
        options.columns.map(({ id }) => id),
        keptLayout(options.keepLayout),
      ),
    );
    const freeze = (cell: HTMLElement, column: number): void => this.head.freeze(cell, column);
    this.head = new GridHead(table, actions, options.sticky, sayOfRows(locale, "rowState"));
    this.body = new GridBody(
      table,
      {
        view,
        listening,
        say: (name) => sayOfRows(locale, name),
        commandLabel: ({ command }, row) =>
          [command!.on(row as never).title, this.#titleOf(row)].filter((each) => each !== "").join(" "),
      },
      freeze,
    );
    this.#foot = new GridFoot(table, view, options.totals, sayOfRows(locale, "total"), freeze);
    toggleAttribute(table, "role", "grid");
    toggleAttribute(table, "aria-multiselectable", "true");
    this.window.addEventListener("scroll", this.#scroll, { passive: true });
    globalThis.addEventListener("beforeprint", this.#print);
    globalThis.addEventListener("afterprint", this.#print);
    this.#showing = [mirror(() => this.#show(), "a grid"), mirror(() => this.#showState(), "the state of a grid")];
    this.measure();
    // In the next frame: what is shown anew has another size, and a size that changes while sizes are told is an error of the page.
    this.#resizes = new ResizeObserver(() => {
      cancelAnimationFrame(this.#frame);
      this.#frame = requestAnimationFrame(() => this.measure());
    });
    this.#resizes.observe(this.window);
    // Rows get another height by a font that comes late, by zooming, by what the page says of them.
    this.#resizes.observe(table);
  }

  /** What the person calls a row: its key, else what its first column shows. */
  #titleOf(row: unknown): string {
    const { model } = this.view.table;
    const first = model.parts.key[0] ?? this.#options.columns.find(({ name }) => name !== undefined)?.name;
    return first === undefined ? "" : this.view.table.showField(row as never, first);
  }

  /** The columns that are seen, in order. */
  get columns(): readonly Column[] {
    return this.#columns;
  }

  get page(): number {
    return this.#tall.page;
  }

  setLayout(layout: GridLayout, keep = true): void {
    for (const id of layout.hidden) this.beforeHiding(id);
    this.layout.write(layout);
    if (keep) keepLayout(this.#options.keepLayout, layout);
  }

  /** Looks how high rows are and how much room there is. */
  measure(): void {
    const rowHeight = this.body.rowHeight ?? this.#rowHeight;
    const room = Math.max(rowHeight, this.window.clientHeight - this.head.height - this.#foot.height);
    Object.assign(this.window.style, {
      scrollPaddingBlock: `${this.head.height}px ${this.#foot.height}px`,
      scrollPaddingInlineStart: `${this.head.frozenWidth}px`,
    });
    if (rowHeight === this.#rowHeight && room === this.#room) return;
    this.#rowHeight = rowHeight;
    this.#room = room;
    this.#again();
  }

  /** Shows all of it again, as after a cell was edited. */
  showAgain(): void {
    this.#again();
  }

  #again(): void {
    this.#scrolled.write(this.#scrolled.peek() + 1);
  }

  readonly #scroll = (): void => {
    this.#tall.scrolled(this.window.scrollTop);
    this.#again();
  };

  /** All that fits on paper is there while it is printed. */
  readonly #print = ({ type }: Event): void => {
    this.#printing = type === "beforeprint";
    this.#again();
  };

  /** Scrolls as little as brings a row into view. */
  scrollTo(place: number): void {
    const offset = this.#tall.offsetFor(place);
    if (offset !== this.window.scrollTop) this.window.scrollTop = offset;
    this.#again();
  }

  /** Whether the page is being changed here: what loses the focus then is not left by the person. */
  get isShowing(): boolean {
    return this.#isShowing;
  }

  #show(): void {
    const { window } = this;
    const hadFocus = window.contains(activeBeside(window));
    this.#isShowing = true;
    try {
      this.#showAll();
      this.whenShown(hadFocus && !window.contains(activeBeside(window)));
    } finally {
      this.#isShowing = false;
    }
  }

  #showAll(): void {
    this.#scrolled.read();
    const { view } = this;
    const { length } = view;
    this.#lay(this.layout.read(), length);
    const offset = this.#tall.measure(length, this.#rowHeight, this.#room, this.#rowsAboveAnchor());
    if (this.#anchored !== undefined) this.#anchored.seen = this.#tall.sees(this.#anchored.place);
    const [from, to] = this.#printing ? [0, Math.min(length, PRINTED)] : this.#tall.range(MORE);
    const above = this.#printing ? 0 : this.#tall.placeOf(from);
    const rows = this.#facts(from, to);
    const below = this.#printing ? 0 : this.#tall.height - above - rows.length * this.#rowHeight;
    const anchored = this.body.rowFor(this.#anchored?.slot)?.element;
    const before = anchored?.getBoundingClientRect().top;
    this.body.show(rows, this.#columns, above, below);
    if (offset !== undefined && offset !== this.window.scrollTop) this.window.scrollTop = offset;
    if (before !== undefined) this.#correct(anchored!, before);
    this.#foot.show(this.#columns, length);
    toggleAttribute(this.table, "aria-readonly", this.#options.readOnly() ? "true" : undefined);
    toggleAttribute(this.table, "aria-rowcount", String(length + 1 + (this.#options.totals.length > 0 ? 1 : 0)));
    this.head.showSorting(this.#columns, orderOf(view.orderBy));
  }

  /** How many rows came above the row in which a person is, or went, since it was shown last: it stays where it is. */
  #rowsAboveAnchor(): number {
    const { view } = this;
    const slot = this.anchor();
    const before = this.#anchored;
    if (slot === undefined || !view.hasSlot(slot)) {
      this.#anchored = undefined;
      return 0;
    }
    const place = view.placeOf(view.table.keyAt(slot));
    this.#anchored = { slot, place, seen: false };
    return before?.slot === slot && before.seen ? place - before.place : 0;
  }

  /** Where rows are not of one height, other rows above move the one in which a person is. */
  #correct(anchored: HTMLElement, before: number): void {
    if (!anchored.isConnected || this.body.rowFor(this.#anchored?.slot)?.element !== anchored) return;
    const by = Math.round(anchored.getBoundingClientRect().top - before);
    if (by !== 0) this.window.scrollTop += by;
  }

  #facts(from: number, to: number): readonly RowFacts[] {
    const { view } = this;
    const { table } = view;
    const current = view.currentKey;
    const currentSlot = current === undefined ? undefined : table.slotFor(current);
    const readOnly = this.#options.readOnly();
    return view.slots(from, to).map((slot, number) => ({
      slot,
      row: table.rowAt(slot)!,
      place: from + number,
      current: slot === currentSlot,
      selected: view.isSelectedAt(slot),
      unsaved: this.#options.unsaved(table.keyAt(slot)),
      entry: this.#entries.at(slot),
      pasted: this.#pasted()?.at(slot),
      readOnly,
    }));
  }

  #lay(layout: GridLayout, length: number): void {
    const { locale } = this.view.table;
    if (locale !== this.#titled) {
      this.#named = columnsIn(this.#options.columns, locale);
      this.#titled = locale;
      this.#laid = undefined;
    }
    const sampled = length === 0 ? -1 : this.view.table.loads;
    if (layout === this.#laid && sampled === this.#sampled) return;
    const before = this.#columns;
    const seen = seenColumns(layout);
    const columns = seen.map((id) => this.#named.find((column) => column.id === id)!);
    const same = columns.length === before.length && columns.every((column, number) => column === before[number]);
    if (!same) {
      this.#columns = columns;
      this.head.lay(columns);
      toggleAttribute(this.table, "aria-colcount", String(columns.length + 1));
    }
    if (sampled !== this.#sampled) this.#fitting.clear();
    this.#laid = layout;
    this.#sampled = sampled;
    this.head.size(this.#columns, layout, (column) => this.#fit(column));
  }

  /** How wide a column has to be for its heading and for the first rows. */
  #fit(number: number): number {
    const column = this.#columns[number]!;
    return getOrMake(this.#fitting, column.id, () => this.#measureColumn(column, this.head.headings[number]!));
  }

  #measureColumn({ name, command, title }: Column, heading: HTMLElement): number {
    const style = getComputedStyle(heading);
    // The shorthand is blank where the page says more than it can hold, as figures of one width.
    const font = `${style.fontWeight} ${style.fontSize} ${style.fontFamily}`;
    const room = parseFloat(style.paddingInlineStart) + parseFloat(style.paddingInlineEnd);
    const { locale } = this.view.table;
    const { length } = this.view;
    const rows = [...this.view.rows(0, SAMPLE), ...this.view.rows(Math.max(SAMPLE, length - SAMPLE), length)];
    const texts: string[] = rows.map((row) =>
      name === undefined ? (command!.on(row as never).title ?? "") : this.view.table.showField(row, name),
    );
    if (name !== undefined && this.#options.totals.includes(name)) texts.push(this.#foot.textOf(name));
    // The heading has its sign of sorting beside it, a button its edges.
    const heads = textWidth(title, font, locale) + room + 22;
    const widest = Math.max(0, ...texts.map((text) => textWidth(text, font, locale)));
    return Math.ceil(Math.max(heads, widest + room + (command === undefined ? 4 : 36)));
  }

  /** That there are no rows, that they are being loaded, or why they are not there. */
  #showState(): void {
    const { locale } = this.view.table;
    const failed = this.#options.failed();
    const loading = this.#options.loading();
    const empty = this.view.length > 0 ? "" : (this.#options.empty ?? sayOfRows(locale, "noRows"));
    const busy = loading === true ? sayOfRows(locale, "loadingRows") : loading;
    const text = failed ?? (busy === false ? empty : busy);
    toggleAttribute(this.table, "aria-busy", loading === false ? undefined : "true");
    if (text === "" && this.#state === undefined) return;
    this.#state ??= this.#newState();
    this.#state.hidden = text === "";
    toggleAttribute(this.#state, "aria-busy", failed === undefined && loading !== false ? "true" : undefined);
    const rows = loading === false ? "none" : "";
    this.#state.dataset["rows"] = failed === undefined ? rows : "failed";
    const cell = this.#state.rows[0]!.cells[0]!;
    cell.textContent = text;
    cell.colSpan = seenColumns(this.layout.read()).length + 1;
  }

  #newState(): HTMLTableSectionElement {
    const section = this.table.ownerDocument.createElement("tbody");
    section.insertRow().insertCell();
    this.body.element.after(section);
    return section;
  }

  stop(): void {
    for (const each of this.#showing) each.stop();
    this.#resizes.disconnect();
    cancelAnimationFrame(this.#frame);
    this.window.removeEventListener("scroll", this.#scroll);
    globalThis.removeEventListener("beforeprint", this.#print);
    globalThis.removeEventListener("afterprint", this.#print);
    this.#state?.remove();
    this.body.stop();
    this.head.stop();
    this.#foot.stop();
    this.#dropStyles();
    for (const found of this.#found) found.restore();
    if (this.#wrapped) this.window.replaceWith(this.table);
  }
}

let canvas: CanvasRenderingContext2D | null | undefined;

/** How wide a text is in a font, in CSS pixels. */
function textWidth(text: string, font: string, locale: string): number {
  canvas ??= document.createElement("canvas").getContext("2d");
  if (canvas === null) return text.length * 8;
  canvas.font = font;
  if ("lang" in canvas) canvas.lang = locale;
  return canvas.measureText(text).width;
}
