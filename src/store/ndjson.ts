import type { AnyModel, RowOf } from "../model/index.ts";
import { fromJson, type RowReading, toJson } from "./rows.ts";

/** One row as a line of NDJSON, with its line end. */
export const ndjsonLine = <M extends AnyModel>(model: M, row: RowOf<M>): string =>
  `${JSON.stringify(toJson(model, row))}\n`;

/** A row from a line of NDJSON. */
export function readNdjsonLine<M extends AnyModel>(model: M, line: string): RowReading<RowOf<M>> {
  let json: unknown;
  try {
    json = JSON.parse(line);
  } catch (error) {
    const message = `This line is not JSON: ${(error as Error).message}.`;
    return { ok: false, problems: [{ code: "badInput", message, severity: "error", pointer: "" }] };
  }
  return fromJson(model, json);
}
