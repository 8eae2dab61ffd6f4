import type { AnyModel, KeyOf, Problem, RowOf } from "../../model/index.ts";
import { sayOfRows, valueIn } from "../../model/index.ts";
import { type GivenValues, keyFromJson } from "../../store/changes/index.ts";
import { fromJson, olderRow, toJson } from "../../store/text/index.ts";
import { keyIn } from "../../table/index.ts";
import { HIDDEN_KEY } from "../hiddenKey.ts";
import { digestOf } from "../rowVersion.ts";

/** The first member of the line that begins a write. */
const WRITE = "ironwood_write";
/** How such a line begins. */
export const WRITE_BEGINS = `{"${WRITE}":`;

/** What begins a write: so many rows of the lines that follow belong to it, and it is done when all of them are there. */
export interface WriteHead<M extends AnyModel> {
  readonly id: string;
  /** When it was written: RFC 9557. */
  readonly at: string;
  readonly rows: number;
  /** Keys of rows that are no more. */
  readonly deleted: readonly KeyOf<M>[];
  /** The keys that were made for its rows, where the model has no key. */
  readonly given: readonly KeyOf<M>[];
  /** What was given to fields of the rows. */
  readonly values?: GivenValues | undefined;
}

/** What a line holds. */
export type LogLine<M extends AnyModel> =
  | { readonly kind: "write"; readonly head: WriteHead<M> }
  | { readonly kind: "row"; readonly key: KeyOf<M> | undefined; readonly version: string; readonly row: RowOf<M> }
  /** `key`: of a row that can't be read, but whose key can. */
  | { readonly kind: "bad"; readonly key: KeyOf<M> | undefined; readonly problems: readonly Problem[] };

const bad = <M extends AnyModel>(message: string): LogLine<M> => ({
  kind: "bad",
  key: undefined,
  problems: [{ code: "badInput", message, severity: "error", pointer: "" }],
});

/** Reads a line of a log. @param isUtf8 - whether its bytes were */
export function readLogLine<M extends AnyModel>(model: M, text: string, isUtf8: boolean, locale: string): LogLine<M> {
  if (!isUtf8) return bad(sayOfRows(locale, "notUtf8"));
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch (error) {
    return bad(sayOfRows(locale, "notJson", { reason: (error as Error).message }));
  }
  const head = text.startsWith(WRITE_BEGINS) ? headFrom(model, json as Record<string, unknown>) : undefined;
  if (head !== undefined) return { kind: "write", head };
  const hidden = model.parts.key.length === 0 ? hiddenKeyOf(json) : undefined;
  const reading = fromJson(model, hidden === undefined ? json : hidden.rest);
  if (!reading.ok)
    return { kind: "bad", key: (hidden?.key as KeyOf<M>) ?? keyOfJson(model, json), problems: reading.problems };
  const { row } = reading;
  // A row with a key is compared as it is written; what is added besides its fields is no part of it.
  const version = digestOf(model.parts.key.length > 0 ? text : JSON.stringify(toJson(model, row)));
  const key = model.parts.key.length > 0 ? keyIn(model, row) : hidden?.key;
  return { kind: "row", key: key as KeyOf<M> | undefined, version, row };
}

/** @returns `undefined` for what begins no write, though it looks like it */
function headFrom<M extends AnyModel>(model: M, json: Record<string, unknown>): WriteHead<M> | undefined {
  const { [WRITE]: id, at, rows, deleted = [], given = [], values } = json;
  const isHead = typeof id === "string" && typeof at === "string" && Number.isInteger(rows) && (rows as number) >= 0;
  if (!isHead || !Array.isArray(deleted) || !Array.isArray(given)) return undefined;
  return {
    id,
    at,
    rows: rows as number,
    deleted: (deleted as unknown[]).map((key) => keyFromJson(model, key)),
    given: given as KeyOf<M>[],
    values: Array.isArray(values) ? (values as GivenValues) : undefined,
  };
}

function hiddenKeyOf(json: unknown): { key: string; rest: unknown } | undefined {
  const { [HIDDEN_KEY]: key, ...rest } = (json ?? {}) as Record<string, unknown>;
  return typeof key === "string" ? { key, rest } : undefined;
}

/** The key of a row that can't be read as a whole. */
function keyOfJson<M extends AnyModel>(model: M, json: unknown): KeyOf<M> | undefined {
  const names = model.parts.key;
  if (typeof json !== "object" || json === null || names.length === 0) return undefined;
  const now = model.parts.formerly.length === 0 ? json : olderRow(model, json as Record<string, unknown>).json;
  const values = names.map((name) => valueIn(now, name));
  if (values.some((value) => value === undefined || value === null)) return undefined;
  return keyFromJson(model, names.length === 1 ? values[0] : values);
}

/** A write as lines. */
export function writtenLines<M extends AnyModel>(head: WriteHead<M>, rows: readonly string[]): string {
  const { id, at, deleted, given, values } = head;
  const json = {
    [WRITE]: id,
    at,
    rows: rows.length,
    ...(deleted.length > 0 && { deleted }),
    ...(given.length > 0 && { given }),
    ...(values !== undefined && { values }),
  };
  return `${JSON.stringify(json)}\n${rows.map((row) => `${row}\n`).join("")}`;
}

/** A row as the text of its line. @param key - for a row whose model has none */
export function rowText<M extends AnyModel>(model: M, row: RowOf<M>, key?: KeyOf<M>): string {
  const json = toJson(model, row);
  return JSON.stringify(model.parts.key.length > 0 ? json : { ...json, [HIDDEN_KEY]: key });
}
