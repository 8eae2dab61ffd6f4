import { identifier } from "./columns.ts";
import type { Connection } from "./driver.ts";

/** A column as the database has it. */
export interface ShownColumn {
  readonly name: string;
  /** The affinity by which SQLite turns what is written into numbers. */
  readonly isNumeric: boolean;
  readonly isRequired: boolean;
  readonly hasDefault: boolean;
  /** Worked out by the database: nothing can be written to it. */
  readonly isGenerated: boolean;
}

/** A foreign key of one column. */
export interface ShownReference {
  readonly column: string;
  readonly table: string;
  readonly key: string;
}

/** A table as the database has it. */
export interface TableShape {
  readonly isTable: boolean;
  readonly hasRowNumbers: boolean;
  readonly columns: readonly ShownColumn[];
  /** The sets of columns by which rows are told apart, in small letters. */
  readonly keys: readonly ReadonlySet<string>[];
  readonly references: readonly ShownReference[];
}

interface ColumnInfo {
  readonly name: string;
  readonly type: string;
  readonly notnull: number;
  readonly dflt_value: unknown;
  readonly pk: number;
  readonly hidden: number;
}

/** What the database says of one of its tables; `undefined` where there is none of the name. */
export function shapeOf(connection: Connection, name: string): TableShape | undefined {
  const [found] = connection.prepare("SELECT type, wr FROM pragma_table_list(?) WHERE schema = 'main'").all([name]) as {
    readonly type: string;
    readonly wr: number;
  }[];
  if (found === undefined) return undefined;
  const columns = connection.prepare(`PRAGMA table_xinfo(${identifier(name)})`).all() as ColumnInfo[];
  const primary = columns.filter(({ pk }) => pk > 0);
  return {
    isTable: found.type === "table",
    hasRowNumbers: found.wr === 0,
    columns: columns.map(({ name: column, type, notnull, dflt_value: standard, pk, hidden }) => ({
      name: column,
      isNumeric: isNumeric(type),
      isRequired: notnull === 1,
      // A single integer key is numbered by SQLite itself.
      hasDefault: standard !== null || (pk > 0 && primary.length === 1 && /^integer$/i.test(type)),
      isGenerated: hidden === 2 || hidden === 3,
    })),
    keys: [new Set(primary.map((each) => each.name.toLowerCase())), ...uniqueSets(connection, name)],
    references: referencesIn(connection, name),
  };
}

/** The rules of SQLite: https://www.sqlite.org/datatype3.html, "Determination Of Column Affinity". */
const isNumeric = (type: string): boolean => /INT/i.test(type) || (type !== "" && !/CHAR|CLOB|TEXT|BLOB/i.test(type));

function uniqueSets(connection: Connection, name: string): ReadonlySet<string>[] {
  const indexes = connection.prepare(`PRAGMA index_list(${identifier(name)})`).all() as {
    readonly name: string;
    readonly unique: number;
    readonly partial: number;
  }[];
  return indexes
    .filter(({ unique, partial }) => unique === 1 && partial === 0)
    .map(({ name: index }) => {
      const parts = connection.prepare(`PRAGMA index_info(${identifier(index)})`).all() as {
        readonly name: string | null;
      }[];
      return new Set(parts.map((part) => (part.name ?? "").toLowerCase()));
    });
}

function referencesIn(connection: Connection, name: string): ShownReference[] {
  const all = connection.prepare(`PRAGMA foreign_key_list(${identifier(name)})`).all() as {
    readonly id: number;
    readonly table: string;
    readonly from: string;
    readonly to: string | null;
  }[];
  return all
    .filter(({ id }) => all.filter((each) => each.id === id).length === 1)
    .map(({ table, from, to }) => ({ column: from, table, key: to ?? primaryOf(connection, table) }));
}

const primaryOf = (connection: Connection, table: string): string =>
  (connection.prepare(`PRAGMA table_xinfo(${identifier(table)})`).all() as ColumnInfo[]).find(({ pk }) => pk === 1)
    ?.name ?? "";

/** The columns of other tables that refer to one, and keep its rows from being deleted. */
export function referrersIn(
  connection: Connection,
  name: string,
): { readonly table: string; readonly column: string }[] {
  const rows = connection
    .prepare(
      `SELECT tables.name, refers."from" FROM pragma_table_list AS tables, pragma_foreign_key_list(tables.name) AS refers ` +
        `WHERE tables.schema = 'main' AND lower(refers."table") = lower(?) AND refers.on_delete IN ('NO ACTION', 'RESTRICT')`,
    )
    .raw()
    .all([name]) as [string, string][];
  return rows.map(([table, column]) => ({ table, column }));
}
