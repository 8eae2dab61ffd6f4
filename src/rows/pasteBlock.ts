import {
  type AnyModel,
  nameIn,
  pointerTo,
  type Problem,
  problemAt,
  putIn,
  type RowOf,
  say,
  sayOfRows,
} from "../model/index.ts";
import { transaction } from "../engine/index.ts";
import { requireArgument, requireOptions, requireView, unknownName } from "../errors/index.ts";
import { rowWithFields } from "../merge/index.ts";
import { type View } from "../table/index.ts";
import { type Block, requireBlock } from "./block.ts";
import { editText } from "./editText.ts";

/** What is wrong with one cell of a block. */
export interface CellProblem extends Problem {
  /** The row of the view that it was meant for, counted from 1. */
  readonly row: number;
  /** The field that it was meant for; blank where there is none. */
  readonly name: string;
}

/** What pasting a block came to. */
export type Pasted =
  | { readonly ok: true; readonly cells: number; readonly rows: number }
  | { readonly ok: false; readonly problems: readonly CellProblem[] };

/** Where a block goes. */
export interface PasteOptions {
  /** The place in the view of the first row, counted from 0. */
  readonly row: number;
  /** The fields of the columns, from the first cell on. */
  readonly columns: readonly string[];
  /** Places of rows that all get the same, where the block is one row; default: the rows from `row` on. */
  readonly places?: readonly number[] | undefined;
  /** Fields that people may not change. */
  readonly readOnly?: readonly string[] | undefined;
}

/**
 * Reads what a spreadsheet puts on the clipboard: cells apart by tabs, rows by line breaks; a cell with one of these in it
 * stands in quotation marks, and a quotation mark inside it is doubled.
 */
export function readBlock(text: string): string[][] {
  requireArgument(typeof text === "string", "readBlock", text, "a text");
  const rows: string[][] = [];
  let row: string[] = [];
  for (let at = 0; ;) {
    const { cell, end } = readCell(text, at);
    row.push(cell);
    if (text[end] === "\t") {
      at = end + 1;
      continue;
    }
    rows.push(row);
    row = [];
    at = end + (text.startsWith("\r\n", end) ? 2 : 1);
    // A line break at the very end is no row.
    if (at >= text.length) return rows;
  }
}

/** A cell from a place on, and where it ends. */
function readCell(text: string, from: number): { readonly cell: string; readonly end: number } {
  const quoted = /"([^"]*(?:""[^"]*)*)"(?=[\t\r\n]|$)/y;
  quoted.lastIndex = from;
  const found = quoted.exec(text);
  if (found !== null) return { cell: found[1]!.replaceAll('""', '"'), end: quoted.lastIndex };
  const plain = /[^\t\r\n]*/y;
  plain.lastIndex = from;
  return { cell: plain.exec(text)![0], end: plain.lastIndex };
}

interface RowChange<M extends AnyModel> {
  readonly place: number;
  readonly changes: Partial<RowOf<M>>;
  readonly cells: number;
}

/**
 * Pastes a block into rows of a view: everything or nothing. Each cell is read and checked as if it had been typed there, and
 * the rows as wholes.
 *
 * @returns how much was changed, or every problem with its row and field
 * @example pasteBlock(stock, readBlock(text), { row: 0, columns: ["height", "count"] });
 */
export function pasteBlock<M extends AnyModel>(view: View<M>, block: Block, options: PasteOptions): Pasted {
  requireView("pasteBlock", view);
  requireBlock("pasteBlock", block);
  const given = options as Partial<PasteOptions> | null;
  requireArgument(given?.row !== undefined && given.columns !== undefined, "pasteBlock", options, "{ row, columns }");
  requireOptions("pasteBlock", options, { row: "count", columns: "list", places: "list", readOnly: "list" });
  const { names } = view.table.model;
  for (const name of options.columns)
    if (!names.includes(name)) throw unknownName("unknownField", "The field", name, names, "columns of pasteBlock");
  const problems: CellProblem[] = [];
  const changes = targets(block, options).map(([cells, place]) => readRow(view, cells, place, options, problems));
  if (problems.length > 0) return { ok: false, problems };
  // By their keys, since rows may move while they are changed.
  const keyed = changes.map((change) => [view.keys(change.place, change.place + 1)[0]!, change] as const);
  const pasted = transaction<void, CellProblem>(() => {
    for (const [key, { place, changes: given }] of keyed) {
      const result = view.table.update(key, given);
      if (!result.ok) for (const problem of result.problems) problems.push(at(problem, place));
    }
  });
  if (pasted.ok) return { ok: true, rows: changes.length, cells: changes.reduce((sum, { cells }) => sum + cells, 0) };
  // Problems that the table finds at the end, as a key that stands twice, concern several rows.
  return {
    ok: false,
    problems:
      problems.length > 0
        ? problems
        : pasted.problems.map((problem) => ({ ...problem, row: 0, name: nameIn(problem.pointer) })),
  };
}

/** Which cells go into which row. */
function targets(block: Block, { row, places }: PasteOptions): (readonly [cells: readonly string[], place: number])[] {
  if (block.length === 1 && places !== undefined && places.length > 1) return places.map((place) => [block[0]!, place]);
  return block.map((cells, offset) => [cells, row + offset]);
}

function readRow<M extends AnyModel>(
  view: View<M>,
  cells: readonly string[],
  place: number,
  { columns, readOnly = [] }: PasteOptions,
  problems: CellProblem[],
): RowChange<M> {
  const { table } = view;
  const { locale, model } = table;
  const row = view.at(place);
  const changes: Record<string, unknown> = {};
  const changed: string[] = [];
  const wrong = (name: string, code: Problem["code"], message: string): void =>
    void problems.push({
      code,
      message,
      severity: "error",
      pointer: name === "" ? "" : pointerTo(name),
      row: place + 1,
      name,
    });
  if (row === undefined) wrong("", "typeMismatch", sayOfRows(locale, "noRowFor"));
  else
    cells.forEach((cell, number) => {
      const name = columns[number];
      const kind = name === undefined ? undefined : model.kindOf(name);
      if (name === undefined) return wrong("", "typeMismatch", sayOfRows(locale, "noColumn"));
      if (cell === editText(table.valueOf(row, name), kind, table)) return;
      if (kind === undefined || model.isCalculated(name) || readOnly.includes(name))
        return wrong(name, "typeMismatch", say(locale, "readOnly"));
      const reading = kind.read(cell, locale, table.timeZone);
      if (!reading.ok) return void problems.push(at(problemAt(reading.finding, kind, pointerTo(name), locale), place));
      putIn(changes, name, reading.value);
      changed.push(name);
    });
  if (row !== undefined && changed.length > 0) checkRow(view, row, changes, changed, place, problems);
  return { place, changes: changes as Partial<RowOf<M>>, cells: changed.length };
}

/** What is wrong with the row as it would be, and was not before. */
function checkRow<M extends AnyModel>(
  { table }: View<M>,
  row: RowOf<M>,
  changes: Readonly<Record<string, unknown>>,
  changed: readonly string[],
  place: number,
  problems: CellProblem[],
): void {
  const after = rowWithFields(table.model, row, changes, changed);
  const before = new Set(table.problemsOf(row).map(({ code, pointer }) => `${code} ${pointer}`));
  for (const problem of table.problemsOf(after as RowOf<M>))
    if (
      problem.severity === "error" &&
      (changed.includes(nameIn(problem.pointer)) || !before.has(`${problem.code} ${problem.pointer}`))
    )
      problems.push(at(problem, place));
}

const at = (problem: Problem, place: number): CellProblem => ({
  ...problem,
  row: place + 1,
  name: nameIn(problem.pointer),
});
