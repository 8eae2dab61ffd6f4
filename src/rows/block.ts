import { requireArgument } from "../errors/index.ts";

/** Cells as spreadsheets have them on the clipboard: rows of texts. */
export type Block = readonly (readonly string[])[];

/** @throws `wrongType` for what is no block of cells */
export function requireBlock(call: string, block: unknown): void {
  const isRow = (row: unknown): boolean => Array.isArray(row) && row.every((cell) => typeof cell === "string");
  const isRight = Array.isArray(block) && block.every(isRow);
  requireArgument(isRight, call, block, 'a list of rows, each a list of texts, as [["AB-0042", "31.5"]]');
}
