import { truncate } from "node:fs/promises";
import { type AbortSignalLike, newId } from "../../engine/index.ts";
import type { AnyModel, KeyOf, Problem, RowOf } from "../../model/index.ts";
import { judgeChanges, keyedRows } from "../../store/changes/index.ts";
import {
  type ChangeableStore,
  type StoreChange,
  StoreError,
  type StoreNews,
  type StoredRow,
  type VersionedRow,
  type WriteResult,
} from "../../store/index.ts";
import { lookUpOf } from "../../table/index.ts";
import { appendText } from "../appendText.ts";
import { guarded } from "../failures.ts";
import { inTurn } from "../inTurn.ts";
import { locked } from "../locked.ts";
import { cutNotice, NEWLINE, tornNotice } from "../lineAppender.ts";
import { identityOf, lookRegularly } from "../polling.ts";
import { versionOfRow } from "../rowVersion.ts";
import { compactLog, isMostlyOld } from "./compactLog.ts";
import { logEvents, type LogEvent, type PlacedLine } from "./logEvents.ts";
import { rowText, type WriteHead, writtenLines } from "./logLine.ts";
import { markAt, type OtherLine, RowLog } from "./RowLog.ts";

type Change<M extends AnyModel> = StoreChange<RowOf<M>, KeyOf<M>>;
type Result<M extends AnyModel> = WriteResult<RowOf<M>, KeyOf<M>>;
type News<M extends AnyModel> = StoreNews<RowOf<M>, KeyOf<M>>;
type Read<M extends AnyModel> = StoredRow<RowOf<M>> & { readonly key?: KeyOf<M>; readonly version?: string };

/** Rows in a file of JSON lines, to which every change is added: of two lines with one key the later holds. */
export class LogStore<M extends AnyModel> implements ChangeableStore<RowOf<M>, KeyOf<M>> {
  readonly place: string;
  readonly #path: string;
  readonly #model: M;
  readonly #locale: string;
  /** What was learnt of the file so far; begun when something is written. */
  #log: RowLog<M>;

  constructor(path: string, model: M, locale: string) {
    this.place = path;
    this.#path = path;
    this.#model = model;
    this.#locale = locale;
    this.#log = this.#newLog(false);
  }

  #newLog(holdsRows: boolean): RowLog<M> {
    return new RowLog(this.#model, this.#locale, holdsRows);
  }

  async *read({ signal }: { readonly signal?: AbortSignalLike | undefined } = {}): AsyncIterable<Read<M>> {
    if (signal?.aborted === true) throw signal.reason;
    const log = await guarded(this.#path, "read", signal, () => this.#readAll(signal));
    const others = [...log.others].sort((a, b) => a.line - b.line);
    let next = 0;
    for (const { key, version, row, line } of log.rows.values()) {
      for (; next < others.length && others[next]!.line < line; next++) yield unread(others[next]!);
      yield { ok: true, key, version, row: row!, line };
    }
    for (; next < others.length; next++) yield unread(others[next]!);
  }

  async #readAll(signal: AbortSignalLike | undefined): Promise<RowLog<M>> {
    const log = this.#newLog(true);
    if ((await identityOf(this.#path)) === "") return log;
    await log.catchUp(this.#path);
    if (log.tail !== "halfWrite") return log;
    // Somebody is writing now; or had begun to when the program was ended, and then that is cut off.
    await locked(this.#path, (wholeUpTo) => this.#tidyEnd(wholeUpTo), signal);
    const again = this.#newLog(true);
    await again.catchUp(this.#path);
    return again;
  }

  /** Brings what is known of the file to what it is. */
  async #catchUp(): Promise<RowLog<M>> {
    if ((await identityOf(this.#path)) === "") this.#log = this.#newLog(false);
    else if (!(await this.#log.catchUp(this.#path))) {
      this.#log = this.#newLog(false);
      await this.#log.catchUp(this.#path);
    }
    return this.#log;
  }

  /**
   * Brings the end of the file to be the end of a line. What a program had begun to write that was killed is taken off: nobody was told that
   * it is saved. What is not whole for another reason, as where somebody has taken a line out by hand, stays.
   *
   * @param wholeUpTo - how many bytes the file had when a program began that was killed
   * @returns what is told of it
   */
  async #tidyEnd(wholeUpTo: number | undefined): Promise<string | undefined> {
    const log = await this.#catchUp();
    if (log.tail === "none") return undefined;
    if (log.tail === "halfWrite" && wholeUpTo === log.upTo) {
      await truncate(this.#path, log.upTo);
      log.tail = "none";
      return cutNotice(this.#path, log.lineCount + 1);
    }
    await appendText(this.#path, (lastByte) => (lastByte === NEWLINE ? "" : "\n"));
    await this.#catchUp();
    return tornNotice(this.#path, log.lineCount + 1);
  }

  append(
    row: RowOf<M>,
    { signal }: { readonly signal?: AbortSignalLike | undefined } = {},
  ): Promise<{ place: string; notice?: string }> {
    return inTurn(this.#path, () =>
      guarded(this.#path, "written", signal, () =>
        locked(
          this.#path,
          async (wholeUpTo, isFile) => {
            if (!isFile) {
              await appendText(this.#path, () => `${rowText(this.#model, row)}\n`);
              return { place: this.place };
            }
            const notice = await this.#tidyEnd(wholeUpTo);
            this.#refuseTaken(row);
            const text = rowText(this.#model, row);
            // Behind a write that is not whole a line alone would be taken for one of its lines.
            const isApart = this.#log.tail === "halfWrite";
            await this.#add(isApart ? writtenLines(newHead(newId()), [text]) : `${text}\n`);
            return notice === undefined ? { place: this.place } : { place: this.place, notice };
          },
          signal,
        ),
      ),
    );
  }

  /** @throws {@link StoreError} where another row has the key */
  #refuseTaken(row: RowOf<M>): void {
    const judged = judgeChanges(this.#model, [{ kind: "insert", row }], this.#there());
    if (judged.ok || !("refused" in judged)) return;
    throw new StoreError("refused", `Nothing was put into ${this.place}. ${judged.refused[0]!.problems[0]!.message}`);
  }

  #there(): { place: string; versionOf: (key: string | number | boolean) => string | undefined } {
    const { rows } = this.#log;
    return { place: this.place, versionOf: (key) => rows.get(key)?.version };
  }

  async #add(text: string): Promise<void> {
    await appendText(this.#path, () => text);
    await this.#catchUp();
  }

  async write(
    changes: readonly Change<M>[],
    { id, signal }: { readonly id: string; readonly signal?: AbortSignalLike | undefined },
  ): Promise<Result<M>> {
    if (signal?.aborted === true) throw signal.reason;
    return inTurn(this.#path, () =>
      guarded(this.#path, "written", signal, () =>
        locked(this.#path, (wholeUpTo) => this.#write(changes, id, wholeUpTo), signal),
      ),
    );
  }

  async #write(changes: readonly Change<M>[], id: string, wholeUpTo: number | undefined): Promise<Result<M>> {
    await this.#tidyEnd(wholeUpTo);
    const model = this.#model;
    const before = this.#log.writes.get(id);
    if (before !== undefined) return this.#answer(keyedRows(model, changes, before.given).rows);
    const judged = judgeChanges(model, changes, this.#there());
    if (!judged.ok) {
      if ("refused" in judged) return judged;
      const conflicts: { key: KeyOf<M>; now: VersionedRow<RowOf<M>, KeyOf<M>> | undefined }[] = [];
      const log = await this.#readAll(undefined);
      for (const key of judged.conflicts) {
        const now = log.rows.get(lookUpOf(key));
        conflicts.push({ key, now: now && { key: now.key, version: now.version, row: now.row! } });
      }
      return { ok: false, conflicts };
    }
    const { rows, gone, given } = judged;
    const texts = rows.flatMap((each) => (each === undefined ? [] : [rowText(model, each.row, each.key)]));
    await this.#add(writtenLines({ ...newHead<M>(id), deleted: gone, given }, texts));
    const answer = this.#answer(rows);
    await this.#compact();
    return answer;
  }

  #answer(rows: readonly ({ readonly key: KeyOf<M>; readonly row: RowOf<M> } | undefined)[]): Result<M> {
    const written = rows.map((each) => each && { ...each, version: versionOfRow(this.#model, each.row) });
    return { ok: true, written, mark: this.#log.mark };
  }

  /** What was written is written; where there is no room to make it compact, it is done another time. */
  async #compact(): Promise<void> {
    if (!isMostlyOld(this.#log)) return;
    try {
      await compactLog(this.#path, this.#model, this.#log);
    } catch (error) {
      if (typeof (error as NodeJS.ErrnoException).code !== "string") throw error;
    }
  }

  mark(): Promise<string> {
    return inTurn(this.#path, () =>
      guarded(this.#path, "read", undefined, async () => (await this.#catchUp(), this.#log.mark || "0")),
    );
  }

  follow(since: string, listener: (news: News<M>) => void, { signal }: { readonly signal: AbortSignalLike }): void {
    const following = new LogFollowing(this.#path, this.#model, this.#locale, since);
    lookRegularly(async () => {
      for await (const news of following.look()) {
        if (signal.aborted) return;
        listener(news);
      }
    }, signal);
  }
}

const newHead = <M extends AnyModel>(id: string): WriteHead<M> => ({
  id,
  at: new Date().toISOString(),
  rows: 0,
  deleted: [],
  given: [],
});

const unread = ({ problems, line }: OtherLine): { ok: false; problems: readonly Problem[]; line: number } => ({
  ok: false,
  problems,
  line,
});

/** Reads what is added to a log, for one listener. */
class LogFollowing<M extends AnyModel> {
  #mark: string;
  #identity: string | undefined;

  constructor(
    private readonly path: string,
    private readonly model: M,
    private readonly locale: string,
    since: string,
  ) {
    this.#mark = since;
  }

  async *look(): AsyncIterable<News<M>> {
    const identity = await identityOf(this.path);
    if (identity === this.#identity) return;
    const upTo = Number(this.#mark.split(".")[0]);
    const isKnown = identity === "" ? this.#mark === "0" : (await markAt(this.path, upTo || 0)) === this.#mark;
    if (!isKnown) {
      yield this.#reload(await this.#endOf(identity));
      this.#identity = identity;
      return;
    }
    if (identity !== "")
      for await (const events of logEvents(this.path, this.model, upTo, 0, this.locale))
        for (const event of events) {
          if (event.kind === "tail") break;
          const mark = await markAt(this.path, event.upTo);
          const changes = changesOf(event);
          this.#mark = mark;
          yield changes === undefined ? this.#reload(mark) : { ...changes, mark };
        }
    this.#identity = identity;
  }

  #reload(mark: string): News<M> {
    this.#mark = mark;
    return { kind: "reload", mark };
  }

  async #endOf(identity: string): Promise<string> {
    if (identity === "") return "0";
    const log = new RowLog(this.model, this.locale, false);
    await log.catchUp(this.path);
    return log.mark;
  }
}

/** What an event changes; `undefined` where that can't be told of it alone. */
function changesOf<M extends AnyModel>(
  event: LogEvent<M>,
):
  | { kind: "changes"; id: string; changes: { key: KeyOf<M>; now: VersionedRow<RowOf<M>, KeyOf<M>> | undefined }[] }
  | undefined {
  let lines: readonly PlacedLine<M>[] = [];
  if (event.kind === "line") lines = [event.line];
  else if (event.kind === "write") lines = event.rows;
  const gone = event.kind === "write" ? event.head.deleted.map((key) => ({ key, now: undefined })) : [];
  const come = [];
  for (const line of lines) {
    if (line.kind === "bad" || line.key === undefined) return undefined;
    come.push({ key: line.key, now: { key: line.key, version: line.version, row: line.row } });
  }
  return { kind: "changes", id: event.kind === "write" ? event.head.id : "", changes: [...gone, ...come] };
}
