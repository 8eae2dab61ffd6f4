import { internal } from "../../engine/index.ts";
import { requireRows } from "../../errors/index.ts";
import type { AnyModel, RowOf } from "../../model/index.ts";
import { type Table, type View, viewOf, type ViewState } from "../../table/index.ts";
import { bindList, requireListOptions } from "../bind.ts";
import type { BindOptions } from "../binding.ts";
import type { ListText } from "../list/boundList.ts";
import { type PagePart } from "./PagePart.ts";
import { partOf } from "./partOf.ts";

/**
 * Has `bindPage` show rows as the options of the `<select data-name="…">` with the name under which this is given, as
 * {@link bindList} does.
 *
 * @example bindPage(document, { beds: asList(beds, { show: "name" }) });
 */
export function asList<M extends AnyModel>(
  rows: View<M> | Table<M>,
  options: BindOptions & { readonly show?: ListText<RowOf<M>> | undefined } = {},
): PagePart {
  requireRows("asList", rows);
  requireListOptions("asList", options);
  const view = viewOf(rows);
  return partOf("asList", view[internal] as ViewState, ["select"], (element) =>
    bindList(element as HTMLSelectElement, view, options),
  );
}
