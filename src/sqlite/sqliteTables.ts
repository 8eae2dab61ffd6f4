import { IronwoodError, requireArgument, requireModel, requireOptions, unknownName } from "../errors/index.ts";
import type { AnyModel, KeyOf, RowOf } from "../model/index.ts";
import { type Database, StoreError, type StoreOptions, type WriteResult } from "../store/index.ts";
import { SqliteDatabase } from "./SqliteDatabase.ts";
import { followTables } from "./followTables.ts";
import type { Reference } from "./references.ts";
import { type SqliteStore, storeIn, tableIn, type TableWrite, writeAllIn } from "./sqliteStore.ts";
import type { TableColumns } from "./tableColumns.ts";
import type { TableInDatabase } from "./TableInDatabase.ts";

/** What a database is told of one of its tables. */
export interface SqliteTableOptions<M extends AnyModel = AnyModel> extends StoreOptions<M> {
  /** Given for a table that another program has made: which of its columns is which field, as in {@link SqliteOptions}. */
  readonly columns?: TableColumns<M> | undefined;
}

/** Several kinds of rows in one SQLite database. */
export interface SqliteTables extends Database {
  /**
   * The rows of a model, in a table of the name.
   *
   * @param options - `references`: by field, the table whose keys it has; it is a foreign key there, and a row that others refer to can't be deleted
   * `columns`: for a table that another program has made
   * @throws `nameTaken` for a name that was given before; `unknownField` for a reference of a field that the model does not have
   */
  store<M extends AnyModel>(model: M, name: string, options?: SqliteTableOptions<M>): SqliteStore<RowOf<M>, KeyOf<M>>;
  /** Closes the file, for all of its stores. */
  close(): Promise<void>;
}

/**
 * A file of SQLite with several tables, which can be written in one transaction: for `keepTogether`.
 *
 * @param path - the file; it is made when it is not there
 * @throws `badPlace` for no path. The driver is `libsql`, which is to be installed
 * @example
 * const nursery = sqliteDatabase("nursery.db");
 * const kept = await keepTogether({ stock, orders, lines }, nursery, { writeAfter: 500 });
 */
export function sqliteDatabase(
  path: string,
  options: {
    /** Who writes, or what says it, for fields with `given: "createdBy"` and `"changedBy"`. */
    readonly by?: string | (() => string) | undefined;
  } = {},
): SqliteTables {
  requireArgument(typeof path === "string", "sqliteDatabase", path, "the path of a file, as nursery.db");
  if (path === "")
    throw new IronwoodError("badPlace", "sqliteDatabase was given no path", { expected: "one, as nursery.db" });
  requireOptions("sqliteDatabase", options, { by: "textOrFunction" });
  const database = new SqliteDatabase(path, options.by);
  const tables = new Map<object, TableInDatabase<AnyModel>>();
  // What it keeps itself is there also before a table is.
  database.prepareTable("", () => undefined);
  const referring: {
    readonly rows: TableInDatabase<AnyModel>;
    readonly given: readonly (readonly [string, string])[];
  }[] = [];
  const tableOf = (name: string): TableInDatabase<AnyModel> | undefined =>
    [...tables.values()].find((each) => each.name === name);
  /** Those to tables whose key is one field: no value refers to another row. @throws {@link StoreError} for a table that was not given */
  const referencesOf = (
    rows: TableInDatabase<AnyModel>,
    given: readonly (readonly [field: string, table: string])[],
  ): Reference[] =>
    given.flatMap(([field, table]) => {
      const to = tableOf(table);
      if (to === undefined)
        throw new StoreError(
          "refused",
          `The database ${database.place} can't be used: ${rows.name} refers in ${field} to a table ${table}, and there is none.`,
        );
      const column = rows.columnNames.get(field)!;
      return to.keyColumn === undefined ? [] : [{ field, column, table, key: to.keyColumn }];
    });
  const referrersOf = (name: string): { table: string; column: string }[] =>
    referring.flatMap(({ rows, given }) =>
      referencesOf(rows, given)
        .filter(({ table }) => table === name)
        .map(({ column }) => ({ table: rows.name, column })),
    );
  return {
    place: database.place,
    store<M extends AnyModel>(model: M, name: string, options: SqliteTableOptions<M> = {}) {
      requireModel("store", model);
      requireOptions("store", options, { references: "object", columns: "object" });
      requireArgument(typeof name === "string" && name !== "", "store", name, "the name of a table");
      if ([...tables.values()].some((each) => each.name.toLowerCase() === name.toLowerCase()))
        throw new IronwoodError("nameTaken", `The table "${name}" of ${database.place} was given to two models`, {
          expected: "a name for each",
        });
      const given = Object.entries((options.references ?? {}) as Readonly<Record<string, string>>);
      const rows: TableInDatabase<M> = tableIn(database, model, name, options.columns, {
        references: () => referencesOf(rows, given),
        referrers: () => referrersOf(name),
      });
      const known = [...rows.columnNames.keys()];
      for (const [field] of given)
        if (!known.includes(field)) throw unknownName("unknownField", "The field", field, known, "references");
      if (given.length > 0) referring.push({ rows, given });
      const store = storeIn(database, rows);
      database.prepareTable(name, (connection) => rows.prepare(connection));
      tables.set(store, rows as never);
      return store;
    },
    async write(parts, { id, signal }) {
      const writes = parts.map(({ store, changes }): TableWrite<AnyModel> => {
        const rows = tables.get(store);
        requireArgument(rows !== undefined, "write", store, "a store that this database has given");
        return { rows: rows!, changes };
      });
      const results = await database.do((connection) => writeAllIn(connection, database, writes, id), signal);
      if (results.every(({ ok }) => ok)) database.wake();
      return results as unknown as WriteResult<never, never>[];
    },
    mark: () =>
      database.do((connection) =>
        database.mark(
          connection,
          [...tables.values()].some((each) => each.isOfOthers),
        ),
      ),
    follow: (since, listener, { signal }) =>
      followTables(
        { database, tables: () => [...tables.values()], use: (work) => database.do(work) },
        since,
        listener,
        signal,
      ),
    close: () => database.close(),
  };
}
