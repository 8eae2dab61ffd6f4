import type { AnyModel, RowOf } from "../../model/index.ts";
import { toJson } from "./rows.ts";

/** One row as a line of NDJSON, with its line end. */
export const ndjsonLine = <M extends AnyModel>(model: M, row: RowOf<M>): string =>
  `${JSON.stringify(toJson(model, row))}\n`;
