import { type AnyModel, type RowOf } from "../model/index.ts";
import type { View } from "../table/index.ts";

import { type Block, requireBlock } from "./block.ts";
import { editText } from "./editText.ts";

/** Writes cells as `readBlock` reads them. */
export function writeBlock(block: Block): string {
  requireBlock("writeBlock", block);
  const rows = block.map(writeRow);
  return rows.join("\n") + endOfRows(rows.length, rows.at(-1));
}

/** One row of cells, as it stands in a block. */
export const writeRow = (row: Block[number]): string => row.map(written).join("\t");

/** What ends a block: a line break at the very end is no row, so a last row that is one blank cell needs one more. */
export const endOfRows = (count: number, last: string | undefined): string => (count > 1 && last === "" ? "\n" : "");

const written = (cell: string): string => (/[\t\r\n]|^"/.test(cell) ? `"${cell.replaceAll('"', '""')}"` : cell);

/** The cells of some rows of a view, as texts that can be read again. */
export function cellsOf<M extends AnyModel>(
  view: View<M>,
  rows: readonly RowOf<M>[],
  columns: readonly string[],
): Block {
  const { table } = view;
  return rows.map((row) => columns.map((name) => editText(table.valueOf(row, name), table.model.kindOf(name), table)));
}
