export { orderAfter, type OrderColumn, type OrderedBy, orderOf } from "./columns.ts";
export { ExactSum } from "./ExactSum.ts";
export { followRows, type RowChange } from "./followRows.ts";
export type { RowGroup } from "./Groups.ts";
export { titleOfRow } from "./RowCell.ts";
export { type AnyTable, type LeftOut, type RowResult, Table, table, type TableOptions } from "./Table.ts";
export { view } from "./newView.ts";
export { View } from "./View.ts";
export type { ViewOptions } from "./ViewOptions.ts";
