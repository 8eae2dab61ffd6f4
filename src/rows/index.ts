export {
  type Block,
  cellsOf,
  type CellProblem,
  pasteBlock,
  type Pasted,
  type PasteOptions,
  readBlock,
  writeBlock,
} from "./block.ts";
export { type EditEntry, editEntryWith, entryOver } from "./editEntry.ts";
export { type Moved, type MoveOptions, moveRows } from "./moveRows.ts";
export { openEntries, openEntryAt } from "./openEntries.ts";
export { handOrderOf, reorderRows } from "./reorderRows.ts";
export { RowCopyState } from "./RowCopyState.ts";
export type { Committed } from "./RowLocation.ts";
export { type RowModel, rowsOf } from "./rowsOf.ts";
export type { TableEntry } from "./TableEntry.ts";
export type { TableEntryOptions } from "./TableEntryOptions.ts";
export { TableEntryState } from "./TableEntryState.ts";
export type { ViewEntry, ViewEntryOptions } from "./ViewEntry.ts";
export type { Leaving } from "./ViewEntryState.ts";
