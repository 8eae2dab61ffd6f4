import { existsSync } from "node:fs";
import { basename } from "node:path";
import { type AbortSignalLike, newId, platform } from "../engine/index.ts";
import type { GivenValues, Writer } from "../store/changes/index.ts";
import { StoreError } from "../store/index.ts";
import { identifier } from "./columns.ts";
import { type Connection, loadDriver, type Statement } from "./driver.ts";
import { isBusy, storeError } from "./failures.ts";

/** Another program that writes is waited for so many milliseconds. */
const PATIENCE = 5_000;
/** So often it is looked whether another program has written, in milliseconds. */
const LOOK = 200;
/** Writes are remembered so many milliseconds: who asks for one again within that time gets its first answer. */
const REMEMBERED = 7 * 24 * 60 * 60 * 1000;
/** What the library itself keeps in the database: each write, by its running number. */
const OWN_TABLES = `
CREATE TABLE IF NOT EXISTS ironwood_write (
  number INTEGER PRIMARY KEY AUTOINCREMENT,
  id TEXT NOT NULL UNIQUE,
  written_at INTEGER NOT NULL,
  changes TEXT NOT NULL
);
CREATE TABLE IF NOT EXISTS ironwood_number (
  field TEXT PRIMARY KEY,
  last INTEGER NOT NULL
)`;

/** Which rows of one table a write has changed. */
export interface TableChanges {
  /** Keys of rows that were put in or changed; `null` for so many that they are not listed. */
  readonly keys: readonly unknown[] | null;
  /** Keys of rows that are not there any more. */
  readonly gone: readonly unknown[];
  /** The keys that rows without one of their own were given, in the order of the changes. */
  readonly given?: readonly string[] | undefined;
  /** What was given to fields of the rows. */
  readonly values?: GivenValues | undefined;
}

/** A write that was done. */
export interface DoneWrite {
  readonly number: number;
  readonly id: string;
  readonly tables: Readonly<Record<string, TableChanges>>;
}

/** A database in a file, which several programs may have open. */
export class SqliteDatabase {
  readonly place: string;
  readonly #path: string;
  #opening: Promise<Connection> | undefined;
  readonly #statements = new Map<string, Statement>();
  readonly #prepared = new Map<string, (connection: Connection) => void>();
  readonly #followers = new Set<() => void>();
  #looking: unknown;
  #dataVersion: unknown;
  /** Tells this connection from all others: what SQLite says of changes by others is of one connection. */
  #connectionId = "";
  #isOfOthers = false;
  #isClosed = false;
  /** What is done with the connection, one after the other. */
  #last: Promise<unknown> = Promise.resolve();

  /** Who writes. */
  readonly by: Writer;

  constructor(path: string, by?: Writer) {
    this.by = by;
    this.#path = path;
    this.place = basename(path);
  }

  /** Has a table made, or looked at, before anything else is done in the database. */
  prepareTable(name: string, prepare: (connection: Connection) => void): void {
    this.#prepared.set(name, prepare);
  }

  /** Leaves the file as it is made: it belongs to another program. To be said before it is opened. */
  leaveAsItIs(): void {
    this.#isOfOthers = true;
  }

  async #open(): Promise<Connection> {
    if (this.#isOfOthers && !existsSync(this.#path))
      throw new StoreError("refused", `The database ${this.place} can't be used: there is no file ${this.#path}.`);
    const Driver = await loadDriver();
    const connection = new Driver(this.#path);
    this.#statements.clear();
    this.#connectionId = newId();
    try {
      // The write-ahead log: others read while one writes. Each write is on the disk before it is acknowledged.
      const log = this.#isOfOthers ? "" : "PRAGMA journal_mode = WAL; ";
      connection.exec(`PRAGMA busy_timeout = 0; ${log}PRAGMA synchronous = FULL; PRAGMA foreign_keys = ON`);
      return connection;
    } catch (error) {
      connection.close();
      throw error;
    }
  }

  /** A statement, prepared once. */
  statement(connection: Connection, sql: string): Statement {
    let found = this.#statements.get(sql);
    if (found === undefined) {
      found = connection.prepare(sql);
      this.#statements.set(sql, found);
    }
    return found;
  }

  /** Does something with the connection, after what others do with it; where another program writes, it is tried again for a while. */
  do<T>(work: (connection: Connection) => T, signal?: AbortSignalLike): Promise<T> {
    const next = this.#last.then(() => this.#patiently(work, signal));
    this.#last = next.catch(() => undefined);
    return next;
  }

  async #patiently<T>(work: (connection: Connection) => T, signal: AbortSignalLike | undefined): Promise<T> {
    const end = platform.now() + PATIENCE;
    for (let pause = 2; ; pause = Math.min(100, pause * 2)) {
      if (signal?.aborted === true) throw signal.reason;
      if (this.#isClosed) throw new StoreError("refused", `The database ${this.place} was closed.`);
      try {
        return work(await this.#opened());
      } catch (error) {
        if (!isBusy(error) || platform.now() > end) throw storeError(error, this.place);
      }
      await new Promise<void>((go) => void platform.after(pause * (0.5 + Math.random()), go));
    }
  }

  async #opened(): Promise<Connection> {
    this.#opening ??= this.#open();
    const connection = await this.#opening.catch((error: unknown) => {
      // The next one tries again.
      this.#opening = undefined;
      throw error;
    });
    for (const [name, prepare] of this.#prepared) {
      inTransaction(connection, () => {
        connection.exec(OWN_TABLES);
        prepare(connection);
      });
      this.#prepared.delete(name);
    }
    return connection;
  }

  /** The SQL that makes what the library itself keeps; none where it is there. */
  planOwn(connection: Connection): string[] {
    const found = connection.prepare("SELECT 1 FROM sqlite_master WHERE name = 'ironwood_write'").get();
    return found === undefined ? [OWN_TABLES.trim()] : [];
  }

  /** The number of the last write. */
  lastNumber(connection: Connection): number {
    const row = this.statement(connection, "SELECT seq FROM sqlite_sequence WHERE name = 'ironwood_write'").get();
    return (row as { readonly seq: number } | undefined)?.seq ?? 0;
  }

  /** What changes whenever another connection has written anything; of this connection only. */
  stateOfOthers(connection: Connection): string {
    const [version] = this.statement(connection, "PRAGMA data_version").raw().get() as [number];
    return `${this.#connectionId}.${version}`;
  }

  /** Where the database is now: the number of the last write, and for tables in which others write untold the state of those. */
  mark(connection: Connection, isOfOthers: boolean): string {
    // First the state: what comes in between is told once more, and not never.
    const state = isOfOthers ? ` ${this.stateOfOthers(connection)}` : "";
    return `${this.lastNumber(connection)}${state}`;
  }

  /** A write that was done already, by what its caller calls it. */
  doneBefore(connection: Connection, id: string): DoneWrite | undefined {
    const row = this.statement(connection, "SELECT number, id, changes FROM ironwood_write WHERE id = ?").get([id]);
    return row === undefined ? undefined : doneWrite(row);
  }

  /** Notes that a write is done; to be called in its transaction, with the number that it was given. */
  noteWrite(connection: Connection, { number, id, tables }: DoneWrite): void {
    const now = platform.now();
    this.statement(connection, "INSERT INTO ironwood_write (number, id, written_at, changes) VALUES (?, ?, ?, ?)").run([
      number,
      id,
      now,
      JSON.stringify(tables),
    ]);
    this.statement(connection, "DELETE FROM ironwood_write WHERE written_at < ?").run([now - REMEMBERED]);
  }

  /** What was written after a number; `undefined` where that is too long ago to be known. */
  writesSince(connection: Connection, number: number): DoneWrite[] | undefined {
    const sql = "SELECT number, id, changes FROM ironwood_write WHERE number > ? ORDER BY number";
    const rows = this.statement(connection, sql).all([number]).map(doneWrite);
    const last = this.lastNumber(connection);
    if (number > last) return undefined;
    if (rows.length === 0) return number === last ? [] : undefined;
    return rows[0]!.number === number + 1 ? rows : undefined;
  }

  /** The highest running number that a column was given, or has. */
  highest(connection: Connection, table: string, column: string): number {
    const noted = this.statement(connection, "SELECT last FROM ironwood_number WHERE field = ?")
      .raw()
      .get([`${table}.${column}`]) as [number] | undefined;
    const [found] = this.statement(connection, `SELECT max(${identifier(column)}) FROM ${identifier(table)}`)
      .raw()
      .get() as [number | null];
    return Math.max(noted?.[0] ?? 0, found ?? 0);
  }

  /** Notes the highest running number of a column: it is not given again when its row is deleted. */
  noteNumber(connection: Connection, table: string, column: string, last: number): void {
    const sql = "INSERT INTO ironwood_number VALUES (?, ?) ON CONFLICT (field) DO UPDATE SET last = excluded.last";
    this.statement(connection, sql).run([`${table}.${column}`, last]);
  }

  /** Tells who follows that something may have been written. */
  wake(): void {
    for (const follower of this.#followers) follower();
  }

  /** Calls a function whenever something may have been written, by this program or by another. @returns what ends it */
  watch(follower: () => void): () => void {
    this.#followers.add(follower);
    this.#lookLater();
    return () => {
      this.#followers.delete(follower);
      if (this.#followers.size === 0) platform.cancel(this.#looking);
    };
  }

  #lookLater(): void {
    platform.cancel(this.#looking);
    this.#looking = platform.after(LOOK, () => void this.#look());
    // A program that has nothing else to do may end.
    (this.#looking as { unref?: () => void }).unref?.();
  }

  async #look(): Promise<void> {
    try {
      const version = await this.do((connection) => this.stateOfOthers(connection));
      if (version !== this.#dataVersion) this.wake();
      this.#dataVersion = version;
    } catch {
      // What can't be read now may be read the next time; who writes is told.
    }
    if (this.#followers.size > 0 && !this.#isClosed) this.#lookLater();
  }

  /** Closes the file; what is done with it after that is refused. */
  async close(): Promise<void> {
    if (this.#isClosed) return;
    platform.cancel(this.#looking);
    await this.#last;
    this.#isClosed = true;
    this.#followers.clear();
    const connection = await this.#opening?.catch(() => undefined);
    connection?.close();
  }
}

const doneWrite = (row: unknown): DoneWrite => {
  const { number, id, changes } = row as { readonly number: number; readonly id: string; readonly changes: string };
  return { number, id, tables: JSON.parse(changes) as DoneWrite["tables"] };
};

/** Does something in a transaction that writes; what it throws takes everything back. */
export function inTransaction<T>(connection: Connection, work: () => T): T {
  connection.exec("BEGIN IMMEDIATE");
  try {
    const result = work();
    connection.exec("COMMIT");
    return result;
  } catch (error) {
    try {
      connection.exec("ROLLBACK");
    } catch {
      // SQLite has taken it back itself, as when the disk is full.
    }
    throw error;
  }
}
