import { record, type Restorable, Value } from "../engine/index.ts";
import { type AnyModel, type KeyOf, type RowOf, rowTitle } from "../model/index.ts";
import { ChangeLog } from "./ChangeLog.ts";
import { bumpVersion, FollowedRows } from "./FollowedRows.ts";
import { type LookUp, lookUpOf } from "./KeyIndex.ts";
import { keysOf, type LoadedRows } from "./loadInto.ts";
import { RowStorage, type SlotContent } from "./RowStorage.ts";
import { keyIn, lookUpIn } from "./rowShape.ts";

/** Everything that belongs to one load of rows, to be put back when a load is taken back. */
interface Load<Row> extends LoadedRows<Row> {
  /** Its number: a slot of another load is no slot now. */
  readonly number: number;
  readonly keptInPlace: Map<number, number>;
}

let loadsEver = 0;

/**
 * The rows of a table by slots and by keys: each write is noted in the journal and in the log that views read. It knows nothing of checks
 * and of undo.
 */
export abstract class SlottedRows<M extends AnyModel> implements Restorable {
  /** What was changed, for views. */
  readonly log: ChangeLog<RowOf<M>> = new ChangeLog();
  protected current: Load<RowOf<M>>;
  protected readonly followed = new FollowedRows();
  /** Told of each write, also of those that are taken back: what the slot held before. */
  watcher: ((slot: number, before: SlotContent<RowOf<M>>) => void) | undefined;
  readonly #version = new Value(0);

  constructor(readonly model: M) {
    const storage = new RowStorage<RowOf<M>>(undefined);
    this.current = { storage, keys: keysOf(model, storage), leftOut: [], number: 0, keptInPlace: new Map() };
  }

  /** Whether the table gives keys itself. */
  get isNumbered(): boolean {
    return this.model.parts.key.length === 0;
  }

  /** Which load the rows are of. */
  get loads(): number {
    return this.current.number;
  }

  /** How many rows there are; not followed. */
  get count(): number {
    return this.current.storage.count;
  }

  /** How many slots there are. */
  get slots(): number {
    return this.current.storage.slots;
  }

  rowAt(slot: number): RowOf<M> | undefined {
    return this.current.storage.rows[slot];
  }

  contentAt(slot: number): SlotContent<RowOf<M>> {
    return this.current.storage.contentAt(slot);
  }

  /** Which row is in a slot. */
  idAt(slot: number): number {
    return this.current.storage.idAt(slot);
  }

  /** All rows by their slots, for who reads a million of them at once. */
  get rowsBySlot(): readonly (RowOf<M> | undefined)[] {
    return this.current.storage.rows;
  }

  /** The slots that hold rows, in the order of the rows; followed. */
  slotsInOrder(): Uint32Array {
    this.trackReads();
    return this.current.storage.slotsInOrder();
  }

  /** Whether the numbers of the slots are in the order of the rows. */
  get isBySlot(): boolean {
    return this.current.storage.isBySlot;
  }

  /** Which of two rows comes first in the table. */
  readonly compareSlots = (a: number, b: number): number => this.current.storage.compare(a, b);

  slotFor(key: KeyOf<M>): number | undefined {
    return this.current.keys.get(this.lookUp(key));
  }

  keyAt(slot: number): KeyOf<M> {
    return this.keyFor(this.rowAt(slot)!, this.current.storage.idAt(slot));
  }

  /** The key of a row that is, or was, in the table. @param id - which row it is */
  keyFor(row: RowOf<M>, id: number): KeyOf<M> {
    return (this.isNumbered ? id : keyIn(this.model, row)) as KeyOf<M>;
  }

  /** What people call the row in a slot; where there is none, what rows are called. */
  titleAt(slot: number): string {
    const { model } = this as { model: AnyModel };
    return this.rowAt(slot) === undefined ? (model.title ?? "") : rowTitle(model, [this.keyAt(slot)].flat());
  }

  /** A key as it is looked up. */
  protected lookUp(key: KeyOf<M>): LookUp {
    return this.isNumbered ? (key as number) : lookUpOf(key);
  }

  lookUpAt(slot: number): LookUp {
    return this.#lookUpIn(this.contentAt(slot));
  }

  #lookUpIn({ row, id }: SlotContent<RowOf<M>>): LookUp {
    return this.isNumbered ? id : lookUpIn(row, this.model.parts.key);
  }

  /** Whether more than one row has a key. */
  isDouble(key: LookUp): boolean {
    return this.current.keys.isDouble(key);
  }

  hasLookUp(key: LookUp): boolean {
    return this.current.keys.get(key) !== undefined;
  }

  /** Has what runs depend on every change. */
  trackReads(): void {
    this.#version.read();
  }

  /** The slots whose rows are open in entries, and in how many. */
  get keptInPlace(): ReadonlyMap<number, number> {
    return this.current.keptInPlace;
  }

  /** While an entry is changed, its row stays where it is in every view. */
  keepInPlace(slot: number): void {
    const { keptInPlace } = this.current;
    keptInPlace.set(slot, (keptInPlace.get(slot) ?? 0) + 1);
  }

  release(slot: number): void {
    const { keptInPlace } = this.current;
    const times = (keptInPlace.get(slot) ?? 0) - 1;
    if (times > 0) return void keptInPlace.set(slot, times);
    keptInPlace.delete(slot);
    // The views look at it again.
    this.showAgain(slot);
  }

  /** An entry is open over a row: its slot is given to no other row, also when the row is gone. */
  pin(slot: number): void {
    this.current.storage.pin(slot);
  }

  unpin(slot: number): void {
    this.current.storage.unpin(slot);
  }

  /** The slot for a row to come. */
  freeSlot(): number {
    return this.current.storage.freeSlot();
  }

  /** The stored form of a row that is inserted into a slot. */
  newContent(row: RowOf<M>, slot: number): SlotContent<RowOf<M>> {
    return this.current.storage.newContent(row, slot);
  }

  /** Writes a slot; to be called in a transaction, which can take it back. */
  write(slot: number, content: SlotContent<RowOf<M>>): void {
    record(this, { slot, content: this.#before(slot, content) });
    this.#put(slot, content);
  }

  /** What a slot holds; one that is still to come holds the same row, which is not there. */
  #before(slot: number, content: SlotContent<RowOf<M>>): SlotContent<RowOf<M>> {
    return slot < this.slots ? this.contentAt(slot) : { ...content, row: undefined };
  }

  /** For the journal. */
  restore(before: unknown): undefined {
    const { slot, content } = before as { readonly slot: number; readonly content: SlotContent<RowOf<M>> };
    this.#put(slot, content);
  }

  #put(slot: number, content: SlotContent<RowOf<M>>): void {
    const before = this.#before(slot, content);
    const { keys, storage } = this.current;
    const keyBefore = before.row === undefined ? undefined : this.#lookUpIn(before);
    const keyNow = content.row === undefined ? undefined : this.#lookUpIn(content);
    // Most changes leave the key as it is.
    if (keyBefore !== undefined && keyBefore !== keyNow) keys.remove(keyBefore, slot);
    this.changing(slot, before.row, content.row);
    storage.put(slot, content);
    if (keyNow !== undefined && keyNow !== keyBefore) keys.add(keyNow, slot);
    if (this.followed.any) for (const key of [keyBefore, keyNow]) if (key !== undefined) this.followed.tell(key);
    this.watcher?.(slot, before);
    this.#note(slot, before);
  }

  /** Has what shows the row in a slot look at it again. */
  showAgain(slot: number): void {
    this.#note(slot, this.contentAt(slot));
  }

  #note(slot: number, before: SlotContent<RowOf<M>>): void {
    this.log.add(slot, before, Math.max(4096, this.slots >> 3));
    bumpVersion(this.#version);
  }

  /** A slot is about to hold another row, or none. */
  protected abstract changing(slot: number, before: RowOf<M> | undefined, after: RowOf<M> | undefined): void;

  /** All rows are others now. */
  protected abstract loaded(): void;

  /** Puts other rows in the place of all, which the running transaction can take back. */
  protected replaceLoad(rows: LoadedRows<RowOf<M>>): void {
    const before = this.current;
    record({ restore: () => this.putLoad(before) }, undefined);
    this.putLoad({ ...rows, number: ++loadsEver, keptInPlace: new Map() });
  }

  protected putLoad(load: Load<RowOf<M>>): undefined {
    this.current = load;
    this.log.clear();
    this.loaded();
    this.followed.tellAll();
    bumpVersion(this.#version);
  }
}
