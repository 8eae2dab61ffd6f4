import { type AbortSignalLike, platform } from "../engine/index.ts";
import { type AnyModel, type KeyOf, pointerTo, type Problem, type RowOf } from "../model/index.ts";
import { keyIn, type LookUp, lookUpOf } from "../table/index.ts";
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
  #hiddenKeys = 0;
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
    for (const row of rows) this.append(row);
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
  append(row: RowOf<M>): void {
    const result = this.write([{ kind: "insert", row }], undefined);
    if (!result.ok)
      throw new StoreError("refused", `In ${this.place} another row has this key. Nothing was put there.`);
  }

  write(changes: readonly StoreChange<RowOf<M>, KeyOf<M>>[], id: string | undefined): WriteResult<RowOf<M>, KeyOf<M>> {
    const before = id === undefined ? undefined : this.#answers.get(id);
    if (before !== undefined) return before;
    const conflicts = changes.flatMap((change) => this.#conflictOf(change));
    if (conflicts.length > 0) return { ok: false, conflicts };
    const version = String(this.#number + 1);
    const kept = changes.map((change) => (change.kind === "delete" ? undefined : this.#keep(change, version)));
    // What goes leaves its key to others.
    const going = changes.flatMap((change, index) => {
      const text = change.kind === "insert" ? undefined : lookUpOf(change.key);
      const own = kept[index];
      return text === undefined || (own !== undefined && lookUpOf(own.key) === text) ? [] : [text];
    });
    const refused = this.#refuseTaken(changes, kept, new Set(going));
    if (refused.length > 0) return { ok: false, refused };
    for (const text of going) this.#rows.delete(text);
    for (const row of kept) if (row !== undefined) this.#rows.set(lookUpOf(row.key), row);
    this.#number++;
    this.#note(id ?? "", changes, kept);
    const rows = kept.map((row) => row && this.#read(row));
    const answer: WriteResult<RowOf<M>, KeyOf<M>> = { ok: true, written: rows, mark: this.mark };
    if (id !== undefined) this.#answers.set(id, answer);
    return answer;
  }

  #conflictOf(
    change: StoreChange<RowOf<M>, KeyOf<M>>,
  ): { key: KeyOf<M>; now: VersionedRow<RowOf<M>, KeyOf<M>> | undefined }[] {
    if (change.kind === "insert") return [];
    const now = this.#rows.get(lookUpOf(change.key));
    return now?.version === change.version ? [] : [{ key: change.key, now: now && this.#read(now) }];
  }

  #keep(change: Exclude<StoreChange<RowOf<M>, KeyOf<M>>, { kind: "delete" }>, version: string): Kept<M> {
    return { key: this.#keyOf(change), version, json: JSON.stringify(toJson(this.#model, change.row)) };
  }

  /** The changes whose key another row has, or will have. */
  #refuseTaken(
    changes: readonly StoreChange<RowOf<M>, KeyOf<M>>[],
    kept: readonly (Kept<M> | undefined)[],
    going: ReadonlySet<LookUp>,
  ): { change: number; problems: readonly Problem[] }[] {
    const coming = new Set<LookUp>();
    return kept.flatMap((row, index) => {
      if (row === undefined) return [];
      const text = lookUpOf(row.key);
      const change = changes[index]!;
      const isOwn = change.kind === "update" && lookUpOf(change.key) === text;
      const isTaken = coming.has(text) || (!isOwn && this.#rows.has(text) && !going.has(text));
      coming.add(text);
      return isTaken ? [{ change: index, problems: [this.#keyTaken()] }] : [];
    });
  }

  /** A model without a key has one that is hidden. */
  #keyOf(change: Exclude<StoreChange<RowOf<M>, KeyOf<M>>, { kind: "delete" }>): KeyOf<M> {
    if (this.#model.parts.key.length > 0) return keyIn(this.#model, change.row) as KeyOf<M>;
    return (change.kind === "update" ? change.key : ++this.#hiddenKeys) as KeyOf<M>;
  }

  #keyTaken(): Problem {
    const [name = ""] = this.#model.parts.key;
    return {
      code: "keyTaken",
      message: `Another row in ${this.place} has this already.`,
      severity: "error",
      pointer: pointerTo(name),
    };
  }

  #note(
    id: string,
    changes: readonly StoreChange<RowOf<M>, KeyOf<M>>[],
    written: readonly (Kept<M> | undefined)[],
  ): void {
    const gone = changes.flatMap((change, index) => {
      if (change.kind === "insert") return [];
      const { key } = change;
      const now = written[index];
      return now !== undefined && lookUpOf(now.key) === lookUpOf(key) ? [] : [{ key, kept: undefined }];
    });
    const come = written.flatMap((kept) => (kept === undefined ? [] : [{ key: kept.key, kept }]));
    // A key that went from one row to another is there in the end.
    const there = new Set(come.map(({ key }) => lookUpOf(key)));
    const left = gone.filter(({ key }) => !there.has(lookUpOf(key)));
    this.#log.push({ number: this.#number, id, changes: [...left, ...come] });
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
