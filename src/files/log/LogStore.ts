import { createReadStream } from "node:fs";
import { truncate, unlink } from "node:fs/promises";
import { type AbortSignalLike, newId } from "../../engine/index.ts";
import type { AnyModel, KeyOf, Problem, RowOf } from "../../model/index.ts";
import {
  givenAgain,
  giveFields,
  judgeChanges,
  type KeyedRow,
  keyedRows,
  notAppended,
  type Writer,
} from "../../store/changes/index.ts";
import {
  type ChangeableStore,
  type StoreChange,
  type StoreNews,
  type StoredRow,
  type VersionedRow,
  type WriteResult,
} from "../../store/index.ts";
import { RowReader, textPieces } from "../../store/text/index.ts";
import { lookUpOf } from "../../table/index.ts";
import { appendText } from "../appendText.ts";
import { guarded } from "../failures.ts";
import { inTurn } from "../inTurn.ts";
import { locked } from "../locked.ts";
import { cutNotice, NEWLINE, tornNotice } from "../lineAppender.ts";
import { identityOf, lookRegularly } from "../polling.ts";
import { nextOf } from "../replaceFile.ts";
import { digestOf, versionOfRow } from "../rowVersion.ts";
import { inUtf16, isUtf16 } from "../utf16.ts";
import { compactLog, isMostlyOld } from "./compactLog.ts";
import { LogFollowing } from "./LogFollowing.ts";
import { rowText, type WriteHead, writtenLines } from "./logLine.ts";
import { type OtherLine, RowLog } from "./RowLog.ts";

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

  readonly #by: Writer;

  /** @param by - who writes */
  constructor(path: string, model: M, locale: string, by: Writer) {
    this.#by = by;
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
    if (await guarded(this.#path, "read", signal, () => isUtf16(this.#path))) {
      yield* this.#readUtf16();
      return;
    }
    const log = await guarded(this.#path, "read", signal, () => this.#readAll(signal));
    const others = [...log.others].sort((a, b) => a.line - b.line);
    let next = 0;
    for (const { key, version, row, line } of log.rows.values()) {
      for (; next < others.length && others[next]!.line < line; next++) yield unread(others[next]!);
      yield { ok: true, key, version, row: row!, line };
    }
    for (; next < others.length; next++) yield unread(others[next]!);
  }

  /** A file in UTF-16 is read, and not written: its lines are no lines of bytes. */
  async *#readUtf16(): AsyncIterable<Read<M>> {
    const reader = new RowReader(this.#model, { format: "ndjson", locale: this.#locale });
    for await (const { text } of textPieces(createReadStream(this.#path))) yield* reader.take(text);
    yield* reader.end();
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
    if (await isUtf16(this.#path)) throw inUtf16(this.#path);
    // It may have been killed while it made the file compact.
    if (wholeUpTo !== undefined) await unlink(nextOf(this.#path)).catch(() => undefined);
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

  /** The same changes with what the place gives their rows. */
  #give(changes: readonly Change<M>[]): ReturnType<typeof giveFields<M>> {
    const highest = (field: string): number => this.#log.highest.get(field) ?? 0;
    return giveFields(this.#model, changes, { highest, by: this.#by });
  }

  #given(row: RowOf<M>): RowOf<M> {
    const [change] = this.#give([{ kind: "insert", row }]).changes;
    return (change as Extract<Change<M>, { kind: "insert" }>).row;
  }

  append(
    given: RowOf<M>,
    { signal }: { readonly signal?: AbortSignalLike | undefined } = {},
  ): Promise<{ place: string; notice?: string }> {
    return inTurn(this.#path, () =>
      guarded(this.#path, "written", signal, () =>
        locked(
          this.#path,
          async (wholeUpTo, isFile) => {
            if (!isFile) {
              await appendText(this.#path, () => `${rowText(this.#model, this.#given(given))}\n`);
              return { place: this.place };
            }
            const notice = await this.#tidyEnd(wholeUpTo);
            const row = this.#given(given);
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
    if (!judged.ok) throw notAppended(this.place, judged);
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

  async #write(sent: readonly Change<M>[], id: string, wholeUpTo: number | undefined): Promise<Result<M>> {
    await this.#tidyEnd(wholeUpTo);
    const model = this.#model;
    const before = this.#log.writes.get(id);
    if (before !== undefined)
      return this.#answer(keyedRows(model, givenAgain(model, sent, before.values), before.given).rows);
    const { changes, values } = this.#give(sent);
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
    const texts = rows.map((each) => each && rowText(model, each.row, each.key));
    const lines = texts.filter((text) => text !== undefined);
    await this.#add(writtenLines({ ...newHead<M>(id), deleted: gone, given, values }, lines));
    const answer = this.#answer(rows, texts);
    await this.#compact();
    return answer;
  }

  /** @param texts - the lines of the rows, where they were just written */
  #answer(rows: readonly (KeyedRow<M> | undefined)[], texts: readonly (string | undefined)[] = []): Result<M> {
    const model = this.#model;
    // The line of a row with a key of its own is what its version is made of.
    const isByLine = model.parts.key.length > 0;
    const written = rows.map((each, index) => {
      const text = isByLine ? texts[index] : undefined;
      return each && { ...each, version: text === undefined ? versionOfRow(model, each.row) : digestOf(text) };
    });
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
      guarded(this.#path, "read", undefined, async () => {
        if (await isUtf16(this.#path)) throw inUtf16(this.#path);
        return (await this.#catchUp()).mark || "0";
      }),
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
