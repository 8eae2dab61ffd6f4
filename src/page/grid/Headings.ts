import { notices } from "../../command/index.ts";
import { type GridLayout, moved, withHidden, withWidth } from "../../control/index.ts";
import type { Value } from "../../engine/index.ts";
import { type MessageFacts, type RowsMessage, sayOfRows } from "../../model/index.ts";
import { orderAfter, type ViewState } from "../../table/index.ts";
import type { HeadActions } from "./GridHead.ts";
import type { Column } from "./gridColumns.ts";
import { Sorting } from "./Sorting.ts";

/** A grid, as its headings ask it. */
interface HeadedGrid {
  readonly view: ViewState;
  readonly stage: {
    readonly columns: readonly Column[];
    readonly layout: Value<GridLayout>;
    setLayout(layout: GridLayout, kept?: boolean): void;
  };
  goToHeading(column: number): void;
}

/** What a person does with the headings of a grid, by keys and by pointer; the status line says what came of it. */
export class Headings implements HeadActions {
  readonly #grid: HeadedGrid;
  readonly #sorting: Sorting;

  constructor(grid: HeadedGrid) {
    this.#grid = grid;
    this.#sorting = new Sorting(grid.view);
  }

  /** Ends what is being sorted. @returns whether anything was */
  stopSorting(): boolean {
    return this.#sorting.stop();
  }

  #tell(name: RowsMessage, facts: MessageFacts): void {
    notices.sayNow(sayOfRows(this.#grid.view.table.locale, name, facts));
  }

  press(number: number, more: boolean): void {
    const { stage } = this.#grid;
    const { name, title } = stage.columns[number]!;
    if (name !== undefined) {
      const order = orderAfter(this.#sorting.order, name, more);
      const way = order.find((each) => each.name === name)?.direction;
      this.#sorting.sort(order, () => this.#tell(sortedMessages[way ?? "none"], { title }));
    }
    this.#grid.goToHeading(number);
  }

  /** @param done - whether the width is the last one of a movement */
  widen(number: number, width: number, done: boolean): void {
    const { stage } = this.#grid;
    const { id, title } = stage.columns[number]!;
    const layout = withWidth(stage.layout.peek(), id, width);
    stage.setLayout(layout, done);
    if (done) this.#tell("columnWidth", { title, count: layout.widths[id]! });
  }

  reorder(number: number, by: number): void {
    const { stage } = this.#grid;
    const column = stage.columns[number]!;
    stage.setLayout(moved(stage.layout.peek(), column.id, by));
    const place = stage.columns.indexOf(column);
    this.#tell("columnPlace", { title: column.title, place: String(place + 1) });
    this.#grid.goToHeading(place);
  }

  hide(number: number): void {
    const { stage } = this.#grid;
    const { id, title } = stage.columns[number]!;
    if (stage.columns.length <= 1) return;
    stage.setLayout(withHidden(stage.layout.peek(), id, true));
    this.#tell("columnHidden", { title });
    this.#grid.goToHeading(Math.min(number, stage.columns.length - 1));
  }
}

const sortedMessages = { ascending: "sortedUp", descending: "sortedDown", none: "notSorted" } as const;
