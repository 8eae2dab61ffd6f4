import type { DBSchema, IDBPObjectStore } from "idb";
import { type AbortSignalLike, newId, platform } from "../engine/index.ts";
import { requireArgument, requireModel, requireOptions } from "../errors/index.ts";
import { type AnyModel, givenFields, type KeyOf, type RowOf } from "../model/index.ts";
import {
  givenAgain,
  giveFields,
  type GivenValues,
  highestIn,
  isRemembered,
  judgeChanges,
  keyedRows,
  keyFromJson,
  type KeyedRow,
  notAppended,
  type Writer,
} from "../store/changes/index.ts";
import {
  type ChangeableStore,
  type StoreChange,
  type StoredRow,
  StoreError,
  type StoreNews,
  type VersionedRow,
  type WriteResult,
} from "../store/index.ts";
import { fromJson, toJson } from "../store/text/index.ts";
import { type LookUp, lookUpOf } from "../table/index.ts";
import { BrowserDatabase } from "./database.ts";

/** A row as it is kept. */
interface KeptRow {
  /** In the order in which rows came. */
  readonly place?: number;
  /** As it is looked up, as text: IndexedDB tells numbers and texts apart, and has no truth values. */
  readonly lookUp: string;
  /** The key and the row as texts of JSON: an exact number is a text there, and nothing else is one. */
  readonly key: string;
  /** The number of the write that left it so. */
  readonly version: number;
  readonly json: string;
}

/** A write that was done. */
interface DoneWrite {
  readonly number?: number;
  readonly id: string;
  /** In milliseconds since 1970. */
  readonly at: number;
  /** Keys of rows that were put or changed, of those that are no more, and those that were made: as texts of JSON. */
  readonly keys: readonly string[];
  readonly gone: readonly string[];
  readonly given: readonly string[];
  /** What was given to fields of the rows, and by field the highest running number, both as texts of JSON. */
  readonly values?: string | undefined;
  readonly highest?: string | undefined;
}

interface RowsSchema extends DBSchema {
  rows: { key: number; value: KeptRow; indexes: { lookUp: string } };
  writes: { key: number; value: DoneWrite; indexes: { id: string } };
}

type Rows = IDBPObjectStore<RowsSchema, ["rows", "writes"], "rows", "readwrite">;
type Writes = IDBPObjectStore<RowsSchema, ["rows", "writes"], "writes", "readwrite">;
type Change<M extends AnyModel> = StoreChange<RowOf<M>, KeyOf<M>>;
type Result<M extends AnyModel> = WriteResult<RowOf<M>, KeyOf<M>>;

/** So many rows are read at once. */
const PAGE = 1_000;
/** So many rows are looked for one by one. */
const MANY = 1_000;
/** So many writes are looked at to be forgotten. */
const FORGOTTEN = 100;

const lookUpText = (key: LookUp): string => JSON.stringify(key);

/**
 * Rows in this browser (IndexedDB), for pages of this origin: they are there when the browser or the machine was ended. Windows that
 * have the same rows open see each other's changes. The browser is asked not to clear them when it runs out of room.
 *
 * @param name - of the rows; stores of one name share them
 * @example const kept = await keep(stock, browserStore("stock", plant), { writeAfter: 500 });
 */
export function browserStore<M extends AnyModel>(
  name: string,
  model: M,
  options: {
    /** Who writes, or what says it, for fields with `given: "createdBy"` and `"changedBy"`. */
    readonly by?: string | (() => string) | undefined;
  } = {},
): ChangeableStore<RowOf<M>, KeyOf<M>> {
  requireArgument(typeof name === "string" && name !== "", "browserStore", name, "a name for the rows");
  requireModel("browserStore", model);
  requireOptions("browserStore", options, { by: "textOrFunction" });
  return new BrowserRows(name, model, options.by);
}

class BrowserRows<M extends AnyModel> implements ChangeableStore<RowOf<M>, KeyOf<M>> {
  readonly place: string;
  readonly #model: M;
  readonly #database: BrowserDatabase<RowsSchema>;
  readonly #bell: string;
  #isAsked = false;

  readonly #by: Writer;

  /** @param by - who writes */
  constructor(name: string, model: M, by: Writer) {
    this.#by = by;
    this.place = name;
    this.#model = model;
    this.#bell = `ironwood rows ${name}`;
    this.#database = new BrowserDatabase<RowsSchema>(`ironwood rows ${name}`, name, (made) => {
      const rows = made.createObjectStore("rows", { keyPath: "place", autoIncrement: true });
      rows.createIndex("lookUp", "lookUp", { unique: true });
      const writes = made.createObjectStore("writes", { keyPath: "number", autoIncrement: true });
      writes.createIndex("id", "id");
    });
  }

  async *read({ signal }: { readonly signal?: AbortSignalLike | undefined } = {}): AsyncIterable<
    StoredRow<RowOf<M>> & { readonly key?: KeyOf<M>; readonly version?: string }
  > {
    let line = 0;
    for (let after = 0; ;) {
      if (signal?.aborted === true) throw signal.reason;
      const page = await this.#database.use((open) => open.getAll("rows", IDBKeyRange.lowerBound(after, true), PAGE));
      for (const kept of page) {
        line++;
        const reading = fromJson(this.#model, JSON.parse(kept.json));
        yield reading.ok
          ? { ok: true, line, key: this.#keyIn(kept.key), version: String(kept.version), row: reading.row }
          : { ok: false, line, problems: reading.problems };
      }
      if (page.length < PAGE) return;
      after = page.at(-1)!.place!;
    }
  }

  async append(
    row: RowOf<M>,
    { signal }: { readonly signal?: AbortSignalLike | undefined } = {},
  ): Promise<{ place: string }> {
    const result = await this.write([{ kind: "insert", row }], { id: newId(), signal });
    if (result.ok) return { place: this.place };
    throw notAppended(this.place, result);
  }

  async write(
    changes: readonly Change<M>[],
    { id, signal }: { readonly id: string; readonly signal?: AbortSignalLike | undefined },
  ): Promise<Result<M>> {
    if (signal?.aborted === true) throw signal.reason;
    this.#askToStay();
    // Loaded before the transaction: it ends when it is waited for anything else than its own work.
    const { unwrap } = await import("idb");
    const result = await this.#database.use(async (open) => {
      // With `strict`, it is on the disk when it is told to be.
      const work = open.transaction(["rows", "writes"], "readwrite", { durability: "strict" });
      try {
        const done = await this.#writeIn(work.objectStore("rows"), work.objectStore("writes"), changes, id, (rows) =>
          unwrap(rows),
        );
        await work.done;
        return done;
      } catch (error) {
        // It says itself why it was aborted, as that there is no room.
        await work.done.catch((reason: unknown) => {
          throw reason ?? error;
        });
        throw error;
      }
    });
    if (result.ok) this.#ring();
    return result;
  }

  async #writeIn(
    rows: Rows,
    writes: Writes,
    sent: readonly Change<M>[],
    id: string,
    unwrap: (rows: Rows) => IDBObjectStore,
  ): Promise<Result<M>> {
    const model = this.#model;
    const before = await writes.index("id").get(id);
    if (before !== undefined)
      return answer(
        keyedRows(
          model,
          givenAgain(model, sent, before.values === undefined ? undefined : (JSON.parse(before.values) as GivenValues)),
          before.given.map((key) => this.#keyIn(key)),
        ).rows,
        before.number!,
      );
    const numbers = await this.#numbers(rows, writes);
    const { changes, values } = giveFields(model, sent, { highest: (field) => numbers[field] ?? 0, by: this.#by });
    const there = await this.#rowsOf(rows, changes);
    const judged = judgeChanges(model, changes, {
      place: this.place,
      versionOf: (key) => {
        const kept = there.get(lookUpText(key));
        return kept && String(kept.version);
      },
    });
    if (!judged.ok) {
      if ("refused" in judged) return judged;
      const now = (key: KeyOf<M>): VersionedRow<RowOf<M>, KeyOf<M>> | undefined =>
        this.#read(there.get(lookUpText(lookUpOf(key))));
      return { ok: false, conflicts: judged.conflicts.map((key) => ({ key, now: now(key) })) };
    }
    const { rows: keyed, gone, given } = judged;
    const texts = (all: readonly unknown[]): string[] => all.map((key) => JSON.stringify(key));
    const keys = keyed.flatMap((each) => (each === undefined ? [] : [each.key as unknown]));
    const number = await writes.add({
      id,
      at: platform.now(),
      keys: texts(keys),
      gone: texts(gone),
      given: texts(given),
      ...(values !== undefined && {
        values: JSON.stringify(values),
        highest: JSON.stringify(
          Object.fromEntries(
            this.#numbered.map((field) => [
              field,
              Math.max(
                numbers[field] ?? 0,
                highestIn(
                  keyed.map((each) => each?.row),
                  field,
                ),
              ),
            ]),
          ),
        ),
      }),
    });
    // Rows may exchange their keys: what changes its key is taken out before it is put in again.
    const moved = changes.flatMap((change, index) => {
      if (change.kind === "insert") return [];
      const was = lookUpText(lookUpOf(change.key));
      const next = keyed[index];
      return next !== undefined && lookUpText(lookUpOf(next.key)) === was ? [] : [there.get(was)!.place!];
    });
    // A promise for each of many rows would take longer than the rows: what fails ends the transaction.
    const plain = unwrap(rows);
    for (const place of moved) plain.delete(place);
    for (const [index, each] of keyed.entries()) {
      if (each === undefined) continue;
      const change = changes[index]!;
      const place = change.kind === "insert" ? undefined : there.get(lookUpText(lookUpOf(change.key)))!.place;
      const kept = {
        lookUp: lookUpText(lookUpOf(each.key)),
        key: JSON.stringify(each.key),
        version: number,
        json: JSON.stringify(toJson(model, each.row)),
      };
      if (place === undefined) plain.add(kept);
      else plain.put({ ...kept, place });
    }
    await this.#forgetOld(writes);
    return answer(keyed, number);
  }

  /** The fields that are given a running number. */
  get #numbered(): readonly string[] {
    return givenFields(this.#model).flatMap(([field, given]) => (given === "number" ? [field] : []));
  }

  /** By field, the highest running number that was given, as the last write has noted it. */
  async #numbers(rows: Rows, writes: Writes): Promise<Readonly<Record<string, number>>> {
    if (this.#numbered.length === 0) return {};
    const noted = (await writes.openCursor(null, "prev"))?.value.highest;
    if (noted !== undefined) return JSON.parse(noted) as Record<string, number>;
    const all = (await rows.getAll()).map((kept) => this.#read(kept)?.row);
    return Object.fromEntries(this.#numbered.map((field) => [field, highestIn(all, field)]));
  }

  async #rowsOf(rows: Rows, changes: readonly Change<M>[]): Promise<Map<string, KeptRow>> {
    const wanted = new Set<string>();
    for (const change of changes) if (change.kind !== "insert") wanted.add(lookUpText(lookUpOf(change.key)));
    if (this.#model.parts.key.length > 0)
      for (const each of keyedRows(this.#model, changes).rows)
        if (each !== undefined) wanted.add(lookUpText(lookUpOf(each.key)));
    const index = rows.index("lookUp");
    // Many are found sooner by reading all.
    const found =
      wanted.size > MANY
        ? (await rows.getAll()).filter(({ lookUp }) => wanted.has(lookUp))
        : await Promise.all([...wanted].map((lookUp) => index.get(lookUp)));
    return new Map(found.flatMap((kept) => (kept === undefined ? [] : [[kept.lookUp, kept]])));
  }

  #keyIn(text: string): KeyOf<M> {
    return keyFromJson(this.#model, JSON.parse(text));
  }

  #read(kept: KeptRow | undefined): VersionedRow<RowOf<M>, KeyOf<M>> | undefined {
    if (kept === undefined) return undefined;
    const reading = fromJson(this.#model, JSON.parse(kept.json));
    if (!reading.ok)
      throw new StoreError("refused", `A row in ${this.place} can't be read: ${reading.problems[0]!.message}`);
    return { key: this.#keyIn(kept.key), version: String(kept.version), row: reading.row };
  }

  async #forgetOld(writes: Writes): Promise<void> {
    for (const old of await writes.getAll(undefined, FORGOTTEN)) {
      if (isRemembered(old.at, platform.now())) return;
      void writes.delete(old.number!);
    }
  }

  /** Browsers may clear what pages keep when they run out of room, unless they were asked not to. */
  #askToStay(): void {
    if (this.#isAsked) return;
    this.#isAsked = true;
    const { storage } = navigator as { readonly storage?: StorageManager };
    storage?.persist().catch(() => undefined);
  }

  /** Lets the others look, of this window and of others. */
  #ring(): void {
    const channel = new BroadcastChannel(this.#bell);
    channel.postMessage("written");
    channel.close();
  }

  mark(): Promise<string> {
    return this.#database.use(async (open) => {
      const cursor = await open.transaction("writes").store.openKeyCursor(null, "prev");
      return String(cursor?.key ?? 0);
    });
  }

  follow(
    since: string,
    listener: (news: StoreNews<RowOf<M>, KeyOf<M>>) => void,
    { signal }: { readonly signal: AbortSignalLike },
  ): void {
    if (signal.aborted) return;
    const isEnded = (): boolean => signal.aborted;
    let told = Number(since);
    let looking: Promise<void> | undefined;
    let again = false;
    const lookOnce = async (): Promise<void> => {
      const found = await this.#newsSince(told);
      for (const news of found) {
        if (isEnded()) return;
        told = Number(news.mark);
        listener(news);
      }
    };
    const look = (): void => {
      again = looking !== undefined;
      looking ??= lookOnce()
        .catch((error: unknown) => {
          // A failure of the place is told to who writes.
          if (!(error instanceof StoreError)) platform.report(error);
        })
        .finally(() => {
          looking = undefined;
          if (again && !isEnded()) look();
        });
    };
    const channel = new BroadcastChannel(this.#bell);
    channel.onmessage = look;
    signal.addEventListener("abort", () => channel.close(), { once: true });
    look();
  }

  #newsSince(told: number): Promise<StoreNews<RowOf<M>, KeyOf<M>>[]> {
    return this.#database.use(async (open) => {
      const work = open.transaction(["rows", "writes"]);
      const last = await work.objectStore("writes").openKeyCursor(null, "prev");
      const mark = String(last?.key ?? 0);
      const writes = Number.isNaN(told)
        ? []
        : await work.objectStore("writes").getAll(IDBKeyRange.lowerBound(told, true));
      if (
        Number.isNaN(told) ||
        told > Number(mark) ||
        (writes.length > 0 && writes[0]!.number !== told + 1 && told > 0)
      )
        return [{ kind: "reload", mark }];
      const index = work.objectStore("rows").index("lookUp");
      const news: StoreNews<RowOf<M>, KeyOf<M>>[] = [];
      for (const { id, number, keys, gone } of writes) {
        // Rows as they are now: where they were written again since, that is told as well.
        const come = await Promise.all(
          keys.map(async (text) => {
            const key = this.#keyIn(text);
            return { key, now: this.#read(await index.get(lookUpText(lookUpOf(key)))) };
          }),
        );
        const left = gone.map((text) => ({ key: this.#keyIn(text), now: undefined }));
        news.push({ kind: "changes", id, changes: [...left, ...come], mark: String(number) });
      }
      return news;
    });
  }
}

function answer<M extends AnyModel>(
  rows: readonly (KeyedRow<M> | undefined)[],
  number: number,
): Extract<Result<M>, { ok: true }> {
  const version = String(number);
  return { ok: true, written: rows.map((each) => each && { ...each, version }), mark: version };
}
