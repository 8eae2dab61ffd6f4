import { mergeRows, type RowConflict, sameRow } from "../merge/index.ts";
import type { AnyModel, KeyOf, RowOf } from "../model/index.ts";
import { keyIn, type LookUp, lookUpOf } from "../table/index.ts";

/** What happened to a row of a table, in the terms of `followRows`. */
export type NotedChange<M extends AnyModel> =
  | { readonly kind: "insert"; readonly key: KeyOf<M>; readonly after: RowOf<M> }
  | {
      readonly kind: "update";
      readonly key: KeyOf<M>;
      readonly keyBefore: KeyOf<M>;
      readonly before: RowOf<M>;
      readonly after: RowOf<M>;
    }
  | { readonly kind: "delete"; readonly key: KeyOf<M>; readonly before: RowOf<M> };

/** How a row differs from the place where it is kept. */
export type UnsavedKind = "new" | "changed" | "deleted";

/** A row that differs from the place where it is kept. */
export interface UnsavedRow<M extends AnyModel> {
  readonly kind: UnsavedKind;
  /** The key that it has there, or will have. */
  readonly key: KeyOf<M>;
  /** The row as it is there, as far as is known; `undefined` for a new one. */
  readonly base: RowOf<M> | undefined;
  /** The row as it is here; `undefined` for a deleted one. */
  readonly now: RowOf<M> | undefined;
}

/** One row in the journal. */
interface Entry<M extends AnyModel> {
  base: RowOf<M> | undefined;
  /** The key that the row had with `base`. */
  baseKey: KeyOf<M> | undefined;
  now: RowOf<M> | undefined;
  key: KeyOf<M>;
}

/**
 * What differs between a table and the place where its rows are kept: for each row, how it was there and how it is here. Changes of one
 * row are joined: a new row that is changed is one new row, a new row that is deleted is nothing, and so is a change that is taken back.
 * To note a change takes the same time however many rows the table has, and memory is by changed rows.
 */
export class Unsaved<M extends AnyModel> {
  readonly #entries = new Set<Entry<M>>();
  /** Those that are here, by the key that they have now. */
  readonly #byKey = new Map<LookUp, Entry<M>>();
  /** Those that are at the place, by the key that they have there. */
  readonly #byBase = new Map<LookUp, Entry<M>>();
  /** What is being written: by entry, the row as it was taken. */
  #writing: Map<Entry<M>, RowOf<M> | undefined> | undefined;
  readonly #model: M;

  constructor(model: M) {
    this.#model = model;
  }

  /** How many rows differ. */
  get size(): number {
    return this.#entries.size;
  }

  /** How the row with a key differs; `undefined` where it does not. A deleted row is asked for by its last key. */
  kindOf(key: KeyOf<M>): UnsavedKind | undefined {
    const found = lookUpOf(key);
    const entry = this.#byKey.get(found);
    if (entry !== undefined) return kindOf(entry);
    const before = this.#byBase.get(found);
    return before?.now === undefined && before !== undefined ? "deleted" : undefined;
  }

  /** All rows that differ. Deleted ones come first and new ones last, so that a key that another row has now is free when it is needed. */
  rows(): UnsavedRow<M>[] {
    return this.#inOrder().map((entry) => ({
      kind: kindOf(entry),
      key: entry.baseKey ?? entry.key,
      base: entry.base,
      now: entry.now,
    }));
  }

  #inOrder(): Entry<M>[] {
    const order: readonly UnsavedKind[] = ["deleted", "changed", "new"];
    return [...this.#entries].sort((a, b) => order.indexOf(kindOf(a)) - order.indexOf(kindOf(b)));
  }

  /** Takes note of what one transaction changed. */
  note(changes: readonly NotedChange<M>[]): void {
    // All are taken out first: two rows may have exchanged their keys.
    const entries = changes.map((change) => this.#takeOut(change));
    // What was deleted may come back in the same transaction, and then it was changed.
    for (const [place, change] of changes.entries())
      if (change.kind === "delete") this.#put(entries[place]!, undefined, change.key);
    for (const [place, change] of changes.entries())
      if (change.kind !== "delete") this.#put(entries[place] ?? this.#newEntry(change.key), change.after, change.key);
  }

  #takeOut(change: NotedChange<M>): Entry<M> | undefined {
    if (change.kind === "insert") return undefined;
    const key = change.kind === "update" ? change.keyBefore : change.key;
    const entry = this.#byKey.get(lookUpOf(key)) ?? { base: change.before, baseKey: key, now: change.before, key };
    this.#drop(entry);
    return entry;
  }

  /** What a new row begins with: where a deleted one had its key, that one comes back. */
  #newEntry(key: KeyOf<M>): Entry<M> {
    const before = this.#byBase.get(lookUpOf(key));
    if (before === undefined || before.now !== undefined)
      return { base: undefined, baseKey: undefined, now: undefined, key };
    this.#drop(before);
    return before;
  }

  #put(entry: Entry<M>, now: RowOf<M> | undefined, key: KeyOf<M>): void {
    entry.now = now;
    entry.key = key;
    this.#keepIfDifferent(entry);
  }

  /** What is being written may be at its place any moment: until that is known, it differs. */
  #keepIfDifferent(entry: Entry<M>): void {
    const { base, now } = entry;
    const isSame = base === undefined ? now === undefined : sameRow(this.#model, base, now);
    if (isSame && this.#writing?.has(entry) !== true) return;
    this.#entries.add(entry);
    if (now !== undefined) this.#byKey.set(lookUpOf(entry.key), entry);
    if (base !== undefined) this.#byBase.set(lookUpOf(entry.baseKey), entry);
  }

  #drop(entry: Entry<M>): void {
    this.#entries.delete(entry);
    const [key, baseKey] = [lookUpOf(entry.key), lookUpOf(entry.baseKey)];
    if (this.#byKey.get(key) === entry) this.#byKey.delete(key);
    if (this.#byBase.get(baseKey) === entry) this.#byBase.delete(baseKey);
  }

  /**
   * Begins to write all that differs. What is changed from now on is for the next time.
   *
   * @throws where a write is under way
   */
  beginWrite(): UnsavedRow<M>[] {
    if (this.#writing !== undefined) throw new Error("A write is under way.");
    const rows = this.rows();
    this.#writing = new Map([...this.#entries].map((entry) => [entry, entry.now]));
    return rows;
  }

  /** What was begun to be written is at its place, or is not: then all of it still differs. */
  endWrite(isWritten: boolean): void {
    const writing = [...(this.#writing ?? [])];
    this.#writing = undefined;
    // All are taken out first: what is at the place may have exchanged keys.
    for (const [entry] of writing) this.#drop(entry);
    for (const [entry, written] of writing) {
      if (isWritten) this.#beginFrom(entry, written, written === undefined ? undefined : this.#keyOf(written, entry));
      this.#keepIfDifferent(entry);
    }
  }

  #beginFrom(entry: Entry<M>, base: RowOf<M> | undefined, key: KeyOf<M> | undefined): void {
    entry.base = base;
    entry.baseKey = base === undefined ? undefined : key;
  }

  /** A row whose model has no key keeps the one that it has here. */
  #keyOf(row: RowOf<M>, entry: Entry<M>): KeyOf<M> {
    return this.#model.parts.key.length === 0 ? entry.key : (keyIn(this.#model, row) as KeyOf<M>);
  }

  /**
   * Takes in a row as others left it at the place.
   *
   * @param key - the key that the row has there
   * @returns the row as it is to be here, and what somebody has to choose; a row that does not differ here is simply theirs
   */
  meet(
    key: KeyOf<M>,
    theirs: RowOf<M> | undefined,
  ): { readonly row: RowOf<M> | undefined; readonly conflict?: RowConflict } {
    const entry = this.#at(key);
    if (entry === undefined) return { row: theirs };
    const { row, conflict } = mergeRows(this.#model, { base: entry.base, mine: entry.now, theirs });
    if (conflict !== undefined) return { row: entry.now, conflict };
    return { row: this.resolve(key, theirs, row as RowOf<M> | undefined) };
  }

  /**
   * Ends a conflict: what is chosen is what is here, and it differs from theirs, or not.
   *
   * @returns what is chosen
   */
  resolve(key: KeyOf<M>, theirs: RowOf<M> | undefined, chosen: RowOf<M> | undefined): RowOf<M> | undefined {
    const entry = this.#at(key) ?? { base: undefined, baseKey: undefined, now: undefined, key };
    this.#drop(entry);
    this.#beginFrom(entry, theirs, key);
    this.#put(entry, chosen, chosen === undefined ? entry.key : this.#keyOf(chosen, entry));
    return chosen;
  }

  /** The entry of the row that has a key at the place; of a new one, that will have it there. */
  #at(key: KeyOf<M>): Entry<M> | undefined {
    const found = lookUpOf(key);
    const there = this.#byBase.get(found);
    if (there !== undefined) return there;
    const here = this.#byKey.get(found);
    return here?.base === undefined ? here : undefined;
  }
}

const kindOf = ({ base, now }: { readonly base: unknown; readonly now: unknown }): UnsavedKind => {
  if (now === undefined) return "deleted";
  return base === undefined ? "new" : "changed";
};
