import {
  type AbortSignalLike,
  dispose,
  follow,
  internal,
  platform,
  type SignalController,
  type Stoppable,
  Value,
} from "../engine/index.ts";
import { requireOptions } from "../errors/index.ts";
import { requireChoice, requireKept } from "./requireKept.ts";
import { type AnyModel, type KeyOf, type Problem, type RowOf, rowTitle } from "../model/index.ts";
import { editedIn } from "../rows/index.ts";
import type { RowResult, Table, TableState } from "../table/index.ts";
import type { Kept, KeptConflict, KeptResult, KeptState, LeftOutRow, UnsavedRow } from "./Kept.ts";
import type { Draft } from "./drafts/Draft.ts";
import { DraftKeeping } from "./drafts/DraftKeeping.ts";
import { draftNameOf, rowsSource } from "./drafts/rowsSource.ts";
import { EndlessWait } from "./firstBefore.ts";
import { KeptRows } from "./KeptRows.ts";
import { inLanguage, type KeptFacts, sayKept } from "./keptWords.ts";
import type { KeepOptions } from "./KeepOptions.ts";
import { pauseAfter } from "./pauses.ts";
import { type PendingWrite, pendingWrite } from "./pendingWrite.ts";
import { readPlace } from "./readPlace.ts";
import { type ChangeableStore, StoreError, type StoreErrorKind, type StoreNews } from "./Store.ts";
import type { Differing } from "./Unsaved.ts";
import { TroubleNotices } from "./TroubleNotices.ts";
import type { WriteGroups } from "./WriteGroups.ts";

/** Why the last write did not come about. */
interface Failure {
  readonly kind: StoreErrorKind;
  readonly message: string;
}

/** So many rows that can't be read are told at most. */
const TOLD = 1000;
/** So often a write is begun again at once because of what others wrote meanwhile. */
const ROUNDS = 20;

/** What is behind a `Kept`: when it is written, what becomes of it, and how it stands. */
export class Keeping<M extends AnyModel> implements Kept<M> {
  readonly table: Table<M>;
  readonly place: string;
  readonly #store: ChangeableStore<RowOf<M>, KeyOf<M>>;
  readonly #options: KeepOptions;
  readonly #rows: KeptRows<M>;
  readonly #writing = new Value(false);
  readonly #failure = new Value<Failure | undefined>(undefined);
  /** How many rows the last write had, while nothing was changed since. */
  readonly #lastWritten = new Value(0);
  readonly #leftOut = new Value<readonly LeftOutRow[]>([]);
  #pending: PendingWrite<M> | undefined;
  /** What is done at the place, one after the other: a row that is read while it is written would be taken for that of others. */
  #last: Promise<unknown> = Promise.resolve();
  #isReading = false;
  readonly #endlessWait: EndlessWait;
  #timer: unknown;
  #failures = 0;
  readonly #trouble = new TroubleNotices();
  /** What others wrote while a write is under way, or all is read. */
  #news: StoreNews<RowOf<M>, KeyOf<M>>[] = [];
  readonly #ownIds = new Set<string>();
  readonly #ended: SignalController = platform.newController();
  readonly #endings: (() => void)[] = [];
  readonly #stopped = new Value(false);
  #draft: Draft | undefined;

  /** @param groups - where the rows of several tables are written together */
  constructor(table: Table<M>, store: ChangeableStore<RowOf<M>, KeyOf<M>>, options: KeepOptions, groups?: WriteGroups) {
    this.table = table;
    this.place = store.place;
    this.#store = store;
    this.#options = options;
    this.#endlessWait = new EndlessWait(table[internal] as TableState<M>);
    this.#rows = new KeptRows(table[internal] as TableState<M>, groups);
  }

  /** Reads the rows of the place, and follows from there. */
  async begin(): Promise<void> {
    const { signal } = this.#options;
    const state = this.table[internal];
    state.keptAt = this.place;
    const unwatch = this.#rows.watch();
    this.#endings.push(() => {
      unwatch();
      state.keptAt = undefined;
    });
    try {
      const mark = await this.#store.mark();
      const read = await readPlace(this.table.model, this.#store, this.#options.progress, signal);
      const { leftOut } = read;
      for (const { place, problems } of this.#rows.load(read)) leftOut.push({ line: read.lines[place]!, problems });
      this.#leftOut.write(leftOut);
      this.#store.follow(mark, (news) => this.#hear(news), { signal: this.#ended.signal });
    } catch (error) {
      this.stop();
      throw error;
    }
    const noting: Stoppable = follow(
      () => (state.trackReads(), state.log.end),
      () => this.#note(),
    );
    this.#endings.push(() => noting.stop());
    if (signal !== undefined) {
      const stop = (): void => this.stop();
      signal.addEventListener("abort", stop, { once: true });
      this.#endings.push(() => signal.removeEventListener("abort", stop));
    }
    // What came into the table while it was read.
    this.#note();
    const { drafts } = this.#options;
    if (drafts === undefined) return;
    const draft = new DraftKeeping(
      rowsSource(this.table, this.#rows),
      drafts,
      draftNameOf(this.place, this.table.model),
    );
    this.#draft = draft;
    this.#endings.push(() => draft.stop());
  }

  #hear(news: StoreNews<RowOf<M>, KeyOf<M>>): void {
    if (this.#isStopped) return;
    // While it is not known what became of a write, what others wrote after it would come before it; and before what is being read.
    if (this.isBusy) this.#news.push(news);
    else this.#take(news);
  }

  /** Whether it is not known yet how the place is: what others wrote has to wait. */
  get isBusy(): boolean {
    return this.#pending !== undefined || this.#isReading;
  }

  protected takeHeld(): void {
    if (!this.isBusy) for (const news of this.#news.splice(0)) this.#take(news);
  }

  #take(news: StoreNews<RowOf<M>, KeyOf<M>>): void {
    if (news.kind === "reload") return void this.#reloadUntilDone();
    if (this.#ownIds.delete(news.id)) return;
    this.#rows.takeIn(news.changes);
    this.announce();
    this.#writeSoon();
  }

  /** The place has said that all has to be read again; where it can't be read now, it is tried again. */
  async #reloadUntilDone(): Promise<void> {
    for (let times = 1; !this.#isStopped; times++) {
      try {
        if ((await this.reload()).ok) return;
      } catch (error) {
        platform.report(error);
        return;
      }
      await this.#pause(pauseAfter(times));
    }
  }

  /** Waits, or until it is stopped. */
  #pause(milliseconds: number): Promise<void> {
    return new Promise((go) => {
      const timer = platform.after(milliseconds, go);
      this.#endings.push(() => {
        platform.cancel(timer);
        go();
      });
    });
  }

  #note(): void {
    if (!this.#rows.note()) return;
    this.#lastWritten.write(0);
    // What was refused and taken back is no failure any more.
    if (this.#rows.size === 0) this.#failure.write(undefined);
    this.#writeSoon();
  }

  #writeSoon(): void {
    const { writeAfter } = this.#options;
    // While the place is out of reach, the next try has its own time.
    if (writeAfter === undefined || this.#rows.size === 0 || this.#failure.peek()?.kind === "unreachable") return;
    this.#wait(writeAfter);
  }

  #wait(milliseconds: number): void {
    platform.cancel(this.#timer);
    this.#timer = platform.after(milliseconds, () => void this.#runBySelf());
  }

  /** What a person has not asked for says so itself when it does not come about. */
  async #runBySelf(): Promise<void> {
    // Without a time after which it is written, only what was begun by a person is brought to its end.
    await this.#run(undefined, this.#options.writeAfter === undefined);
    this.announce();
  }

  /** Says what keeps rows from being saved, once. */
  protected announce(): void {
    this.#trouble.tell(this);
  }

  get #isStopped(): boolean {
    return this.#stopped.peek();
  }

  get state(): KeptState {
    if (this.#stopped.read()) return "stopped";
    this.#rows.track();
    const failure = this.#failure.read();
    if (this.#writing.read() && failure?.kind !== "unreachable") return "saving";
    if (this.#rows.conflictCount > 0) return "conflict";
    if (this.#rows.refusals.length > 0) return "refused";
    if (failure !== undefined && this.#rows.size > 0) return failure.kind === "unreachable" ? "unreachable" : "refused";
    return this.#rows.size > 0 ? "unsaved" : "saved";
  }

  get said(): string {
    return sayKept(this.table.locale, this.facts);
  }

  /** How it stands, in numbers and reasons. */
  get facts(): KeptFacts {
    const { size, conflictCount, refusals, waiting } = this.#rows;
    return {
      state: this.state,
      place: this.place,
      unsaved: size,
      editing: this.editingCount,
      written: this.#lastWritten.read(),
      writing: this.#pending?.rows.length ?? size,
      conflicts: conflictCount,
      refused: refusals.length,
      reason: refusals[0]?.[0]?.message ?? this.#failure.read()?.message ?? "",
      waiting: { count: waiting.count, title: waiting.first?.model.title ?? "" },
      leftOut: this.#leftOut.read().length,
    };
  }

  get draft(): Draft | undefined {
    return this.#draft;
  }

  get unsavedCount(): number {
    this.#rows.track();
    return this.#stopped.read() ? 0 : this.#rows.size;
  }

  get editingCount(): number {
    const edited = this.#stopped.read() ? [] : editedIn(this.table[internal] as TableState);
    return edited.filter((entry) => entry.changed).length;
  }

  get unsaved(): readonly UnsavedRow<M>[] {
    this.#rows.track();
    return this.#stopped.read() ? [] : this.#rows.list();
  }

  get conflicts(): readonly KeptConflict<M>[] {
    this.#rows.track();
    return this.#stopped.read() ? [] : this.#rows.listConflicts();
  }

  get leftOut(): readonly LeftOutRow[] {
    return this.#leftOut.read().slice(0, TOLD);
  }

  unsavedOf(key: KeyOf<M>): "new" | "changed" | "conflict" | undefined {
    this.#rows.track();
    return this.#stopped.read() ? undefined : this.#rows.kindOf(key);
  }

  write(options: { readonly signal?: AbortSignalLike | undefined } = {}): Promise<KeptResult> {
    requireOptions("write", options, { signal: "signal" });
    this.#rows.askAgain();
    return this.#run(options.signal).then((result) => {
      // Who asked for it is told by what it gives.
      this.#trouble.heard(result.ok ? "" : result.said);
      return result;
    });
  }

  /** Writes what is unsaved, after what is done at the place now. */
  #run(signal?: AbortSignalLike, isOnlyPending = false): Promise<KeptResult> {
    platform.cancel(this.#timer);
    return this.#inTurn(() => this.#writeAll(signal, isOnlyPending));
  }

  #inTurn<T>(work: () => Promise<T>): Promise<T> {
    const next = this.#last.then(work);
    this.#last = next.catch(ignore);
    return next;
  }

  async #writeAll(signal: AbortSignalLike | undefined, isOnlyPending: boolean): Promise<KeptResult> {
    let rows = 0;
    for (let round = 0; round < ROUNDS && !this.#isStopped; round++) {
      if (isOnlyPending && this.#pending === undefined) break;
      if (this.#pending === undefined) await this.beginWith((waits) => this.#begin(waits));
      const pending = this.#pending;
      if (pending === undefined) break;
      this.#writing.write(true);
      try {
        rows += await this.#writeOnce(pending, signal);
      } catch (error) {
        if (!(error instanceof StoreError) || error.kind === "unreachable") pending.isUncertain = true;
        if (signal?.aborted === true) {
          // What became of it is found out later: until then nothing of what others write can be taken in.
          this.#wait(pauseAfter(1));
          throw error;
        }
        this.#fail(error);
        break;
      } finally {
        this.#writing.write(false);
        this.takeHeld();
      }
    }
    if (this.#pending === undefined && rows > 0) this.#lastWritten.write(this.#rows.size === 0 ? rows : 0);
    const { state, said } = this;
    return state === "saved" ? { ok: true, rows, said } : { ok: false, state, said };
  }

  /** Has what is to be written fixed; tables that are written together fix it at one moment. */
  protected beginWith(begin: (waits?: (row: Differing<M>) => boolean) => void): void | Promise<void> {
    begin();
  }

  /** How the rows stand to the place. */
  protected get rows(): KeptRows<M> {
    return this.#rows;
  }

  #begin(waits?: (row: Differing<M>) => boolean): void {
    const rows = this.#rows.begin(waits);
    this.#endlessWait.look(this.#rows.waiting);
    if (rows.length === 0) this.#rows.notWritten();
    else this.#pending = pendingWrite(this.table[internal].model, rows);
  }

  /** @returns how many rows were written */
  async #writeOnce({ id, rows, changes }: PendingWrite<M>, signal: AbortSignalLike | undefined): Promise<number> {
    this.#ownIds.add(id);
    const result = await this.#store.write(changes, { id, signal });
    if (this.#isStopped) return 0;
    this.#pending = undefined;
    this.#failures = 0;
    this.#failure.write(undefined);
    if (result.ok) {
      this.#rows.written(result.written);
      return rows.length;
    }
    this.#ownIds.delete(id);
    this.#rows.notWritten();
    if ("conflicts" in result) this.#rows.takeIn(result.conflicts);
    else
      for (const { change, problems } of result.refused)
        this.#rows.refuse(
          rows[change]!,
          problems.map((problem) => this.#inWords(problem, rows[change]!)),
        );
    return 0;
  }

  #fail(error: unknown): void {
    if (this.#isStopped) return;
    if (!(error instanceof StoreError)) {
      this.#failure.write({ kind: "refused", message: String(error) });
      return platform.report(error);
    }
    const { kind, message } = error;
    this.#failure.write({ kind, message });
    if (kind === "unreachable") {
      this.#failures++;
      this.#wait(pauseAfter(this.#failures));
    } else if (this.#pending?.isUncertain === false) {
      this.#pending = undefined;
      this.#rows.notWritten();
    }
  }

  /** What every place may say is said in the language of the table. */
  #inWords(problem: Problem, { at, key, now }: Differing<M>): Problem {
    const { locale, model } = this.table;
    return inLanguage(locale, this.place, problem, { title: rowTitle(model, [at?.key ?? key].flat()), row: now });
  }

  reload(options: { readonly signal?: AbortSignalLike | undefined } = {}): Promise<KeptResult> {
    requireOptions("reload", options, { signal: "signal" });
    return this.#inTurn(() => this.#readAgain(options.signal));
  }

  async #readAgain(signal: AbortSignalLike | undefined): Promise<KeptResult> {
    // What was begun to be written has to be known first.
    if (this.#pending !== undefined) await this.#writeAll(signal, true);
    if (this.#pending !== undefined || this.#stopped.peek()) return { ok: false, state: this.state, said: this.said };
    this.#isReading = true;
    try {
      const read = await readPlace(this.table.model, this.#store, this.#options.progress, signal);
      if (this.#stopped.peek()) return { ok: false, state: this.state, said: this.said };
      this.#rows.reload(read);
      this.#leftOut.write(read.leftOut);
    } catch (error) {
      if (!(error instanceof StoreError)) throw error;
      return { ok: false, state: error.kind === "unreachable" ? "unreachable" : "refused", said: error.message };
    } finally {
      this.#isReading = false;
      if (!this.#stopped.peek()) this.takeHeld();
    }
    this.#writeSoon();
    return { ok: true, rows: this.table.size, said: this.said };
  }

  revert(key?: KeyOf<M>): RowResult<void> {
    this.#requireKept("revert");
    return this.#rows.revert(key);
  }

  resolve(key: KeyOf<M>, choice: "mine" | "theirs" | Partial<RowOf<M>>): void {
    this.#requireKept("resolve");
    requireChoice(choice);
    this.#rows.resolve(key, choice);
    this.#writeSoon();
  }

  #requireKept(call: string): void {
    requireKept(!this.#isStopped, call, this.place, this.table[internal].where);
  }

  stop(): void {
    if (this.#isStopped) return;
    this.#stopped.write(true);
    platform.cancel(this.#timer);
    this.#ended.abort();
    for (const end of this.#endings.splice(0)) end();
  }

  [dispose](): void {
    this.stop();
  }
}

const ignore = (): void => {};
