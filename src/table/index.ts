export type { OrderColumn } from "./columns.ts";
export { ExactSum } from "./ExactSum.ts";
export { type LeftOut, type RowResult, Table, table, type TableOptions } from "./Table.ts";
export { View, view, type ViewOptions } from "./View.ts";
