import { type AbortSignalLike, newId } from "../engine/index.ts";
import { IronwoodError, requireArgument, requireModel, requireOptions } from "../errors/index.ts";
import {
  type AnyModel,
  givenFields,
  hasGivenKey,
  isForNow,
  type KeyOf,
  type RowOf,
  rowWith,
  valueIn,
} from "../model/index.ts";
import type { ChangeableStore, DatabaseNews, StoreChange, StoreNews, WriteResult } from "../store/index.ts";
import { givenAgain, giveFields, type GivenValues, highestIn, notAppended } from "../store/changes/index.ts";
import type { Connection } from "./driver.ts";
import { followTables } from "./followTables.ts";
import { inTransaction, SqliteDatabase, type TableChanges } from "./SqliteDatabase.ts";
import { MappedTable } from "./MappedTable.ts";
import type { TableTies } from "./references.ts";
import { SqliteTable } from "./SqliteTable.ts";
import type { TableColumns } from "./tableColumns.ts";
import { NotWritten, type PageEnd, type TableInDatabase } from "./TableInDatabase.ts";

/** Options of {@link sqliteStore}. */
export interface SqliteOptions<M extends AnyModel = AnyModel> {
  /** The name of the table. Default: the title of the model, in small letters, or `rows`. */
  readonly table?: string | undefined;
  /**
   * Given for a table that another program has made and may go on writing: which of its columns is which field. Fields that are not listed
   * are found in the columns of their names. The table stays as it is; cells that nobody changed, and columns that are no fields, are not
   * written.
   */
  readonly columns?: TableColumns<M> | undefined;
  /** Who writes, or what says it, for fields with `given: "createdBy"` and `"changedBy"`. */
  readonly by?: string | (() => string) | undefined;
}

/** Rows of a model in a table of an SQLite database. */
export interface SqliteStore<Row, Key> extends ChangeableStore<Row, Key> {
  /** The SQL that is run when the table is first used: none where it is there, and as the model says. @throws {@link StoreError} */
  plan(): Promise<readonly string[]>;
  /** Closes the file. */
  close(): Promise<void>;
}

type TableNews<M extends AnyModel> = Extract<StoreNews<RowOf<M>, KeyOf<M>>, { kind: "changes" }>["changes"];

/** So many rows are read at once. */
const PAGE = 5_000;

/**
 * Rows in a table of an SQLite database, which is made from the model: a column of its type for each field, with the limits of numbers,
 * the key as its primary key. Several programs may have it open; each write is one transaction, and on the disk when it is acknowledged.
 *
 * @param path - the file; it is made when it is not there
 * @param options - for a table that another program has made, `table` and `columns`
 * @throws `badPlace` for no path; `nameTaken` for two fields that would have one column. The driver is `libsql`, which is to be installed
 * @example const kept = await keep(stock, sqliteStore("nursery.db", plant), { writeAfter: 500 });
 */
export function sqliteStore<M extends AnyModel>(
  path: string,
  model: M,
  options: SqliteOptions<M> = {},
): SqliteStore<RowOf<M>, KeyOf<M>> {
  requireArgument(typeof path === "string", "sqliteStore", path, "the path of a file, as nursery.db");
  if (path === "")
    throw new IronwoodError("badPlace", "sqliteStore was given no path", { expected: "one, as nursery.db" });
  requireModel("sqliteStore", model);
  requireOptions("sqliteStore", options, { table: "text", columns: "object", by: "textOrFunction" });
  const { table = tableName(model.title), columns, by } = options;
  const database = new SqliteDatabase(path, by);
  return storeIn(database, tableIn(database, model, table, columns));
}

/** A table that is made from the model, or one of others where its columns are given. */
export function tableIn<M extends AnyModel>(
  database: SqliteDatabase,
  model: M,
  name: string,
  columns: TableColumns<M> | undefined,
  ties?: TableTies,
): TableInDatabase<M> {
  if (columns === undefined) return new SqliteTable(database, model, name, ties);
  database.leaveAsItIs();
  return new MappedTable(database, model, name, columns, ties);
}

/** The rows of a table, as a store. */
export function storeIn<M extends AnyModel>(
  database: SqliteDatabase,
  rows: TableInDatabase<M>,
): SqliteStore<RowOf<M>, KeyOf<M>> {
  let isPrepared = false;
  /** The table is made when it is used, not when it is only looked at what would be made. */
  const use = <T>(work: (connection: Connection) => T, signal?: AbortSignalLike): Promise<T> => {
    if (!isPrepared) database.prepareTable(rows.name, (connection) => rows.prepare(connection));
    isPrepared = true;
    return database.do(work, signal);
  };
  const write = async (
    changes: readonly StoreChange<RowOf<M>, KeyOf<M>>[],
    id: string,
    signal: AbortSignalLike | undefined,
  ): Promise<WriteResult<RowOf<M>, KeyOf<M>>> => {
    const result = await use((connection) => writeIn(connection, database, rows, changes, id), signal);
    if (result.ok) database.wake();
    return result;
  };
  const readPages: NonNullable<ChangeableStore<RowOf<M>, KeyOf<M>>["readPages"]> = async function* ({ signal } = {}) {
    let last: PageEnd | undefined;
    for (let line = 1; ;) {
      const after = last;
      const page = await use((connection) => rows.page(connection, after, PAGE, line), signal);
      yield page.rows;
      if (page.rows.length < PAGE) return;
      ({ last } = page);
      line += page.rows.length;
    }
  };
  return {
    place: database.place,
    async *read(options) {
      for await (const page of readPages(options)) yield* page;
    },
    readPages,
    write: (changes, { id, signal }) => write(changes, id, signal),
    mark: () => use((connection) => database.mark(connection, rows.isOfOthers)),
    follow(since, listener, { signal }) {
      const hear = (news: DatabaseNews): void => {
        if (news.kind === "reload") return listener(news);
        const changes = news.tables[rows.name] as TableNews<M> | undefined;
        // A write of other tables is none of these rows.
        if (changes !== undefined) listener({ kind: "changes", id: news.id, changes, mark: news.mark });
      };
      followTables({ database, tables: () => [rows as never], use }, since, hear, signal);
    },
    async append(row, { signal } = {}) {
      const result = await write([{ kind: "insert", row }], newId(), signal);
      if (!result.ok) throw notAppended(database.place, result);
      return { place: database.place };
    },
    plan: () => database.do((connection) => rows.plan(connection)),
    close: () => database.close(),
  };
}

interface GivenWrite<M extends AnyModel> extends TableWrite<M> {
  readonly values: GivenValues | undefined;
}

/** Gives the rows of a write what the database gives; rows that refer to one of them by a key for now, get its key. */
function giveParts<M extends AnyModel>(
  connection: Connection,
  database: SqliteDatabase,
  parts: readonly TableWrite<M>[],
): readonly GivenWrite<M>[] {
  const given = parts.map(({ rows, changes }) => {
    const columnOf = (field: string): string => rows.columnNames.get(field)!;
    const highest = (field: string): number => database.highest(connection, rows.name, columnOf(field));
    const gave = giveFields(rows.model, changes, { highest, by: database.by });
    for (const [field, what] of gave.values === undefined ? [] : givenFields(rows.model)) {
      if (what !== "number") continue;
      const numbers = gave.changes.map((change) => (change.kind === "insert" ? change.row : undefined));
      if (numbers.some((row) => row !== undefined))
        database.noteNumber(connection, rows.name, columnOf(field), highestIn(numbers, field));
    }
    return { rows, ...gave };
  });
  return withGivenKeys(parts, given);
}

/** What was given to the rows of a write when it was done first. */
function givenBefore<M extends AnyModel>(
  parts: readonly TableWrite<M>[],
  noted: Readonly<Record<string, Partial<TableChanges>>>,
): readonly TableWrite<M>[] {
  const given = parts.map(({ rows, changes }) => ({
    rows,
    changes: givenAgain(rows.model, changes, noted[rows.name]?.values),
  }));
  return withGivenKeys(parts, given);
}

/** Has rows that refer to one by a key for now refer to it by the key that it was given. */
function withGivenKeys<M extends AnyModel, W extends TableWrite<M>>(
  sent: readonly TableWrite<M>[],
  given: readonly W[],
): readonly W[] {
  /** By table and key for now, the key that was given. */
  const keys = new Map<string, ReadonlyMap<unknown, unknown>>();
  for (const [index, { rows, changes }] of given.entries())
    if (hasGivenKey(rows.model)) keys.set(rows.name, givenKeys(rows.model, sent[index]!.changes, changes));
  if (keys.size === 0) return given;
  return given.map((part) => ({ ...part, changes: part.changes.map((change) => referring(part.rows, change, keys)) }));
}

function givenKeys<M extends AnyModel>(
  model: M,
  sent: readonly StoreChange<RowOf<M>, KeyOf<M>>[],
  given: readonly StoreChange<RowOf<M>, KeyOf<M>>[],
): ReadonlyMap<unknown, unknown> {
  const [field] = model.parts.key as readonly [string];
  const keyIn = (change: StoreChange<RowOf<M>, KeyOf<M>>): unknown =>
    change.kind === "insert" ? valueIn(change.row, field) : undefined;
  return new Map(sent.map((change, index) => [keyIn(change), keyIn(given[index]!)]));
}

function referring<M extends AnyModel>(
  { references }: TableInDatabase<M>,
  change: StoreChange<RowOf<M>, KeyOf<M>>,
  keys: ReadonlyMap<string, ReadonlyMap<unknown, unknown>>,
): StoreChange<RowOf<M>, KeyOf<M>> {
  if (change.kind === "delete") return change;
  const row = references.reduce<object>((whole, { field, table }) => {
    const value = valueIn(whole, field);
    const key = isForNow(value) ? keys.get(table)?.get(value) : undefined;
    return key === undefined ? whole : rowWith(whole, field, key);
  }, change.row);
  return row === change.row ? change : { ...change, row: row as RowOf<M> };
}

/** A name that needs no quotes where that can be. */
const tableName = (title: string | undefined): string =>
  (title ?? "")
    .toLowerCase()
    .replaceAll(/[^\p{L}\p{N}]+/gu, "_")
    .replaceAll(/^_+|_+$/g, "") || "rows";

/** Changes of one table. */
export interface TableWrite<M extends AnyModel> {
  readonly rows: TableInDatabase<M>;
  readonly changes: readonly StoreChange<RowOf<M>, KeyOf<M>>[];
}

function writeIn<M extends AnyModel>(
  connection: Connection,
  database: SqliteDatabase,
  rows: TableInDatabase<M>,
  changes: readonly StoreChange<RowOf<M>, KeyOf<M>>[],
  id: string,
): WriteResult<RowOf<M>, KeyOf<M>> {
  return writeAllIn(connection, database, [{ rows, changes }], id)[0]!;
}

/** Does changes of several tables in one transaction, all of them or none. */
export function writeAllIn<M extends AnyModel>(
  connection: Connection,
  database: SqliteDatabase,
  sent: readonly TableWrite<M>[],
  id: string,
): WriteResult<RowOf<M>, KeyOf<M>>[] {
  let parts: readonly GivenWrite<M>[] = sent.map((part) => ({ ...part, values: undefined }));
  /** By the index of a part, what keeps it from being written. */
  const failures = new Map<number, NotWritten<M>>();
  try {
    return inTransaction(connection, () => {
      const before = database.doneBefore(connection, id);
      if (before !== undefined)
        return givenBefore(sent, before.tables).map(({ rows, changes }) => {
          const written = rows.writtenBefore(connection, changes, before.number, before.tables[rows.name] ?? {});
          return { ok: true, written, mark: String(before.number) };
        });
      const number = database.lastNumber(connection) + 1;
      parts = giveParts(connection, database, sent);
      const tables: Record<string, TableChanges> = {};
      const attempt = <T>(index: number, work: () => T): T | undefined => {
        try {
          return work();
        } catch (error) {
          if (!(error instanceof NotWritten)) throw error;
          failures.set(index, error as NotWritten<M>);
          return undefined;
        }
      };
      const results = parts.map(({ rows, changes, values }, index): WriteResult<RowOf<M>, KeyOf<M>> => {
        const done = attempt(index, () => rows.write(connection, changes, number));
        if (done === undefined) return { ok: false, conflicts: [] };
        tables[rows.name] = { ...done.changes, ...(values !== undefined && { values }) };
        return { ok: true, written: done.written, mark: String(number) };
      });
      if (failures.size === 0)
        for (const [index, { rows, changes }] of parts.entries())
          attempt(index, () => rows.requireReferences(connection, changes));
      if (failures.size > 0) throw new Undone();
      database.noteWrite(connection, { number, id, tables });
      return results;
    });
  } catch (error) {
    if (!(error instanceof Undone)) throw error;
    return parts.map((_, index) => failureOf(failures.get(index)));
  }
}

/** Takes back what other tables had been changed by. */
class Undone extends Error {}

function failureOf<M extends AnyModel>(failure: NotWritten<M> | undefined): WriteResult<RowOf<M>, KeyOf<M>> {
  if (failure === undefined) return { ok: false, conflicts: [] };
  const { conflicts, refused } = failure;
  if (conflicts.length === 0) return { ok: false, refused };
  const inOrder = [...conflicts].sort((a, b) => a.change - b.change);
  return { ok: false, conflicts: inOrder.map(({ key, now }) => ({ key, now })) };
}
