export { type SqliteOptions, type SqliteStore, sqliteStore } from "./sqliteStore.ts";
