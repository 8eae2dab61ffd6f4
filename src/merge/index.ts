export { chosenRow } from "./chosenRow.ts";
export type { Conflict } from "./Conflict.ts";
export { disagree, type Mine } from "./disagree.ts";
export { type MergedRow, mergeRows, type RowConflict, sameRow, type Sides } from "./mergeRows.ts";
export { rowWithFields } from "./rowWithFields.ts";
