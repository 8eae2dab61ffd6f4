import { internal } from "../../engine/index.ts";
import { requireOptions, requireRows } from "../../errors/index.ts";
import type { AnyModel } from "../../model/index.ts";
import { type Table, type View, viewOf, type ViewState } from "../../table/index.ts";
import { bindGrid, gridOptions, type GridOptions } from "../grid/bindGrid.ts";
import { type PagePart } from "./PagePart.ts";
import { partOf } from "./partOf.ts";

/**
 * Has `bindPage` make a grid of the `<table data-name="…">` with the name under which this is given, as {@link bindGrid} does.
 *
 * @example bindPage(document, { stock: asGrid(shown, { edit: "row", totals: ["count"] }) });
 */
export function asGrid<M extends AnyModel>(rows: View<M> | Table<M>, options: GridOptions<M> = {}): PagePart {
  requireRows("asGrid", rows);
  requireOptions("asGrid", options, gridOptions);
  const view = viewOf(rows);
  return partOf("asGrid", view[internal] as ViewState, ["table"], (element) =>
    bindGrid(element as HTMLTableElement, view, options),
  );
}
