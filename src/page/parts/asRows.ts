import { internal } from "../../engine/index.ts";
import { requireOptions, requireRows } from "../../errors/index.ts";
import type { AnyModel } from "../../model/index.ts";
import { type Table, type View, viewOf, type ViewState } from "../../table/index.ts";
import { bindRows, rowsOptions, type RowsOptions } from "../rows/bindRows.ts";
import { type PagePart } from "./PagePart.ts";
import { partOf } from "./partOf.ts";

/**
 * Has `bindPage` show each row by a copy of the `<template>` in the element with `data-name="…"`, the name under which this is given,
 * as {@link bindRows} does.
 *
 * @example bindPage(document, { tasks: asRows(toDo, { commands: { removeTask } }) });
 */
export function asRows<M extends AnyModel>(rows: View<M> | Table<M>, options: RowsOptions<M> = {}): PagePart {
  requireRows("asRows", rows);
  requireOptions("asRows", options, rowsOptions);
  const view = viewOf(rows);
  return partOf("asRows", view[internal] as ViewState, [], (element) => bindRows(element, view, options));
}
