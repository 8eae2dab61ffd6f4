import { notices, pressUndo } from "../../command/index.ts";
import { type GridAct, gridAct, type GridState, nextEdited, undoKey } from "../../control/index.ts";
import { follow, platform, type Stoppable, Value } from "../../engine/index.ts";
import type { FieldState } from "../../entry/index.ts";
import type { ViewState } from "../../table/index.ts";
import type { Listening } from "../listening.ts";
import { CellEditing, type EditWays, isLocked } from "./CellEditing.ts";
import type { GridClipboard } from "./GridClipboard.ts";
import type { CellPlace } from "./GridCursor.ts";
import type { Column } from "./gridColumns.ts";
import { GridStage, type StageOptions } from "./GridStage.ts";
import { Headings } from "./Headings.ts";
import { OpenEntries } from "./OpenEntries.ts";
import type { PasteProblems } from "./PasteProblems.ts";
import type { RowOrder } from "./RowOrder.ts";

/** How a grid is told to work. */
export interface GridWays extends Omit<StageOptions, "readOnly">, EditWays {
  /** The field that holds the order that people choose. */
  readonly reorder: string | undefined;
}

/** A grid: where a person is in it, what they edit, select, copy and paste. */
export class BoundGrid {
  readonly stage: GridStage;
  readonly #entries: OpenEntries;
  readonly #cell: CellEditing;
  readonly #following: Stoppable;
  readonly #headings: Headings;
  /** There once it is loaded. */
  readonly #clipboard = new Value<GridClipboard | undefined>(undefined);
  readonly #loadingClipboard: Promise<GridClipboard>;
  /** Loaded only where people may put rows in order. */
  readonly #order: Promise<RowOrder> | undefined;
  #inHead = false;
  #place = 0;
  #column = 0;
  #anchor: number | undefined;
  #stopped = false;

  constructor(
    readonly table: HTMLTableElement,
    readonly view: ViewState,
    ways: GridWays,
    private readonly listening: Listening,
  ) {
    this.#entries = new OpenEntries(view);
    this.#headings = new Headings(this);
    const options = { ...ways, readOnly: () => isLocked(ways) };
    this.stage = new GridStage(table, view, options, this.#headings, this.#entries, () => this.#problems, listening);
    this.#cell = new CellEditing(this.stage, this.#entries, ways, listening);
    this.#loadingClipboard = this.#loadClipboard();
    const whyLocked = (): string | undefined => (ways.readOnly() === false ? undefined : this.#cell.whyLocked);
    const { reorder } = ways;
    if (reorder !== undefined)
      this.#order = import("./RowOrder.ts").then(
        ({ RowOrder: Loaded }) => new Loaded(this.stage, reorder, whyLocked, () => this.focus()),
      );
    this.stage.whenShown = () => this.#shown();
    this.#showActive();
    this.#following = follow(
      () => this.#currentSlot,
      (_, before) => this.#leftRow(before),
    );
    for (const type of events) table.addEventListener(type, this);
  }

  get #where(): CellPlace {
    return { row: this.#at, column: this.#column };
  }

  get #currentSlot(): number | undefined {
    const key = this.view.currentKey;
    return key === undefined ? undefined : this.view.table.slotFor(key);
  }

  /** The place of the row that the person is at: that of the current row wherever it is, else where they were. */
  get #at(): number {
    const key = this.view.currentKey;
    if (key !== undefined) this.#place = this.view.placeOf(key);
    return Math.max(0, Math.min(this.#place, this.view.length - 1));
  }

  get #activeColumn(): Column | undefined {
    return this.stage.columns[this.#column];
  }

  #slotAt(place: number): number | undefined {
    return this.view.slots(place, place + 1)[0];
  }

  handleEvent(event: Event): void {
    switch (event.type) {
      case "keydown":
        return this.#keydown(event as KeyboardEvent);
      case "click":
        return this.#click(event as MouseEvent);
      case "dblclick":
        return this.#act({ what: "edit", replace: false }, event.target as Element);
      case "focusin":
        return this.#focusin(event as FocusEvent);
      case "focusout":
        return this.#focusout(event as FocusEvent);
      case "copy":
        if (this.#cell.control === undefined && !this.#inHead) this.#copy(event as ClipboardEvent);
        return;
      case "paste":
        if (this.#cell.control === undefined && !this.#inHead) this.#paste(event as ClipboardEvent);
    }
  }

  async #loadClipboard(): Promise<GridClipboard> {
    const { GridClipboard: Loaded } = await import("./GridClipboard.ts");
    const clipboard = new Loaded(
      this.stage,
      this.#entries,
      () => this.#cell.whyLocked,
      ({ row, name }) => this.#goToPlace(row - 1, name),
    );
    if (this.#stopped) clipboard.stop();
    else this.#clipboard.write(clipboard);
    return clipboard;
  }

  get #problems(): PasteProblems | undefined {
    return this.#clipboard.read()?.problems;
  }

  /** Who copies before all is loaded gets it a moment later. */
  #copy(event: ClipboardEvent): void {
    const place = this.#where;
    const clipboard = this.#clipboard.peek();
    if (clipboard !== undefined) return clipboard.copy(event, place);
    event.preventDefault();
    this.#loadingClipboard.then((loaded) => loaded.copyLate(place)).catch((error: unknown) => platform.report(error));
  }

  #paste(event: ClipboardEvent): void {
    const text = event.clipboardData?.getData("text/plain") ?? "";
    if (text === "") return;
    event.preventDefault();
    const place = this.#where;
    const clipboard = this.#clipboard.peek();
    if (clipboard !== undefined) return clipboard.paste(text, place);
    this.#loadingClipboard
      .then((loaded) => loaded.paste(text, place))
      .catch((error: unknown) => platform.report(error));
  }

  #keydown(event: KeyboardEvent): void {
    if (event.defaultPrevented || event.isComposing) return;
    const which = this.#cell.control === undefined ? undoKey(event) : undefined;
    if (which !== undefined && this.view.table.history !== undefined) {
      event.preventDefault();
      return void pressUndo(this.view.table, which);
    }
    if (this.#cell.isOpen) return;
    const act = gridAct(
      { key: event.key, control: event.ctrlKey || event.metaKey, shift: event.shiftKey, alt: event.altKey },
      this.#state(),
    );
    if (act === undefined) return;
    // What is typed goes into the control that is made for it now.
    if (act.what !== "edit" || !act.replace) event.preventDefault();
    this.#act(act, event.target as Element);
  }

  #state(): GridState {
    const { columns, page } = this.stage;
    const column = this.#activeColumn;
    const slot = this.#currentSlot;
    return {
      row: this.#inHead ? -1 : this.#at,
      column: this.#column,
      rows: this.view.length,
      columns: columns.length,
      page,
      editing: this.#cell.control !== undefined,
      rightToLeft: getComputedStyle(this.table).direction === "rtl",
      cell: column === undefined ? "shown" : this.#cell.sortOf(column),
      reorders: this.#order !== undefined,
      rowChanged: slot !== undefined && this.#entries.at(slot)?.changed === true,
    };
  }

  #act(act: GridAct, target: Element): void {
    switch (act.what) {
      case "go":
        return this.#go(act.row, act.column, act.extend);
      case "edit":
        return this.#edit(act.replace);
      case "toggle":
        return this.#change((field) => field.choose(field.value !== true, { control: target }));
      case "clear":
        return this.#change((field) => field.choose(field.kind.empty, { control: target }));
      case "press":
        return this.#activeElement()?.click();
      case "leaveCell":
        return this.#leaveCell(act.then);
      case "breakLine":
        return this.#cell.breakLine();
      case "revertCell":
        this.#cell.end(false);
        return this.focus();
      case "revertRow":
        // What was said of it does not hold any more.
        notices.clear();
        return this.#entries.at(this.#currentSlot!)?.revert();
      case "select":
        return this.#select(act.which);
      case "sort":
        return this.#headings.press(this.#column, act.more);
      case "widen":
        return this.#headings.widen(this.#column, this.stage.head.widthOf(this.#column) + 16 * act.by, true);
      case "reorder":
        return this.#headings.reorder(this.#column, act.by);
      case "moveRow":
        return this.#moveRow(act.by);
      case "hide":
        return this.#headings.hide(this.#column);
    }
  }

  #moveRow(by: number): void {
    const { currentKey } = this.view;
    void this.#order?.then((order) => order.move(currentKey, by));
  }

  /** Goes to a cell, or with row -1 to a heading; the row becomes the current one of the view. */
  #go(place: number, column: number, extend = false): void {
    this.#cell.end(true);
    this.#column = column;
    this.#inHead = place < 0;
    if (place >= 0 && this.view.length > 0) {
      const target = this.#slotAt(place);
      const key = target === undefined ? undefined : this.view.table.keyAt(target);
      this.#cell.leaveRow(target);
      const before = this.#anchor ?? this.#currentSlot ?? this.#slotAt(place);
      this.#place = place;
      this.view.currentKey = key;
      this.#anchor = extend ? before : undefined;
      if (extend && before !== undefined && key !== undefined && this.view.has(this.view.table.keyAt(before)))
        this.view.selectRange(this.view.table.keyAt(before), key);
    }
    this.focus();
  }

  /** Puts the focus on the cell that the person is at, and has it in view. */
  focus(): void {
    if (!this.#inHead && this.view.length > 0) this.stage.scrollTo(this.#at);
    const element = this.#activeElement() ?? this.table;
    this.#showActive();
    element.focus({ preventScroll: true });
    // Sideways only: how far down it is, is counted here.
    if (element !== this.table) element.scrollIntoView({ block: "nearest", inline: "nearest" });
  }

  #activeElement(): HTMLElement | undefined {
    if (this.#inHead) return this.stage.head.headings[this.#column];
    return this.stage.body.rowFor(this.#slotAt(this.#at))?.focusable(this.#column);
  }

  /** One cell can be reached by Tab; and what is wrong with it stands beside it. */
  #showActive(): void {
    this.#column = Math.max(0, Math.min(this.#column, this.stage.columns.length - 1));
    const active = this.#activeElement();
    const before = this.table.querySelectorAll<HTMLElement>("[tabindex='0']");
    for (const each of before) if (each !== active) each.tabIndex = -1;
    // Where its row is not in the page, the table itself is what Tab comes to and what has the keys.
    this.table.tabIndex = active === undefined ? 0 : -1;
    if (active !== undefined && active.tabIndex !== 0) active.tabIndex = 0;
    const has = this.table.ownerDocument.activeElement === this.table;
    if (has && active !== undefined && !this.#cell.isWorking) active.focus({ preventScroll: true });
    this.#showMessage();
  }

  #shown(): void {
    if (this.stage.body.hasParked) platform.soon(() => this.#leaveParked());
    this.#showActive();
  }

  /** The row that a person was at is not in the page any more: the table has the keys, and what was typed is in its entry. */
  #leaveParked(): void {
    const { body } = this.stage;
    if (!body.hasParked) return;
    this.#cell.end(true);
    this.#cell.quietly(() => this.table.focus({ preventScroll: true }));
    body.dropParked();
    this.#showActive();
  }

  #showMessage(): void {
    const { message, control } = this.#cell;
    if (control !== undefined) return message.placeAt(control);
    const slot = this.#inHead ? undefined : this.#slotAt(this.#at);
    const cell = this.stage.body.rowFor(slot)?.cells[this.#column];
    const has = cell !== undefined && cell.contains(this.table.ownerDocument.activeElement);
    message.show(
      has ? cell : undefined,
      has && slot !== undefined ? this.#entries.wrongAt(slot, this.#activeColumn?.name, this.#problems?.at(slot)) : "",
    );
  }

  #edit(replace: boolean): void {
    const column = this.#activeColumn;
    const slot = this.#inHead ? undefined : this.#slotAt(this.#at);
    if (slot === undefined || column?.name === undefined || this.#cell.control !== undefined) return;
    if (this.#cell.sortOf(column) === "toggled") return this.#act({ what: "toggle" }, this.table);
    this.#cell.begin(slot, this.#column, replace);
    this.#showMessage();
  }

  #change(work: (field: FieldState) => void): void {
    const slot = this.#slotAt(this.#at);
    if (slot === undefined || this.#activeColumn === undefined) return;
    this.#cell.change(slot, this.#column, work);
    this.focus();
  }

  #leaveCell(then: "down" | "up" | "next" | "before"): void {
    const place = this.#at;
    if (then === "down" || then === "up")
      return this.#go(Math.max(0, Math.min(this.view.length - 1, place + (then === "down" ? 1 : -1))), this.#column);
    const { columns } = this.stage;
    const edited = columns.map((column) => this.#cell.sortOf(column) === "edited");
    const next = nextEdited({ row: place, column: this.#column }, then === "next" ? 1 : -1, edited, this.view.length);
    if (next !== undefined) {
      const key = this.view.keys(next.row, next.row + 1)[0];
      this.#go(next.row, next.column);
      // Where the row could not be left, the person is still there.
      if (this.view.currentKey === key) this.#edit(false);
      return;
    }
    this.#cell.end(true);
    this.focus();
  }

  #select(which: "this" | "only" | "all" | "none"): void {
    const { view } = this;
    if (which === "all") return view.selectAll();
    if (which === "none") {
      view.selectedKeys = [];
      return;
    }
    const key = view.keys(this.#at, this.#at + 1)[0];
    if (key === undefined) return;
    if (which === "only") view.selectedKeys = [key];
    else view.toggleSelected(key);
  }

  #click(event: MouseEvent): void {
    const element = event.target as Element;
    const row = this.stage.body.rowOf(element);
    const cell = element.closest("td");
    if (row === undefined || cell === null || this.#cell.control?.contains(element) === true) return;
    const place = this.view.placeOf(this.view.table.keyAt(row.slot));
    const marked = cell === row.mark;
    const column = marked ? this.#column : row.cells.indexOf(cell);
    this.#go(place, column, event.shiftKey);
    if (!event.shiftKey && (marked || event.ctrlKey || event.metaKey)) this.#select("this");
  }

  /** The focus may come by Tab, or by what reads the page aloud. */
  #focusin({ target }: FocusEvent): void {
    if (this.#cell.isWorking || target === this.#cell.control) return;
    if (target === this.table) return this.focus();
    const cell = (target as Element).closest<HTMLTableCellElement>("td, th");
    const heading = this.stage.head.headings.indexOf(cell!);
    if (heading >= 0) {
      this.#inHead = true;
      this.#column = heading;
    }
    this.#showActive();
  }

  #focusout({ relatedTarget }: FocusEvent): void {
    if (this.#cell.isWorking) return;
    const to = relatedTarget as Node | null;
    if (to !== null && this.stage.window.contains(to)) return;
    // Another window of the platform: the person comes back to where they are.
    if (to === null && !this.table.ownerDocument.hasFocus()) return;
    this.listening.afterPress(() => {
      if (this.stage.window.contains(this.table.ownerDocument.activeElement)) return;
      this.#cell.end(true);
      this.#entries.commitAll();
      this.#showMessage();
    });
  }

  #leftRow(before: number | undefined): void {
    if (before !== undefined) this.#entries.commit(before);
    const active = this.table.ownerDocument.activeElement;
    if (active === null || !this.stage.window.contains(active) || this.#cell.control !== undefined) return;
    this.focus();
  }

  /** Goes to a heading. */
  goToHeading(column: number): void {
    this.#inHead = true;
    this.#column = column;
    this.focus();
  }

  /** Goes to the row with a key, and to a column of it. */
  goTo(key: unknown, name?: string): void {
    const place = this.view.placeOf(key);
    if (place >= 0) this.#goToPlace(place, name);
  }

  #goToPlace(place: number, name: string | undefined): void {
    const column = name === undefined ? this.#column : this.stage.columns.findIndex((each) => each.name === name);
    this.#go(Math.max(0, Math.min(this.view.length - 1, place)), Math.max(0, column));
  }

  stop(): void {
    for (const type of events) this.table.removeEventListener(type, this);
    this.#following.stop();
    this.#cell.end(true);
    this.#entries.commitAll();
    this.#entries.stop();
    this.#cell.message.stop();
    this.#stopped = true;
    this.#clipboard.peek()?.stop();
    void this.#order?.then((order) => order.stop());
    this.stage.stop();
    this.table.removeAttribute("tabindex");
  }
}

const events = ["keydown", "click", "dblclick", "focusin", "focusout", "copy", "paste"] as const;
