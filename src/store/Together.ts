import { requireOptions } from "../errors/index.ts";
import {
  type AbortSignalLike,
  dispose,
  follow,
  internal,
  newId,
  platform,
  type SignalController,
  type Stoppable,
  transaction,
} from "../engine/index.ts";
import type { AnyModel } from "../model/index.ts";
import type { RowResult, Table } from "../table/index.ts";
import type { Database, DatabaseNews, DatabasePart } from "./Database.ts";
import type { Draft } from "./drafts/Draft.ts";
import { DraftKeeping } from "./drafts/DraftKeeping.ts";
import { togetherSource } from "./drafts/togetherSource.ts";
import type { KeptConflict, KeptResult, KeptState } from "./Kept.ts";
import type { KeptTogether, TablesByName, TogetherOptions } from "./KeptTogether.ts";
import { type Begin, KeepingPart } from "./KeepingPart.ts";
import { type KeptFacts, sayKept } from "./keptWords.ts";
import { StoreError, type StoreNews, type WriteResult } from "./Store.ts";
import { TroubleNotices } from "./TroubleNotices.ts";
import type { Differing } from "./Unsaved.ts";
import { waitingRows } from "./waitingRows.ts";
import { WriteGroups } from "./WriteGroups.ts";

type Changes = DatabasePart["changes"];
type Result = WriteResult<never, never>;
type News = StoreNews<never, never>;

/** What one table wants to be written, while the others are waited for. */
interface Wanted {
  readonly part: DatabasePart;
  readonly id: string;
  readonly done: (result: Result) => void;
  readonly failed: (error: unknown) => void;
}

/** A write whose answer did not come. */
interface Doubt {
  readonly id: string;
  readonly wanted: readonly { readonly part: DatabasePart; readonly id: string }[];
  asking: Promise<readonly Result[]> | undefined;
}

/** So often a write is begun again at once for what was changed meanwhile. */
const ROUNDS = 20;

/** The worst comes first: how all of them stand is how the worst does. */
const order: readonly KeptState[] = ["stopped", "saving", "conflict", "refused", "unreachable", "unsaved", "saved"];

/** What is behind a `KeptTogether`: the tables wait for each other, and are written in one transaction. */
export class Together<T extends TablesByName> implements KeptTogether<T> {
  readonly place: string;
  readonly table: { readonly locale: string };
  readonly #database: Database;
  readonly #parts: ReadonlyMap<string, KeepingPart>;
  readonly #options: TogetherOptions;
  /** Tables whose write is not over yet. */
  readonly #open = new Set<KeepingPart>();
  /** Those of them that are ready: what each is to write is fixed for all at one moment, so that no transaction is cut in two. */
  readonly #ready = new Map<KeepingPart, { readonly begin: Begin; readonly done: () => void }>();
  /** Those for which it is fixed, and what they want. */
  readonly #wanted = new Map<KeepingPart, Wanted>();
  #doubt: Doubt | undefined;
  /** What each table calls a write of all, until it has heard of it. */
  readonly #names = new Map<string, ReadonlyMap<KeepingPart, string>>();
  /** What others wrote, while it is not known how a table is at the place. */
  readonly #news: DatabaseNews[] = [];
  #isTaking = false;
  readonly #ended: SignalController = platform.newController();
  /** Whether something was to be written while a write was in doubt. */
  #isWaiting = false;
  /** Whether something was left for another round, since rows of a table that is not being written belong to it. */
  #isLeft = false;
  /** Answers that came for one table, and which the others have not asked for yet. */
  readonly #answers = new Map<string, Result>();
  #last: Promise<unknown> = Promise.resolve();
  #timer: unknown;
  readonly #endings: Stoppable[] = [];
  #draft: Draft | undefined;
  readonly #trouble = new TroubleNotices();

  constructor(tables: T, database: Database, options: TogetherOptions) {
    this.place = database.place;
    this.#database = database;
    this.#options = options;
    const { progress, signal } = options;
    const parts = new Map<string, KeepingPart>();
    const groups = new WriteGroups();
    const names = new Map<unknown, string>(Object.entries(tables).map(([name, table]) => [table[internal], name]));
    for (const [name, table] of Object.entries(tables)) {
      // Tables that are not kept with these are none of the database.
      const referred = Object.entries(table[internal].references).flatMap(([field, to]) => {
        const other = names.get(to);
        return other === undefined ? [] : [[field, other] as const];
      });
      const store = database.store(table.model as AnyModel, name, { references: Object.fromEntries(referred) });
      const write = (changes: Changes, { id }: { readonly id: string }): Promise<Result> =>
        this.#want(part, { store: store as never, changes }, id);
      const waiting = {
        place: store.place,
        append: store.append.bind(store),
        read: store.read.bind(store),
        mark: () => Promise.resolve(""),
        // All of them hear of a write at one moment.
        follow: (_: string, listener: (news: News) => void): void => {
          part.hear = listener;
        },
        write,
      };
      const part: KeepingPart = new KeepingPart(table as Table, waiting, { progress, signal }, groups);
      part.wait = (begin) =>
        new Promise((done) => {
          this.#ready.set(part, { begin, done });
          this.#goOn();
        });
      part.writeTogether = (given) => this.write({ signal: given });
      part.announceAll = () => this.#trouble.tell(this);
      part.rested = () => this.#takeHeld();
      parts.set(name, part);
    }
    this.#parts = parts;
    this.table = [...parts.values()][0]!.table;
  }

  async begin(): Promise<void> {
    try {
      const mark = await this.#database.mark();
      for (const part of this.#parts.values()) await part.begin();
      this.#database.follow(mark, (news) => this.#hear(news), { signal: this.#ended.signal });
    } catch (error) {
      this.stop();
      throw error;
    }
    const { signal } = this.#options;
    if (signal !== undefined) {
      const stop = (): void => this.stop();
      signal.addEventListener("abort", stop, { once: true });
      this.#endings.push({ stop: () => signal.removeEventListener("abort", stop), [dispose]: () => {} });
    }
    const states = [...this.#parts.values()].map(({ table }) => table[internal]);
    const { writeAfter, drafts } = this.#options;
    if (drafts !== undefined) {
      const tables = new Map([...this.#parts].map(([name, { table, journal }]) => [name, { table, rows: journal }]));
      const names = [...tables.keys()].join(", ");
      const draft = new DraftKeeping(togetherSource(tables), drafts, `rows of ${this.place}: ${names}`);
      this.#draft = draft;
      this.#endings.push(draft);
    }
    if (writeAfter === undefined) return;
    const changes = (): number => states.reduce((sum, state) => (state.trackReads(), sum + state.log.end), 0);
    this.#endings.push(
      follow(changes, () => {
        platform.cancel(this.#timer);
        if (this.unsavedCount > 0) this.#timer = platform.after(writeAfter, () => void this.#writeBySelf());
      }),
    );
  }

  get draft(): Draft | undefined {
    return this.#draft;
  }

  get parts(): KeptTogether<T>["parts"] {
    return Object.fromEntries(this.#parts) as never;
  }

  #all<V>(look: (part: KeepingPart) => V): V[] {
    return [...this.#parts.values()].map(look);
  }

  get state(): KeptState {
    const states = this.#all((part) => part.state);
    return order.find((each) => states.includes(each)) ?? "saved";
  }

  get said(): string {
    const { state } = this;
    const facts = this.#all((part) => part.facts);
    const sum = (of: (each: KeptFacts) => number): number => facts.reduce((all, each) => all + of(each), 0);
    const first = facts.find((each) => each.state === state) ?? facts[0]!;
    return sayKept(this.table.locale, {
      state,
      place: this.place,
      unsaved: this.unsavedCount,
      editing: this.editingCount,
      // What of a transaction was new in one table and what was changed in another was one write.
      written: 0,
      writing: sum((each) => (each.state === "saving" ? each.writing : 0)),
      conflicts: sum((each) => each.conflicts),
      refused: sum((each) => each.refused),
      reason: first.reason,
      waiting: first.waiting,
      leftOut: sum((each) => each.leftOut),
    });
  }

  get unsavedCount(): number {
    return this.#all((part) => part.unsavedCount).reduce((sum, each) => sum + each, 0);
  }

  get editingCount(): number {
    return this.#all((part) => part.editingCount).reduce((sum, each) => sum + each, 0);
  }

  get conflicts(): readonly KeptConflict<AnyModel>[] {
    return this.#all((part) => part.conflicts).flat();
  }

  write(options: { readonly signal?: AbortSignalLike | undefined } = {}): Promise<KeptResult> {
    requireOptions("write", options, { signal: "signal" });
    const { signal } = options;
    const next = this.#last.then(() => {
      if (signal?.aborted === true) throw signal.reason;
      return this.#writeAll(signal);
    });
    this.#last = next.catch(() => undefined);
    return next;
  }

  /** What a person has not asked for says so itself when it does not come about, once. */
  async #writeBySelf(): Promise<void> {
    await this.write();
    this.#trouble.tell(this);
  }

  async #writeAll(signal: AbortSignalLike | undefined): Promise<KeptResult> {
    platform.cancel(this.#timer);
    const before = this.unsavedCount;
    for (let round = 0; round < ROUNDS; round++) {
      this.#isLeft = false;
      const writing = this.#all((part) => part).filter((part) => part.unsavedCount > 0);
      for (const part of writing) this.#open.add(part);
      await Promise.all(
        writing.map((part) =>
          part.writeOwn(signal).finally(() => {
            this.#open.delete(part);
            this.#goOn();
          }),
        ),
      );
      // While it was written, something was changed together with rows of a table that was done already.
      // eslint-disable-next-line @typescript-eslint/no-unnecessary-condition
      if (!this.#isLeft) break;
    }
    const { state, said, unsavedCount } = this;
    return state === "saved" ? { ok: true, rows: before - unsavedCount, said } : { ok: false, state, said };
  }

  /** One table has something to be written: it waits for the others, so that what one transaction changed is one write. */
  #want(part: KeepingPart, wanted: DatabasePart, id: string): Promise<Result> {
    const answer = this.#answers.get(id);
    if (answer !== undefined) {
      this.#answers.delete(id);
      return Promise.resolve(answer);
    }
    const doubt = this.#doubt;
    const place = doubt?.wanted.findIndex((each) => each.id === id) ?? -1;
    if (doubt !== undefined && place >= 0)
      return this.#ask(doubt).then((results) => (this.#answers.delete(id), results[place]!));
    return new Promise((done, failed) => {
      this.#wanted.set(part, { part: wanted, id, done, failed });
      this.#goOn();
    });
  }

  /** Does the next step when every table that is being written has come to it. */
  #goOn(): void {
    const open = [...this.#open];
    if (this.#ready.size > 0 && open.every((part) => this.#ready.has(part))) return this.#beginAll();
    if (this.#wanted.size > 0 && open.every((part) => this.#wanted.has(part))) this.#send();
  }

  #beginAll(): void {
    const ready = [...this.#ready];
    this.#ready.clear();
    // While it is not known what became of a write, what was changed since stays where it is, in every table.
    if (this.#doubt !== undefined) this.#isWaiting = true;
    else {
      const waits = this.#waiting(new Set(ready.map(([part]) => part)));
      for (const [, { begin }] of ready) begin(waits);
    }
    for (const [, { done }] of ready) done();
  }

  /** Which rows have to wait: what belongs to a row that can't be written waits with it, in whichever table it is. */
  #waiting(ready: ReadonlySet<KeepingPart>): (row: Differing<AnyModel>) => boolean {
    const tables = this.#all((part) => {
      const { journal } = part;
      const rows = journal.look();
      const isHeld = (row: Differing<AnyModel>): boolean => journal.isHeld(row);
      if (ready.has(part)) return { table: part.table[internal], rows, isHeld };
      this.#isLeft ||= rows.some((row) => !isHeld(row));
      return { table: part.table[internal], rows, isHeld: () => true };
    });
    return waitingRows(tables);
  }

  #send(): void {
    const wanted = [...this.#wanted.values()];
    const names = new Map([...this.#wanted].map(([part, { id }]) => [part, id]));
    this.#wanted.clear();
    const doubt: Doubt = { id: newId(), wanted, asking: undefined };
    this.#names.set(doubt.id, names);
    this.#ask(doubt).then(
      (results) => {
        for (const [index, each] of wanted.entries()) each.done(results[index]!);
      },
      (error: unknown) => {
        for (const each of wanted) each.failed(error);
      },
    );
  }

  #hear(news: DatabaseNews): void {
    this.#news.push(news);
    this.#takeHeld();
  }

  /** Takes in what others wrote: each write in all tables at one moment, when it is known of all how they are at the place. */
  #takeHeld(): void {
    if (this.#ended.signal.aborted || this.#isTaking) return;
    this.#isTaking = true;
    try {
      while (this.#news.length > 0 && !this.#all((part) => part.isBusy).includes(true)) this.#take(this.#news.shift()!);
    } finally {
      this.#isTaking = false;
    }
  }

  #take(news: DatabaseNews): void {
    if (news.kind === "reload") {
      for (const part of this.#parts.values()) part.hear(news);
      return;
    }
    const { id, mark, tables } = news;
    const names = this.#names.get(id);
    this.#names.delete(id);
    transaction(() => {
      for (const [name, part] of this.#parts) {
        // A write of all is an own one of each table: else it would be taken for what others did.
        const own = names?.get(part);
        const changes = tables[name] ?? [];
        if (own !== undefined || changes.length > 0) part.hear({ kind: "changes", id: own ?? id, changes, mark });
      }
    });
  }

  /** Asks for a write, again under the same name where its answer did not come. */
  #ask(doubt: Doubt): Promise<readonly Result[]> {
    doubt.asking ??= this.#database
      .write(
        doubt.wanted.map(({ part }) => part),
        { id: doubt.id },
      )
      .then(
        (results) => {
          if (!results.every(({ ok }) => ok)) this.#names.delete(doubt.id);
          if (this.#doubt !== doubt) return results;
          this.#doubt = undefined;
          // Those that ask for it later have the same answer.
          for (const [index, { id }] of doubt.wanted.entries()) this.#answers.set(id, results[index]!);
          // What had to wait for it was to be written, too.
          if (this.#isWaiting) void this.#writeBySelf();
          this.#isWaiting = false;
          return results;
        },
        (error: unknown) => {
          // Who asks later asks anew.
          doubt.asking = undefined;
          const isOver = error instanceof StoreError && error.kind !== "unreachable" && this.#doubt !== doubt;
          this.#doubt = isOver ? undefined : doubt;
          if (isOver) this.#names.delete(doubt.id);
          throw error;
        },
      );
    return doubt.asking;
  }

  async reload(options: { readonly signal?: AbortSignalLike | undefined } = {}): Promise<KeptResult> {
    requireOptions("reload", options, { signal: "signal" });
    let rows = 0;
    for (const part of this.#parts.values()) {
      const result = await part.reload(options);
      if (!result.ok) return result;
      rows += result.rows;
    }
    return { ok: true, rows, said: this.said };
  }

  revert(): RowResult<void> {
    const changed = this.#all((part) => part).filter((part) => part.unsavedCount > 0);
    const result = transaction(() => {
      // What one of them refuses, as for a check over several rows, takes back all.
      for (const part of changed) part.revert();
    });
    return result.ok ? { ok: true, row: undefined } : (result as RowResult<void>);
  }

  stop(): void {
    platform.cancel(this.#timer);
    this.#ended.abort();
    for (const each of this.#endings.splice(0)) each.stop();
    for (const part of this.#parts.values()) part.stop();
  }

  [dispose](): void {
    this.stop();
  }
}
