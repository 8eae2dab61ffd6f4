import { type AbortSignalLike, platform } from "../engine/index.ts";
import type { AnyModel, KeyOf, RowOf } from "../model/index.ts";
import { type LookUp, lookUpOf } from "../table/index.ts";
import { giveFields, highestIn, judgeChanges, type Writer } from "./changes/index.ts";
import { fromJson, toJson } from "./text/index.ts";
import { type StoreChange, StoreError, type StoreNews, type VersionedRow, type WriteResult } from "./Store.ts";

/** A row as the place has it: as text, since what is kept must not be what others still hold. */
interface Kept<M extends AnyModel> {
  readonly key: KeyOf<M>;
  readonly version: string;
  readonly json: string;
}

interface Logged<M extends AnyModel> {
  readonly number: number;
  readonly id: string;
  readonly changes: readonly { readonly key: KeyOf<M>; readonly kept: Kept<M> | undefined }[];
}

type Rows<M extends AnyModel> = Map<LookUp, Kept<M>>;

/** Rows at a place in memory, which several stores may have open. */
export class MemoryPlace<M extends AnyModel> {
  readonly #rows: Rows<M> = new Map();
  #number = 0;
  /** By field, the highest number that was given. */
  readonly #numbers = new Map<string, number>();
  readonly #answers = new Map<string, WriteResult<RowOf<M>, KeyOf<M>>>();
  #log: Logged<M>[] = [];
  readonly #followers = new Set<() => void>();
  readonly #model: M;
  readonly place: string;
  /** How many changes can be followed afterwards. */
  readonly #remembered: number;

  constructor(model: M, place: string, rows: readonly RowOf<M>[], remembered: number) {
    this.#model = model;
    this.place = place;
    this.#remembered = remembered;
    // What is there at first has what it was given.
    for (const row of rows) this.#put(row);
  }

  #put(row: RowOf<M>): void {
    const judged = judgeChanges(this.#model, [{ kind: "insert", row }], {
      place: this.place,
      versionOf: (key) => this.#rows.get(key)?.version,
    });
    if (!judged.ok) throw this.#taken();
    const [put] = judged.rows as [{ key: KeyOf<M>; row: RowOf<M> }];
    this.#rows.set(lookUpOf(put.key), {
      key: put.key,
      version: String(++this.#number),
      json: JSON.stringify(toJson(this.#model, put.row)),
    });
  }

  #taken(): StoreError {
    return new StoreError("refused", `In ${this.place} another row has this key. Nothing was put there.`);
  }

  get mark(): string {
    return String(this.#number);
  }

  rows(): ({ readonly ok: true; readonly line: number } & VersionedRow<RowOf<M>, KeyOf<M>>)[] {
    return [...this.#rows.values()].map((kept, index) => ({ ok: true, line: index + 1, ...this.#read(kept) }));
  }

  #read({ key, version, json }: Kept<M>): VersionedRow<RowOf<M>, KeyOf<M>> {
    const reading = fromJson(this.#model, JSON.parse(json));
    if (!reading.ok)
      throw new StoreError("refused", `A row in ${this.place} can't be read: ${reading.problems[0]!.message}`);
    return { key, version, row: reading.row };
  }

  /** @throws {@link StoreError} where another row has the key */
  append(row: RowOf<M>, by?: Writer): void {
    if (!this.write([{ kind: "insert", row }], undefined, by).ok) throw this.#taken();
  }

  /** The highest running number that a field has, or had. */
  #highest(field: string): number {
    if (!this.#numbers.has(field))
      this.#numbers.set(
        field,
        highestIn(
          this.rows().map(({ row }) => row),
          field,
        ),
      );
    return this.#numbers.get(field)!;
  }

  /** @param by - who writes */
  write(
    given: readonly StoreChange<RowOf<M>, KeyOf<M>>[],
    id: string | undefined,
    by?: Writer,
  ): WriteResult<RowOf<M>, KeyOf<M>> {
    const before = id === undefined ? undefined : this.#answers.get(id);
    if (before !== undefined) return before;
    const rows = this.#rows;
    const { changes } = giveFields(this.#model, given, { highest: (field) => this.#highest(field), by });
    const judged = judgeChanges(this.#model, changes, {
      place: this.place,
      versionOf: (key) => rows.get(key)?.version,
    });
    if (!judged.ok) {
      if ("refused" in judged) return judged;
      return { ok: false, conflicts: judged.conflicts.map((key) => ({ key, now: this.#find(key) })) };
    }
    const version = String(this.#number + 1);
    const kept = judged.rows.map(
      (each) => each && { key: each.key, version, json: JSON.stringify(toJson(this.#model, each.row)) },
    );
    for (const key of judged.gone) rows.delete(lookUpOf(key));
    for (const row of kept) if (row !== undefined) rows.set(lookUpOf(row.key), row);
    for (const [field, number] of this.#numbers)
      this.#numbers.set(
        field,
        Math.max(
          number,
          highestIn(
            judged.rows.map((each) => each?.row),
            field,
          ),
        ),
      );
    this.#number++;
    this.#note(id ?? "", [
      ...judged.gone.map((key) => ({ key, kept: undefined })),
      ...kept.flatMap((row) => (row === undefined ? [] : [{ key: row.key, kept: row }])),
    ]);
    const written = kept.map((row) => row && this.#read(row));
    const answer: WriteResult<RowOf<M>, KeyOf<M>> = { ok: true, written, mark: this.mark };
    if (id !== undefined) this.#answers.set(id, answer);
    return answer;
  }

  #find(key: KeyOf<M>): VersionedRow<RowOf<M>, KeyOf<M>> | undefined {
    const now = this.#rows.get(lookUpOf(key));
    return now && this.#read(now);
  }

  #note(id: string, changes: Logged<M>["changes"]): void {
    this.#log.push({ number: this.#number, id, changes });
    while (this.#log.length > this.#remembered) this.#log.shift();
    for (const tell of this.#followers) platform.soon(tell);
  }

  follow(since: string, listener: (news: StoreNews<RowOf<M>, KeyOf<M>>) => void, signal: AbortSignalLike): void {
    let told = Number(since);
    // A listener may end it in the middle.
    const isEnded = (): boolean => signal.aborted;
    const tell = (): void => {
      if (isEnded() || told === this.#number) return;
      const first = this.#number - this.#log.length;
      if (!(told >= first && told <= this.#number)) {
        told = this.#number;
        return listener({ kind: "reload", mark: this.mark });
      }
      for (const { number, id, changes } of this.#log.filter((each) => each.number > told)) {
        told = number;
        const now = changes.map(({ key, kept }) => ({ key, now: kept && this.#read(kept) }));
        listener({ kind: "changes", id, changes: now, mark: String(number) });
        if (isEnded()) return;
      }
    };
    if (signal.aborted) return;
    this.#followers.add(tell);
    signal.addEventListener("abort", () => this.#followers.delete(tell), { once: true });
    platform.soon(tell);
  }
}
