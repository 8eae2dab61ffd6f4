import { isUtf8 } from "node:buffer";
import { readFile, unlink } from "node:fs/promises";
import type { AbortSignalLike } from "../../engine/index.ts";
import { type AnyModel, givenFields, type KeyOf, type RowOf } from "../../model/index.ts";
import {
  givenAgain,
  giveFields,
  highestIn,
  judgeChanges,
  keyedRows,
  keyFromJson,
  type KeyedRow,
  keyTaken,
  notAppended,
  type Writer,
} from "../../store/changes/index.ts";
import {
  type ChangeableStore,
  type Receipt,
  type StoreChange,
  StoreError,
  type StoreNews,
  type StoredRow,
  type VersionedRow,
  type WriteResult,
} from "../../store/index.ts";
import { textPieces } from "../../store/text/index.ts";
import { keyIn, type LookUp, lookUpOf } from "../../table/index.ts";
import { guarded } from "../failures.ts";
import { ProvisionalKeys } from "../hiddenKey.ts";
import { inTurn } from "../inTurn.ts";
import type { Append } from "../lineAppender.ts";
import { locked } from "../locked.ts";
import { followJournal } from "../followJournal.ts";
import { identityOf } from "../polling.ts";
import { nextOf, putInPlace, writeBeside } from "../replaceFile.ts";
import { versionOfRow } from "../rowVersion.ts";
import { type JournalEntry, LISTED, WriteJournal } from "../WriteJournal.ts";
import type { FileContent, FileFormat } from "./FileContent.ts";

type Change<M extends AnyModel> = StoreChange<RowOf<M>, KeyOf<M>>;
type Result<M extends AnyModel> = WriteResult<RowOf<M>, KeyOf<M>>;
type Read<M extends AnyModel> = StoredRow<RowOf<M>> & { readonly key?: KeyOf<M>; readonly version?: string };

/** The rows of a file with their keys. */
export interface KeyedContent<M extends AnyModel> {
  readonly content: FileContent<M>;
  /** By the index of a row. */
  readonly keys: readonly KeyOf<M>[];
  /** The index of the row that has a key: of two, the first. */
  readonly indexes: ReadonlyMap<LookUp, number>;
}

/** Rows in a file that is written as a whole: beside it, onto the disk, and then in its place. */
export class WholeFileStore<M extends AnyModel> implements ChangeableStore<RowOf<M>, KeyOf<M>> {
  readonly place: string;
  readonly #path: string;
  readonly #model: M;
  readonly #format: FileFormat<M>;
  /** Puts a row behind a file without writing it anew, where the format can have that. */
  readonly #append: Append<RowOf<M>> | undefined;
  readonly #journal: WriteJournal;
  /** The keys of the file as it was seen last. */
  #known: { readonly identity: string; readonly keys: Set<LookUp> } | undefined;

  readonly #by: Writer;

  /** @param by - who writes */
  constructor(path: string, model: M, format: FileFormat<M>, by: Writer, append?: Append<RowOf<M>>) {
    this.#by = by;
    this.place = path;
    this.#path = path;
    this.#model = model;
    this.#format = format;
    this.#append = append;
    this.#journal = new WriteJournal(path);
  }

  async *read({ signal }: { readonly signal?: AbortSignalLike | undefined } = {}): AsyncIterable<Read<M>> {
    if (signal?.aborted === true) throw signal.reason;
    const { content, keys, indexes } = await guarded(this.#path, "read", signal, () => this.#content());
    const { rows, others } = content;
    let next = 0;
    for (const [index, { row, line }] of rows.entries()) {
      for (; next < others.length && others[next]!.line <= line; next++) yield { ok: false, ...others[next]! };
      const key = keys[index]!;
      if (indexes.get(lookUpOf(key)) === index)
        yield { ok: true, key, version: versionOfRow(this.#model, row), row, line };
      else yield { ok: false, line, problems: [keyTaken(this.#model, this.place)] };
    }
    for (; next < others.length; next++) yield { ok: false, ...others[next]! };
  }

  async #content(): Promise<KeyedContent<M>> {
    const pieces: string[] = [];
    const bytes = await this.#bytes();
    if (bytes !== undefined) for await (const { text } of textPieces(bytes)) pieces.push(text);
    return this.#parsed(pieces.join(""));
  }

  async #bytes(): Promise<Buffer | undefined> {
    try {
      return await readFile(this.#path);
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code === "ENOENT") return undefined;
      throw error;
    }
  }

  #parsed(text: string): KeyedContent<M> {
    const model = this.#model;
    const content = this.#format.parse(text);
    const provisional = new ProvisionalKeys();
    const keys = content.rows.map(({ row, hiddenKey }) => {
      if (model.parts.key.length > 0) return keyIn(model, row) as KeyOf<M>;
      return (hiddenKey ?? provisional.next(versionOfRow(model, row))) as KeyOf<M>;
    });
    const indexes = new Map<LookUp, number>();
    for (const [index, key] of keys.entries()) if (!indexes.has(lookUpOf(key))) indexes.set(lookUpOf(key), index);
    return { content, keys, indexes };
  }

  append(row: RowOf<M>, { signal }: { readonly signal?: AbortSignalLike | undefined } = {}): Promise<Receipt> {
    const { place } = this;
    return this.#alone(signal, async (wholeUpTo, isFile) => {
      // What is given to a row may depend on the others.
      if (this.#append !== undefined && givenFields(this.#model).length === 0) {
        if (isFile) {
          if ((await identityOf(nextOf(this.#path))) !== "") await this.#settle();
          await this.#refuseTaken(row);
        }
        const notice = await this.#append(row, wholeUpTo);
        await this.#noteAppended(row);
        return notice === undefined ? { place } : { place, notice };
      }
      const result = await this.#write([{ kind: "insert", row }], undefined);
      if (result.ok) return { place };
      throw notAppended(place, result);
    });
  }

  /** @throws {@link StoreError} where another row has the key */
  async #refuseTaken(row: RowOf<M>): Promise<void> {
    if (this.#model.parts.key.length === 0) return;
    const identity = await identityOf(this.#path);
    if (this.#known?.identity !== identity) {
      try {
        const { indexes } = await this.#content();
        this.#known = { identity, keys: new Set(indexes.keys()) };
      } catch {
        // What can't be read is told by who puts the row behind it.
        return;
      }
    }
    if (this.#known.keys.has(lookUpOf(keyIn(this.#model, row))))
      throw notAppended(this.place, keyTaken(this.#model, this.place).message);
  }

  async #noteAppended(row: RowOf<M>): Promise<void> {
    if (this.#known === undefined) return;
    const { keys } = this.#known;
    keys.add(lookUpOf(keyIn(this.#model, row)));
    this.#known = { identity: await identityOf(this.#path), keys };
  }

  async write(
    changes: readonly Change<M>[],
    { id, signal }: { readonly id: string; readonly signal?: AbortSignalLike | undefined },
  ): Promise<Result<M>> {
    if (signal?.aborted === true) throw signal.reason;
    return this.#alone(signal, () => this.#write(changes, id));
  }

  /** @param id - none for what nobody asks for again */
  async #write(sent: readonly Change<M>[], id: string | undefined): Promise<Result<M>> {
    const model = this.#model;
    const { name, entries } = await this.#settle();
    const done = entries.find((entry) => entry.id === id);
    if (done !== undefined)
      return this.#answer(keyedRows(model, givenAgain(model, sent, done.values), done.given as KeyOf<M>[]).rows);
    const there = this.#parsed(await this.#text());
    const { content, indexes } = there;
    const highest = (field: string): number =>
      highestIn(
        content.rows.map(({ row }) => row),
        field,
      );
    const { changes, values } = giveFields(model, sent, { highest, by: this.#by });
    const versionOf = (key: LookUp): string | undefined => {
      const index = indexes.get(key);
      return index === undefined ? undefined : versionOfRow(model, content.rows[index]!.row);
    };
    const judged = judgeChanges(model, changes, { place: this.place, versionOf });
    if (!judged.ok) {
      if ("refused" in judged) return judged;
      return { ok: false, conflicts: judged.conflicts.map((key) => ({ key, now: rowAt(model, there, key) })) };
    }
    const refused = judged.rows.flatMap((each, change) => {
      const problems = each === undefined ? [] : this.#format.unfit(each.row);
      return problems.length > 0 ? [{ change, problems }] : [];
    });
    if (refused.length > 0) return { ok: false, refused };
    const text = this.#edited(there, changes, judged.rows);
    // Only where others may follow, or ask again, is it noted.
    const isNoted = id !== undefined || name !== "";
    const keys = judged.rows.flatMap((each) => (each === undefined ? [] : [each.key as unknown]));
    await this.#replace(
      text,
      isNoted ? { id: id ?? "", keys, gone: judged.gone, given: judged.given, values } : undefined,
    );
    return this.#answer(judged.rows);
  }

  #edited(there: KeyedContent<M>, changes: readonly Change<M>[], rows: readonly (KeyedRow<M> | undefined)[]): string {
    const changed = new Map<number, KeyedRow<M> | undefined>();
    const added: KeyedRow<M>[] = [];
    for (const [index, change] of changes.entries())
      if (change.kind === "insert") added.push(rows[index]!);
      else changed.set(there.indexes.get(lookUpOf(change.key))!, rows[index]);
    const hiddenKeys = this.#model.parts.key.length > 0 ? undefined : there.keys;
    return there.content.edit({ changed, added, hiddenKeys });
  }

  /** The text of the file, which is to be written again. @throws {@link StoreError} for one that would be spoiled by that */
  async #text(): Promise<string> {
    const bytes = await this.#bytes();
    if (bytes === undefined) return "";
    if (!isUtf8(bytes))
      throw new StoreError(
        "refused",
        `The file ${this.#path} can't be written: it is not in UTF-8, as rows are written.`,
      );
    return bytes.toString("utf8");
  }

  /** Puts another text in place of the file, and notes what is changed by it. */
  async #replace(
    text: string,
    noted: Pick<JournalEntry, "id" | "keys" | "gone" | "given" | "values"> | undefined,
  ): Promise<void> {
    const before = await identityOf(this.#path);
    await writeBeside(this.#path, [text]);
    let undo: () => Promise<void> = () => Promise.resolve();
    if (noted !== undefined) {
      const after = await identityOf(nextOf(this.#path));
      const keys = (noted.keys?.length ?? 0) > LISTED ? null : noted.keys;
      const entry = { ...noted, keys, at: new Date().toISOString(), before, after };
      try {
        undo = await this.#journal.note(entry);
      } catch (error) {
        await unlink(nextOf(this.#path)).catch(() => undefined);
        throw error;
      }
    }
    try {
      await putInPlace(this.#path);
    } catch (error) {
      await undo();
      throw error;
    }
  }

  /** Takes back what a writer had begun that was killed: nobody was told that it is written. @returns what was noted of writes */
  async #settle(): Promise<{ name: string; entries: readonly JournalEntry[] }> {
    await this.#journal.repair();
    const next = await identityOf(nextOf(this.#path));
    if (next !== "") {
      const { entries } = await this.#journal.read();
      if (entries.at(-1)?.after === next) await this.#journal.dropLast();
      await unlink(nextOf(this.#path));
    }
    await this.#journal.prune();
    return this.#journal.read();
  }

  #answer(rows: readonly (KeyedRow<M> | undefined)[]): Promise<Result<M>> {
    const written = rows.map((each) => each && { ...each, version: versionOfRow(this.#model, each.row) });
    return this.#markNow().then((mark) => ({ ok: true, written, mark }));
  }

  mark(): Promise<string> {
    return inTurn(this.#path, () => guarded(this.#path, "read", undefined, () => this.#markNow()));
  }

  async #markNow(): Promise<string> {
    return this.#journal.mark(await identityOf(this.#path));
  }

  follow(
    since: string,
    listener: (news: StoreNews<RowOf<M>, KeyOf<M>>) => void,
    { signal }: { readonly signal: AbortSignalLike },
  ): void {
    followJournal(
      {
        journal: this.#journal,
        keyOf: (json) => keyFromJson(this.#model, json),
        identity: () => identityOf(this.#path),
        isBusy: async () => (await identityOf(nextOf(this.#path))) !== "",
        find: async () => {
          const there = await this.#content();
          return (key) => rowAt(this.#model, there, key as KeyOf<M>);
        },
      },
      since,
      listener,
      signal,
    );
  }

  #alone<T>(
    signal: AbortSignalLike | undefined,
    work: (wholeUpTo: number | undefined, isFile: boolean) => Promise<T>,
  ): Promise<T> {
    return inTurn(this.#path, () => guarded(this.#path, "written", signal, () => locked(this.#path, work, signal)));
  }
}

function rowAt<M extends AnyModel>(
  model: M,
  { content, indexes, keys }: KeyedContent<M>,
  key: KeyOf<M>,
): VersionedRow<RowOf<M>, KeyOf<M>> | undefined {
  const index = indexes.get(lookUpOf(key));
  if (index === undefined) return undefined;
  const { row } = content.rows[index]!;
  return { key: keys[index]!, version: versionOfRow(model, row), row };
}
