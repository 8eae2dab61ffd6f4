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
export { editEntry } from "./editEntry.ts";
export { type Moved, type MoveOptions, moveRows } from "./moveRows.ts";
export { OpenRows, openRows } from "./openRows.ts";
export { handOrderOf, reorderRows } from "./reorderRows.ts";
export type { Committed } from "./Place.ts";
export { RowCopy } from "./RowCopy.ts";
export { TableEntry, type TableEntryOptions } from "./TableEntry.ts";
export { ViewEntry, type ViewEntryOptions } from "./ViewEntry.ts";
export { type RowModel, rowsOf } from "./rowsOf.ts";
