import { IronwoodError, nearestName, shown } from "../errors/index.ts";
import type { History } from "../engine/index.ts";
import { inCalculation, record, refuse, type Restorable, transaction, Value } from "../engine/index.ts";
import { type AnyModel, type KeyOf, type Problem, RowChecker, type RowOf } from "../model/index.ts";
import { ChangeLog } from "./ChangeLog.ts";
import { FollowedRows, told } from "./FollowedRows.ts";
import { KeyIndex, type LookUp, lookUpOf } from "./KeyIndex.ts";
import type { References } from "./References.ts";
import { RowCell } from "./RowCell.ts";
import { RowsTogether } from "./RowsTogether.ts";
import { keyTaken, tableFull } from "./tableProblems.ts";
import { fieldsBetween, keyIn, lookUpIn, wholeRow, wrongTypes } from "./rowShape.ts";

/** Options of {@link table}. */
export interface TableOptions {
  /** How many rows there may be. */
  readonly maxItems?: number | undefined;
  /** Fields, or sets of fields, that no two rows may have alike. Rows in which one of them is blank are not compared. */
  readonly unique?: readonly (string | readonly string[])[] | undefined;
  /** Fields that hold keys of rows of other tables: a key that is of no row is refused, and a row that is held can't go. */
  readonly references?: Readonly<Record<string, AnyTable>> | undefined;
  /** Where changes are noted to be undone; without it, they are not. */
  readonly history?: History | undefined;
  /** A BCP 47 tag: the language of its problems, and the order of text in its views. Default: the runtime's. */
  readonly locale?: string | undefined;
}

/** A loaded row that was left out, and why. */
export interface LeftOut {
  /** Its place among those that were given, counted from 0. */
  readonly place: number;
  readonly problems: readonly Problem[];
}

/** A table of any model. */
// What a table takes and gives are both of its model, so only `any` takes them all.
// eslint-disable-next-line @typescript-eslint/no-explicit-any
export type AnyTable = Table<any>;

export type RowResult<Row> =
  { readonly ok: true; readonly row: Row } | { readonly ok: false; readonly problems: readonly Problem[] };

/** Rows of one model, each whole, found by their keys. Make one with {@link table}. */
export class Table<M extends AnyModel = AnyModel> implements Restorable {
  /** What was left out when rows were loaded. */
  leftOut: readonly LeftOut[] = [];
  readonly locale: string;
  /** For views: what was changed. */
  readonly log = new ChangeLog<RowOf<M>>();
  /** For views: the places whose rows are held by entries, and by how many. */
  readonly held = new Map<number, number>();
  /** How often all rows were loaded anew: a place of before is no place now. */
  loads = 0;
  #rows: (RowOf<M> | undefined)[] = [];
  #keys = new KeyIndex();
  /** The keys by slot, where they are generated. */
  #generated: number[] | undefined;
  #nextKey = 1;
  #count = 0;
  readonly #version = new Value(0);
  readonly #followed = new FollowedRows();
  readonly #cells = new Map<number, RowCell<M>>();
  readonly #options: TableOptions;
  readonly #checker: RowChecker;
  readonly #problems = new WeakMap<object, readonly Problem[]>();
  readonly #together: RowsTogether;
  /** For tables whose rows refer to rows of this one. */
  readonly referrers = new Set<References>();

  constructor(
    readonly model: M,
    rows: readonly RowOf<M>[],
    options: TableOptions,
  ) {
    this.#options = options;
    this.locale = options.locale ?? Intl.DateTimeFormat().resolvedOptions().locale;
    this.#checker = new RowChecker(model, this.locale);
    this.#together = new RowsTogether(this, options);
    this.#fill(rows);
  }

  /** Where its changes are noted. */
  get history(): History | undefined {
    return this.#options.history;
  }

  /** How many rows there are. */
  get size(): number {
    this.#version.read();
    return this.#count;
  }

  /** The row with a key; `undefined` when there is none. What reads it is told when that row changes, and of no other. */
  get(key: KeyOf<M>): RowOf<M> | undefined {
    const found = this.#lookUp(key);
    if (inCalculation()) this.#followed.read(found);
    const slot = this.#keys.get(found);
    return slot === undefined ? undefined : this.#rows[slot];
  }

  has(key: KeyOf<M>): boolean {
    return this.get(key) !== undefined;
  }

  /** The key of a row that is in the table. */
  keyOf(row: RowOf<M>): KeyOf<M> {
    if (this.#generated === undefined) return keyIn(this.model, row) as KeyOf<M>;
    // Most that is asked for came last.
    const slot = this.#rows.lastIndexOf(row);
    if (slot < 0) throw new IronwoodError("unknownKey", "The row is not in the table", { received: row });
    return this.#generated[slot] as KeyOf<M>;
  }

  /** All rows, in the order in which they came. */
  *[Symbol.iterator](): Iterator<RowOf<M>> {
    this.#version.read();
    for (const row of this.#rows) if (row !== undefined) yield row;
  }

  /** What is wrong with a row by itself. Rows that were loaded may break constraints. */
  problemsOf(row: RowOf<M>): readonly Problem[] {
    let problems = this.#problems.get(row);
    if (problems === undefined) this.#problems.set(row, (problems = this.#checker.check(row)));
    return problems;
  }

  /**
   * Adds a row, at the end.
   *
   * @returns the row as it is in the table, or why it is refused; inside a transaction that fails the whole
   * @throws `wrongType`, `unknownField` for values that do not fit the model
   */
  insert(row: Partial<RowOf<M>>): RowResult<RowOf<M>> {
    const whole = wholeRow(this.model, row, this.where) as RowOf<M>;
    return this.#guarded(whole, this.#rows.length);
  }

  /**
   * Changes some fields of a row; the others stay. `undefined` blanks. A changed key is another name of the same row.
   *
   * @throws `unknownKey` when there is no such row; `wrongType`, `unknownField`
   */
  update(key: KeyOf<M>, changes: Partial<RowOf<M>>): RowResult<RowOf<M>> {
    const slot = this.#slotOf(key);
    const before = this.#rows[slot]!;
    const after = wholeRow(this.model, changes, this.where, before) as RowOf<M>;
    if (fieldsBetween(this.model, before, after).length === 0) return { ok: true, row: before };
    return this.#guarded(after, slot);
  }

  /**
   * Takes a row out.
   *
   * @returns the row as it was, or why it is refused: other rows refer to it
   * @throws `unknownKey` when there is no such row
   */
  delete(key: KeyOf<M>): RowResult<RowOf<M>> {
    const slot = this.#slotOf(key);
    const row = this.#rows[slot]!;
    const result = transaction<void, Problem>(() => this.#hold(slot, undefined));
    return result.ok ? { ok: true, row } : result;
  }

  /** Takes all rows out. */
  clear(): void {
    transaction(() => {
      for (let slot = 0; slot < this.#rows.length; slot++)
        if (this.#rows[slot] !== undefined) this.#hold(slot, undefined);
    });
  }

  /** Puts other rows in the place of all that are there; if one of them is refused, nothing is changed. */
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

  /**
   * Puts other rows in the place of all that are there, as when a file is read: rows that break constraints are taken with
   * their problems. It is one change that is not undone, and what could be undone of this table is forgotten.
   *
   * @returns what was left out, which is in `leftOut` too: wrong types, keys that are taken, more rows than there may be
   */
  load(rows: readonly RowOf<M>[]): readonly LeftOut[] {
    const before = this.#whole();
    transaction(() => {
      record({ restore: () => this.#putWhole(before) }, undefined);
      this.#fill(rows);
      this.loads++;
      this.held.clear();
      this.log.clear();
      this.#tellAll();
    });
    this.#cells.clear();
    this.#options.history?.forget(this);
    return this.leftOut;
  }

  #fill(rows: readonly RowOf<M>[]): void {
    this.#rows = [];
    this.#keys = new KeyIndex();
    this.#generated = this.model.parts.key.length === 0 ? [] : undefined;
    this.leftOut = this.#load(rows);
    this.#together.fill(this.#rows);
  }

  #whole(): Whole<RowOf<M>> {
    const [rows, keys, generated] = [this.#rows, this.#keys, this.#generated];
    return { rows, keys, generated, count: this.#count, leftOut: this.leftOut };
  }

  #putWhole({ rows, keys, generated, count, leftOut }: Whole<RowOf<M>>): undefined {
    [this.#rows, this.#keys, this.#generated] = [rows, keys, generated];
    [this.#count, this.leftOut] = [count, leftOut];
    this.#together.fill(rows);
    this.loads++;
    this.log.clear();
    this.#tellAll();
  }

  #tellAll(): void {
    this.#followed.tellAll();
    told(this.#version);
  }

  /** For views: the row in a slot, and how many slots there are. */
  rowAt(slot: number): RowOf<M> | undefined {
    return this.#rows[slot];
  }

  /** For views, which read a million of them at once. */
  get rowsBySlot(): readonly (RowOf<M> | undefined)[] {
    return this.#rows;
  }

  get slots(): number {
    return this.#rows.length;
  }

  /** The places that hold rows, in order; followed. */
  slotsInUse(): number[] {
    this.#version.read();
    const slots: number[] = [];
    for (let slot = 0; slot < this.#rows.length; slot++) if (this.#rows[slot] !== undefined) slots.push(slot);
    return slots;
  }

  slotFor(key: KeyOf<M>): number | undefined {
    return this.#keys.get(this.#lookUp(key));
  }

  keyAt(slot: number): KeyOf<M> {
    return this.keyFor(this.#rows[slot]!, slot);
  }

  /** The value of a field in a row, worked out where it is calculated. */
  valueOf(row: RowOf<M>, name: string): unknown {
    return this.#checker.valueOf(row, name);
  }

  /** For what concerns rows together, and tables that refer to this one. */
  get count(): number {
    return this.#count;
  }

  lookUpAt(slot: number): LookUp {
    return this.#lookUpOf(this.#rows[slot]!, slot);
  }

  isDouble(key: LookUp): boolean {
    return this.#keys.isDouble(key);
  }

  hasLookUp(key: LookUp): boolean {
    return this.#keys.get(key) !== undefined;
  }

  /** For views: has what runs depend on every change. */
  noteRead(): void {
    this.#version.read();
  }

  /** For entries: while one is changed, its row neither moves in a view nor leaves it. */
  hold(slot: number): void {
    this.held.set(slot, (this.held.get(slot) ?? 0) + 1);
  }

  release(slot: number): void {
    const times = (this.held.get(slot) ?? 0) - 1;
    if (times > 0) return void this.held.set(slot, times);
    this.held.delete(slot);
    // The views look at it again.
    this.log.add(slot, this.#rows[slot], this.#worthKeeping);
    told(this.#version);
  }

  /** For the history: puts a row back where it was, or takes it out again. */
  putBack(slot: number, row: RowOf<M> | undefined): void {
    this.#write(slot, row);
  }

  /** For the journal. */
  restore(before: unknown): undefined {
    const { slot, row } = before as { readonly slot: number; readonly row: RowOf<M> | undefined };
    this.#put(slot, row);
    return undefined;
  }

  #load(rows: readonly RowOf<M>[]): readonly LeftOut[] {
    const leftOut: LeftOut[] = [];
    const { maxItems = Infinity } = this.#options;
    const kinds = [...this.model.kinds].filter(([name]) => !this.model.isCalculated(name));
    const keyNames = this.model.parts.key;
    for (let place = 0; place < rows.length; place++) {
      const row = rows[place]!;
      const slot = this.#rows.length;
      const wrong = wrongTypes(row, kinds, this.model);
      if (wrong.length > 0) leftOut.push({ place, problems: wrong });
      else if (slot >= maxItems) leftOut.push({ place, problems: [tableFull(this.locale, maxItems)] });
      else if (this.#generated !== undefined) {
        this.#keys.addNew(this.#nextKey, slot);
        this.#generated.push(this.#nextKey++);
        this.#rows.push(row);
      } else if (this.#keys.addNew(lookUpIn(row, keyNames), slot)) this.#rows.push(row);
      else leftOut.push({ place, problems: [keyTaken(this.locale, this.model, row)] });
    }
    this.#count = this.#rows.length;
    return leftOut;
  }

  get where(): string {
    return `the table of ${this.model.title === undefined ? "a model" : `"${this.model.title}"`}`;
  }

  /** Writes a row if it is right; what concerns other rows is found out when the transaction ends. */
  #guarded(row: RowOf<M>, slot: number): RowResult<RowOf<M>> {
    const wrong = this.problemsOf(row).filter((problem) => problem.severity === "error");
    if (wrong.length > 0) {
      for (const problem of wrong) refuse(problem);
      return { ok: false, problems: wrong };
    }
    const result = transaction<void, Problem>(() => this.#hold(slot, row));
    return result.ok ? { ok: true, row } : result;
  }

  /** Writes so that it can be undone, and has what concerns other rows looked at when the transaction ends. */
  #hold(slot: number, row: RowOf<M> | undefined): void {
    const { history } = this.#options;
    this.#together.touch(slot, row !== undefined);
    if (history !== undefined) history.note(this.#cell(slot), this.#rows[slot], row);
    this.#write(slot, row);
    history?.noted();
  }

  #write(slot: number, row: RowOf<M> | undefined): void {
    record(this, { slot, row: this.#rows[slot] });
    this.#put(slot, row);
  }

  #put(slot: number, row: RowOf<M> | undefined): void {
    const before = this.#rows[slot];
    if (before !== undefined) {
      this.#keys.remove(this.#lookUpOf(before, slot), slot);
      this.#together.remove(before, slot);
    }
    this.#rows[slot] = row;
    if (row !== undefined) {
      this.#keys.add(this.#lookUpOf(row, slot), slot);
      this.#together.add(row, slot);
    }
    this.#count += Number(row !== undefined) - Number(before !== undefined);
    this.log.add(slot, before, this.#worthKeeping);
    this.#tell(before, row, slot);
  }

  get #worthKeeping(): number {
    return Math.max(4096, this.#rows.length >> 3);
  }

  #tell(before: RowOf<M> | undefined, after: RowOf<M> | undefined, slot: number): void {
    if (this.#followed.any)
      for (const row of [before, after]) if (row !== undefined) this.#followed.tell(this.#lookUpOf(row, slot));
    told(this.#version);
  }

  #cell(slot: number): RowCell<M> {
    let cell = this.#cells.get(slot);
    if (cell === undefined) this.#cells.set(slot, (cell = new RowCell(this, slot)));
    return cell;
  }

  #slotOf(key: KeyOf<M>): number {
    const found = this.#lookUp(key);
    const slot = this.#keys.get(found);
    if (slot !== undefined) return slot;
    const names =
      typeof key === "string" && this.#count <= 10_000 ? [...this].map((row) => String(keyIn(this.model, row))) : [];
    throw new IronwoodError("unknownKey", `There is no row with the key ${shown(key)}`, {
      where: this.where,
      nearest: nearestName(String(key), names),
    });
  }

  #lookUp(key: KeyOf<M>): LookUp {
    const given: unknown = key;
    return Array.isArray(given)
      ? JSON.stringify(given)
      : this.#generated !== undefined
        ? (given as number)
        : lookUpOf(given);
  }

  /** The key of a row that is, or was, at a place. */
  keyFor(row: RowOf<M>, slot: number): KeyOf<M> {
    return (this.#generated === undefined ? keyIn(this.model, row) : this.#generated[slot]) as KeyOf<M>;
  }

  #lookUpOf(row: RowOf<M>, slot: number): LookUp {
    if (this.#generated === undefined) return lookUpIn(row, this.model.parts.key);
    return (this.#generated[slot] ??= this.#nextKey++);
  }
}

/** Everything that a table holds, to be put back when a load is taken back. */
interface Whole<Row> {
  readonly rows: (Row | undefined)[];
  readonly keys: KeyIndex;
  readonly generated: number[] | undefined;
  readonly count: number;
  readonly leftOut: readonly LeftOut[];
}

/**
 * Makes a table of rows of one model, found by the model's key; without one, keys are generated. Rows never change: an
 * update puts another in the place of the one that was there.
 *
 * @param rows - rows to begin with. Those that break constraints are taken, and have their problems; those of wrong types,
 *   with a key that is taken, or too many are left out and reported in `leftOut`.
 * @throws `unknownField` for `unique`
 * @example const stock = table(plant, rows, { maxItems: 5000 });
 */
export function table<M extends AnyModel>(
  model: M,
  rows: readonly RowOf<M>[] = [],
  options: TableOptions = {},
): Table<M> {
  return new Table(model, rows, options);
}
