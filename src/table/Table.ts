import { IronwoodError, nearestName, shown } from "../errors/index.ts";
import type { History } from "../engine/index.ts";
import { atEnd, inCalculation, record, refuse, type Restorable, transaction, Value } from "../engine/index.ts";
import { type AnyModel, type KeyOf, pointerTo, type Problem, RowChecker, type RowOf, say } from "../model/index.ts";
import { ChangeLog } from "./ChangeLog.ts";
import { KeyIndex, type LookUp } from "./KeyIndex.ts";
import { RowCell } from "./RowCell.ts";
import { UniqueSets } from "./UniqueSets.ts";
import { fieldsBetween, keyIn, lookUpIn, lookUpOf, wholeRow, wrongTypes } from "./rowShape.ts";

/** Options of {@link table}. */
export interface TableOptions {
  /** How many rows there may be. */
  readonly maxItems?: number | undefined;
  /** Fields, or sets of fields, that no two rows may have alike. Rows in which one of them is blank are not compared. */
  readonly unique?: readonly (string | readonly string[])[] | undefined;
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

export type RowResult<Row> =
  { readonly ok: true; readonly row: Row } | { readonly ok: false; readonly problems: readonly Problem[] };

/** Rows of one model, each whole, found by their keys. Make one with {@link table}. */
export class Table<M extends AnyModel = AnyModel> implements Restorable {
  /** What was left out when rows were loaded. */
  readonly leftOut: readonly LeftOut[];
  readonly locale: string;
  /** For views: what was changed. */
  readonly log = new ChangeLog<RowOf<M>>();
  readonly #rows: (RowOf<M> | undefined)[] = [];
  readonly #keys = new KeyIndex();
  /** The keys by slot, where they are generated. */
  readonly #generated: number[] | undefined;
  #nextKey = 1;
  #count = 0;
  readonly #version = new Value(0);
  readonly #followed = new Map<LookUp, Value<number>>();
  readonly #cells = new Map<number, RowCell<M>>();
  readonly #options: TableOptions;
  readonly #checker: RowChecker;
  readonly #problems = new WeakMap<object, readonly Problem[]>();
  readonly #unique: UniqueSets;
  #touched: Set<number> | undefined;

  constructor(
    readonly model: M,
    rows: readonly RowOf<M>[],
    options: TableOptions,
  ) {
    this.#options = options;
    this.locale = options.locale ?? Intl.DateTimeFormat().resolvedOptions().locale;
    this.#checker = new RowChecker(model, this.locale);
    if (model.parts.key.length === 0) this.#generated = [];
    this.#unique = new UniqueSets(model, options.unique ?? []);
    this.leftOut = this.#load(rows);
    if (options.unique !== undefined) this.#rows.forEach((row, slot) => this.#unique.add(row, slot));
  }

  /** How many rows there are. */
  get size(): number {
    this.#version.read();
    return this.#count;
  }

  /** The row with a key; `undefined` when there is none. What reads it is told when that row changes, and of no other. */
  get(key: KeyOf<M>): RowOf<M> | undefined {
    const found = this.#lookUp(key);
    if (inCalculation()) this.#follow(found);
    const slot = this.#keys.get(found);
    return slot === undefined ? undefined : this.#rows[slot];
  }

  has(key: KeyOf<M>): boolean {
    return this.get(key) !== undefined;
  }

  /** The key of a row that is in the table. */
  keyOf(row: RowOf<M>): KeyOf<M> {
    if (this.#generated === undefined) return keyIn(this.model, row) as KeyOf<M>;
    const slot = this.#rows.indexOf(row);
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

  /** Takes a row out. @throws `unknownKey` when there is no such row */
  delete(key: KeyOf<M>): void {
    const slot = this.#slotOf(key);
    transaction(() => this.#hold(slot, undefined));
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

  slotFor(key: KeyOf<M>): number | undefined {
    return this.#keys.get(this.#lookUp(key));
  }

  keyAt(slot: number): KeyOf<M> {
    return this.#keyOf(this.#rows[slot]!, slot) as KeyOf<M>;
  }

  /** The value of a field in a row, worked out where it is calculated. */
  valueOf(row: RowOf<M>, name: string): unknown {
    return this.#checker.valueOf(row, name);
  }

  /** For views: has what runs depend on every change. */
  noteRead(): void {
    this.#version.read();
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
      else if (slot >= maxItems) leftOut.push({ place, problems: [this.#full()] });
      else if (this.#generated !== undefined) {
        this.#keys.addNew(this.#nextKey, slot);
        this.#generated.push(this.#nextKey++);
        this.#rows.push(row);
      } else if (this.#keys.addNew(lookUpIn(row, keyNames), slot)) this.#rows.push(row);
      else leftOut.push({ place, problems: [this.#taken(row)] });
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
    if (row !== undefined) this.#touchedNow().add(slot);
    if (history !== undefined) history.note(this.#cell(slot), this.#rows[slot], row);
    this.#write(slot, row);
    history?.noted();
  }

  /** The places that the running transaction has changed: they are looked at when it ends. */
  #touchedNow(): Set<number> {
    if (this.#touched !== undefined) return this.#touched;
    const touched = (this.#touched = new Set<number>());
    const forget = (): undefined => (this.#touched = undefined);
    // A transaction that is taken back is not looked at.
    record({ restore: forget }, undefined);
    atEnd(() => {
      forget();
      return this.#checkTogether(touched);
    });
    return touched;
  }

  #write(slot: number, row: RowOf<M> | undefined): void {
    record(this, { slot, row: this.#rows[slot] });
    this.#put(slot, row);
  }

  #put(slot: number, row: RowOf<M> | undefined): void {
    const before = this.#rows[slot];
    if (before !== undefined) {
      this.#keys.remove(this.#lookUpOf(before, slot), slot);
      this.#unique.remove(before, slot);
    }
    this.#rows[slot] = row;
    if (row !== undefined) {
      this.#keys.add(this.#lookUpOf(row, slot), slot);
      this.#unique.add(row, slot);
    }
    this.#count += Number(row !== undefined) - Number(before !== undefined);
    this.log.add(slot, before, Math.max(4096, this.#rows.length >> 3));
    this.#tell(before, row, slot);
  }

  #tell(before: RowOf<M> | undefined, after: RowOf<M> | undefined, slot: number): void {
    if (this.#followed.size > 0)
      for (const row of [before, after]) {
        const cell = row === undefined ? undefined : this.#followed.get(this.#lookUpOf(row, slot));
        if (cell !== undefined) told(cell);
      }
    told(this.#version);
  }

  /** Rows that were loaded may be alike; only what was changed now is looked at. */
  #checkTogether(touched: ReadonlySet<number>): readonly Problem[] {
    const { maxItems = Infinity } = this.#options;
    const problems: Problem[] = [];
    // Of rows that are alike each is meant, and it is said once.
    const said = new Set<LookUp>();
    const isNews = (text: LookUp): boolean => {
      const { size } = said;
      return said.add(text).size > size;
    };
    for (const slot of touched) {
      const row = this.#rows[slot];
      if (row === undefined) continue;
      const key = this.#lookUpOf(row, slot);
      if (this.#keys.isDouble(key) && isNews(key)) problems.push(this.#taken(row));
      for (const { name, value, text } of this.#unique.alike(row))
        if (isNews(text)) problems.push(this.#problem("duplicate", "duplicateItem", { value }, name));
    }
    if (this.#count > maxItems) problems.push(this.#full());
    return problems;
  }

  #full(): Problem {
    return this.#problem("tableFull", "tooMany", { count: this.#options.maxItems! }, "");
  }

  #taken(row: RowOf<M>): Problem {
    const value = [keyIn(this.model, row)].flat().map(String).join(", ");
    return this.#problem("keyTaken", "choiceExists", { value }, this.model.parts.key[0] ?? "");
  }

  #problem(
    code: "keyTaken" | "tableFull" | "duplicate",
    message: "choiceExists" | "tooMany" | "duplicateItem",
    facts: { count?: number; value?: string },
    name: string,
  ): Problem {
    const pointer = name === "" ? "" : pointerTo(name);
    return { code, message: say(this.locale, message, facts), severity: "error", pointer };
  }

  #cell(slot: number): RowCell<M> {
    let cell = this.#cells.get(slot);
    if (cell === undefined) this.#cells.set(slot, (cell = new RowCell(this, slot)));
    return cell;
  }

  #follow(key: LookUp): void {
    let cell = this.#followed.get(key);
    if (cell === undefined) {
      this.#dropUnfollowed();
      this.#followed.set(key, (cell = new Value(0)));
    }
    cell.read();
  }

  /** What nobody follows any more is not kept. */
  #dropUnfollowed(): void {
    if (this.#followed.size < 64 || (this.#followed.size & (this.#followed.size - 1)) !== 0) return;
    for (const [key, cell] of this.#followed) if (cell.firstTarget === undefined) this.#followed.delete(key);
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

  #keyOf(row: RowOf<M>, slot: number): unknown {
    return this.#generated === undefined ? keyIn(this.model, row) : this.#generated[slot];
  }

  #lookUpOf(row: RowOf<M>, slot: number): LookUp {
    if (this.#generated === undefined) return lookUpIn(row, this.model.parts.key);
    return (this.#generated[slot] ??= this.#nextKey++);
  }
}

/** The table takes its writes back itself, so the journal need not know of these. */
const told = (version: Value<number>): void => void version.restore(version.peek() + 1);

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
