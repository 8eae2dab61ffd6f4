import { type Cell, type Column, identifier } from "./columns.ts";
import type { Statement } from "./driver.ts";

/** Where the file has more bytes, a page is looked at before it is read as one text: no text is ever larger than the runtime takes. */
const LARGE = 64 * 1024 * 1024;
/** A page with more bytes of text than this is read row by row. */
const LARGEST = 32 * 1024 * 1024;

/** The SQL by which rows of a table are read a page at a time. */
export interface PageSql {
  /** Row by row. */
  readonly rows: string;
  /** How many bytes of text a page has. */
  readonly size: string;
  /** As texts of JSON: a call of the driver for each row takes longer than the rows. */
  readonly json: string;
}

/** The rows of a page with what stands before their columns. */
export interface PageOfObjects {
  /** The place of its last row; `null` for a page without rows. */
  readonly last: number | null;
  readonly versions: readonly Cell[];
  /** The keys of rows that have none of their own. */
  readonly keys: readonly Cell[] | undefined;
  /** Objects with the cells of the rows by the names of their fields. */
  readonly rows: readonly Record<string, unknown>[];
}

/** @param first - what is read of a row before its columns: the place by which rows stand in order, the version and the key */
export function pageSql(table: string, first: readonly [string, string, string], columns: readonly Column[]): PageSql {
  const names = [...first, ...columns.map(({ name }) => identifier(name))];
  const all = names.map((each, index) => `${each} AS c${index}`).join(", ");
  const page = `SELECT ${all} FROM ${identifier(table)} WHERE ${first[0]} > ? ORDER BY ${first[0]} LIMIT ?`;
  const cell = ({ type }: Column, at: number): string =>
    // All digits that a number has, and more: it is read as the very same.
    type === "REAL" ? `CASE typeof(c${at}) WHEN 'real' THEN json(printf('%!.20g', c${at})) ELSE c${at} END` : `c${at}`;
  const cells = columns.map((column, index) => [column.field.split("."), cell(column, index + first.length)] as const);
  const texts = columns.flatMap(({ type }, index) =>
    type === "TEXT" ? [`ifnull(octet_length(c${index + first.length}), 0)`] : [],
  );
  const list = (of: string): string => `json_group_array(${of})`;
  const lists = ["max(c0)", list("c1"), first[2] === "NULL" ? "NULL" : list("c2"), list(objectOf(cells))];
  return {
    rows: page,
    size: `SELECT sum(${texts.length === 0 ? "0" : texts.join(" + ")}) FROM (${page})`,
    json: `SELECT ${lists.join(", ")} FROM (${page})`,
  };
}

/** SQL that gives a row as an object of JSON, with objects in it for groups. */
function objectOf(cells: readonly (readonly [path: readonly string[], sql: string])[]): string {
  const members = new Map<string, (readonly [path: readonly string[], sql: string])[]>();
  for (const [[name, ...inner], sql] of cells) members.set(name!, [...(members.get(name!) ?? []), [inner, sql]]);
  const parts = [...members].map(([name, inner]) => {
    const [[path, sql]] = inner as [readonly [readonly string[], string]];
    return `'${name.replaceAll("'", "''")}', ${path.length === 0 ? sql : objectOf(inner)}`;
  });
  return `json_object(${parts.join(", ")})`;
}

/** The rows behind a place, so many of them; `undefined` for a page that is large, or holds what is no value of JSON. */
export function objectsOfPage(
  prepare: (sql: string) => Statement,
  sql: PageSql,
  after: number,
  count: number,
): PageOfObjects | undefined {
  try {
    const [pages] = prepare("PRAGMA page_count").raw().get() as [number];
    const [bytes] = prepare("PRAGMA page_size").raw().get() as [number];
    const mayBeLarge = pages * bytes > LARGE;
    const [size] = mayBeLarge ? (prepare(sql.size).raw().get([after, count]) as [number | null]) : [0];
    if ((size ?? 0) > LARGEST) return undefined;
    const [last, ...texts] = prepare(sql.json).raw().get([after, count]) as [number | null, ...(string | null)[]];
    const [versions, keys, rows] = texts.map((text) => (text === null ? undefined : (JSON.parse(text) as unknown)));
    return { last, versions, keys, rows } as PageOfObjects;
  } catch (error) {
    // Bytes are no value of JSON.
    if ((error as { readonly code?: unknown }).code !== "SQLITE_ERROR") throw error;
    return undefined;
  }
}
