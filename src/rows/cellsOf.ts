import { type AnyModel, type RowOf } from "../model/index.ts";
import type { View } from "../table/index.ts";

import type { Block } from "./block.ts";
import { editText } from "./editText.ts";

/** Writes cells as `readBlock` reads them. */
export function writeBlock(block: Block): string {
  const written = (cell: string): string => (/[\t\r\n]|^"/.test(cell) ? `"${cell.replaceAll('"', '""')}"` : cell);
  const text = block.map((row) => row.map(written).join("\t")).join("\n");
  // A line break at the very end is no row, so a last row that is one blank cell needs one more.
  return block.length > 1 && text.endsWith("\n") ? `${text}\n` : text;
}

/** The cells of some rows of a view, as texts that can be read again. */
export function cellsOf<M extends AnyModel>(
  view: View<M>,
  rows: readonly RowOf<M>[],
  columns: readonly string[],
): Block {
  const { table } = view;
  return rows.map((row) => columns.map((name) => editText(table.valueOf(row, name), table.model.kindOf(name), table)));
}
