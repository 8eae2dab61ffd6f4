export { type SqliteOptions, type SqliteStore, sqliteStore } from "./sqliteStore.ts";
export { sqliteDatabase, type SqliteTableOptions, type SqliteTables } from "./sqliteTables.ts";
export type { TableColumn, TableColumns } from "./tableColumns.ts";
