import { sayOfRows, sayOfValues } from "../../model/index.ts";
import { notices } from "../../command/index.ts";
import { type CellProblem, pasteBlock, readBlock } from "../../rows/index.ts";
import type { CellPlace } from "./GridCursor.ts";
import { namesOf } from "./gridColumns.ts";
import type { GridStage } from "./GridStage.ts";
import type { PasteProblems } from "./PasteProblems.ts";

/** So many problems are listed; how many there are is said in any case. */
const LISTED = 20;

/** Pastes cells from a cell on; one row into all that are selected. */
export function pasteCells(
  { view, columns }: Pick<GridStage, "view" | "columns">,
  text: string,
  { row, column }: CellPlace,
  problems: PasteProblems,
): void {
  const { locale } = view.table;
  const block = readBlock(text);
  const result = pasteBlock(view, block, {
    row,
    columns: namesOf(columns.slice(column)),
    readOnly: namesOf(columns.filter(({ fixed }) => fixed)),
    places: block.length === 1 ? view.selectedKeys.map((key) => view.placeOf(key)) : undefined,
  });
  if (result.ok) return notices.sayNow(sayOfRows(locale, "pasted", { count: result.cells }));
  const heading = sayOfRows(locale, "notPasted", { count: result.problems.length });
  notices.sayNow(heading, "error");
  const listed = result.problems.slice(0, LISTED).map((problem) => ({ problem, text: inWords(problem, view) }));
  problems.show(result.problems, listed, heading, (place) => view.slots(place - 1, place)[0]);
}

function inWords({ row, name, message }: CellProblem, { table }: GridStage["view"]): string {
  if (row === 0) return message;
  const title = name === "" ? "–" : table.model.titleOf(name, table.locale);
  return sayOfValues(table.locale, "inRow", { count: row, title, reason: message });
}
