import { newId } from "../engine/index.ts";
import { type AnyModel, givenFields, type KeyOf, type Problem, putIn, type RowOf } from "../model/index.ts";
import { type StoreChange, StoreError } from "../store/index.ts";
import { keyIn, lookUpOf } from "../table/index.ts";
import { ChildTables, type FoundInside, PLACE, type KeyColumn, type WantedTable } from "./ChildTables.ts";
import { type Cell, type Column, columnsOf, identifier } from "./columns.ts";
import type { Connection, Statement } from "./driver.ts";
import { fillTable, olderCells } from "./fillTable.ts";
import { notSuch } from "./mappedColumns.ts";
import { columnsThere, type Migration, migrationOf, Unfit } from "./migration.ts";
import { objectsOfPage, pageSql } from "./pageReading.ts";
import { noTies, type Reference, requireReferences, type TableTies } from "./references.ts";
import { HalfCharacters, refusalOf } from "./refusalOf.ts";
import type { SqliteDatabase, TableChanges } from "./SqliteDatabase.ts";
import {
  type Changes,
  type DoneChanges,
  NotWritten,
  type PageEnd,
  type ReadRow,
  type TableInDatabase,
  type Versioned,
} from "./TableInDatabase.ts";

/** The key of rows that have none of their own, and the number of the write that has left a row as it is. */
const HIDDEN_KEY = "ironwood_key";
const VERSION = "ironwood_version";

/** The rows of one model in a table that was made from it. */
export class SqliteTable<M extends AnyModel> implements TableInDatabase<M> {
  readonly name: string;
  readonly isOfOthers = false;
  readonly model: M;
  readonly #database: SqliteDatabase;
  readonly #columns: readonly Column[];
  readonly #keyColumns: readonly Column[];
  readonly #otherColumns: readonly Column[];
  readonly #sql: ReturnType<typeof statementsFor>;
  readonly #inside: ChildTables;
  readonly #halfCharacters: HalfCharacters;
  readonly #ties: TableTies;
  /** Whether the model itself reads rows of older ones. */
  readonly #hasReading: boolean;
  #lastVersion: { readonly cell: Cell; readonly text: string } = { cell: null, text: "" };

  /** @throws `nameTaken` for two fields that would have one column */
  constructor(database: SqliteDatabase, model: M, name: string, ties: TableTies = noTies) {
    this.#ties = ties;
    this.#hasReading = model.parts.formerly.some(({ read }) => read !== undefined);
    this.#database = database;
    this.model = model;
    this.name = name;
    this.#columns = columnsOf(model);
    this.#keyColumns = model.parts.key.map((key) => this.#columns.find(({ field }) => field === key)!);
    this.#otherColumns = this.#columns.filter((column) => !this.#keyColumns.includes(column));
    this.#sql = statementsFor(name, this.#columns, this.#keyColumns);
    this.#halfCharacters = new HalfCharacters(model);
    const hidden: KeyColumn = { name: HIDDEN_KEY, type: "TEXT", former: [] };
    const keys = this.#keyColumns.length === 0 ? [hidden] : this.#keyColumns;
    this.#inside = new ChildTables(model, { name, keys });
  }

  get references(): readonly { readonly field: string; readonly table: string }[] {
    return this.#ties.references();
  }

  get keyColumn(): string | undefined {
    return this.#keyColumns.length === 1 ? this.#keyColumns[0]!.name : undefined;
  }

  get columnNames(): ReadonlyMap<string, string> {
    return new Map(this.#columns.map(({ field, name }) => [field, name]));
  }

  plan(connection: Connection): string[] {
    return this.#migrations(connection).flatMap(({ sql, limits = [] }) => [...sql, ...limits.flat()]);
  }

  #migrations(connection: Connection): Migration[] {
    const references = this.#ties.references();
    const there = columnsThere(connection, this.name);
    for (const { field } of this.#inside.fields())
      if (there.has(field.replaceAll(".", "_").toLowerCase()))
        this.#refusePlan(`it has a column for the rows in ${field} of ${this.name}, which have a table of their own`);
    // Running numbers are counted on from the highest.
    const numbered = givenFields(this.model).flatMap(([field, given]) =>
      given === "number" && !this.model.parts.key.includes(field) ? [this.columnNames.get(field)!] : [],
    );
    const indexes = [...references.map(({ column }) => column), ...numbered].map(
      (column) =>
        `CREATE INDEX ${identifier(`${this.name}_${column}`)} ON ${identifier(this.name)} (${identifier(column)})`,
    );
    const own: WantedTable = {
      name: this.name,
      formerNames: [],
      model: this.model,
      columns: this.#columns,
      keys: this.#keyColumns.length === 0 ? [HIDDEN_KEY] : this.#keyColumns.map(({ name }) => name),
      owners: [],
      tied: references.map(({ column }) => column),
      create: createTable(this.name, this.#columns, this.#keyColumns, references),
    };
    try {
      return [
        migrationOf(connection, own, VERSION),
        ...(there.size === 0 ? [{ sql: indexes }] : []),
        ...this.#inside.wanted().map((each) => migrationOf(connection, each, PLACE)),
      ];
    } catch (error) {
      throw error instanceof Unfit ? this.#unfit(error.message) : error;
    }
  }

  #refusePlan(reason: string): never {
    throw this.#unfit(reason);
  }

  #unfit(reason: string): StoreError {
    const message = `The database ${this.#database.place} can't be used: ${reason}. It was left as it is.`;
    return new StoreError("refused", message);
  }

  prepare(connection: Connection): void {
    try {
      for (const { sql, limits = [], fill } of this.#migrations(connection)) {
        for (const each of sql) if (!each.startsWith("--")) connection.exec(each);
        for (const each of limits) allOrNone(connection, each);
        if (fill !== undefined) fillTable(connection, fill);
      }
    } catch (error) {
      throw error instanceof Unfit ? this.#unfit(error.message) : error;
    }
  }

  page(connection: Connection, behind: PageEnd | undefined, count: number, line: number) {
    const after = (behind as number | undefined) ?? Number.MIN_SAFE_INTEGER;
    const clean = this.#inside.isNone ? this.#cleanPage(connection, after, count, line) : undefined;
    if (clean !== undefined) return clean;
    const { rows } = this.#sql.page;
    const cells = this.#prepare(connection)(rows).raw().all([after, count]) as Cell[][];
    const last = (cells.at(-1)?.[0] as number | undefined) ?? after;
    const inside = this.#inside.isNone ? undefined : this.#inside.read(this.#prepare(connection), after, last);
    return { rows: cells.map((each, index) => this.#read(each, line + index, inside)), last };
  }

  /** A page whose cells are all values of their fields; `undefined` for another one. */
  #cleanPage(connection: Connection, after: number, count: number, line: number) {
    const page = objectsOfPage(this.#prepare(connection), this.#sql.page, after, count);
    if (page === undefined) return undefined;
    const { last, versions, keys } = page;
    for (const { valueOf, fromCell, put } of this.#columns)
      for (const row of page.rows) {
        const cell = valueOf(row) as Cell;
        const value = fromCell(cell);
        if (value === cell) continue;
        if (value === undefined && cell !== null) return undefined;
        put(row, value);
      }
    const rows = page.rows.map((each, index): ReadRow<M> => {
      const row = Object.freeze(each) as RowOf<M>;
      const key = (keys === undefined ? this.#keyOf(row) : keys[index]) as KeyOf<M>;
      return { ok: true, line: line + index, row, key, version: this.#versionOf(versions[index]!) };
    });
    return { rows, last: last ?? after };
  }

  #prepare(connection: Connection): (sql: string) => Statement {
    return (sql) => this.#database.statement(connection, sql);
  }

  #read(cells: readonly Cell[], line: number, inside?: (place: number) => FoundInside): ReadRow<M> {
    let row: Record<string, unknown> = {};
    let problems: Problem[] | undefined;
    for (let index = 0; index < this.#columns.length; index++) {
      const { field, fromCell, put } = this.#columns[index]!;
      const cell = cells[index + 3] ?? null;
      const value = fromCell(cell);
      if (value === undefined && cell !== null) problems = [...(problems ?? []), notSuch(this.model, field, cell)];
      put(row, value);
    }
    if (problems !== undefined && this.#hasReading) {
      const older = olderCells(this.model, this.#columns, cells.slice(3));
      if (older !== undefined) {
        row = older;
        problems = undefined;
      }
    }
    if (inside !== undefined) {
      const found = inside(cells[0] as number);
      for (const [field, rows] of found.values) putIn(row, field, rows);
      if (found.problems.length > 0) problems = [...(problems ?? []), ...found.problems];
    }
    if (problems !== undefined) return { ok: false, line, problems };
    Object.freeze(row);
    const key = this.#keyColumns.length === 0 ? cells[2] : this.#keyOf(row as RowOf<M>);
    return { ok: true, line, row: row as RowOf<M>, key: key as KeyOf<M>, version: this.#versionOf(cells[1]!) };
  }

  /** Many rows one after the other were written by one write: one text for all of them. */
  #versionOf(cell: Cell): string {
    if (cell !== this.#lastVersion.cell) this.#lastVersion = { cell, text: String(cell) };
    return this.#lastVersion.text;
  }

  find(connection: Connection, key: KeyOf<M>): Versioned<M> | undefined {
    const cells = this.#database.statement(connection, this.#sql.find).raw().get(this.#keyCells(key));
    return cells === undefined ? undefined : this.#versioned(connection, cells as Cell[]);
  }

  #versioned(connection: Connection, cells: readonly Cell[]): Versioned<M> {
    const place = cells[0] as number;
    const inside = this.#inside.isNone ? undefined : this.#inside.read(this.#prepare(connection), place - 1, place);
    const read = this.#read(cells, 1, inside);
    if (!read.ok)
      throw new StoreError("refused", `A row of ${this.#database.place} can't be read: ${read.problems[0]!.message}`);
    return { key: read.key!, version: read.version!, row: read.row };
  }

  writtenBy(connection: Connection, number: number): Versioned<M>[] {
    const all = this.#database.statement(connection, this.#sql.ofVersion).raw().all([number]) as Cell[][];
    return all.map((cells) => this.#versioned(connection, cells));
  }

  #keyCells(key: KeyOf<M>): Cell[] {
    if (this.#keyColumns.length === 0) return [key as string];
    const values = this.#keyColumns.length === 1 ? [key] : (key as readonly unknown[]);
    return this.#keyColumns.map(({ toCell }, index) => toCell(values[index]));
  }

  /** Puts the cells of a row behind others. @returns the place behind them */
  #putCells(row: RowOf<M>, columns: readonly Column[], cells: Cell[], from: number): number {
    let at = from;
    for (const { valueOf, toCell } of columns) cells[at++] = toCell(valueOf(row));
    return at;
  }

  /** @param number - the number of the write, which is the version of its rows */
  write(connection: Connection, changes: Changes<M>, number: number): DoneChanges<M> {
    const failure = new NotWritten<M>();
    const statement = this.#prepare(connection);
    const [insert, update] = [statement(this.#sql.insert), statement(this.#sql.update)];
    // The same two for all rows: what they hold is taken over by each call.
    const [inserted, updated]: [Cell[], Cell[]] = [[], []];
    /** The places of rows whose keys change: they are taken out first, and put in again with their new keys. */
    const places = new Map<number, number>();
    const renamed = new Set<number>();
    const gone: unknown[] = [];
    for (let index = 0; index < changes.length; index++) {
      const change = changes[index]!;
      if (change.kind === "insert" || (change.kind === "update" && !this.#isRenamed(change))) continue;
      if (change.kind === "update") renamed.add(index);
      const cells = this.#keyCells(change.key);
      const at = statement(this.#sql.placeOf)
        .raw()
        .get([...cells, Number(change.version)]) as [number] | undefined;
      if (at === undefined)
        failure.conflicts.push({ change: index, key: change.key, now: this.find(connection, change.key) });
      else {
        if (!this.#inside.isNone) this.#inside.clear(statement, cells);
        statement(this.#sql.deleteAt).run([at[0]]);
        if (change.kind === "update") places.set(index, at[0]);
        gone.push(change.key);
      }
    }
    const given: string[] = [];
    const written: (Versioned<M> | undefined)[] = [];
    const keys: unknown[] = [];
    const version = String(number);
    for (let index = 0; index < changes.length; index++) {
      const change = changes[index]!;
      if (change.kind === "delete") {
        written.push(undefined);
        continue;
      }
      const problems = this.#halfCharacters.in(change.row);
      if (problems.length > 0) {
        failure.refused.push({ change: index, problems });
        continue;
      }
      const key = this.#keyFor(change, given);
      try {
        if (change.kind === "update" && !renamed.has(index)) {
          let at = this.#putCells(change.row, this.#otherColumns, updated, 0);
          updated[at++] = number;
          for (const cell of this.#keyCells(change.key)) updated[at++] = cell;
          updated[at] = Number(change.version);
          if (update.run(updated).changes === 0) {
            failure.conflicts.push({ change: index, key: change.key, now: this.find(connection, change.key) });
            continue;
          }
        } else if (change.kind === "insert" || places.has(index)) {
          inserted[0] = places.get(index) ?? null;
          inserted[1] = number;
          if (this.#keyColumns.length === 0) inserted[2] = key as string;
          this.#putCells(change.row, this.#columns, inserted, this.#keyColumns.length === 0 ? 3 : 2);
          insert.run(inserted);
        } else continue;
        if (!this.#inside.isNone) {
          const cells = this.#keyCells(key);
          if (change.kind === "update") this.#inside.clear(statement, cells);
          this.#inside.write(statement, cells, change.row);
        }
      } catch (error) {
        failure.refused.push({
          change: index,
          problems: [refusalOf(error, this.model, this.#columns, this.#database.place)],
        });
        continue;
      }
      keys.push(key);
      written.push({ key, version, row: change.row });
    }
    if (failure.conflicts.length > 0 || failure.refused.length > 0) throw failure;
    return { written, changes: this.#changes(keys, gone, given) };
  }

  #changes(keys: readonly unknown[], gone: readonly unknown[], given: readonly string[]): TableChanges {
    // A key that went from one row to another is there in the end.
    const there = new Set(gone.length === 0 ? [] : keys.map((key) => JSON.stringify(key)));
    const left = gone.filter((key) => !there.has(JSON.stringify(key)));
    return { keys: keys.length > LISTED ? null : keys, gone: left, ...(given.length > 0 && { given }) };
  }

  writtenBefore(
    _connection: Connection,
    changes: Changes<M>,
    number: number,
    { given = [] }: Partial<TableChanges>,
  ): (Versioned<M> | undefined)[] {
    const keys = [...given];
    return changes.map((change) => {
      if (change.kind === "delete") return undefined;
      const key = this.#keyColumns.length === 0 && change.kind === "insert" ? keys.shift() : this.#keyFor(change, []);
      return { key: key as KeyOf<M>, version: String(number), row: change.row };
    });
  }

  #keyFor(change: Exclude<StoreChange<RowOf<M>, KeyOf<M>>, { kind: "delete" }>, given: string[]): KeyOf<M> {
    if (this.#keyColumns.length > 0) return this.#keyOf(change.row);
    if (change.kind === "update") return change.key;
    given.push(newId());
    return given.at(-1) as KeyOf<M>;
  }

  #isRenamed(change: { readonly key: KeyOf<M>; readonly row: RowOf<M> }): boolean {
    if (this.#keyColumns.length === 0) return false;
    const key = this.#keyOf(change.row);
    return key !== change.key && lookUpOf(change.key) !== lookUpOf(key);
  }

  #keyOf(row: RowOf<M>): KeyOf<M> {
    const [first, ...others] = this.#keyColumns;
    return (others.length === 0 ? first!.valueOf(row) : keyIn(this.model, row)) as KeyOf<M>;
  }

  requireReferences(connection: Connection, changes: Changes<M>): void {
    const prepare = this.#prepare(connection);
    const goneKey = (change: StoreChange<RowOf<M>, KeyOf<M>>): Cell[] | undefined => {
      // A row that has another key now, or is gone; another row may have its key.
      const isGone = change.kind === "delete" || (change.kind === "update" && this.#isRenamed(change));
      return isGone && this.find(connection, change.key) === undefined ? this.#keyCells(change.key) : undefined;
    };
    const [references, referrers] = [this.#ties.references(), this.#ties.referrers()];
    requireReferences({ prepare, columns: this.#columns, references, referrers, goneKey: goneKey }, changes);
  }
}

/** Runs some SQL within a transaction; where one statement fails, all of it is as if it had not been run. */
function allOrNone(connection: Connection, sql: readonly string[]): void {
  connection.exec("SAVEPOINT ironwood_limits");
  try {
    for (const each of sql) connection.exec(each);
  } catch {
    connection.exec("ROLLBACK TO ironwood_limits");
  }
  connection.exec("RELEASE ironwood_limits");
}

/** Of a write with more rows than this it is known which table it was, and the rows are found by their versions. */
const LISTED = 1_000;

function createTable(
  name: string,
  columns: readonly Column[],
  keyColumns: readonly Column[],
  references: readonly Reference[],
): string {
  const lines = [
    `  ${VERSION} INTEGER NOT NULL`,
    ...(keyColumns.length === 0 ? [`  ${HIDDEN_KEY} TEXT NOT NULL PRIMARY KEY`] : []),
    ...columns.map((column) => `  ${[identifier(column.name), column.type, ...column.constraints].join(" ")}`),
    ...(keyColumns.length === 0
      ? []
      : [`  PRIMARY KEY (${keyColumns.map((each) => identifier(each.name)).join(", ")})`]),
    // Within a transaction rows come in any order.
    ...references.map(
      ({ column, table, key }) =>
        `  FOREIGN KEY (${identifier(column)}) REFERENCES ${identifier(table)} (${identifier(key)}) DEFERRABLE INITIALLY DEFERRED`,
    ),
  ];
  return `CREATE TABLE ${identifier(name)} (\n${lines.join(",\n")}\n)`;
}

function statementsFor(name: string, columns: readonly Column[], keyColumns: readonly Column[]) {
  const table = identifier(name);
  const names = columns.map((column) => identifier(column.name));
  const others = columns.filter((each) => !keyColumns.includes(each)).map((column) => identifier(column.name));
  const hidden = keyColumns.length === 0 ? [HIDDEN_KEY] : [];
  const byKey = (keyColumns.length === 0 ? [HIDDEN_KEY] : keyColumns.map((column) => identifier(column.name)))
    .map((column) => `${column} IS ?`)
    .join(" AND ");
  const select = `SELECT rowid, ${VERSION}, ${hidden[0] ?? "NULL"}, ${names.join(", ")} FROM ${table}`;
  const all = ["rowid", VERSION, ...hidden, ...names];
  return {
    page: pageSql(name, ["rowid", VERSION, hidden[0] ?? "NULL"], columns),
    find: `${select} WHERE ${byKey}`,
    ofVersion: `${select} WHERE ${VERSION} = ? ORDER BY rowid`,
    placeOf: `SELECT rowid FROM ${table} WHERE ${byKey} AND ${VERSION} = ?`,
    deleteAt: `DELETE FROM ${table} WHERE rowid = ?`,
    insert: `INSERT INTO ${table} (${all.join(", ")}) VALUES (${all.map(() => "?").join(", ")})`,
    // A key that is written anew, though it is the same, has its index written too.
    update: `UPDATE ${table} SET ${[...others, VERSION].map((column) => `${column} = ?`).join(", ")} WHERE ${byKey} AND ${VERSION} = ?`,
  };
}
