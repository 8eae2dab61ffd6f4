import { because, transaction, Value } from "../engine/index.ts";
import { IronwoodError, shown } from "../errors/index.ts";
import { chosenRow, mergeRows } from "../merge/index.ts";
import { type AnyModel, isForNow, type KeyOf, type Problem, type RowOf } from "../model/index.ts";
import {
  fieldsBetween,
  keyIn,
  type LeftOut,
  type LookUp,
  lookUpOf,
  type RowResult,
  type TableState,
  wholeRow,
} from "../table/index.ts";
import { conflictOf, type Disputed, disputedRows, type News } from "./disputedRows.ts";
import { firstBefore, noneWaits, rowsWaiting, type WaitingRows } from "./firstBefore.ts";
import type { KeptConflict, UnsavedRow } from "./Kept.ts";
import { PlaceVersions } from "./PlaceVersions.ts";
import { newsOf, type PlaceRead } from "./readPlace.ts";
import { Refusals } from "./Refusals.ts";
import { TouchedRows } from "./TouchedRows.ts";
import { type AtPlace, type Differing, type Met, type NotedChange, Unsaved, type Written } from "./Unsaved.ts";
import { unknownRow } from "./unknownRow.ts";
import type { WriteGroups } from "./WriteGroups.ts";

/** A row of the table to be written without anybody being told that it differs. */
interface Applied<M extends AnyModel> {
  readonly slot: number | undefined;
  /** The key that it had here, if it was here. */
  readonly key?: KeyOf<M> | undefined;
  readonly row: RowOf<M> | undefined;
}

/** The rows of a table as they stand to the place where they are kept. It writes nothing there: it says what is to be written. */
export class KeptRows<M extends AnyModel> {
  readonly #table: TableState<M>;
  readonly #unsaved: Unsaved<M>;
  readonly #versions: PlaceVersions<M>;
  readonly #touched: TouchedRows<M>;
  /** By the key of the place, how the row is there that was changed here otherwise. */
  readonly #conflicts = new Map<LookUp, News<M>>();
  /** Rows that others put in, under a key that a row here has for now. */
  readonly #blocked = new Map<LookUp, News<M>>();
  readonly #refused: Refusals<M>;
  readonly #isStrict: boolean;
  /** Rows that differ no more, whose slots are to be found when they are written. */
  readonly #settled: { readonly key: KeyOf<M>; readonly at: AtPlace }[] = [];
  readonly #version = new Value(0);

  /** @param groups - where the rows of several tables are written together */
  constructor(table: TableState<M>, groups?: WriteGroups) {
    this.#table = table;
    this.#unsaved = new Unsaved(table.model, (key, at) => this.#settled.push({ key, at }), groups);
    this.#isStrict = groups !== undefined;
    this.#versions = new PlaceVersions(table);
    this.#touched = new TouchedRows(table);
    this.#refused = new Refusals(table);
  }

  /** Watches the table from now on. @returns what ends it */
  watch(): () => void {
    const table = this.#table;
    table.watcher = (slot, before) => this.#touched.add(slot, before);
    return () => {
      table.watcher = undefined;
    };
  }

  /** Has what runs depend on how the rows stand. */
  track(): void {
    this.#version.read();
  }

  #changed(): void {
    this.#version.write(this.#version.peek() + 1);
  }

  /** How many rows differ. */
  get size(): number {
    return this.#unsaved.size;
  }

  get conflictCount(): number {
    return this.#conflicts.size;
  }

  /** Why rows are not written, the first reason first. */
  get refusals(): readonly (readonly Problem[])[] {
    return this.#refused.all;
  }

  kindOf(key: KeyOf<M>): "new" | "changed" | "conflict" | undefined {
    const kind = this.#unsaved.kindOf(key);
    if (kind === undefined || kind === "deleted") return undefined;
    if (this.#conflicts.size === 0) return kind;
    const at = this.#unsaved.find(key)?.at;
    return this.#conflicts.has(lookUpOf(at?.key ?? key)) ? "conflict" : kind;
  }

  list(): UnsavedRow<M>[] {
    const { model } = this.#table;
    return this.#unsaved.rows().map(({ kind, key, base, now }) => ({
      kind,
      key,
      fields: fieldsBetween(model, base, now),
      problems: this.#refused.problemsOf((now ?? base) as object) ?? [],
    }));
  }

  /** The rows that differ, as the journal has them. */
  differing(): readonly Differing<M>[] {
    return this.#unsaved.rows();
  }

  /** A row by its key at the place: its key here, whether it differs here, and if not, how it is there. */
  there(placeKey: KeyOf<M>): { isUnsaved: boolean; tableKey: KeyOf<M> | undefined; now: Written<M> | undefined } {
    const differs = this.#unsaved.findAt(placeKey);
    if (differs !== undefined) return { isUnsaved: true, tableKey: differs.now && differs.key, now: undefined };
    const slot = this.#versions.slotOf(placeKey) ?? -1;
    const [at, row] = [this.#versions.at(slot, placeKey), this.#table.rowAt(slot)];
    if (at === undefined || row === undefined) return { isUnsaved: false, tableKey: undefined, now: undefined };
    return { isUnsaved: false, tableKey: this.#table.keyAt(slot), now: { ...at, row } };
  }

  /** Where a row that does not differ is at the place. */
  placeOf(key: KeyOf<M>): AtPlace | undefined {
    return this.#versions.at(this.#table.slotFor(key) ?? -1, key);
  }

  listConflicts(): KeptConflict<M>[] {
    return this.#disputed().map(conflictOf);
  }

  #disputed(): Disputed<M>[] {
    return disputedRows(this.#table.model, this.#unsaved, this.#conflicts.values(), this.#isStrict);
  }

  /** Puts in all rows of the place. What came into the table meanwhile stays, and is unsaved. */
  load({ rows, versions, keys }: PlaceRead<M>): readonly LeftOut[] {
    const table = this.#table;
    const early = [...table.slotsInOrder()].map((slot) => ({ key: table.keyAt(slot), row: table.rowAt(slot) }));
    const leftOut = because({ cause: "stored" }, () => table.loadStored(rows));
    const without = new Set(leftOut.map(({ place }) => place));
    const there = <T>(all: readonly T[]): readonly T[] =>
      without.size === 0 ? all : all.filter((_, place) => !without.has(place));
    this.#versions.load(there(versions), there(keys ?? []));
    this.#touched.clear();
    // As they are: what concerns several rows is found out when they are written.
    if (early.length > 0)
      transaction(() => this.#write(early.map(({ key, row }) => ({ slot: table.slotFor(key), key, row }))));
    return leftOut;
  }

  /** Takes note of what was changed in the table. @returns whether something was */
  note(): boolean {
    if (this.#noteOne()) return true;
    const touched = this.#touched.take();
    if (touched.length === 0) return false;
    const changes = touched.map(({ slot, change }): NotedChange<M> => {
      if (change.kind === "insert") return change;
      const at = this.#versions.at(slot, change.kind === "update" ? change.keyBefore : change.key);
      this.#versions.clear(slot);
      return { ...change, at };
    });
    this.#unsaved.note(changes);
    this.#noted();
    return true;
  }

  /** Takes note of one changed row, the usual case. @returns whether it was one */
  #noteOne(): boolean {
    const { only: slot, beforeOnly: content } = this.#touched;
    if (slot < 0) return false;
    const { row: before, id } = content!;
    const table = this.#table;
    const after = table.rowAt(slot);
    if (before === undefined || after === undefined || after === before || table.idAt(slot) !== id) return false;
    this.#touched.clear();
    const keyBefore = table.keyFor(before, id);
    const at = this.#versions.at(slot, keyBefore);
    this.#versions.clear(slot);
    this.#unsaved.noteUpdate(table.keyFor(after, id), keyBefore, before, after, at);
    this.#noted();
    return true;
  }

  #noted(): void {
    this.#settle();
    this.#dropRefusals();
    this.#meetAgain();
    this.#changed();
  }

  /** What was changed since may be written. */
  #dropRefusals(): void {
    if (this.#refused.size === 0) return;
    this.#refused.keepOnly(new Set(this.#unsaved.rows().map(({ now, base }) => (now ?? base) as object)));
  }

  #settle(): void {
    if (this.#settled.length === 0) return;
    for (const { key, at } of this.#settled.splice(0)) {
      const slot = this.#table.slotFor(key);
      if (slot !== undefined) this.#versions.set(slot, at);
    }
  }

  /** What is in conflict may not be any more, and what had no room may have it. */
  #meetAgain(): void {
    const again = [...this.#conflicts.values(), ...this.#blocked.values()];
    if (again.length === 0) return;
    this.#blocked.clear();
    this.#conflicts.clear();
    this.takeIn(again);
  }

  /** Takes in rows as others left them at the place. */
  takeIn(news: readonly News<M>[]): void {
    this.note();
    const applied = news.flatMap((each) => this.#takeInOne(each));
    this.#apply(applied);
    this.#settle();
    this.#changed();
  }

  #takeInOne(news: News<M>): Applied<M>[] {
    const { key, now } = news;
    const met = this.#unsaved.meet(key, now);
    if (met !== undefined) return this.#takeMet(news, met);
    this.#conflicts.delete(lookUpOf(key));
    const slot = this.#versions.slotOf(key);
    // A row that was renamed here has the key for now.
    const isHere = slot !== undefined && this.#versions.at(slot, key) !== undefined;
    if (now === undefined) {
      if (!isHere) return [];
      this.#versions.clear(slot);
      return [{ slot, row: undefined }];
    }
    if (slot !== undefined && !isHere) {
      this.#blocked.set(lookUpOf(key), news);
      return [];
    }
    if (isHere) {
      if (this.#versions.at(slot, key)!.version === now.version) return [];
      this.#versions.set(slot, now);
    } else this.#settled.push({ key: key as KeyOf<M>, at: now });
    return [{ slot, row: now.row }];
  }

  #takeMet(news: News<M>, { key, row, isHere, conflict }: Met<M>): Applied<M>[] {
    const found = lookUpOf(news.key);
    if (conflict !== undefined) {
      this.#conflicts.set(found, news);
      return [];
    }
    this.#conflicts.delete(found);
    return [{ slot: isHere ? this.#table.slotFor(key) : undefined, key, row }];
  }

  /** Writes rows into the table as they are at the place: nobody is told that they differ. */
  #apply(rows: readonly Applied<M>[]): void {
    const table = this.#table;
    const changed = rows.filter(({ slot, row }) => row !== (slot === undefined ? undefined : table.rowAt(slot)));
    if (changed.length === 0) return;
    because({ cause: "stored" }, () =>
      transaction(() => {
        this.#write(changed);
        this.#touched.clear();
      }),
    );
  }

  #write(rows: readonly Applied<M>[]): void {
    const table = this.#table;
    for (const { slot, key, row } of rows)
      if (slot !== undefined) {
        const before = table.keyAt(slot);
        table.write(slot, { ...table.contentAt(slot), row });
        if (row !== undefined && table.isKeyGiven && isForNow(before))
          table.keyGiven(lookUpOf(before), table.keyAt(slot));
      } else {
        const free = table.freeSlot();
        const content = table.newContent(row!, free);
        const isBack = table.isNumbered && key !== undefined;
        table.write(free, isBack ? { ...content, id: key as number } : content);
        this.#placeNew(row!, free);
      }
  }

  /** A row without a key of its own gets its number here only when it is put in. */
  #placeNew(row: RowOf<M>, slot: number): void {
    if (!this.#table.isNumbered) return;
    const index = this.#settled.findIndex(({ at }) => "row" in at && at.row === row);
    const [found] = index < 0 ? [] : this.#settled.splice(index, 1);
    if (found !== undefined) this.#versions.set(slot, found.at);
  }

  /** Reads again: all rows of the place, as they are now. */
  reload(read: PlaceRead<M>): void {
    const table = this.#table;
    this.note();
    const news = newsOf(table.model, read);
    const there = new Set(news.map(({ key }) => lookUpOf(key)));
    const gone: News<M>[] = [];
    const know = (at: AtPlace | undefined): void => {
      if (at !== undefined && !there.has(lookUpOf(at.key))) gone.push({ key: at.key, now: undefined });
    };
    for (const slot of table.slotsInOrder()) know(this.#versions.at(slot, table.keyAt(slot)));
    for (const { at } of this.#unsaved.rows()) know(at);
    this.takeIn([...gone, ...news]);
  }

  /**
   * What is to be written now: all that differs, without what is in conflict or was refused as it is.
   *
   * @param waits - which rows have to wait besides
   */
  begin(waits: (row: Differing<M>) => boolean = () => false): Differing<M>[] {
    this.note();
    this.#checkAll();
    return this.#unsaved.beginWrite((row) => this.isHeld(row) || waits(row));
  }

  /** Finds out which rows can't be written as they are. @returns all that differ */
  look(): readonly Differing<M>[] {
    this.note();
    this.#checkAll();
    return this.#unsaved.rows();
  }

  /** Whether a row is in conflict, was refused as it is, or refers to one whose key the place has still to give. */
  isHeld({ at, key, now, base }: Differing<M>): boolean {
    if (!this.#isStrict && firstBefore(this.#table, now) !== undefined) return true;
    if (this.#refused.problemsOf((now ?? base) as object) !== undefined) return true;
    return this.#conflicts.size > 0 && this.#conflicts.has(lookUpOf(at?.key ?? key));
  }

  /** How many rows wait for rows of another table, and for which table. */
  get waiting(): WaitingRows {
    return this.#isStrict ? noneWaits : rowsWaiting(this.#table, this.#unsaved);
  }

  /** A row that was merged, or put in as it is, may break what its model says: only what was not wrong before keeps it from being written. */
  #checkAll(): void {
    for (const { key, now, base } of this.#unsaved.rows()) {
      const problems = now === undefined ? [] : this.#table.newErrors(now, base);
      if (problems.length > 0) this.#refused.add(key, now as object, problems);
    }
  }

  /** Forgets what the place has said: it is asked again. */
  askAgain(): void {
    this.#refused.clear();
    this.#changed();
  }

  /** What was begun to be written is at the place. */
  written(written: readonly (Written<M> | undefined)[]): void {
    this.note();
    const others = this.#unsaved.endWrite(written);
    this.#apply(others.map(({ key, row }) => ({ slot: this.#table.slotFor(key), row })));
    this.#settle();
    this.#meetAgain();
    this.#changed();
  }

  /** What was begun to be written is not at the place. */
  notWritten(): void {
    this.note();
    this.#unsaved.endWrite();
    this.#settle();
    this.#changed();
  }

  /** The place does not take a row as it is. */
  refuse({ key, now, base }: Differing<M>, problems: readonly Problem[]): void {
    this.#refused.addOfPlace(key, (now ?? base) as object, problems, now !== undefined);
    this.#changed();
  }

  revert(key?: KeyOf<M>): RowResult<void> {
    this.note();
    const row = key === undefined ? undefined : this.#unsaved.find(key);
    if (key !== undefined && row === undefined)
      throw unknownRow(this.#table.where, this.#unsaved, key, "that is unsaved");
    const rows = row === undefined ? this.#unsaved.rows() : [row];
    const disputed = rows.flatMap((each) => this.#conflicts.get(lookUpOf(each.at?.key ?? each.key)) ?? []);
    for (const { key: placeKey, now } of disputed) this.#choose(placeKey, now, now?.row);
    const others = rows.filter((each) => this.#unsaved.find(each.key) !== undefined);
    return this.#table.putAsIs(
      others.map(({ key: here, base, now }) => ({ key: here, row: base, isGone: now === undefined })),
    );
  }

  resolve(key: KeyOf<M>, choice: "mine" | "theirs" | Partial<RowOf<M>>): void {
    this.note();
    const { model } = this.#table;
    const found = this.#disputed().find(({ row }) => lookUpOf(row.key) === lookUpOf(key));
    if (found === undefined) throw unknownRow(this.#table.where, this.#unsaved, key, "in conflict");
    const { placeKey, theirs } = found;
    const sides = { base: found.row.base, mine: found.row.now, theirs: theirs?.row, isStrict: this.#isStrict };
    const whole = (given: object): unknown =>
      wholeRow(model, given as never, this.#table.where, mergeRows(model, sides).row ?? theirs?.row);
    const chosen = typeof choice === "object" ? whole(choice) : chosenRow(model, sides, choice);
    const isBack = found.row.now === undefined && chosen !== undefined && chosen !== theirs?.row;
    if (isBack && this.#isTakenHere(chosen as RowOf<M>))
      throw new IronwoodError(
        "wrongOption",
        `The row ${shown(key)} can't come back changed: another has its key by now`,
        {
          where: this.#table.where,
          expected: '"mine", "theirs", or another key for the one that is there',
        },
      );
    this.#choose(placeKey, theirs, chosen as RowOf<M> | undefined);
  }

  #choose(placeKey: unknown, theirs: Written<M> | undefined, chosen: RowOf<M> | undefined): void {
    const before = this.#unsaved.findAt(placeKey);
    const slot = before?.now === undefined ? undefined : this.#table.slotFor(before.key);
    this.#conflicts.delete(lookUpOf(placeKey));
    this.#unsaved.resolve(placeKey, theirs, chosen);
    if (slot === undefined && chosen !== undefined && this.#isTakenHere(chosen)) {
      // It comes back when the row that has its key by now has another.
      this.#settled.splice(0);
      this.#blocked.set(lookUpOf(placeKey), { key: placeKey, now: theirs });
      return this.#changed();
    }
    if (slot !== undefined || chosen !== undefined) this.#apply([{ slot, key: before?.key, row: chosen }]);
    this.#settle();
    this.#changed();
  }

  /** Whether another row of the table has the key of one that is not in it. */
  #isTakenHere(row: RowOf<M>): boolean {
    const { model } = this.#table;
    return model.parts.key.length > 0 && this.#table.slotFor(keyIn(model, row) as KeyOf<M>) !== undefined;
  }
}
