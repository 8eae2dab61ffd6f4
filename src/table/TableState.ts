import { IronwoodError, nearestName, shown } from "../errors/index.ts";
import {
  because,
  type History,
  inCalculation,
  internal,
  record,
  refuse,
  type Restorable,
  transaction,
  Value,
} from "../engine/index.ts";
import { RowChecker } from "../check/index.ts";
import {
  type AnyKind,
  type AnyModel,
  type KeyOf,
  localeFrom,
  type Problem,
  type RowOf,
  rowTitle,
  showValue,
  timeZoneFrom,
} from "../model/index.ts";
import { ChangeLog } from "./ChangeLog.ts";
import { bumpVersion, FollowedRows } from "./FollowedRows.ts";
import { KeyIndex, type LookUp, lookUpOf } from "./KeyIndex.ts";
import { type LoadedRows, loadInto } from "./loadInto.ts";
import type { References } from "./References.ts";
import { RowCell } from "./RowCell.ts";
import { RowStorage, type SlotContent } from "./RowStorage.ts";
import { RowsTogether } from "./RowsTogether.ts";
import { fieldsBetween, type Given, keyIn, lookUpIn, wholeRow } from "./rowShape.ts";
import type { LeftOut, RowResult, TableOptions } from "./Table.ts";

let loadsEver = 0;

/** A row as it is where rows are kept; none where it is gone there. */
export interface StoredChange<M extends AnyModel> {
  readonly key: KeyOf<M>;
  readonly row: RowOf<M> | undefined;
}

/** What is behind a `Table`. */
export class TableState<M extends AnyModel = AnyModel> implements Restorable {
  leftOut: readonly LeftOut[] = [];
  readonly locale: string;
  readonly timeZone: string;
  /** What was changed, for views. */
  readonly log = new ChangeLog<RowOf<M>>();
  /** The slots whose rows are held by entries, and by how many: while one is changed, its row neither moves in a view nor leaves it. */
  held = new Map<number, number>();
  /** Which load the rows are of: a slot of another load is no slot now. */
  loads = 0;
  /** Where entries over its rows note what is typed, where that is not the history of the table. */
  typedHistory: History | undefined;
  /** Tables whose rows refer to rows of this one. */
  readonly referrers = new Set<References>();
  #storage: RowStorage<RowOf<M>>;
  #keys = new KeyIndex();
  readonly #version = new Value(0);
  readonly #followed = new FollowedRows();
  #cells = new Map<number, RowCell>();
  #undoOwner: object = {};
  readonly #options: TableOptions;
  readonly #checker: RowChecker;
  readonly #problems = new WeakMap<object, readonly Problem[]>();
  readonly #together: RowsTogether;

  constructor(
    readonly model: M,
    rows: readonly RowOf<M>[],
    options: TableOptions,
  ) {
    this.#options = options;
    this.locale = localeFrom(options.locale);
    this.timeZone = timeZoneFrom(options.timeZone);
    this.#checker = new RowChecker(model, this.locale, this.timeZone);
    const { references = {}, maxItems, unique } = options;
    const referred = Object.entries(references).map(([name, to]) => [name, to[internal]] as const);
    this.#together = new RowsTogether(this, { maxItems, unique, references: Object.fromEntries(referred) });
    this.#storage = new RowStorage(undefined);
    this.#take(loadInto(this, this.isNumbered ? 1 : undefined, rows, options.maxItems));
  }

  get [internal](): this {
    return this;
  }

  get history(): History | undefined {
    return this.#options.history;
  }

  /** Whether it gives keys itself. */
  get isNumbered(): boolean {
    return this.model.parts.key.length === 0;
  }

  get size(): number {
    this.#version.read();
    return this.#storage.count;
  }

  get(key: KeyOf<M>): RowOf<M> | undefined {
    const found = this.#lookUp(key);
    if (inCalculation()) this.#followed.read(found);
    const slot = this.#keys.get(found);
    return slot === undefined ? undefined : this.rowAt(slot);
  }

  has(key: KeyOf<M>): boolean {
    return this.get(key) !== undefined;
  }

  keyOf(row: RowOf<M>): KeyOf<M> {
    if (!this.isNumbered) return keyIn(this.model, row) as KeyOf<M>;
    // Most that is asked for came last.
    const slot = this.#storage.rows.lastIndexOf(row);
    if (slot < 0) throw new IronwoodError("unknownKey", "The row is not in the table", { received: row });
    return this.keyAt(slot);
  }

  *[Symbol.iterator](): Iterator<RowOf<M>> {
    this.#version.read();
    for (const slot of this.#storage.slotsInOrder()) yield this.rowAt(slot)!;
  }

  problemsOf(row: RowOf<M>): readonly Problem[] {
    let problems = this.#problems.get(row);
    if (problems === undefined) this.#problems.set(row, (problems = this.#checker.check(row)));
    return problems;
  }

  valueOf(row: RowOf<M>, name: string): unknown {
    return this.#checker.valueOf(row, name);
  }

  /** A field of a row as people see it. */
  showField(row: RowOf<M>, name: string): string {
    return this.show(this.model.kindOf(name), this.valueOf(row, name));
  }

  /** A value as people see it, in the language and by the clock of the table. */
  show(kind: AnyKind | undefined, value: unknown): string {
    return showValue(kind, value, this.locale, this.timeZone);
  }

  insert(row: Partial<RowOf<M>>): RowResult<RowOf<M>> {
    const whole = wholeRow(this.model, row, this.where) as RowOf<M>;
    const slot = this.#storage.freeSlot();
    return this.#guarded(slot, whole, () => this.#storage.newContent(whole, slot));
  }

  update(key: KeyOf<M>, changes: Partial<RowOf<M>>): RowResult<RowOf<M>> {
    return this.#updateAt(this.#slotOf(key), changes);
  }

  /** Puts another row in the place of the one in a slot. */
  replaceAt(slot: number, row: RowOf<M>): RowResult<RowOf<M>> {
    return this.#updateAt(slot, row);
  }

  #updateAt(slot: number, changes: object): RowResult<RowOf<M>> {
    const before = this.rowAt(slot)!;
    const after = wholeRow(this.model, changes as Given, this.where, before) as RowOf<M>;
    if (fieldsBetween(this.model, before, after).length === 0) return { ok: true, row: before };
    return this.#guarded(slot, after, () => ({ ...this.contentAt(slot), row: after }));
  }

  delete(key: KeyOf<M>): RowResult<RowOf<M>> {
    const slot = this.#slotOf(key);
    const row = this.rowAt(slot)!;
    const result = transaction<void, Problem>(() => this.#change(slot, { ...this.contentAt(slot), row: undefined }));
    return result.ok ? { ok: true, row } : result;
  }

  clear(): void {
    transaction(() => {
      for (const slot of this.#storage.slotsInOrder()) this.#change(slot, { ...this.contentAt(slot), row: undefined });
    });
  }

  replaceAll(rows: readonly Partial<RowOf<M>>[]): RowResult<readonly RowOf<M>[]> {
    const result = transaction<readonly RowOf<M>[], Problem>(() => {
      this.clear();
      return rows.flatMap((row) => {
        const inserted = this.insert(row);
        return inserted.ok ? [inserted.row] : [];
      });
    });
    return result.ok ? { ok: true, row: result.value } : result;
  }

  load(rows: readonly RowOf<M>[]): readonly LeftOut[] {
    const { history } = this.#options;
    transaction(() => {
      const before = this.#whole();
      record({ restore: () => this.#putWhole(before) }, undefined);
      const forgotten = this.#undoOwner;
      this.#putWhole({
        ...loadInto(this, this.isNumbered ? this.#storage.nextId : undefined, rows, this.#options.maxItems),
        loads: ++loadsEver,
        held: new Map(),
        cells: new Map(),
        undoOwner: {},
      });
      // What could be undone can be undone again where this is taken back.
      history?.forget(forgotten);
    });
    return this.leftOut;
  }

  #take({ storage, keys, leftOut }: LoadedRows<RowOf<M>>): void {
    this.#storage = storage;
    this.#keys = keys;
    this.leftOut = leftOut;
    this.#together.fill(storage.rows);
  }

  #whole(): Whole<RowOf<M>> {
    return {
      storage: this.#storage,
      keys: this.#keys,
      leftOut: this.leftOut,
      loads: this.loads,
      held: this.held,
      cells: this.#cells,
      undoOwner: this.#undoOwner,
    };
  }

  #putWhole(whole: Whole<RowOf<M>>): undefined {
    this.#take(whole);
    this.loads = whole.loads;
    this.held = whole.held;
    this.#cells = whole.cells;
    this.#undoOwner = whole.undoOwner;
    this.log.clear();
    this.#followed.tellAll();
    bumpVersion(this.#version);
  }

  rowAt(slot: number): RowOf<M> | undefined {
    return this.#storage.rows[slot];
  }

  contentAt(slot: number): SlotContent<RowOf<M>> {
    return this.#storage.contentAt(slot);
  }

  /** All rows by their slots, for who reads a million of them at once. */
  get rowsBySlot(): readonly (RowOf<M> | undefined)[] {
    return this.#storage.rows;
  }

  /** How many slots there are. */
  get slots(): number {
    return this.#storage.slots;
  }

  /** The slots that hold rows, in the order of the rows; followed. */
  slotsInOrder(): Uint32Array {
    this.#version.read();
    return this.#storage.slotsInOrder();
  }

  /** Whether the numbers of the slots are in the order of the rows. */
  get isBySlot(): boolean {
    return this.#storage.isBySlot;
  }

  orderAt(slot: number): number {
    return this.#storage.orderAt(slot);
  }

  /** Which of two rows comes first in the table. */
  readonly compareSlots = (a: number, b: number): number => this.#storage.compare(a, b);

  slotFor(key: KeyOf<M>): number | undefined {
    return this.#keys.get(this.#lookUp(key));
  }

  keyAt(slot: number): KeyOf<M> {
    return this.keyFor(this.rowAt(slot)!, this.#storage.idAt(slot));
  }

  /** The key of a row that is, or was, in the table. @param id - which row it is */
  keyFor(row: RowOf<M>, id: number): KeyOf<M> {
    return (this.isNumbered ? id : keyIn(this.model, row)) as KeyOf<M>;
  }

  titleAt(slot: number): string {
    const { model } = this as { model: AnyModel };
    return this.rowAt(slot) === undefined ? (model.title ?? "") : rowTitle(model, [this.keyAt(slot)].flat());
  }

  /** How many rows there are; not followed. */
  get count(): number {
    return this.#storage.count;
  }

  lookUpAt(slot: number): LookUp {
    return this.#lookUpIn(this.contentAt(slot));
  }

  isDouble(key: LookUp): boolean {
    return this.#keys.isDouble(key);
  }

  hasLookUp(key: LookUp): boolean {
    return this.#keys.get(key) !== undefined;
  }

  /** Has what runs depend on every change. */
  trackReads(): void {
    this.#version.read();
  }

  /** While an entry is changed, its row stays where it is in every view. */
  hold(slot: number): void {
    this.held.set(slot, (this.held.get(slot) ?? 0) + 1);
  }

  release(slot: number): void {
    const times = (this.held.get(slot) ?? 0) - 1;
    if (times > 0) return void this.held.set(slot, times);
    this.held.delete(slot);
    // The views look at it again.
    this.log.add(slot, this.contentAt(slot), this.#changesKept);
    bumpVersion(this.#version);
  }

  /** An entry is open over a row: its slot is given to no other row, also when the row is gone. */
  pin(slot: number): void {
    this.#storage.pin(slot);
  }

  unpin(slot: number): void {
    this.#storage.unpin(slot);
  }

  /** For the history: puts a row back where it was, or takes it out again. @returns its slot: another, if that was taken */
  putBack(slot: number, content: SlotContent<RowOf<M>>): number {
    const isTaken = this.contentAt(slot).id !== content.id;
    const to = isTaken ? this.#storage.freeSlot() : slot;
    this.#write(to, content);
    return to;
  }

  /**
   * Takes in rows as they are where rows are kept, with the problems that they have. It is told as `stored`, and is nothing that could be
   * undone here.
   */
  applyStored(changes: readonly StoredChange<M>[]): void {
    because({ cause: "stored" }, () =>
      transaction(() => {
        for (const { key, row } of changes) {
          const slot = this.slotFor(key);
          if (slot !== undefined) this.#write(slot, { ...this.contentAt(slot), row });
          else if (row !== undefined) this.#writeNew(row);
        }
      }),
    );
  }

  /** The same for all rows, in their order: those that are there already keep their slots. */
  applyStoredRows(rows: readonly RowOf<M>[]): void {
    const slots = [...this.#storage.slotsInOrder()];
    const before = slots.map((slot) => this.rowAt(slot));
    const { start, end } = unchangedEnds(before, rows);
    if (start === before.length && start === rows.length) return;
    const gone = slots.slice(start, slots.length - end);
    const come = rows.slice(start, rows.length - end);
    because({ cause: "stored" }, () =>
      transaction(() => {
        const now = come.map((row, number) => {
          const slot = gone[number];
          if (slot === undefined) return this.#writeNew(row);
          this.#write(slot, { ...this.contentAt(slot), row });
          return slot;
        });
        for (const slot of gone.slice(come.length)) this.#write(slot, { ...this.contentAt(slot), row: undefined });
        if (come.length > gone.length && end > 0) this.#order([...slots.slice(0, start), ...now, ...slots.slice(-end)]);
      }),
    );
  }

  #writeNew(row: RowOf<M>): number {
    const slot = this.#storage.freeSlot();
    this.#write(slot, this.#storage.newContent(row, slot));
    return slot;
  }

  #order(slots: readonly number[]): void {
    slots.forEach((slot, order) => {
      const content = this.contentAt(slot);
      if (content.order !== order) this.#write(slot, { ...content, order });
    });
  }

  /** For the journal. */
  restore(before: unknown): undefined {
    const { slot, content } = before as { readonly slot: number; readonly content: SlotContent<RowOf<M>> };
    this.#put(slot, content);
  }

  get where(): string {
    return `the table of ${this.model.title === undefined ? "a model" : `"${this.model.title}"`}`;
  }

  /** Writes a row if it is right; what concerns other rows is found out when the transaction ends. */
  #guarded(slot: number, row: RowOf<M>, content: () => SlotContent<RowOf<M>>): RowResult<RowOf<M>> {
    const wrong = this.problemsOf(row).filter((problem) => problem.severity === "error");
    if (wrong.length > 0) {
      for (const problem of wrong) refuse(problem);
      return { ok: false, problems: wrong };
    }
    const result = transaction<void, Problem>(() => this.#change(slot, content()));
    return result.ok ? { ok: true, row } : result;
  }

  /** Writes so that it can be undone, and has what concerns other rows looked at when the transaction ends. */
  #change(slot: number, content: SlotContent<RowOf<M>>): void {
    const { history } = this.#options;
    this.#together.touch(slot, content.row !== undefined);
    history?.note(this.#cellFor(slot, content), this.#rowWithId(slot, content.id), content.row);
    this.#write(slot, content);
    history?.noted();
  }

  /** What a slot holds, if it is that row: of one that is put in anew there is nothing before. */
  #rowWithId(slot: number, id: number): RowOf<M> | undefined {
    return slot < this.slots && this.#storage.idAt(slot) === id ? this.rowAt(slot) : undefined;
  }

  #cellFor(slot: number, content: SlotContent<RowOf<M>>): RowCell {
    const known = this.#cells.get(slot);
    if (known?.id === content.id) return known;
    const cell = new RowCell(this.#undoOwner, this, slot, content);
    this.#cells.set(slot, cell);
    return cell;
  }

  #write(slot: number, content: SlotContent<RowOf<M>>): void {
    // A new slot is no slot before it is taken; what was in it then is the same row, not there.
    const before = slot < this.slots ? this.contentAt(slot) : { ...content, row: undefined };
    record(this, { slot, content: before });
    this.#put(slot, content);
  }

  #put(slot: number, content: SlotContent<RowOf<M>>): void {
    const before = slot < this.slots ? this.contentAt(slot) : { ...content, row: undefined };
    if (before.row !== undefined) {
      this.#keys.remove(this.#lookUpIn(before), slot);
      this.#together.remove(before.row, slot);
    }
    this.#storage.put(slot, content);
    if (content.row !== undefined) {
      this.#keys.add(this.#lookUpIn(content), slot);
      this.#together.add(content.row, slot);
    }
    this.log.add(slot, before, this.#changesKept);
    if (this.#followed.any)
      for (const each of [before, content]) if (each.row !== undefined) this.#followed.tell(this.#lookUpIn(each));
    bumpVersion(this.#version);
  }

  get #changesKept(): number {
    return Math.max(4096, this.slots >> 3);
  }

  #slotOf(key: KeyOf<M>): number {
    const slot = this.slotFor(key);
    if (slot !== undefined) return slot;
    const isListed = typeof key === "string" && this.count <= 10_000;
    const names = isListed ? [...this].map((row) => String(keyIn(this.model, row))) : [];
    throw new IronwoodError("unknownKey", `There is no row with the key ${shown(key)}`, {
      where: this.where,
      nearest: nearestName(String(key), names),
    });
  }

  #lookUp(key: KeyOf<M>): LookUp {
    const given: unknown = key;
    if (Array.isArray(given)) return JSON.stringify(given);
    return this.isNumbered ? (given as number) : lookUpOf(given);
  }

  #lookUpIn({ row, id }: SlotContent<RowOf<M>>): LookUp {
    return this.isNumbered ? id : lookUpIn(row, this.model.parts.key);
  }
}

/** Everything that a table holds, to be put back when a load is taken back. */
interface Whole<Row> extends LoadedRows<Row> {
  readonly loads: number;
  readonly held: Map<number, number>;
  readonly cells: Map<number, RowCell>;
  readonly undoOwner: object;
}

/** How many rows two lists have alike at their starts and, beyond these, at their ends. */
function unchangedEnds(a: readonly unknown[], b: readonly unknown[]): { readonly start: number; readonly end: number } {
  const most = Math.min(a.length, b.length);
  let start = 0;
  while (start < most && a[start] === b[start]) start++;
  let end = 0;
  while (end < most - start && a.at(-1 - end) === b.at(-1 - end)) end++;
  return { start, end };
}
