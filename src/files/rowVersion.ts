import { hash } from "node:crypto";
import type { AnyModel, RowOf } from "../model/index.ts";
import { toJson } from "../store/text/index.ts";

/** A short text that another text has as good as never: 96 bits of its SHA-256. */
export const digestOf = (data: string | Uint8Array): string => hash("sha256", data, "base64url").slice(0, 16);

/** The version of a row in a file: the same as long as what is kept of the row is. */
export const versionOfRow = <M extends AnyModel>(model: M, row: RowOf<M>): string =>
  digestOf(JSON.stringify(toJson(model, row)));
