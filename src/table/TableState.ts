import { IronwoodError, requireArgument, shown, suggestion, unknownName } from "../errors/index.ts";
import { type History, inCalculation, internal, record, refuse, transaction, Value } from "../engine/index.ts";
import {
  type AnyKind,
  type AnyModel,
  type KeyOf,
  localeFrom,
  type Problem,
  type RowOf,
  rowWith,
  showValue,
  timeZoneFrom,
  valueIn,
} from "../model/index.ts";
import { GivenFields } from "./GivenFields.ts";
import { type LookUp, lookUpOf } from "./KeyIndex.ts";
import { loadInto } from "./loadInto.ts";
import { Referrers } from "./References.ts";
import { RowProblems } from "./RowProblems.ts";
import type { SlotContent } from "./RowStorage.ts";
import { RowsTogether, type TogetherOptions } from "./RowsTogether.ts";
import type { StoredChange } from "./applyStored.ts";
import { fieldsBetween, type Given, keyIn, wholeRow } from "./rowShape.ts";
import { SlottedRows } from "./SlottedRows.ts";
import type { LeftOut, ReferredTable, RowResult, TableOptions } from "./TableOptions.ts";
import { UndoableRows } from "./UndoableRows.ts";

const requireRow = (call: string, row: unknown): void =>
  requireArgument(typeof row === "object" && row !== null, call, row, "a row of the table");

/** What is behind a `Table`: rows that are checked before they are put in, and changes that can be undone. */
export class TableState<M extends AnyModel = AnyModel> extends SlottedRows<M> {
  readonly #locale: Value<string>;
  #localeGiven: boolean;
  readonly timeZone: string;
  readonly history: History | undefined;
  /** Where entries over its rows note what is typed, where that is not the history of the table. */
  typedHistory: History | undefined;
  /** Tables whose rows refer to rows of this one. */
  readonly referrers = new Referrers();
  readonly #maxItems: number | undefined;
  readonly #problems: RowProblems<M>;
  /** What people call the place where the rows are kept, while they are kept at one. */
  keptAt: string | undefined;
  readonly #together: RowsTogether;
  /** By field, the table whose keys it has. */
  readonly references: NonNullable<TogetherOptions["references"]>;
  readonly #given: GivenFields<M>;
  #undoable = new UndoableRows(this);

  constructor(model: M, rows: readonly RowOf<M>[], options: TableOptions<M>) {
    super(model);
    this.#given = new GivenFields(model);
    const { references = {}, maxItems, unique, history, locale, timeZone } = options;
    this.history = history;
    this.#localeGiven = locale !== undefined;
    this.#locale = new Value(localeFrom(locale));
    this.timeZone = timeZoneFrom(timeZone);
    this.#maxItems = maxItems;
    this.#problems = new RowProblems(model, this.#locale.peek(), this.timeZone);
    const referred = Object.entries<ReferredTable>(references as Readonly<Record<string, ReferredTable>>).map(
      ([name, to]) => [name, to[internal]] as const,
    );
    this.references = Object.fromEntries(referred);
    this.#together = new RowsTogether(this, { maxItems, unique, references: this.references });
    const first = loadInto(this, this.isNumbered ? 1 : undefined, rows, maxItems);
    this.putLoad({ ...first, number: 0, keptInPlace: new Map() });
  }

  get [internal](): this {
    return this;
  }

  /** The language of its problems, and in which its values are shown and sorted; followed. */
  get locale(): string {
    return this.#locale.read();
  }

  set locale(locale: string) {
    this.#localeGiven = true;
    this.#speak(localeFrom(locale));
  }

  /** The page's language, used unless the builder has said another. */
  offerLocale(locale: string): void {
    if (!this.#localeGiven && locale !== "") this.#speak(localeFrom(locale));
  }

  #speak(locale: string): void {
    if (locale === this.#locale.peek()) return;
    this.#problems.speak(locale);
    this.#locale.write(locale);
  }

  get where(): string {
    return `the table of ${this.model.title === undefined ? "a model" : `"${this.model.title}"`}`;
  }

  get leftOut(): readonly LeftOut[] {
    return this.current.leftOut;
  }

  get size(): number {
    this.trackReads();
    return this.count;
  }

  get(key: KeyOf<M>): RowOf<M> | undefined {
    if (inCalculation()) this.followed.read(this.lookUp(key));
    const slot = this.slotFor(key);
    return slot === undefined ? undefined : this.rowAt(slot);
  }

  has(key: KeyOf<M>): boolean {
    return this.get(key) !== undefined;
  }

  keyOf(row: RowOf<M>): KeyOf<M> {
    requireRow("keyOf", row);
    if (!this.isNumbered) return keyIn(this.model, row) as KeyOf<M>;
    // Most that is asked for came last.
    const slot = this.rowsBySlot.lastIndexOf(row);
    if (slot < 0) throw new IronwoodError("unknownKey", "The row is not in the table", { received: row });
    return this.keyAt(slot);
  }

  *[Symbol.iterator](): Iterator<RowOf<M>> {
    for (const slot of this.slotsInOrder()) yield this.rowAt(slot)!;
  }

  problemsOf(row: RowOf<M>): readonly Problem[] {
    requireRow("problemsOf", row);
    return this.#problems.of(row);
  }

  newErrors(row: RowOf<M>, before: RowOf<M> | undefined): readonly Problem[] {
    return this.#problems.newErrors(row, before);
  }

  /** What the place where a row is kept says of it; nothing where it has said nothing. */
  placeProblemsOf(row: RowOf<M>): readonly Problem[] | undefined {
    return this.#problems.ofPlace(row);
  }

  /** What the place where a row is kept says of it, until the row is changed; none takes back what it said. */
  setPlaceProblems(row: RowOf<M>, problems: readonly Problem[] | undefined): void {
    this.#problems.setOfPlace(row, problems);
  }

  override valueOf(row: RowOf<M>, name: string): unknown {
    requireRow("valueOf", row);
    const { model } = this;
    if (!model.kinds.has(name) && !model.isCalculated(name))
      throw unknownName("unknownField", "The field", name, model.names, this.where);
    return this.#problems.valueOf(row, name);
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
    requireArgument(isObject(row), "insert", row, "an object with values of a row");
    const right = wholeRow(this.model, row, this.where) as RowOf<M>;
    const whole = this.#given.withKeyForNow(right, row, (key) => this.hasLookUp(key));
    const slot = this.freeSlot();
    return this.#changeIfRight(slot, whole, () => this.newContent(whole, slot));
  }

  /** Whether the place where rows are kept gives them their keys. */
  get isKeyGiven(): boolean {
    return this.#given.isKey;
  }

  /** The place has given a key to a row that had one for now: rows of other tables that refer to it follow. */
  keyGiven(before: LookUp, now: unknown): void {
    this.referrers.follow(before, now, this);
  }

  /** Has rows refer to the same row by its new key. */
  refer(name: string, from: LookUp, to: unknown): void {
    for (const slot of [...this.slotsInOrder()]) {
      const row = this.rowAt(slot)!;
      if (lookUpOf(valueIn(row, name)) === from)
        this.write(slot, { ...this.contentAt(slot), row: rowWith(row, name, to) as RowOf<M> });
    }
  }

  update(key: KeyOf<M>, changes: Partial<RowOf<M>>): RowResult<RowOf<M>> {
    requireArgument(isObject(changes), "update", changes, "a key, then an object with the values that change");
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
    return this.#changeIfRight(slot, after, () => ({ ...this.contentAt(slot), row: after }), before);
  }

  delete(key: KeyOf<M>): RowResult<RowOf<M>> {
    const slot = this.#slotOf(key);
    const row = this.rowAt(slot)!;
    const result = transaction<void, Problem>(() => this.#takeOut(slot));
    return result.ok ? { ok: true, row } : result;
  }

  clear(): void {
    transaction(() => {
      for (const slot of this.slotsInOrder()) this.#takeOut(slot);
    });
  }

  #takeOut(slot: number): void {
    this.#change(slot, { ...this.contentAt(slot), row: undefined });
  }

  replaceAll(rows: readonly Partial<RowOf<M>>[]): RowResult<readonly RowOf<M>[]> {
    requireArgument(Array.isArray(rows), "replaceAll", rows, "a list of rows");
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
    requireArgument(Array.isArray(rows), "load", rows, "a list of rows");
    if (this.keptAt !== undefined)
      throw new IronwoodError("keptTable", `Rows can't be loaded into ${this.where}: they are kept in ${this.keptAt}`, {
        expected:
          "kept.reload() to read them again, or replaceAll() to put others in their place, which is then unsaved",
      });
    return this.loadStored(rows);
  }

  /** As {@link load}, also where the rows are kept at a place. */
  loadStored(rows: readonly RowOf<M>[]): readonly LeftOut[] {
    transaction(() => {
      const firstKey = this.isNumbered ? this.current.storage.nextId : undefined;
      const before = this.#undoable;
      const putBack = (): void => {
        this.#undoable = before;
      };
      record({ restore: putBack }, undefined);
      this.#undoable = new UndoableRows(this);
      this.replaceLoad(loadInto(this, firstKey, rows, this.#maxItems));
      // Where this is taken back, what could be undone can be undone again.
      this.history?.forget(before.owner);
    });
    return this.leftOut;
  }

  /** Puts rows in, or takes them out, as they are, with the problems that they have; it can be undone. */
  putAsIs(changes: readonly (StoredChange<M> & { readonly isGone?: boolean })[]): RowResult<void> {
    // All are found first: two of them may exchange their keys, and another row may have that of one that is gone.
    const slots = changes.map(({ key, isGone }) => (isGone === true ? undefined : this.slotFor(key)));
    const result = transaction<void, Problem>(() => {
      for (const [index, { key, row }] of changes.entries()) {
        const slot = slots[index];
        if (slot === undefined) {
          if (row !== undefined) this.#insertAsIs(key, row);
        } else this.#change(slot, { ...this.contentAt(slot), row });
      }
    });
    return result.ok ? { ok: true, row: undefined } : result;
  }

  #insertAsIs(key: KeyOf<M>, row: RowOf<M>): void {
    const slot = this.freeSlot();
    const content = this.newContent(row, slot);
    // A row without a key of its own is found by its number, also when it comes back.
    this.#change(slot, this.isNumbered ? { ...content, id: key as number } : content);
  }

  protected override loaded(): void {
    this.#together.fill(this.rowsBySlot);
  }

  protected override changing(slot: number, before: RowOf<M> | undefined, after: RowOf<M> | undefined): void {
    if (before !== undefined) this.#together.remove(before, slot);
    if (after !== undefined) this.#together.add(after, slot);
  }

  /** For the history: puts a row back where it was, or takes it out again. @returns its slot: another, if that was taken */
  putBack(slot: number, content: SlotContent<RowOf<M>>): number {
    const { id, row: now } = this.contentAt(slot);
    const isTaken = id !== content.id;
    const to = isTaken ? this.freeSlot() : slot;
    this.write(to, isTaken ? content : { ...content, row: this.#given.withGivenOf(content.row, now) });
    return to;
  }

  /** For the history: what the place has given a row meanwhile is no other row. */
  isSameAsEntered(a: unknown, b: unknown): boolean {
    return this.#given.isSameAsEntered(a, b);
  }

  /** Writes a row if it is right; what concerns other rows is found out when the transaction ends. */
  #changeIfRight(
    slot: number,
    row: RowOf<M>,
    content: () => SlotContent<RowOf<M>>,
    before?: RowOf<M>,
  ): RowResult<RowOf<M>> {
    const wrong = this.newErrors(row, before);
    if (wrong.length > 0) {
      for (const problem of wrong) refuse(problem);
      return { ok: false, problems: wrong };
    }
    const result = transaction<void, Problem>(() => this.#change(slot, content()));
    return result.ok ? { ok: true, row } : result;
  }

  /** The rows of other tables that a row refers to; `undefined` refers to none. */
  referencesOf(row: RowOf<M> | undefined): ReturnType<RowsTogether["referencesOf"]> {
    return row === undefined ? [] : this.#together.referencesOf(row);
  }

  /** Writes so that it can be undone, and has what concerns other rows looked at when the transaction ends. */
  #change(slot: number, content: SlotContent<RowOf<M>>): void {
    const { history } = this;
    this.#together.touch(slot, content.row !== undefined);
    if (history === undefined) return this.write(slot, content);
    const isSame = slot < this.slots && this.contentAt(slot).id === content.id;
    // An inserted row has no row before it was there.
    history.note(this.#undoable.cellFor(slot, content), isSame ? this.rowAt(slot) : undefined, content.row);
    this.write(slot, content);
    history.noted();
  }

  #slotOf(key: KeyOf<M>): number {
    const slot = this.slotFor(key);
    if (slot !== undefined) return slot;
    const isListed = typeof key === "string" && this.count <= 10_000;
    const names = isListed ? [...this].map((row) => String(keyIn(this.model, row))) : [];
    throw new IronwoodError("unknownKey", `There is no row with the key ${shown(key)}`, {
      where: this.where,
      nearest: suggestion(String(key), names),
    });
  }
}

const isObject = (given: unknown): boolean => typeof given === "object" && given !== null;
