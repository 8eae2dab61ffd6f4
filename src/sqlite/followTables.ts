import { type AbortSignalLike, platform } from "../engine/index.ts";
import type { AnyModel } from "../model/index.ts";
import { type DatabaseNews, StoreError } from "../store/index.ts";
import type { Connection } from "./driver.ts";
import type { DoneWrite, SqliteDatabase } from "./SqliteDatabase.ts";
import type { SqliteTable } from "./SqliteTable.ts";

/** Tables of a database whose rows are followed. */
interface FollowedTables {
  readonly database: SqliteDatabase;
  readonly tables: () => readonly SqliteTable<AnyModel>[];
  readonly use: <T>(work: (connection: Connection) => T) => Promise<T>;
}

/** Tells a listener what is written in some tables after a mark, until it is aborted. */
export function followTables(
  followed: FollowedTables,
  since: string,
  listener: (news: DatabaseNews) => void,
  signal: AbortSignalLike,
): void {
  if (signal.aborted) return;
  const following = new Following(followed, Number(since), listener, signal);
  const unwatch = followed.database.watch(() => void following.look());
  signal.addEventListener("abort", unwatch, { once: true });
  void following.look();
}

class Following {
  #isLooking = false;
  #again = false;

  constructor(
    private readonly followed: FollowedTables,
    private told: number,
    private readonly listener: (news: DatabaseNews) => void,
    private readonly signal: AbortSignalLike,
  ) {}

  async look(): Promise<void> {
    if (this.#isLooking) {
      this.#again = true;
      return;
    }
    this.#isLooking = true;
    try {
      do {
        this.#again = false;
        const found = await this.followed.use((connection) => this.#news(connection));
        for (const news of found) {
          if (this.signal.aborted) return;
          this.told = Number(news.mark);
          if (news.kind === "reload" || Object.keys(news.tables).length > 0) this.listener(news);
        }
        // Something may have been written, or it may be over, while this waited.
        // eslint-disable-next-line @typescript-eslint/no-unnecessary-condition
      } while (this.#again && !this.signal.aborted);
    } catch (error) {
      // Looked at again when something is written, or soon; a failure of the place is told to who writes.
      if (!(error instanceof StoreError)) platform.report(error);
    } finally {
      this.#isLooking = false;
    }
  }

  #news(connection: Connection): DatabaseNews[] {
    const { database } = this.followed;
    const writes = database.writesSince(connection, this.told);
    if (writes === undefined) return [{ kind: "reload", mark: String(database.lastNumber(connection)) }];
    try {
      return writes.map((write) => this.#newsOf(connection, write));
    } catch (error) {
      // A row that another program has spoiled is told by who reads all again.
      if (!(error instanceof StoreError)) throw error;
      return [{ kind: "reload", mark: writes.at(-1)!.number.toString() }];
    }
  }

  #newsOf(connection: Connection, { number, id, tables: written }: DoneWrite): DatabaseNews {
    const tables: Record<string, { key: never; now: never }[]> = {};
    for (const rows of this.followed.tables()) {
      const { keys, gone } = written[rows.name] ?? { keys: [], gone: [] };
      // A row as it is now: where it was written again since, that is told as well.
      const come =
        keys === null
          ? rows.writtenBy(connection, number).map((now) => ({ key: now.key, now }))
          : keys.map((key) => ({ key, now: rows.find(connection, key as never) }));
      const changes = [...gone.map((key) => ({ key, now: undefined })), ...come];
      if (changes.length > 0) tables[rows.name] = changes as never;
    }
    return { kind: "changes", id, tables, mark: String(number) };
  }
}
