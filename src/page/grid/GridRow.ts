import { untracked } from "../../engine/index.ts";
import { type AnyFieldState, FieldState } from "../../entry/index.ts";
import { pointerTo, type Problem } from "../../model/index.ts";
import type { TableEntryState } from "../../rows/index.ts";
import type { ViewState } from "../../table/index.ts";
import { CommandButton } from "../commandButton.ts";
import { placeInOrder, toggleAttribute } from "../dom.ts";
import type { Listening } from "../listening.ts";
import type { Column } from "./gridColumns.ts";

/** What a row of a grid shows. */
export interface RowFacts {
  readonly slot: number;
  readonly row: object;
  /** Its place in the view, counted from 0. */
  readonly place: number;
  readonly current: boolean;
  readonly selected: boolean;
  /** The entry that is open over it. */
  readonly entry: TableEntryState | undefined;
  /** What of it is not saved yet. */
  readonly unsaved: "new" | "changed" | "conflict" | undefined;
  /** What was wrong with what was pasted into it. */
  readonly pasted: ReadonlyMap<string, Problem> | undefined;
  readonly readOnly: boolean;
}

/** What rows of one grid share. */
export interface RowContext {
  readonly view: ViewState;
  readonly listening: Listening;
  readonly say: (
    name: "markChanged" | "markWrong" | "markGone" | "markNew" | "markUnsaved" | "markConflict" | "markSelected",
  ) => string;
  readonly commandLabel: (column: Column, row: unknown) => string;
}

/** A row of a grid in the page: it is filled with one row of the view after the other. */
export class GridRow {
  readonly element: HTMLTableRowElement;
  readonly mark: HTMLTableCellElement;
  cells: HTMLTableCellElement[] = [];
  slot = -1;
  #columns: readonly Column[] = [];
  #row: object | undefined;
  /** The language in which it is shown. */
  #locale: string | undefined;
  #hadEntry = false;
  #marks = "";
  #buttons: (CommandButton | undefined)[] = [];
  /** The column whose cell holds a control now: it shows itself. */
  editing = -1;

  /** Whether its slot is of rows that were loaded before. */
  isOfBefore = false;

  readonly #context: RowContext;

  constructor(document: Document, context: RowContext) {
    this.#context = context;
    this.element = document.createElement("tr");
    this.mark = document.createElement("td");
    this.mark.dataset["mark"] = "";
    this.mark.setAttribute("aria-colindex", "1");
    this.element.append(this.mark);
  }

  /** Gives it cells for these columns. */
  lay(columns: readonly Column[], lay: (cell: HTMLElement, column: number) => void): void {
    if (columns === this.#columns) return;
    // The cell of a column stays its cell, with what it shows and the control that it may have, wherever the column goes.
    const before = new Map(this.#columns.map(({ id }, number) => [id, this.cells[number]!]));
    const edited = this.#columns[this.editing]?.id;
    this.editing = columns.findIndex(({ id }) => id === edited);
    this.#columns = columns;
    this.#stopButtons();
    this.cells = columns.map(({ id, align }, number) => {
      const cell = before.get(id) ?? this.element.ownerDocument.createElement("td");
      before.delete(id);
      cell.setAttribute("aria-colindex", String(number + 2));
      if (this.editing !== number) cell.tabIndex = -1;
      if (align !== "start") cell.dataset["align"] = align;
      return cell;
    });
    for (const cell of before.values()) cell.remove();
    placeInOrder(this.element, this.cells, this.mark.nextElementSibling);
    lay(this.mark, -1);
    this.cells.forEach(lay);
    this.#row = undefined;
  }

  show(facts: RowFacts): void {
    const { slot, row, place, entry, pasted } = facts;
    const { element } = this;
    const { locale } = this.#context.view.table;
    const other = row !== this.#row || slot !== this.slot || locale !== this.#locale;
    this.#locale = locale;
    this.slot = slot;
    this.isOfBefore = false;
    this.#row = row;
    toggleAttribute(element, "aria-rowindex", String(place + 2));
    toggleAttribute(element, "aria-current", facts.current ? "true" : undefined);
    toggleAttribute(element, "aria-selected", String(facts.selected));
    const wrong = this.#showMarks(facts);
    // Most rows that are shown again are as they were.
    const same = !other && entry === undefined && !this.#hadEntry && pasted === undefined && !wrong;
    if (!same) this.#showCells(facts, other);
    this.#hadEntry = entry !== undefined || pasted !== undefined || wrong;
  }

  /** Shows that the row is edited on though it is not in the view any more. */
  showGone(): void {
    if (this.#marks === "gone") return;
    this.#marks = "gone";
    toggleAttribute(this.element, "data-gone", "");
    toggleAttribute(this.element, "aria-rowindex", undefined);
    toggleAttribute(this.element, "aria-current", undefined);
    this.mark.textContent = "–";
    toggleAttribute(this.mark, "aria-label", this.#context.say("markGone"));
  }

  #showMarks({ entry, row, selected, pasted, unsaved }: RowFacts): boolean {
    const { table } = this.#context.view;
    const own = entry === undefined ? table.problemsOf(row) : entry.visibleProblems;
    const wrong = pasted !== undefined || own.some(({ severity }) => severity === "error");
    const changed = entry?.changed === true;
    const marks = `${wrong ? "w" : ""}${changed ? "c" : ""}${unsaved ?? ""}${selected ? "s" : ""}`;
    if (marks === this.#marks) return wrong;
    this.#marks = marks;
    toggleAttribute(this.element, "data-gone", undefined);
    toggleAttribute(this.element, "data-wrong", wrong ? "" : undefined);
    toggleAttribute(this.element, "data-changed", changed ? "" : undefined);
    const { say } = this.#context;
    toggleAttribute(this.element, "data-unsaved", unsaved);
    const words = [
      wrong && say("markWrong"),
      changed && say("markChanged"),
      unsaved === "new" && say("markNew"),
      unsaved === "changed" && say("markUnsaved"),
      unsaved === "conflict" && say("markConflict"),
      selected && say("markSelected"),
    ].filter(Boolean);
    const signs = [
      wrong && "▲",
      changed && "●",
      unsaved === "new" && "+",
      unsaved === "changed" && "○",
      unsaved === "conflict" && "≠",
    ];
    this.mark.textContent = (signs.find((sign) => sign !== false) ?? "") + (selected ? "✓" : "");
    toggleAttribute(this.mark, "aria-label", words.length > 0 ? words.join(", ") : undefined);
    return wrong;
  }

  #showCells(facts: RowFacts, other: boolean): void {
    for (let number = 0; number < this.#columns.length; number++) {
      if (number === this.editing) continue;
      const column = this.#columns[number]!;
      if (column.name === undefined) this.#showButton(number, facts, other);
      else this.#showField(this.cells[number]!, column, facts);
    }
  }

  #showField(cell: HTMLElement, { name, fixed }: Column, { row, entry, pasted, readOnly }: RowFacts): void {
    const { table } = this.#context.view;
    const field = entry?.core.field(name!);
    const own = field instanceof FieldState ? field : undefined;
    const text = field === undefined ? table.showField(row, name!) : fieldText(field);
    const node = cell.firstChild;
    if (node === null) cell.textContent = text;
    else if (node.nodeValue !== text) node.nodeValue = text;
    const problems = field === undefined ? table.problemsOf(row) : field.visibleProblems;
    const at = pointerTo(name!);
    const wrong =
      own?.unreadable === true ||
      pasted?.has(name!) === true ||
      problems.some(({ pointer, severity }) => severity === "error" && pointer === at);
    toggleAttribute(cell, "aria-invalid", wrong ? "true" : undefined);
    // Where nothing can be changed, the grid says so as a whole.
    const locked = !readOnly && (fixed || own?.readOnly === true);
    toggleAttribute(cell, "aria-readonly", locked ? "true" : undefined);
    toggleAttribute(cell, "data-changed", own?.changed === true ? "" : undefined);
  }

  #showButton(number: number, { row }: RowFacts, other: boolean): void {
    if (!other && this.#buttons[number] !== undefined) return;
    const column = this.#columns[number]!;
    const cell = this.cells[number]!;
    this.#buttons[number]?.stop();
    const button = cell.querySelector("button") ?? this.#newButton(cell);
    const command = column.command!.on(row);
    button.textContent = "";
    button.removeAttribute("aria-label");
    // What a button follows is its own affair, not that of the row.
    this.#buttons[number] = untracked(() => new CommandButton(button, command, this.#context.listening));
    button.setAttribute("aria-label", this.#context.commandLabel(column, row));
  }

  #newButton(cell: HTMLElement): HTMLButtonElement {
    const button = cell.ownerDocument.createElement("button");
    button.type = "button";
    button.tabIndex = -1;
    cell.append(button);
    return button;
  }

  /** What of a cell gets the focus. */
  focusable(column: number): HTMLElement | undefined {
    const cell = this.cells[column];
    return cell?.querySelector<HTMLElement>("button, input, select, textarea") ?? cell;
  }

  /** Has all of it shown again, as after a cell was edited. */
  forget(): void {
    this.#row = undefined;
    this.#marks = "?";
  }

  #stopButtons(): void {
    for (const button of this.#buttons) button?.stop();
    this.#buttons = [];
  }

  stop(): void {
    this.#stopButtons();
    this.element.remove();
  }
}

const fieldText = (field: AnyFieldState): string => (field.relevant ? field.display : "");
