export type { Conflict } from "./Conflict.ts";
export { disagree, type Mine } from "./disagree.ts";
export { rowWithFields } from "./rowWithFields.ts";
