import { activeBeside } from "../dom.ts";
import { platform } from "../../engine/index.ts";
import type { CellEditing } from "./CellEditing.ts";
import type { GridCursor } from "./GridCursor.ts";
import type { GridStage } from "./GridStage.ts";
import type { OpenEntries } from "./OpenEntries.ts";
import type { PasteProblems } from "./PasteProblems.ts";

/** Keeps the focus at the cell where the cursor is, and the message of what is wrong there beside the cell. */
export class GridFocus {
  readonly #table: HTMLTableElement;
  readonly #stage: GridStage;
  readonly #cursor: GridCursor;
  readonly #cell: CellEditing;
  readonly #entries: OpenEntries;
  readonly #problems: () => PasteProblems | undefined;

  constructor(
    table: HTMLTableElement,
    stage: GridStage,
    cursor: GridCursor,
    cell: CellEditing,
    entries: OpenEntries,
    problems: () => PasteProblems | undefined,
  ) {
    this.#table = table;
    this.#stage = stage;
    this.#cursor = cursor;
    this.#cell = cell;
    this.#entries = entries;
    this.#problems = problems;
  }

  get #focused(): Element | null {
    return activeBeside(this.#table);
  }

  /** Whether the focus is anywhere in the window of the grid. */
  get isWithin(): boolean {
    return this.#focused !== null && this.#stage.window.contains(this.#focused);
  }

  /** The heading, cell or control in a cell that the cursor is at; none while its row is not in the page. */
  get element(): HTMLElement | undefined {
    const { inHead, column, slot } = this.#cursor;
    if (inHead) return this.#stage.head.headings[column];
    return this.#stage.body.rowFor(slot)?.focusable(column);
  }

  /** Puts the focus on the cell that the cursor is at, and scrolls the cell into view. */
  take(): void {
    if (!this.#cursor.inHead && this.#stage.view.length > 0) this.#stage.scrollTo(this.#cursor.row);
    const element = this.element ?? this.#table;
    this.show();
    element.focus({ preventScroll: true });
    // The stage counts with rows of one height; where they are not, the platform knows better.
    if (element !== this.#table) element.scrollIntoView({ block: "nearest", inline: "nearest" });
  }

  /** Makes the cell at the cursor the one that Tab reaches, and shows what is wrong with it. */
  show(): void {
    const active = this.element;
    const before = this.#table.querySelectorAll<HTMLElement>("[tabindex='0']");
    for (const each of before) if (each !== active) each.tabIndex = -1;
    // Where its row is not in the page, the table itself is what Tab comes to and what has the keys.
    this.#table.tabIndex = active === undefined ? 0 : -1;
    if (active !== undefined && active.tabIndex !== 0) active.tabIndex = 0;
    const has = this.#focused === this.#table;
    if (has && active !== undefined && !this.#cell.isWorking) active.focus({ preventScroll: true });
    this.showMessage();
  }

  showMessage(): void {
    const { message, control } = this.#cell;
    if (control !== undefined) return message.placeAt(control);
    const { inHead, column } = this.#cursor;
    const slot = inHead ? undefined : this.#cursor.slot;
    const cell = this.#stage.body.rowFor(slot)?.cells[column];
    if (slot === undefined || cell === undefined || !cell.contains(this.#focused)) return message.show(undefined, "");
    const { name } = this.#stage.columns[column] ?? {};
    message.show(cell, this.#entries.wrongAt(slot, name, this.#problems()?.at(slot)));
  }

  /** Called when the stage has drawn other rows. @param lost - whether the element that had the focus is gone by that */
  shown(lost: boolean): void {
    if (lost) platform.soon(() => this.#takeAgain());
    if (this.#stage.body.hasParked) platform.soon(() => this.#leaveParked());
    if (this.#cell.isGone) platform.soon(() => this.#cell.sayGone());
    this.show();
  }

  /** The cell that a person was at is not in the page any more, as when its column was hidden: the one at the cursor has the focus. */
  #takeAgain(): void {
    const active = this.#focused;
    if (this.#table.isConnected && (active === null || active === this.#table.ownerDocument.body))
      this.#cell.quietly(() => this.#table.focus({ preventScroll: true }));
    this.show();
  }

  /** The row that a person was at is not in the page any more: the table has the keys, and what was typed is in its entry. */
  #leaveParked(): void {
    const { body } = this.#stage;
    if (!body.hasParked) return;
    this.#cell.end(true);
    this.#cell.quietly(() => this.#table.focus({ preventScroll: true }));
    body.dropParked();
    this.show();
  }
}
