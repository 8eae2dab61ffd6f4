import { type AbortSignalLike, platform } from "../engine/index.ts";
import type { AnyModel } from "../model/index.ts";
import { type DatabaseNews, StoreError } from "../store/index.ts";
import type { Connection } from "./driver.ts";
import type { DoneWrite, SqliteDatabase } from "./SqliteDatabase.ts";
import type { TableInDatabase } from "./TableInDatabase.ts";

/** Tables of a database whose rows are followed. */
interface FollowedTables {
  readonly database: SqliteDatabase;
  readonly tables: () => readonly TableInDatabase<AnyModel>[];
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
  const [number, state] = since.split(" ");
  const following = new Following(followed, Number(number), state, listener, signal);
  const unwatch = followed.database.watch(() => void following.look());
  signal.addEventListener("abort", unwatch, { once: true });
  void following.look();
}

/** So many milliseconds are between two times that all has to be read again, at least. */
const RELOAD_PAUSE = 1_000;

class Following {
  #isLooking = false;
  #again = false;

  /** When it was told last that all has to be read again. */
  #reloadAt = -Infinity;

  constructor(
    private readonly followed: FollowedTables,
    private told: number,
    /** The state of what others write without telling it, as far as it is told. */
    private state: string | undefined,
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
          const [number, state] = news.mark.split(" ");
          this.told = Number(number);
          if (state !== undefined) this.state = state;
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
    const { database, tables } = this.followed;
    const isOfOthers = tables().some((each) => each.isOfOthers);
    const mark = database.mark(connection, isOfOthers);
    const [, state] = mark.split(" ");
    const writes = database.writesSince(connection, this.told);
    if (writes === undefined) return [{ kind: "reload", mark }];
    const told: DatabaseNews[] = [];
    try {
      for (const write of writes) {
        const news = this.#newsOf(connection, write);
        if (news === undefined) return [{ kind: "reload", mark }];
        told.push(news);
      }
    } catch (error) {
      // A row that another program has spoiled is told by who reads all again.
      if (!(error instanceof StoreError)) throw error;
      return [{ kind: "reload", mark }];
    }
    if (state === this.state || this.#waitToReload()) return told;
    return [...told, { kind: "reload", mark }];
  }

  /** Another program that writes all the time does not have all read again all the time. @returns whether it is too soon */
  #waitToReload(): boolean {
    const left = this.#reloadAt + RELOAD_PAUSE - platform.now();
    if (left <= 0) {
      this.#reloadAt = platform.now();
      return false;
    }
    const timer = platform.after(left, () => void this.look());
    (timer as { unref?: () => void }).unref?.();
    this.signal.addEventListener("abort", () => platform.cancel(timer), { once: true });
    return true;
  }

  /** @returns `undefined` where the rows are not known */
  #newsOf(connection: Connection, { number, id, tables: written }: DoneWrite): DatabaseNews | undefined {
    const tables: Record<string, { key: never; now: never }[]> = {};
    for (const rows of this.followed.tables()) {
      const { keys, gone } = written[rows.name] ?? { keys: [], gone: [] };
      // A row as it is now: where it was written again since, that is told as well.
      const come =
        keys === null
          ? rows.writtenBy(connection, number)?.map((now) => ({ key: now.key, now }))
          : keys.map((key) => ({ key, now: rows.find(connection, key as never) }));
      if (come === undefined) return undefined;
      const changes = [...gone.map((key) => ({ key, now: undefined })), ...come];
      if (changes.length > 0) tables[rows.name] = changes as never;
    }
    return { kind: "changes", id, tables, mark: String(number) };
  }
}
