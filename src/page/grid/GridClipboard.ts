import { notices } from "../../command/index.ts";
import { sayOfRows } from "../../model/index.ts";
import { type Block, cellsOf, type CellProblem, writeBlock } from "../../rows/index.ts";
import { putOnClipboard } from "./clipboard.ts";
import type { CellPlace } from "./GridCursor.ts";
import { namesOf } from "./gridColumns.ts";
import type { GridStage } from "./GridStage.ts";
import type { OpenEntries } from "./OpenEntries.ts";
import { COPIED_AT_ONCE, CopyingMany } from "./copyMany.ts";
import { pasteCells } from "./pasteCells.ts";
import { PasteProblems } from "./PasteProblems.ts";

/** What a grid copies and pastes. It is loaded once a grid is there. */
export class GridClipboard {
  readonly problems: PasteProblems;

  /** What is being copied in slices. */
  #copying: CopyingMany | undefined;
  readonly #stage: GridStage;
  readonly #entries: OpenEntries;
  readonly #whyLocked: () => string | undefined;

  constructor(
    stage: GridStage,
    entries: OpenEntries,
    whyLocked: () => string | undefined,
    goTo: (problem: CellProblem) => void,
  ) {
    this.#stage = stage;
    this.#entries = entries;
    this.#whyLocked = whyLocked;
    this.problems = new PasteProblems(stage.window, goTo);
  }

  /** The rows that are selected, with all columns that are seen; else the one cell. */
  copy(event: ClipboardEvent, place: CellPlace): void {
    if (this.#stage.view.selectedCount > COPIED_AT_ONCE) {
      event.preventDefault();
      return void this.#copyMany();
    }
    const block = this.#blockAt(place);
    if (block.length === 0) return;
    putOnClipboard(event, block, this.#stage.table.ownerDocument);
    this.#sayCopied(block);
  }

  /** The same where the event is over: only text can be copied then. */
  async copyLate(place: CellPlace): Promise<void> {
    if (this.#stage.view.selectedCount > COPIED_AT_ONCE) return this.#copyMany();
    const block = this.#blockAt(place);
    if (block.length === 0) return;
    await navigator.clipboard.writeText(writeBlock(block));
    this.#sayCopied(block);
  }

  async #copyMany(): Promise<void> {
    this.#copying?.stop();
    const { view, columns } = this.#stage;
    const copying = new CopyingMany(view, namesOf(columns));
    this.#copying = copying;
    // An unsafe page has no clipboard.
    await copying.run((navigator as { readonly clipboard?: Clipboard }).clipboard);
    if (this.#copying === copying) this.#copying = undefined;
  }

  /** Ends what is being copied. @returns whether something was */
  stopCopying(): boolean {
    this.#copying?.stop();
    return this.#copying !== undefined;
  }

  #blockAt({ row, column }: CellPlace): Block {
    const { view, columns } = this.#stage;
    const { selected } = view;
    if (selected.length > 0) return cellsOf(view, selected, namesOf(columns));
    const own = columns[column]?.name;
    const one = view.at(row);
    return one === undefined || own === undefined ? [] : cellsOf(view, [one], [own]);
  }

  #sayCopied(block: Block): void {
    const { view } = this.#stage;
    if (view.selectedCount > 0) notices.sayNow(sayOfRows(view.table.locale, "copied", { count: block.length }));
  }

  /** Pastes from the cell on. What was typed in the row before is put there first. */
  paste(text: string, place: CellPlace): void {
    const locked = this.#whyLocked();
    if (locked !== undefined) return notices.sayNow(locked, "error");
    const slot = this.#stage.view.slots(place.row, place.row + 1)[0];
    if (slot !== undefined) this.#entries.commit(slot, false);
    this.problems.clear();
    pasteCells(this.#stage, text, place, this.problems);
  }

  stop(): void {
    this.stopCopying();
    this.problems.stop();
  }
}
