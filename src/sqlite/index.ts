export { type SqliteOptions, type SqliteStore, sqliteStore } from "./sqliteStore.ts";
export { sqliteDatabase, type SqliteTables } from "./sqliteTables.ts";
