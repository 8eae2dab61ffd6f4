export type { AnyEntry } from "../entry/index.ts";
export {
  bindCommand,
  bindControl,
  bindForm,
  bindList,
  bindOutput,
  bindPage,
  bindRelevant,
  type PageThings,
} from "./bind.ts";
export type { Binding, BindOptions } from "./binding.ts";
export type { OutputOptions, OutputSource } from "./output.ts";
export { adaptControl, type ControlAdapter, type Shown, type Taken } from "./controls/index.ts";
export { askFor, type AskForOptions } from "./dialog/askFor.ts";
export { bindGrid, type GridBinding, type GridOptions } from "./grid/bindGrid.ts";
export type { CommandColumn, FieldColumn, GridColumn } from "./grid/gridColumns.ts";
export type { GridLayout } from "../control/index.ts";
export { asGrid } from "./parts/asGrid.ts";
export { asList } from "./parts/asList.ts";
export { asRows } from "./parts/asRows.ts";
export type { PagePart } from "./parts/PagePart.ts";
export { bindDialog, type DialogBinding, type DialogOptions } from "./dialog/bindDialog.ts";
export { bindRows, type RowsOptions } from "./rows/bindRows.ts";
export type { ListText } from "./list/boundList.ts";
