import { notices, pressUndo } from "../../command/index.ts";
import { type GridAct, gridAct, type GridState, nextEdited, undoKey } from "../../control/index.ts";
import { follow, type Stoppable } from "../../engine/index.ts";
import type { FieldState } from "../../entry/index.ts";
import type { ViewState } from "../../table/index.ts";
import { activeBeside, isElement, isOfInputMethod } from "../dom.ts";
import type { Listening } from "../listening.ts";
import { CellEditing, type EditWays, isLocked } from "./CellEditing.ts";
import { ClipboardLater } from "./ClipboardLater.ts";
import type { Column } from "./gridColumns.ts";
import { GridCursor } from "./GridCursor.ts";
import { GridFocus } from "./GridFocus.ts";
import { GridStage, type StageOptions } from "./GridStage.ts";
import { Headings } from "./Headings.ts";
import { OpenEntries } from "./OpenEntries.ts";
import type { PasteProblems } from "./PasteProblems.ts";
import type { RowOrder } from "./RowOrder.ts";

/** The options of a grid, as they are used inside it. */
export interface GridWays extends Omit<StageOptions, "readOnly">, EditWays {
  /** The field that holds the order that people choose. */
  readonly reorder: string | undefined;
}

/** A grid: carries out what a person does in it, by keys, by pointer and by the clipboard. */
export class BoundGrid {
  readonly stage: GridStage;
  readonly #cursor: GridCursor;
  readonly #focus: GridFocus;
  readonly #entries: OpenEntries;
  readonly #cell: CellEditing;
  readonly #following: Stoppable;
  readonly #headings: Headings;
  readonly #clipboard: ClipboardLater;
  /** Loaded only where people may put rows in order. */
  readonly #order: Promise<RowOrder> | undefined;
  readonly #listening: Listening;

  constructor(
    readonly table: HTMLTableElement,
    readonly view: ViewState,
    ways: GridWays,
    listening: Listening,
  ) {
    this.#listening = listening;
    this.#entries = new OpenEntries(view, (entry) => this.#cell.isOf(entry));
    this.#headings = new Headings(this);
    this.#cursor = new GridCursor(view, () => this.stage.columns.length);
    const problems = (): PasteProblems | undefined => this.#clipboard.problems;
    const options = { ...ways, readOnly: () => isLocked(ways) };
    this.#clipboard = new ClipboardLater(
      (Loaded) =>
        new Loaded(
          this.stage,
          this.#entries,
          () => this.#cell.whyLocked,
          ({ row, name }) => this.#goToPlace(row - 1, name),
        ),
    );
    this.stage = new GridStage(table, view, options, this.#headings, this.#entries, problems, listening);
    this.#cell = new CellEditing(this.stage, this.#entries, ways, listening);
    this.#focus = new GridFocus(table, this.stage, this.#cursor, this.#cell, this.#entries, problems);
    const whyLocked = (): string | undefined => (ways.readOnly() === false ? undefined : this.#cell.whyLocked);
    const { reorder } = ways;
    if (reorder !== undefined)
      this.#order = import("./RowOrder.ts").then(
        ({ RowOrder: Loaded }) => new Loaded(this.stage, reorder, whyLocked, () => this.#focus.take()),
      );
    this.stage.whenShown = (lost) => this.#focus.shown(lost);
    this.stage.anchor = () =>
      this.#focus.isWithin && !this.#cursor.inHead ? (this.#cell.slot ?? this.#cursor.currentSlot) : undefined;
    this.stage.beforeHiding = (id) => {
      if (this.stage.columns[this.#cell.column ?? -1]?.id !== id) return;
      this.#cell.end(true);
      this.#focus.take();
    };
    this.#focus.show();
    this.#following = follow(
      () => this.#cursor.currentSlot,
      (_, before) => this.#leftRow(before),
    );
    for (const type of events) table.addEventListener(type, this);
    // Some engines send these to where the selection of text is, and not to the focus.
    for (const type of clipboardEvents) table.ownerDocument.addEventListener(type, this);
  }

  get #activeColumn(): Column | undefined {
    return this.stage.columns[this.#cursor.column];
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
      case "mousedown":
        return this.#mousedown(event as MouseEvent);
      case "copy":
        if (this.#hasClipboard(event)) this.#clipboard.copy(event as ClipboardEvent, this.#cursor.place);
        return;
      case "paste":
        if (this.#hasClipboard(event)) this.#clipboard.paste(event as ClipboardEvent, this.#cursor.place);
    }
  }

  /**
   * With Shift, a press selects rows, and some engines would select their text. And a press on a caption in the cell that is edited would
   * give the focus to the cell, which could move what is pressed away from under the pointer.
   */
  #mousedown(event: MouseEvent): void {
    const { target } = event;
    const isCaption =
      isElement(target) &&
      target.closest("[data-editing]") !== null &&
      target.closest("input, select, textarea, button") === null;
    if (isCaption || (event.shiftKey && this.#cell.control === undefined)) event.preventDefault();
  }

  /** Whether copying and pasting is of the cells of this grid: the focus says so, and where there is none, the place of the event. */
  #hasClipboard({ target }: Event): boolean {
    const active = activeBeside(this.table);
    const isNowhere = active === null || active === this.table.ownerDocument.body;
    const isHere = this.#focus.isWithin || (isNowhere && this.table.contains(target as Node));
    return isHere && this.#cell.control === undefined && !this.#cursor.inHead;
  }

  /** @returns whether rows were being copied or sorted */
  #stopLongWork(): boolean {
    return this.#clipboard.stopCopying() || this.#headings.stopSorting();
  }

  #keydown(event: KeyboardEvent): void {
    if (event.defaultPrevented || event.isComposing) return;
    if (this.#cell.control !== undefined && isOfInputMethod(event)) return;
    if (event.key === "Escape" && this.#cell.control === undefined && this.#stopLongWork())
      return event.preventDefault();
    const which = this.#cell.control === undefined ? undoKey(event) : undefined;
    if (which !== undefined && this.view.table.history !== undefined) {
      event.preventDefault();
      return void pressUndo(this.view.table, which);
    }
    // Other keys are those of the list; what the list has used it has prevented.
    if (this.#cell.isOpen && event.key !== "Tab" && event.key !== "Enter") return;
    const act = gridAct(
      {
        key: event.key,
        code: event.code,
        repeated: event.repeat,
        control: event.ctrlKey || event.metaKey,
        shift: event.shiftKey,
        alt: event.altKey,
      },
      this.#state(),
    );
    if (act === undefined) return;
    // What is typed goes into the control that is made for it now.
    if (act.what !== "edit" || !act.replace) event.preventDefault();
    this.#act(act, event.target as Element);
  }

  #state(): GridState {
    const { columns, page } = this.stage;
    const { inHead, row, column, currentSlot } = this.#cursor;
    const active = this.#activeColumn;
    return {
      row: inHead ? -1 : row,
      column,
      rows: this.view.length,
      columns: columns.length,
      page,
      editing: this.#cell.control !== undefined,
      rightToLeft: getComputedStyle(this.table).direction === "rtl",
      cell: active === undefined ? "shown" : this.#cell.sortOf(active),
      selected: this.view.selectedCount > 0,
      reorders: this.#order !== undefined,
      rowChanged: currentSlot !== undefined && this.#entries.at(currentSlot)?.changed === true,
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
      case "nothing":
        return;
      case "press":
        return this.#focus.element?.click();
      case "leaveCell":
        return this.#leaveCell(act.then);
      case "breakLine":
        return this.#cell.breakLine();
      case "revertCell":
        this.#cell.end(false);
        return this.#focus.take();
      case "revertRow":
        // What was said of it does not hold any more.
        notices.clear();
        return this.#entries.at(this.#cursor.currentSlot!)?.revert();
      case "select":
        return this.#cursor.select(act.which);
      case "sort":
        return this.#headings.press(this.#cursor.column, act.more);
      case "widen":
        return this.#widen(16 * act.by);
      case "reorder":
        return this.#headings.reorder(this.#cursor.column, act.by);
      case "moveRow":
        return this.#moveRow(act.by);
      case "hide":
        return this.#headings.hide(this.#cursor.column);
    }
  }

  #widen(by: number): void {
    const { column } = this.#cursor;
    this.#headings.widen(column, this.stage.head.widthOf(column) + by, true);
  }

  #moveRow(by: number): void {
    const { currentKey } = this.view;
    void this.#order?.then((order) => order.move(currentKey, by));
  }

  /** Goes to a cell, or with row -1 to a heading. */
  #go(row: number, column: number, extend = false): void {
    this.#cell.end(true);
    if (row < 0) return this.goToHeading(column);
    if (this.view.length > 0) this.#cell.leaveRow(this.#cursor.targetOf(row));
    this.#cursor.goTo({ row, column }, extend);
    this.#focus.take();
  }

  #edit(replace: boolean): void {
    const { inHead, slot, column: number } = this.#cursor;
    const column = this.#activeColumn;
    if (inHead || slot === undefined || column?.name === undefined || this.#cell.control !== undefined) return;
    this.stage.scrollTo(this.#cursor.row);
    if (this.#cell.sortOf(column) === "toggled") return this.#act({ what: "toggle" }, this.table);
    this.#cell.begin(slot, number, replace);
    this.#focus.showMessage();
  }

  #change(work: (field: FieldState) => void): void {
    const { slot, column } = this.#cursor;
    if (slot === undefined || this.#activeColumn === undefined) return;
    this.#cell.change(slot, column, work);
    this.#focus.take();
  }

  #leaveCell(then: "down" | "up" | "next" | "before"): void {
    const place = this.#cursor.place;
    if (this.#cell.isGone) {
      // The cursor is in the row that has taken its place.
      this.#cell.end(true);
      return this.#focus.take();
    }
    if (then === "down" || then === "up") return this.#goToPlace(place.row + (then === "down" ? 1 : -1), undefined);
    const edited = this.stage.columns.map((column) => this.#cell.sortOf(column) === "edited");
    const next = nextEdited(place, then === "next" ? 1 : -1, edited, this.view.length);
    if (next !== undefined) {
      const target = this.#cursor.targetOf(next.row);
      this.#go(next.row, next.column);
      // Where the row could not be left, the person is still there.
      if (this.#cursor.currentSlot === target) this.#edit(false);
      return;
    }
    this.#cell.end(true);
    this.#focus.take();
  }

  #click(event: MouseEvent): void {
    const element = event.target as Element;
    const row = this.stage.body.rowOf(element);
    const cell = element.closest("td");
    if (row === undefined || cell === null || this.#cell.control?.contains(element) === true) return;
    const place = this.view.placeOf(this.view.table.keyAt(row.slot));
    const marked = cell === row.mark;
    const column = marked ? this.#cursor.column : row.cells.indexOf(cell);
    this.#go(place, column, event.shiftKey);
    if (!event.shiftKey && (marked || event.ctrlKey || event.metaKey)) this.#cursor.select("this");
  }

  /** The focus may come by Tab, or by what reads the page aloud. */
  #focusin({ target }: FocusEvent): void {
    if (this.#cell.isWorking || this.stage.isShowing || this.#cell.control?.contains(target as Node) === true) return;
    if (target === this.table) return this.#focus.take();
    const cell = (target as Element).closest<HTMLTableCellElement>("td, th");
    const heading = this.stage.head.headings.indexOf(cell!);
    if (heading >= 0) this.#cursor.goToHeading(heading);
    this.#focus.show();
  }

  #focusout({ relatedTarget }: FocusEvent): void {
    if (this.#cell.isWorking || this.stage.isShowing) return;
    const to = relatedTarget as Node | null;
    if (to !== null && this.stage.window.contains(to)) return;
    // Another window of the platform: the person comes back to where they are.
    if (to === null && !this.table.ownerDocument.hasFocus()) return;
    this.#listening.afterPress(() => {
      if (this.#focus.isWithin) return;
      this.#cell.end(true);
      this.#entries.commitAll();
      this.#focus.showMessage();
    });
  }

  #leftRow(before: number | undefined): void {
    if (before !== undefined && before !== this.#cell.slot) this.#entries.commit(before);
    if (this.#focus.isWithin && this.#cell.control === undefined) this.#focus.take();
  }

  /** Goes to a heading. */
  goToHeading(column: number): void {
    this.#cursor.goToHeading(column);
    this.#focus.take();
  }

  /** Goes to the row with a key, and to a column of it. */
  goTo(key: unknown, name?: string): void {
    const place = this.view.placeOf(key);
    if (place >= 0) this.#goToPlace(place, name);
  }

  #goToPlace(place: number, name: string | undefined): void {
    const column =
      name === undefined ? this.#cursor.column : this.stage.columns.findIndex((each) => each.name === name);
    this.#go(Math.max(0, Math.min(this.view.length - 1, place)), Math.max(0, column));
  }

  stop(): void {
    for (const type of events) this.table.removeEventListener(type, this);
    for (const type of clipboardEvents) this.table.ownerDocument.removeEventListener(type, this);
    this.#following.stop();
    this.#cell.end(true);
    this.#entries.stop();
    this.#cell.message.stop();
    this.#clipboard.stop();
    this.#headings.stopSorting();
    void this.#order?.then((order) => order.stop());
    this.stage.stop();
  }
}

const events = ["keydown", "click", "dblclick", "focusin", "focusout", "mousedown"] as const;
const clipboardEvents = ["copy", "paste"] as const;
