import { notices } from "../../command/index.ts";
import { type MessageFacts, type RowsMessage, say, sayOfRows } from "../../model/index.ts";
import { cellsOf, type CellProblem, pasteBlock } from "../../rows/index.ts";
import type { ViewState } from "../../table/index.ts";
import { putOnClipboard, takeFromClipboard } from "./clipboard.ts";
import type { Column } from "./gridColumns.ts";
import type { GridStage } from "./GridStage.ts";
import type { OpenEntries } from "./OpenEntries.ts";
import type { PasteProblems } from "./PasteProblems.ts";

/** Where a person is in a grid: the place of the row in the view, and the number of the column that is seen. */
export interface CellPlace {
  readonly row: number;
  readonly column: number;
}

/** What a grid copies and pastes. */
export class GridClipboard {
  readonly #view: ViewState;

  constructor(
    private readonly stage: GridStage,
    private readonly problems: PasteProblems,
    private readonly entries: OpenEntries,
    private readonly whyLocked: () => string | undefined,
  ) {
    this.#view = stage.view;
  }

  #say(name: RowsMessage, facts?: MessageFacts): string {
    return sayOfRows(this.#view.table.locale, name, facts);
  }

  /** The rows that are selected, with all columns that are seen; else the one cell. */
  copy(event: ClipboardEvent, { row, column }: CellPlace): void {
    const view = this.#view;
    const { selected } = view;
    const own = this.stage.columns[column]?.name;
    const one = view.at(row);
    const cell = one === undefined || own === undefined ? [] : cellsOf(view, [one], [own]);
    const block = selected.length > 0 ? cellsOf(view, selected, namesOf(this.stage.columns)) : cell;
    if (block.length === 0) return;
    putOnClipboard(event, block, this.stage.table.ownerDocument);
    if (selected.length > 0) notices.sayNow(this.#say("copied", { count: block.length }));
  }

  /** Pastes from the cell on; one row into all that are selected. What was typed in the row before is put there first. */
  paste(event: ClipboardEvent, { row, column }: CellPlace): void {
    const block = takeFromClipboard(event);
    if (block === undefined) return;
    event.preventDefault();
    const locked = this.whyLocked();
    if (locked !== undefined) return notices.sayNow(locked, "error");
    const view = this.#view;
    const slot = view.slots(row, row + 1)[0];
    if (slot !== undefined) this.entries.commit(slot, false);
    this.problems.clear();
    const { columns } = this.stage;
    const result = pasteBlock(view, block, {
      row,
      columns: namesOf(columns.slice(column)),
      readOnly: namesOf(columns.filter(({ fixed }) => fixed)),
      places: block.length === 1 ? view.selectedKeys.map((key) => view.placeOf(key)) : undefined,
    });
    if (result.ok) return notices.sayNow(this.#say("pasted", { count: result.cells }));
    const heading = this.#say("notPasted", { count: result.problems.length });
    notices.sayNow(heading, "error");
    this.problems.show(
      result.problems,
      heading,
      (problem) => this.#inWords(problem),
      (place) => view.slots(place - 1, place)[0],
    );
  }

  #inWords({ row, name, message }: CellProblem): string {
    if (row === 0) return message;
    const title = name === "" ? "–" : this.#view.table.model.titleOf(name);
    return say(this.#view.table.locale, "inRow", { count: row, title, reason: message });
  }
}

const namesOf = (columns: readonly Column[]): string[] =>
  columns.flatMap(({ name }) => (name === undefined ? [] : [name]));
