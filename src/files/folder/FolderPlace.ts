import { randomUUID } from "node:crypto";
import { link, mkdir, open, readdir, rename, unlink } from "node:fs/promises";
import { join } from "node:path";
import { type AbortSignalLike, newId } from "../../engine/index.ts";
import { type AnyModel, givenFields, type KeyOf, type Problem, type RowOf } from "../../model/index.ts";
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
  type StoredRow,
  StoreError,
  type StoreNews,
  type VersionedRow,
  type WriteResult,
} from "../../store/index.ts";
import { keyIn, lookUpOf } from "../../table/index.ts";
import { guarded } from "../failures.ts";
import { withFileLock } from "../fileLock.ts";
import { inTurn } from "../inTurn.ts";
import { followJournal } from "../followJournal.ts";
import { flushFolder } from "../replaceFile.ts";
import { versionOfRow } from "../rowVersion.ts";
import { type JournalEntry, LISTED, WriteJournal, type WriteStep } from "../WriteJournal.ts";
import { folderIdentity, RecordFiles, recordText } from "./RecordFiles.ts";
import { type NamePart, recordName } from "./recordName.ts";

/** When a file of the same name is there. */
export type WhenExists = "refuse" | "number" | "replace";

type Change<M extends AnyModel> = StoreChange<RowOf<M>, KeyOf<M>>;
type Result<M extends AnyModel> = WriteResult<RowOf<M>, KeyOf<M>>;
type Read<M extends AnyModel> = StoredRow<RowOf<M>> & { readonly key?: KeyOf<M>; readonly version?: string };

/** What a write does to the files of a folder. */
interface FileSteps {
  readonly puts: readonly { readonly to: string; readonly text: string }[];
  readonly removes: readonly string[];
}

/** Records in the files of a folder. */
export class FolderPlace<M extends AnyModel> implements ChangeableStore<RowOf<M>, KeyOf<M>> {
  readonly place: string;
  readonly #folder: string;
  readonly #model: M;
  readonly #partsOf: (row: RowOf<M>) => NamePart[];
  readonly #whenExists: WhenExists;
  /** What the lock and the journal of the folder are named after. */
  readonly #own: string;
  readonly #journal: WriteJournal;
  readonly #records: RecordFiles<M>;

  readonly #by: Writer;

  /** @param by - who writes */
  constructor(folder: string, model: M, partsOf: (row: RowOf<M>) => NamePart[], whenExists: WhenExists, by: Writer) {
    this.#by = by;
    this.place = folder;
    this.#folder = folder;
    this.#model = model;
    this.#partsOf = partsOf;
    this.#whenExists = whenExists;
    this.#own = join(folder, ".ironwood");
    this.#journal = new WriteJournal(this.#own);
    this.#records = new RecordFiles(folder, model);
  }

  async *read({ signal }: { readonly signal?: AbortSignalLike | undefined } = {}): AsyncIterable<Read<M>> {
    if (signal?.aborted === true) throw signal.reason;
    const { files, byKey } = await guarded(this.#folder, "read", signal, () => this.#current(signal));
    for (const [index, file] of files.entries()) {
      const line = index + 1;
      if (!file.ok) yield { ok: false, line, problems: file.problems };
      else if (byKey.get(lookUpOf(file.key)) === file)
        yield { ok: true, line, key: file.key, version: file.version, row: file.row };
      else yield { ok: false, line, problems: [this.#secondFile(file.name)] };
    }
  }

  #secondFile(name: string): Problem {
    const problem = keyTaken(this.#model, this.place);
    return { ...problem, message: `${name}: ${problem.message}` };
  }

  /** The records as they are, when what was begun to be written is done to its end. */
  async #current(signal: AbortSignalLike | undefined): Promise<RecordFiles<M>> {
    if (await this.#journal.isOpen()) await this.#alone(signal, () => this.#settle());
    const records = new RecordFiles(this.#folder, this.#model);
    await records.catchUp();
    return records;
  }

  async append(row: RowOf<M>, { signal }: { readonly signal?: AbortSignalLike | undefined } = {}): Promise<Receipt> {
    // What is given to a record may be part of its name.
    if (givenFields(this.#model).length > 0) return this.#appendGiven(row, signal);
    const name = this.#nameOf(row);
    const { place } = await this.#alone(
      signal,
      async () => {
        await this.#settle();
        const before = this.#records.byKey.get(lookUpOf(keyIn(this.#model, row)));
        // A file of the same name is told as such.
        const isOfName = this.#whenExists !== "number" && before?.name === `${name}.json`;
        if (this.#model.parts.key.length > 0 && before !== undefined && !isOfName)
          throw notAppended(this.place, keyTaken(this.#model, this.place).message);
        return { place: join(this.#folder, await this.#put(row, name)) };
      },
      `${name}.json`,
    );
    return { place };
  }

  #nameOf(row: RowOf<M>): string {
    return recordName(this.#partsOf(row), this.#whenExists === "number");
  }

  /** Puts a record in a file of its own. @returns the name of the file */
  async #put(row: RowOf<M>, name: string): Promise<string> {
    const temporary = await this.#writeBeside(recordText(this.#model, row));
    const parts = this.#partsOf(row);
    try {
      for (let number = 1; ; number++) {
        const file = number === 1 ? `${name}.json` : `${name} (${number}).json`;
        try {
          // Unlike a rename, a link never takes the place of a file that is there.
          await link(join(this.#folder, temporary), join(this.#folder, file));
          return file;
        } catch (error) {
          if ((error as NodeJS.ErrnoException).code !== "EEXIST") throw error;
          if (this.#whenExists === "number") continue;
          if (this.#whenExists === "replace" && this.#isOfSameName(file, parts)) {
            await rename(join(this.#folder, temporary), join(this.#folder, file));
            return file;
          }
          const what =
            this.#whenExists === "replace" ? "is there already and holds another record" : "is there already";
          throw new StoreError("refused", `The file ${file} ${what}. Nothing was written over it.`, { cause: error });
        }
      }
    } finally {
      await unlink(join(this.#folder, temporary)).catch(() => undefined);
      await flushFolder(this.#folder);
    }
  }

  #isOfSameName(name: string, parts: readonly NamePart[]): boolean {
    const there = this.#records.files.find((file) => file.name === name);
    return there?.ok === true && this.#partsOf(there.row).every((part, index) => part.text === parts[index]!.text);
  }

  async #writeBeside(text: string): Promise<string> {
    const name = `.${randomUUID()}.new`;
    const file = await open(join(this.#folder, name), "wx");
    try {
      await file.writeFile(text, "utf8");
      await file.sync();
    } finally {
      await file.close();
    }
    return name;
  }

  async write(
    changes: readonly Change<M>[],
    { id, signal }: { readonly id: string; readonly signal?: AbortSignalLike | undefined },
  ): Promise<Result<M>> {
    if (signal?.aborted === true) throw signal.reason;
    return this.#alone(signal, () => this.#write(changes, id));
  }

  async #appendGiven(row: RowOf<M>, signal: AbortSignalLike | undefined): Promise<Receipt> {
    const result = await this.write([{ kind: "insert", row }], { id: newId(), signal });
    if (!result.ok) throw notAppended(this.place, result);
    const written = result.written[0]!;
    return { place: join(this.#folder, this.#records.byKey.get(lookUpOf(written.key))!.name) };
  }

  async #write(sent: readonly Change<M>[], id: string): Promise<Result<M>> {
    const model = this.#model;
    const entries = await this.#settle();
    const done = entries.find((entry) => entry.id === id);
    if (done !== undefined)
      return this.#answer(keyedRows(model, givenAgain(model, sent, done.values), done.given as KeyOf<M>[]).rows);
    const { byKey, identity, files } = this.#records;
    const highest = (field: string): number =>
      highestIn(
        files.map((file) => (file.ok ? file.row : undefined)),
        field,
      );
    const { changes, values } = giveFields(model, sent, { highest, by: this.#by });
    const judged = judgeChanges(model, changes, {
      place: this.place,
      versionOf: (key) => byKey.get(key)?.version,
    });
    if (!judged.ok) {
      if ("refused" in judged) return judged;
      return { ok: false, conflicts: judged.conflicts.map((key) => ({ key, now: this.#find(key) })) };
    }
    const planned = this.#plan(changes, judged.rows);
    if ("refused" in planned) return { ok: false, refused: planned.refused };
    const { gone, given, rows } = judged;
    const keys = rows.flatMap((each) => (each === undefined ? [] : [each.key as unknown]));
    const noted = { id, before: identity, keys: keys.length > LISTED ? null : keys, gone, given, values };
    const steps: WriteStep[] = planned.removes.map((remove) => ({ remove }));
    try {
      for (const { to, text } of planned.puts) steps.push({ from: await this.#writeBeside(text), to });
      await this.#journal.note({ ...noted, at: new Date().toISOString(), after: "", steps });
    } catch (error) {
      for (const step of steps) if ("from" in step) await unlink(join(this.#folder, step.from)).catch(() => undefined);
      throw error;
    }
    // From here on it is written: what is left of it is done by whoever comes next.
    await this.#settle();
    return this.#answer(rows);
  }

  #find(key: KeyOf<M>, { byKey } = this.#records): VersionedRow<RowOf<M>, KeyOf<M>> | undefined {
    const file = byKey.get(lookUpOf(key));
    return file && { key: file.key, version: file.version, row: file.row };
  }

  /** Which files are put where, and which go; or what can't be. */
  #plan(
    changes: readonly Change<M>[],
    rows: readonly (KeyedRow<M> | undefined)[],
  ): FileSteps | { readonly refused: readonly { change: number; problems: readonly Problem[] }[] } {
    const puts: { to: string; text: string }[] = [];
    const removes = new Set<string>();
    const refused: { change: number; problems: readonly Problem[] }[] = [];
    const nameNow = (change: Change<M>): string | undefined =>
      change.kind === "insert" ? undefined : this.#records.byKey.get(lookUpOf(change.key))!.name;
    const names = changes.map((change, index) => {
      const each = rows[index];
      try {
        return each && this.#nameOf(each.row);
      } catch (error) {
        if (!(error instanceof StoreError)) throw error;
        refused.push({ change: index, problems: [this.#unnamed(error.message)] });
        return undefined;
      }
    });
    const stays = (index: number): boolean => isNameOf(nameNow(changes[index]!), names[index]);
    for (const [index, change] of changes.entries()) {
      const now = nameNow(change);
      if (now !== undefined && !stays(index)) removes.add(now);
    }
    const taken = new Set(this.#records.files.map(({ name }) => name).filter((name) => !removes.has(name)));
    for (const [index, change] of changes.entries()) {
      const each = rows[index];
      const name = names[index];
      if (each === undefined || name === undefined) continue;
      const text = recordText(this.#model, each.row, each.key);
      if (stays(index)) {
        puts.push({ to: nameNow(change)!, text });
        continue;
      }
      let to = `${name}.json`;
      for (let number = 2; taken.has(to) && this.#whenExists === "number"; number++) to = `${name} (${number}).json`;
      if (taken.has(to)) refused.push({ change: index, problems: [this.#unnamed(`The file ${to} is there already.`)] });
      taken.add(to);
      removes.delete(to);
      puts.push({ to, text });
    }
    return refused.length > 0 ? { refused } : { puts, removes: [...removes] };
  }

  #unnamed(message: string): Problem {
    return { code: "badInput", message, severity: "error", pointer: "" };
  }

  /** Does to its end what was begun to be written, and reads the records. @returns what was written lately */
  async #settle(): Promise<readonly JournalEntry[]> {
    await this.#journal.repair();
    const { open } = await this.#journal.read();
    if (open !== undefined) {
      for (const step of open.steps ?? []) {
        if ("from" in step) await rename(join(this.#folder, step.from), join(this.#folder, step.to)).catch(unlessGone);
        else await unlink(join(this.#folder, step.remove)).catch(unlessGone);
      }
      await flushFolder(this.#folder);
      await this.#journal.noteDone(open.id, await folderIdentity(this.#folder));
    }
    await this.#dropLeftovers();
    await this.#records.catchUp();
    await this.#journal.prune();
    return (await this.#journal.read()).entries;
  }

  /** What a program had written beside that was killed before it had noted what it was for. */
  async #dropLeftovers(): Promise<void> {
    for (const name of await readdir(this.#folder))
      if (/^\.[0-9a-f-]{36}\.new$/.test(name)) await unlink(join(this.#folder, name)).catch(unlessGone);
  }

  async #answer(rows: readonly (KeyedRow<M> | undefined)[]): Promise<Result<M>> {
    const written = rows.map((each) => each && { ...each, version: versionOfRow(this.#model, each.row) });
    return { ok: true, written, mark: await this.#journal.mark(await folderIdentity(this.#folder)) };
  }

  mark(): Promise<string> {
    return guarded(this.#folder, "read", undefined, async () => this.#journal.mark(await folderIdentity(this.#folder)));
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
        identity: () => folderIdentity(this.#folder),
        isBusy: () => this.#journal.isOpen(),
        find: async () => {
          const records = await this.#current(signal);
          return (key) => this.#find(key as KeyOf<M>, records);
        },
      },
      since,
      listener,
      signal,
    );
  }

  #alone<T>(signal: AbortSignalLike | undefined, work: () => Promise<T>, name = ""): Promise<T> {
    return inTurn(this.#own, () =>
      guarded(join(this.#folder, name), "written", signal, async () => {
        await mkdir(this.#folder, { recursive: true });
        return withFileLock(this.#own, work, signal);
      }),
    );
  }
}

/** Whether a file has a name, or that name with a number behind it. */
function isNameOf(file: string | undefined, name: string | undefined): boolean {
  if (file === undefined || name === undefined) return false;
  return file === `${name}.json` || (file.startsWith(`${name} (`) && /^ \(\d+\)\.json$/.test(file.slice(name.length)));
}

function unlessGone(error: unknown): void {
  if ((error as NodeJS.ErrnoException).code !== "ENOENT") throw error;
}
