import { hash } from "node:crypto";
import { type AnyModel, type KeyOf, pointerTo, type Problem, type RowOf } from "../model/index.ts";
import { type StoreChange, StoreError } from "../store/index.ts";
import { keyIn, lookUpOf } from "../table/index.ts";
import { type Cell, type Column, identifier } from "./columns.ts";
import type { Connection, Statement } from "./driver.ts";
import { type MappedColumn, mappedColumns, notSuch } from "./mappedColumns.ts";
import { MappedWrite } from "./MappedWrite.ts";
import {
  noTies,
  type Reference,
  referenceProblems,
  type Referrer,
  requireReferences,
  type TableTies,
} from "./references.ts";
import { HalfCharacters, refusalOf } from "./refusalOf.ts";
import type { SqliteDatabase, TableChanges } from "./SqliteDatabase.ts";
import { type DeclaredColumn, declaredColumns, type TableColumns } from "./tableColumns.ts";
import {
  type Changes,
  type DoneChanges,
  NotWritten,
  type PageEnd,
  type ReadRow,
  type TableInDatabase,
  type Versioned,
} from "./TableInDatabase.ts";
import { referrersIn, shapeOf, type TableShape } from "./tableShape.ts";

/** A row that is there, as it is to be changed or deleted. */
interface RowThere<M extends AnyModel> {
  readonly row: RowOf<M>;
  /** The cells of the key by which it is found; others while rows exchange their keys. */
  key: readonly Cell[];
}

/** What is known of a table once it was looked at. */
interface Known {
  readonly columns: readonly MappedColumn[];
  readonly keyColumns: readonly MappedColumn[];
  readonly sql: ReturnType<typeof statementsFor>;
  readonly references: readonly Reference[];
  readonly referrers: readonly Referrer[];
  readonly hasRowNumbers: boolean;
}

/** Of a write with more rows than this it is only known that there was one. */
const LISTED = 1_000;

/**
 * The rows of one model in a table that another program has made and goes on using: its columns are what they are, and nothing is added. A
 * version is a digest of the row as it is there. Only cells of fields that were changed are written.
 */
export class MappedTable<M extends AnyModel> implements TableInDatabase<M> {
  readonly name: string;
  readonly isOfOthers = true;
  readonly model: M;
  readonly #database: SqliteDatabase;
  readonly #declared: Map<string, DeclaredColumn | undefined>;
  readonly #halfCharacters: HalfCharacters;
  readonly #ties: TableTies;
  #found: Known | undefined;

  /** @throws `unknownField`, `nameTaken` or `wrongOption` for columns that can't be so */
  constructor(database: SqliteDatabase, model: M, name: string, columns: TableColumns, ties: TableTies = noTies) {
    this.#database = database;
    this.model = model;
    this.name = name;
    this.#declared = declaredColumns(model, columns);
    this.#halfCharacters = new HalfCharacters(model);
    this.#ties = ties;
  }

  get columnNames(): ReadonlyMap<string, string> {
    return new Map(
      [...this.#declared.values()].flatMap((each) => (each === undefined ? [] : [[each.field, each.column]])),
    );
  }

  get references(): readonly { readonly field: string; readonly table: string }[] {
    return this.#ties.references();
  }

  get keyColumn(): string | undefined {
    const { key } = this.model.parts;
    return key.length === 1 ? this.columnNames.get(key[0]!) : undefined;
  }

  /** The table is not touched: what is made is where writes are noted. What keeps the table from being used is told, all of it. */
  plan(connection: Connection): string[] {
    this.prepare(connection);
    return this.#database.planOwn(connection);
  }

  prepare(connection: Connection): void {
    this.#found = this.#look(connection);
  }

  #look(connection: Connection): Known {
    const shape = shapeOf(connection, this.name);
    if (shape === undefined) this.#refuse([`there is no table ${this.name}`]);
    const { columns, faults } = mappedColumns(this.model, this.name, shape, this.#declared);
    if (faults.length > 0) this.#refuse(faults);
    const keyColumns = this.model.parts.key.map((key) => columns.find(({ field }) => field === key)!);
    const own = shape.references.flatMap(({ column, ...to }): Reference[] => {
      const found = columns.find(({ name }) => name.toLowerCase() === column.toLowerCase());
      return found === undefined ? [] : [{ field: found.field, column: found.name, ...to }];
    });
    const given = this.#ties.references().flatMap((each): Reference[] => {
      const { name: column } = columns.find(({ field }) => field === each.field)!;
      return own.some((other) => other.column === column) ? [] : [{ ...each, column }];
    });
    const others = referrersIn(connection, this.name);
    const referring = this.#ties
      .referrers()
      .filter(({ table, column }) => !others.some((each) => each.table === table && each.column === column));
    return {
      columns,
      keyColumns,
      sql: statementsFor(this.name, columns, keyColumns, shape),
      references: [...own, ...given],
      referrers: [...others, ...referring],
      hasRowNumbers: shape.hasRowNumbers,
    };
  }

  #refuse(faults: readonly string[]): never {
    throw new StoreError(
      "refused",
      `The database ${this.#database.place} can't be used: ${faults.join("; ")}. It was left as it is.`,
    );
  }

  get #known(): Known {
    return this.#found!;
  }

  #prepare(connection: Connection): (sql: string) => Statement {
    return (sql) => this.#database.statement(connection, sql);
  }

  page(connection: Connection, after: PageEnd | undefined, count: number, line: number) {
    const { sql, hasRowNumbers, columns, keyColumns } = this.#known;
    const statement = this.#prepare(connection)(after === undefined ? sql.firstPage : sql.nextPage);
    const cells = statement.raw().all([...(after === undefined ? [] : [after].flat()), count]) as Cell[][];
    const end = cells.at(-1);
    const last =
      end && (hasRowNumbers ? (end[0] as number) : keyColumns.map((each) => end[columns.indexOf(each) + 1]!));
    return { rows: cells.map((each, index) => this.#read(each, line + index)), last: last ?? after };
  }

  #read(cells: readonly Cell[], line: number): ReadRow<M> {
    const row: Record<string, unknown> = {};
    const problems: Problem[] = [];
    for (const [index, { field, fromCell, put }] of this.#known.columns.entries()) {
      const cell = cells[index + 1] ?? null;
      const value = fromCell(cell);
      if (value === undefined && cell !== null) problems.push(notSuch(this.model, field, cell));
      put(row, value);
    }
    // Where a part of the key is NULL, any number of rows may have the same.
    for (const { field, toCell, valueOf } of this.#known.keyColumns)
      if (problems.length === 0 && toCell(valueOf(row)) === null)
        problems.push({
          code: "valueMissing",
          message: `${this.model.titleOf(field)} is blank, and rows are told apart by it.`,
          severity: "error",
          pointer: pointerTo(field),
        });
    if (problems.length > 0) return { ok: false, line, problems };
    Object.freeze(row);
    const key = keyIn(this.model, row) as KeyOf<M>;
    return { ok: true, line, row: row as RowOf<M>, key, version: digestOf(cells.slice(1)) };
  }

  find(connection: Connection, key: KeyOf<M>): Versioned<M> | undefined {
    return this.#at(connection, this.#known.sql.find, this.#keyCells(key));
  }

  #at(connection: Connection, sql: string, at: readonly Cell[]): Versioned<M> | undefined {
    const cells = this.#prepare(connection)(sql).raw().get(at) as Cell[] | undefined;
    if (cells === undefined) return undefined;
    const read = this.#read(cells, 1);
    if (!read.ok)
      throw new StoreError("refused", `A row of ${this.#database.place} can't be read: ${read.problems[0]!.message}`);
    return { key: read.key!, version: read.version!, row: read.row };
  }

  /** Versions say nothing of who wrote them. */
  writtenBy(): undefined {
    return undefined;
  }

  #keyCells(key: KeyOf<M>): Cell[] {
    const values = this.#known.keyColumns.length === 1 ? [key] : (key as readonly unknown[]);
    return this.#known.keyColumns.map(({ toCell }, index) => toCell(values[index]));
  }

  write(connection: Connection, changes: Changes<M>): DoneChanges<M> {
    const failure = new NotWritten<M>();
    const there = this.#rowsThere(connection, changes, failure);
    for (const [index, change] of changes.entries()) {
      const problems = change.kind === "delete" ? [] : this.#notKept(change.row);
      if (problems.length > 0) failure.refused.push({ change: index, problems });
    }
    if (failure.conflicts.length > 0 || failure.refused.length > 0) throw failure;
    const work = new MappedWrite(this.#prepare(connection), this.#known.columns, this.#known.keyColumns, this.name);
    const attempt = (index: number, done: () => void): void => {
      try {
        done();
      } catch (error) {
        failure.refused.push({ change: index, problems: this.#refusals(connection, error, changes[index]!) });
      }
    };
    const places = new Map<number, number>();
    for (const [index, change] of changes.entries())
      if (change.kind === "delete") attempt(index, () => work.delete(there.get(index)!.key));
    const updates = changes.flatMap((change, index) =>
      change.kind === "update" ? [{ index, ...there.get(index)!, now: change.row }] : [],
    );
    work.update(updates, attempt);
    for (const [index, change] of changes.entries())
      if (change.kind === "insert") attempt(index, () => places.set(index, work.insert(change.row)));
    if (failure.refused.length > 0) throw failure;
    const written = changes.map((change, index): Versioned<M> | undefined => {
      if (change.kind === "delete") return undefined;
      const place = this.#known.hasRowNumbers ? places.get(index) : undefined;
      const kept =
        place === undefined
          ? this.find(connection, this.#keyOf(change.row))
          : this.#at(connection, this.#known.sql.at, [place]);
      return kept ?? this.#refuse([`a row that was written to ${this.name} is not there`]);
    });
    return { written, changes: this.#changes(changes, written) };
  }

  #keyOf(row: RowOf<M>): KeyOf<M> {
    return keyIn(this.model, row) as KeyOf<M>;
  }

  /** The rows that are to be changed or deleted, by the index of the change; what others have changed meanwhile is a conflict. */
  #rowsThere(connection: Connection, changes: Changes<M>, failure: NotWritten<M>): Map<number, RowThere<M>> {
    const there = new Map<number, RowThere<M>>();
    for (const [index, change] of changes.entries()) {
      if (change.kind === "insert") continue;
      const now = this.find(connection, change.key);
      if (now?.version === change.version) there.set(index, { row: now.row, key: this.#keyCells(change.key) });
      else failure.conflicts.push({ change: index, key: change.key, now });
    }
    return there;
  }

  /** What the columns would not keep as it is. */
  #notKept(row: RowOf<M>): readonly Problem[] {
    const lost = this.#known.columns.flatMap(({ field, valueOf, whyNotKept }): Problem[] => {
      const why = whyNotKept(valueOf(row));
      if (why === undefined) return [];
      const message = `${this.model.titleOf(field)} can't be this in ${this.#database.place}: ${why}.`;
      return [{ code: "typeMismatch", message, severity: "error", pointer: pointerTo(field) }];
    });
    return [...this.#halfCharacters.in(row), ...lost];
  }

  /** Why the database does not take a change. @throws what is no such refusal */
  #refusals(connection: Connection, error: unknown, change: StoreChange<RowOf<M>, KeyOf<M>>): readonly Problem[] {
    const { columns } = this.#known;
    const said = String((error as { readonly message?: unknown } | null)?.message);
    const refusal = refusalOf(error, this.model, columns, this.#database.place);
    const atRow = (message: string): Problem[] => [{ code: "typeMismatch", message, severity: "error", pointer: "" }];
    if (said.includes("FOREIGN KEY")) {
      const found = referenceProblems(this.#referenceCheck(connection, false), change as never);
      const reason = "the row refers to one that is not there, or others refer to it";
      return found.length > 0 ? found : atRow(`${this.#database.place} does not take this: ${reason}.`);
    }
    const [, column] = /^NOT NULL constraint failed: [^.]*\.(.*)$/.exec(said) ?? [];
    if (column !== undefined && !columns.some(({ name }) => name === column))
      return atRow(
        `${this.#database.place} does not take this: the column ${column} has to be filled, and no field is it.`,
      );
    if (column === undefined && !/constraint failed/.test(said))
      return atRow(`${this.#database.place} does not take this: ${said}.`);
    return [refusal];
  }

  #changes(changes: Changes<M>, written: readonly (Versioned<M> | undefined)[]): TableChanges {
    const keys = written.flatMap((each) => (each === undefined ? [] : [each.key]));
    const there = new Set(keys.map(lookUpOf));
    const gone = changes.flatMap((change) =>
      change.kind === "insert" || there.has(lookUpOf(change.key)) ? [] : [change.key],
    );
    return { keys: keys.length > LISTED ? null : keys, gone };
  }

  /** As the rows are now: the table knows of no writer. */
  writtenBefore(connection: Connection, changes: Changes<M>): (Versioned<M> | undefined)[] {
    return changes.map((change) => {
      if (change.kind === "delete") return undefined;
      const key = this.#keyOf(change.row);
      // A row that others have deleted since is told by who follows.
      return this.find(connection, key) ?? { key, version: "", row: change.row };
    });
  }

  #referenceCheck(connection: Connection, isDone: boolean) {
    const { columns, references, referrers } = this.#known;
    const goneKey = (change: StoreChange<RowOf<M>, KeyOf<M>>): Cell[] | undefined => {
      if (change.kind === "insert") return undefined;
      if (isDone && this.find(connection, change.key) !== undefined) return undefined;
      return this.#keyCells(change.key);
    };
    return { prepare: this.#prepare(connection), columns, references, referrers, goneKey: goneKey as never };
  }

  requireReferences(connection: Connection, changes: Changes<M>): void {
    requireReferences(this.#referenceCheck(connection, true), changes);
  }
}

/** A short text that another row has as good as never: 96 bits of a SHA-256. */
const digestOf = (cells: readonly Cell[]): string =>
  hash(
    "sha256",
    JSON.stringify(cells.map((cell) => (cell instanceof Uint8Array ? [...cell] : cell))),
    "base64url",
  ).slice(0, 16);

function statementsFor(
  name: string,
  columns: readonly Column[],
  keyColumns: readonly Column[],
  { hasRowNumbers, columns: shown }: TableShape,
) {
  const taken = new Set(shown.map((column) => column.name.toLowerCase()));
  // A column may have one of the names of the number by which SQLite knows a row, but hardly all three.
  const number = ["rowid", "_rowid_", "oid"].find((each) => !taken.has(each)) ?? "rowid";
  const keys = keyColumns.map((column) => identifier(column.name));
  const names = columns.map((column) => identifier(column.name));
  const select = `SELECT ${[hasRowNumbers ? number : "NULL", ...names].join(", ")} FROM ${identifier(name)}`;
  const order = hasRowNumbers ? number : keys.join(", ");
  const behind = hasRowNumbers ? `${number} > ?` : `(${order}) > (${keys.map(() => "?").join(", ")})`;
  return {
    firstPage: `${select} ORDER BY ${order} LIMIT ?`,
    nextPage: `${select} WHERE ${behind} ORDER BY ${order} LIMIT ?`,
    find: `${select} WHERE ${keys.map((key) => `${key} IS ?`).join(" AND ")}`,
    at: `${select} WHERE ${number} = ?`,
  };
}
