import { type AbortSignalLike, dispose, follow, internal, newId, platform, type Stoppable } from "../engine/index.ts";
import { type AnyModel, sayOfKeeping } from "../model/index.ts";
import { notices } from "../command/index.ts";
import type { Table } from "../table/index.ts";
import type { Database, DatabasePart } from "./Database.ts";
import type { Kept, KeptConflict, KeptResult, KeptState } from "./Kept.ts";
import type { KeptTogether, TablesByName, TogetherOptions } from "./KeptTogether.ts";
import { Keeping } from "./Keeping.ts";
import { sayKept } from "./keptWords.ts";
import { StoreError, type WriteResult } from "./Store.ts";

type Changes = DatabasePart["changes"];
type Result = WriteResult<never, never>;

/** One table of several that are written together: it is never written alone. */
class KeepingPart extends Keeping<AnyModel> {
  writeTogether: (signal: AbortSignalLike | undefined) => Promise<KeptResult> = () => this.writeOwn();

  override write({ signal }: { readonly signal?: AbortSignalLike | undefined } = {}): Promise<KeptResult> {
    return this.writeTogether(signal);
  }

  writeOwn(signal?: AbortSignalLike): Promise<KeptResult> {
    return super.write({ signal });
  }
}

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

/** The worst comes first: how all of them stand is how the worst does. */
const order: readonly KeptState[] = ["stopped", "saving", "conflict", "refused", "unreachable", "unsaved", "saved"];

/** What is behind a `KeptTogether`: the tables wait for each other, and are written in one transaction. */
export class Together<T extends TablesByName> implements KeptTogether<T> {
  readonly place: string;
  readonly table: { readonly locale: string };
  readonly #database: Database;
  readonly #parts: ReadonlyMap<string, KeepingPart>;
  readonly #options: TogetherOptions;
  /** Tables whose write is not over yet, and what those of them want that have said it. */
  readonly #open = new Set<KeepingPart>();
  readonly #wanted = new Map<KeepingPart, Wanted>();
  #doubt: Doubt | undefined;
  /** Answers that came for one table, and which the others have not asked for yet. */
  readonly #answers = new Map<string, Result>();
  #last: Promise<unknown> = Promise.resolve();
  #timer: unknown;
  readonly #endings: Stoppable[] = [];
  /** What was announced last of what keeps rows from being saved. */
  #announced = "";

  constructor(tables: T, database: Database, options: TogetherOptions) {
    this.place = database.place;
    this.#database = database;
    this.#options = options;
    const { progress, signal } = options;
    const parts = new Map<string, KeepingPart>();
    for (const [name, table] of Object.entries(tables)) {
      const store = database.store(table.model as AnyModel, name);
      const write = (changes: Changes, { id }: { readonly id: string }): Promise<Result> =>
        this.#want(part, { store: store as never, changes }, id);
      const waiting = {
        place: store.place,
        append: store.append.bind(store),
        read: store.read.bind(store),
        mark: store.mark.bind(store),
        follow: store.follow.bind(store),
        write,
      };
      const part: KeepingPart = new KeepingPart(table as Table, waiting, { progress, signal }, true);
      part.writeTogether = (given) => this.write({ signal: given });
      parts.set(name, part);
    }
    this.#parts = parts;
    this.table = [...parts.values()][0]!.table;
  }

  async begin(): Promise<void> {
    try {
      for (const part of this.#parts.values()) await part.begin();
    } catch (error) {
      this.stop();
      throw error;
    }
    const states = [...this.#parts.values()].map(({ table }) => table[internal]);
    const { writeAfter } = this.#options;
    if (writeAfter === undefined) return;
    const changes = (): number => states.reduce((sum, state) => (state.trackReads(), sum + state.log.end), 0);
    this.#endings.push(
      follow(changes, () => {
        platform.cancel(this.#timer);
        if (this.unsavedCount > 0) this.#timer = platform.after(writeAfter, () => void this.#writeBySelf());
      }),
    );
  }

  get parts(): { readonly [N in keyof T]: Kept } {
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
    const { state, unsavedCount } = this;
    const told = this.#all((part) => (part.state === state ? part.said : ""));
    if (state !== "unsaved" && state !== "saved") return told.find((each) => each !== "") ?? "";
    const none = { written: 0, writing: 0, conflicts: 0, refused: 0, reason: "" };
    const leftOut = this.#all((part) => part.leftOut.length).reduce((sum, each) => sum + each, 0);
    return sayKept(this.table.locale, { ...none, state, place: this.place, unsaved: unsavedCount, leftOut });
  }

  get unsavedCount(): number {
    return this.#all((part) => part.unsavedCount).reduce((sum, each) => sum + each, 0);
  }

  get conflicts(): readonly KeptConflict<AnyModel>[] {
    return this.#all((part) => part.conflicts).flat();
  }

  write({ signal }: { readonly signal?: AbortSignalLike | undefined } = {}): Promise<KeptResult> {
    const next = this.#last.then(() => this.#writeAll(signal));
    this.#last = next.catch(() => undefined);
    return next;
  }

  /** What a person has not asked for says so itself when it does not come about, once. */
  async #writeBySelf(): Promise<void> {
    const result = await this.write();
    const text = result.ok ? "" : result.said;
    if (!result.ok && result.state !== "unsaved" && text !== this.#announced)
      notices.say(text, result.state === "conflict" ? "warning" : "error");
    this.#announced = text;
  }

  async #writeAll(signal: AbortSignalLike | undefined): Promise<KeptResult> {
    platform.cancel(this.#timer);
    const before = this.unsavedCount;
    const writing = this.#all((part) => part).filter((part) => part.unsavedCount > 0);
    for (const part of writing) this.#open.add(part);
    await Promise.all(
      writing.map((part) =>
        part.writeOwn(signal).finally(() => {
          this.#open.delete(part);
          this.#sendWhenAllAreThere();
        }),
      ),
    );
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
      this.#sendWhenAllAreThere();
    });
  }

  #sendWhenAllAreThere(): void {
    if (this.#wanted.size === 0 || [...this.#open].some((part) => !this.#wanted.has(part))) return;
    const wanted = [...this.#wanted.values()];
    this.#wanted.clear();
    const reason = this.#reasonToWait();
    if (reason !== undefined) {
      // What belongs together is written together: nothing of it while somebody has to choose about a part.
      const error = new StoreError("refused", reason);
      for (const each of wanted) each.failed(error);
      return;
    }
    const doubt: Doubt = { id: newId(), wanted, asking: undefined };
    this.#ask(doubt).then(
      (results) => {
        for (const [index, each] of wanted.entries()) each.done(results[index]!);
      },
      (error: unknown) => {
        for (const each of wanted) each.failed(error);
      },
    );
  }

  #reasonToWait(): string | undefined {
    for (const part of this.#parts.values()) {
      const { conflicts, unsaved } = part;
      if (conflicts.length > 0) return sayOfKeeping(this.table.locale, "keptConflict", { count: conflicts.length });
      const refused = unsaved.find(({ problems }) => problems.length > 0);
      if (refused !== undefined) return refused.problems[0]!.message;
    }
    return undefined;
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
          // Those that ask for it later have the same answer.
          if (this.#doubt === doubt)
            for (const [index, { id }] of doubt.wanted.entries()) this.#answers.set(id, results[index]!);
          if (this.#doubt === doubt) this.#doubt = undefined;
          return results;
        },
        (error: unknown) => {
          // Who asks later asks anew.
          doubt.asking = undefined;
          const isOver = error instanceof StoreError && error.kind !== "unreachable" && this.#doubt !== doubt;
          this.#doubt = isOver ? undefined : doubt;
          throw error;
        },
      );
    return doubt.asking;
  }

  async reload(options: { readonly signal?: AbortSignalLike | undefined } = {}): Promise<KeptResult> {
    let rows = 0;
    for (const part of this.#parts.values()) {
      const result = await part.reload(options);
      if (!result.ok) return result;
      rows += result.rows;
    }
    return { ok: true, rows, said: this.said };
  }

  revert(): void {
    for (const part of this.#parts.values()) if (part.unsavedCount > 0) part.revert();
  }

  stop(): void {
    platform.cancel(this.#timer);
    for (const each of this.#endings.splice(0)) each.stop();
    for (const part of this.#parts.values()) part.stop();
  }

  [dispose](): void {
    this.stop();
  }
}
