import { mergeRows, type RowConflict, sameRow } from "../merge/index.ts";
import type { AnyModel, KeyOf, RowOf } from "../model/index.ts";
import { KeyedList } from "./KeyedList.ts";
import type { WriteGroup, WriteGroups } from "./WriteGroups.ts";
import { keyIn, type LookUp, lookUpOf } from "../table/index.ts";

/** Where a row is at the place where it is kept: its key there, and the version that it has. */
export interface AtPlace {
  readonly key: unknown;
  readonly version: string;
}

/** What happened to a row of a table; `at` is where it was at the place, if it did not differ from it before. */
export type NotedChange<M extends AnyModel> =
  | { readonly kind: "insert"; readonly key: KeyOf<M>; readonly after: RowOf<M> }
  | {
      readonly kind: "update";
      readonly key: KeyOf<M>;
      readonly keyBefore: KeyOf<M>;
      readonly before: RowOf<M>;
      readonly after: RowOf<M>;
      readonly at?: AtPlace | undefined;
    }
  | { readonly kind: "delete"; readonly key: KeyOf<M>; readonly before: RowOf<M>; readonly at?: AtPlace | undefined };

/** How a row differs from the place where it is kept. */
export type UnsavedKind = "new" | "changed" | "deleted";

/** A row that differs from the place where it is kept. */
export interface Differing<M extends AnyModel> {
  readonly kind: UnsavedKind;
  /** The key that it has here, or had last. */
  readonly key: KeyOf<M>;
  /** Where it is at the place; `undefined` for a new one. */
  readonly at: AtPlace | undefined;
  /** The row as it is there, as far as is known; `undefined` for a new one. */
  readonly base: RowOf<M> | undefined;
  /** The row as it is here; `undefined` for a deleted one. */
  readonly now: RowOf<M> | undefined;
  /** What it belongs to, where tables are written together. */
  readonly group: WriteGroup | undefined;
}

/** A row as the place has it after a write. */
export interface Written<M extends AnyModel> {
  readonly key: unknown;
  readonly version: string;
  readonly row: RowOf<M>;
}

/** One row in the journal. */
interface Entry<M extends AnyModel> {
  base: RowOf<M> | undefined;
  at: AtPlace | undefined;
  now: RowOf<M> | undefined;
  key: KeyOf<M>;
  /** Its number among the new rows, in the order in which they came; 0 for one that was there. */
  readonly born: number;
  group?: WriteGroup | undefined;
  /** The group with which it is being written. */
  sent?: WriteGroup | undefined;
}

/** What a row came to when others changed it at the place. */
export interface Met<M extends AnyModel> {
  /** The key under which the row is here, or was last. */
  readonly key: KeyOf<M>;
  /** The row as it is to be here. */
  readonly row: RowOf<M> | undefined;
  /** Whether it is here: where it is not, another row may have its key by now. */
  readonly isHere: boolean;
  /** What somebody has to choose; the row stays as it is until then. */
  readonly conflict?: RowConflict;
}

/**
 * What differs between a table and the place where its rows are kept: for each row, how it was there and how it is here. Changes of one
 * row are joined: a new row that is changed is one new row, a new row that is deleted is nothing, and so is a change that is taken back.
 * To note a change takes the same time however many rows the table has, and memory is by changed rows.
 */
export class Unsaved<M extends AnyModel> {
  /** Those that are here, by the key that they have now. */
  readonly #byKey = new KeyedList<Entry<M>>();
  /** All others: those that are here no more, and those whose key another has for a while. */
  readonly #others = new Set<Entry<M>>();
  /** Those that are at the place under another key than here, or are no more here, by the key that they have there. */
  readonly #byBase = new Map<LookUp, Entry<M>>();
  /** Those that were deleted here, by the key that they had last, where that is not the key of the place. */
  readonly #deleted = new Map<LookUp, Entry<M>>();
  /** What is being written: by entry, the row as it was taken. */
  #writing: Map<Entry<M>, RowOf<M> | undefined> | undefined;
  readonly #model: M;
  readonly #settled: (key: KeyOf<M>, at: AtPlace) => void;
  readonly #hasKey: boolean;
  readonly #groups: WriteGroups | undefined;
  #born = 0;
  /** Of what is written together, two who enter the same disagree too: what else each of them did belongs to it. */
  readonly #isStrict: boolean;

  /**
   * @param settled - told of each row that does not differ any more: where it is at the place
   * @param groups - where the rows of several tables are written together
   */
  constructor(model: M, settled: (key: KeyOf<M>, at: AtPlace) => void = () => {}, groups?: WriteGroups) {
    this.#groups = groups;
    this.#isStrict = groups !== undefined;
    this.#model = model;
    this.#settled = settled;
    this.#hasKey = model.parts.key.length > 0;
  }

  /** How many rows differ. */
  get size(): number {
    return this.#byKey.size + this.#others.size;
  }

  /** Whether a write is under way. */
  get isWriting(): boolean {
    return this.#writing !== undefined;
  }

  /** How the row with a key differs; `undefined` where it does not. A deleted row is asked for by its last key. */
  kindOf(key: KeyOf<M>): UnsavedKind | undefined {
    const entry = this.#byKey.get(lookUpOf(key)) ?? this.#deletedAt(key);
    return entry && kindOf(entry);
  }

  /** Where the row with a key of here began, and what it is; `undefined` where it does not differ. */
  find(key: KeyOf<M>): Differing<M> | undefined {
    const entry = this.#byKey.get(lookUpOf(key)) ?? this.#deletedAt(key);
    return entry && differing(entry);
  }

  /** The same by the key that the row has at the place. */
  findAt(placeKey: unknown): Differing<M> | undefined {
    const entry = this.#at(placeKey);
    return entry && differing(entry);
  }

  /** All rows that differ. Deleted ones come first and new ones last, so that a key that another row has now is free when it is needed; new ones as they came. */
  rows(): Differing<M>[] {
    return this.#inOrder().map(differing);
  }

  #inOrder(): Entry<M>[] {
    const deleted: Entry<M>[] = [];
    const changed: Entry<M>[] = [];
    const created: Entry<M>[] = [];
    const add = (entry: Entry<M>): void => {
      if (entry.now === undefined) deleted.push(entry);
      else (entry.base === undefined ? created : changed).push(entry);
    };
    this.#byKey.forEach(add);
    this.#others.forEach(add);
    return [...deleted, ...changed, ...created.sort((a, b) => a.born - b.born)];
  }

  /** Takes note of what one transaction changed. */
  note(changes: readonly NotedChange<M>[]): void {
    const group = this.#groups?.ofChange;
    // All are taken out first: two rows may have exchanged their keys.
    const entries = changes.map((change) => this.#takeOut(change));
    // What was deleted may come back in the same transaction, and then it was changed.
    for (const [place, change] of changes.entries())
      if (change.kind === "delete") this.#put(entries[place]!, undefined, change.key, group);
    for (const [place, change] of changes.entries())
      if (change.kind !== "delete")
        this.#put(entries[place] ?? this.#newEntry(change.key), change.after, change.key, group);
  }

  /** Takes note of one changed row. */
  noteUpdate(key: KeyOf<M>, keyBefore: KeyOf<M>, before: RowOf<M>, after: RowOf<M>, at: AtPlace | undefined): void {
    const group = this.#groups?.ofChange;
    const found = lookUpOf(keyBefore);
    const entry = this.#byKey.get(found);
    if (entry === undefined) {
      const place = at ?? { key: keyBefore, version: "" };
      const isUsual = this.#hasKey && group === undefined && lookUpOf(key) === found && key === place.key;
      if (!isUsual) this.#put({ base: before, at: place, now: before, key, born: 0 }, after, key, group);
      // A row that was as it is at its place, under a key that no other has: there is nothing to look for.
      else if (sameRow(this.#model, before, after)) this.#settled(key, place);
      else this.#byKey.set(found, { base: before, at: place, now: after, key, born: 0 });
      return;
    }
    this.#drop(entry);
    this.#put(entry, after, key, group);
  }

  #takeOut(change: NotedChange<M>): Entry<M> | undefined {
    if (change.kind === "insert") return undefined;
    const key = change.kind === "update" ? change.keyBefore : change.key;
    const entry = this.#byKey.get(lookUpOf(key));
    if (entry === undefined)
      return { base: change.before, at: change.at ?? { key, version: "" }, now: change.before, key, born: 0 };
    this.#drop(entry);
    return entry;
  }

  /** What a new row begins with: where a deleted one had its key, that one comes back. */
  #newEntry(key: KeyOf<M>): Entry<M> {
    const before = this.#deletedAt(key);
    if (before === undefined) return { base: undefined, at: undefined, now: undefined, key, born: ++this.#born };
    this.#drop(before);
    return before;
  }

  #deletedAt(key: KeyOf<M>): Entry<M> | undefined {
    const found = lookUpOf(key);
    const entry = this.#hasKey ? this.#byBase.get(found) : this.#deleted.get(found);
    return entry?.now === undefined ? entry : undefined;
  }

  #put(entry: Entry<M>, now: RowOf<M> | undefined, key: KeyOf<M>, group?: WriteGroup): void {
    entry.now = now;
    entry.key = key;
    if (group !== undefined) entry.group = group.with(entry.group);
    this.#keepIfDifferent(entry);
  }

  /** What is being written may be at its place any moment: until that is known, it differs. */
  #keepIfDifferent(entry: Entry<M>): void {
    const { base, now, at } = entry;
    const isSame = base === undefined ? now === undefined : sameRow(this.#model, base, now);
    if (isSame && this.#writing?.has(entry) !== true) {
      if (at !== undefined) this.#settled(entry.key, at);
      return;
    }
    const key = lookUpOf(entry.key);
    if (now !== undefined) this.#putHere(key, entry);
    else {
      this.#others.add(entry);
      if (!this.#hasKey) this.#deleted.set(key, entry);
    }
    if (at === undefined) return;
    // Most rows keep their keys, and are found by them: a change that is noted costs one entry less.
    const placeKey = lookUpOf(at.key);
    if (now === undefined || placeKey !== key || !this.#hasKey) this.#byBase.set(placeKey, entry);
  }

  /** Two may have one key for a while, as when others put a row in under the key of one that is new here: the last is found by it. */
  #putHere(key: LookUp, entry: Entry<M>): void {
    const before = this.#byKey.get(key);
    if (before !== undefined && before !== entry) this.#others.add(before);
    this.#byKey.set(key, entry);
  }

  #drop(entry: Entry<M>): void {
    const key = lookUpOf(entry.key);
    if (this.#byKey.get(key) === entry) this.#byKey.delete(key);
    else this.#others.delete(entry);
    if (this.#deleted.get(key) === entry) this.#deleted.delete(key);
    if (entry.at === undefined) return;
    const baseKey = lookUpOf(entry.at.key);
    if (this.#byBase.get(baseKey) === entry) this.#byBase.delete(baseKey);
  }

  /**
   * Begins to write what differs. What is changed from now on is for the next time.
   *
   * @param isHeld - which rows are not to be written now
   * @throws where a write is under way
   */
  beginWrite(isHeld: (row: Differing<M>) => boolean = () => false): Differing<M>[] {
    if (this.#writing !== undefined) throw new Error("A write is under way.");
    const entries = this.#inOrder().filter((entry) => !isHeld(differing(entry)));
    this.#writing = new Map(entries.map((entry) => [entry, entry.now]));
    // What is changed from now on belongs to what is changed with it, and not to what is on its way.
    for (const entry of entries) {
      entry.sent = entry.group;
      entry.group = undefined;
    }
    return entries.map(differing);
  }

  /**
   * What was begun to be written is at its place, or is not: then all of it still differs.
   *
   * @param written - for each row, in order, how the place has it; nothing where the write did not come about
   * @returns the rows that the place has made others of what was written
   */
  endWrite(written?: readonly (Written<M> | undefined)[]): { readonly key: KeyOf<M>; readonly row: RowOf<M> }[] {
    const writing = [...(this.#writing ?? [])];
    this.#writing = undefined;
    // All are taken out first: what is at the place may have exchanged keys.
    for (const [entry] of writing) {
      this.#drop(entry);
      if (written === undefined && entry.sent !== undefined) entry.group = entry.sent.with(entry.group);
      entry.sent = undefined;
    }
    const others: { key: KeyOf<M>; row: RowOf<M> }[] = [];
    for (const [index, [entry, sent]] of writing.entries()) {
      const kept = written?.[index];
      if (written !== undefined) {
        if (kept !== undefined && entry.now !== undefined && !sameRow(this.#model, sent, kept.row, false)) {
          const { key } = entry;
          // What the place made of it, with what was changed here meanwhile.
          const { row } = mergeRows(this.#model, { base: sent, mine: entry.now, theirs: kept.row });
          entry.now = row as RowOf<M>;
          entry.key = this.#keyOf(entry.now, entry);
          others.push({ key, row: entry.now });
        }
        this.#beginFrom(entry, kept);
      }
      this.#keepIfDifferent(entry);
    }
    return others;
  }

  #beginFrom(entry: Entry<M>, kept: Written<M> | undefined): void {
    entry.base = kept?.row;
    entry.at = kept && { key: kept.key, version: kept.version };
  }

  /** A row whose model has no key keeps the one that it has here. */
  #keyOf(row: RowOf<M>, entry: Entry<M>): KeyOf<M> {
    return this.#hasKey ? (keyIn(this.#model, row) as KeyOf<M>) : entry.key;
  }

  /**
   * Takes in a row as others left it at the place.
   *
   * @param placeKey - the key that the row has there
   * @param theirs - the row as it is there; `undefined` where it is not there any more
   * @returns what it comes to; `undefined` for a row that does not differ here: it is simply theirs
   */
  meet(placeKey: unknown, theirs: Written<M> | undefined): Met<M> | undefined {
    const entry = this.#at(placeKey);
    if (entry === undefined) return undefined;
    const { key, base, now: mine } = entry;
    const { row, conflict } = mergeRows(this.#model, { base, mine, theirs: theirs?.row, isStrict: this.#isStrict });
    const isHere = mine !== undefined;
    if (conflict !== undefined) return { key, row: mine, isHere, conflict };
    return { key, isHere, row: this.resolve(placeKey, theirs, row as RowOf<M> | undefined) };
  }

  /**
   * Ends a conflict: what is chosen is what is here, and it differs from theirs, or not.
   *
   * @returns what is chosen
   */
  resolve(placeKey: unknown, theirs: Written<M> | undefined, chosen: RowOf<M> | undefined): RowOf<M> | undefined {
    const key = placeKey as KeyOf<M>;
    const entry = this.#at(placeKey) ?? { base: undefined, at: undefined, now: undefined, key, born: ++this.#born };
    this.#drop(entry);
    this.#beginFrom(entry, theirs);
    this.#put(entry, chosen, chosen === undefined ? entry.key : this.#keyOf(chosen, entry));
    return chosen;
  }

  /** The entry of the row that has a key at the place; of a new one, that will have it there. */
  #at(placeKey: unknown): Entry<M> | undefined {
    const found = lookUpOf(placeKey);
    const there = this.#byBase.get(found);
    if (there !== undefined || !this.#hasKey) return there;
    const here = this.#byKey.get(found);
    return here?.at === undefined || lookUpOf(here.at.key) === found ? here : undefined;
  }
}

const differing = <M extends AnyModel>(entry: Entry<M>): Differing<M> => ({
  kind: kindOf(entry),
  key: entry.key,
  at: entry.at,
  base: entry.base,
  now: entry.now,
  group: entry.group?.now,
});

const kindOf = ({ base, now }: { readonly base: unknown; readonly now: unknown }): UnsavedKind => {
  if (now === undefined) return "deleted";
  return base === undefined ? "new" : "changed";
};
