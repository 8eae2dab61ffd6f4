import { IronwoodError, requireArgument, requireModel } from "../errors/index.ts";
import type { AnyModel, KeyOf, RowOf } from "../model/index.ts";
import type { Database, WriteResult } from "../store/index.ts";
import { SqliteDatabase } from "./SqliteDatabase.ts";
import { followTables } from "./followTables.ts";
import { SqliteTable } from "./SqliteTable.ts";
import { type SqliteStore, storeIn, type TableWrite, writeAllIn } from "./sqliteStore.ts";

/** Several kinds of rows in one SQLite database. */
export interface SqliteTables extends Database {
  /** The rows of a model, in a table of the name. @throws `nameTaken` for a name that was given before */
  store<M extends AnyModel>(model: M, name: string): SqliteStore<RowOf<M>, KeyOf<M>>;
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
export function sqliteDatabase(path: string): SqliteTables {
  requireArgument(typeof path === "string", "sqliteDatabase", path, "the path of a file, as nursery.db");
  if (path === "")
    throw new IronwoodError("badPlace", "sqliteDatabase was given no path", { expected: "one, as nursery.db" });
  const database = new SqliteDatabase(path);
  const tables = new Map<object, SqliteTable<AnyModel>>();
  // What it keeps itself is there also before a table is.
  database.prepareTable("", () => undefined);
  return {
    place: database.place,
    store(model, name) {
      requireModel("store", model);
      requireArgument(typeof name === "string" && name !== "", "store", name, "the name of a table");
      if ([...tables.values()].some((each) => each.name.toLowerCase() === name.toLowerCase()))
        throw new IronwoodError("nameTaken", `The table "${name}" of ${database.place} was given to two models`, {
          expected: "a name for each",
        });
      const rows = new SqliteTable(database, model, name);
      const store = storeIn(database, rows);
      database.prepareTable(name, (connection) => rows.prepare(connection));
      tables.set(store, rows);
      return store;
    },
    async write(parts, { id, signal }) {
      const writes = parts.map(({ store, changes }): TableWrite<AnyModel> => {
        const rows = tables.get(store);
        requireArgument(rows !== undefined, "write", store, "a store that this database has given");
        return { rows: rows!, changes: changes };
      });
      const results = await database.do((connection) => writeAllIn(connection, database, writes, id), signal);
      if (results.every(({ ok }) => ok)) database.wake();
      return results as unknown as WriteResult<never, never>[];
    },
    mark: () => database.do((connection) => String(database.lastNumber(connection))),
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
