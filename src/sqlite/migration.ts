import type { AnyModel } from "../model/index.ts";
import type { WantedTable } from "./ChildTables.ts";
import { type Column, identifier } from "./columns.ts";
import type { Connection } from "./driver.ts";

/** What brings a table to what its model says. */
export interface Migration {
  /** SQL that is run in this order; a comment tells what is done besides. */
  readonly sql: readonly string[];
  /** SQL that gives columns other limits, column by column: where it fails, as for what others have made of the column, the limits stay. */
  readonly limits?: readonly (readonly string[])[] | undefined;
  /** Rows that the model's own reading of older ones has to fill columns of, when the SQL was run. */
  readonly fill?: TableToFill | undefined;
}

/** A table of which new columns are filled from what its rows hold under older names. */
export interface TableToFill {
  readonly name: string;
  readonly model: AnyModel;
  readonly columns: readonly Column[];
  /** By column, where its cells of another type are now. */
  readonly setAside: ReadonlyMap<string, string>;
  /** By the name of now, the name that a column had. */
  readonly renamed: ReadonlyMap<string, string>;
}

/** That a table can't be brought to what its model says. */
export class Unfit extends Error {}

interface ColumnThere {
  readonly type: string;
  readonly isKey: boolean;
}

/** The columns that a table has, by their names in small letters; none where there is no such table. */
export function columnsThere(connection: Connection, name: string): Map<string, ColumnThere> {
  const there = connection.prepare(`PRAGMA table_info(${identifier(name)})`).all() as {
    readonly name: string;
    readonly type: string;
    readonly pk: number;
  }[];
  return new Map(
    there.map(({ name: column, type, pk }) => [column.toLowerCase(), { type: type.toUpperCase(), isKey: pk > 0 }]),
  );
}

/** Columns of another type than before keep what they held under this name. */
const asideOf = (column: string): string => `ironwood_former_${column}`;

/**
 * What brings one table to what its model says.
 *
 * @param mark - a column that only tables of this library have
 * @throws {@link Unfit} for what can't be brought there, and is left as it is
 */
export function migrationOf(connection: Connection, wanted: WantedTable, mark: string): Migration {
  const { name, model, columns, create } = wanted;
  const found = [name, ...wanted.formerNames].find((each) => columnsThere(connection, each).size > 0);
  if (found === undefined) return { sql: [create] };
  const there = columnsThere(connection, found);
  if (!there.has(mark))
    throw new Unfit(`it has a table ${found} that was made by another program (give columns to use it)`);
  const work = new TableWork(wanted, there, definitionOf(connection, found));
  const sql = found === name ? [] : [`ALTER TABLE ${identifier(found)} RENAME TO ${identifier(name)}`];
  for (const { name: owner, former } of wanted.owners) sql.push(...work.renameColumn(owner, former));
  for (const column of columns) sql.push(...work.renameColumn(column.name, column.former));
  work.requireKey(model);
  for (const column of columns) sql.push(...work.columnSql(column, found));
  const limits = columns.map((column) => work.limitsSql(connection, found, column)).filter((each) => each.length > 0);
  return { sql: [...sql, ...work.fillComment()], limits, fill: work.fill() };
}

const definitionOf = (connection: Connection, name: string): string =>
  (connection.prepare("SELECT sql FROM sqlite_master WHERE name = ?").raw().get([name]) as [string] | undefined)?.[0] ??
  "";

class TableWork {
  readonly #added: string[] = [];
  readonly #setAside = new Map<string, string>();
  readonly #renamed = new Map<string, string>();
  readonly #hasReading: boolean;

  constructor(
    private readonly wanted: WantedTable,
    private readonly there: Map<string, ColumnThere>,
    private readonly definition: string,
  ) {
    this.#hasReading = wanted.model.parts.formerly.some(({ read }) => read !== undefined);
  }

  get #table(): string {
    return `ALTER TABLE ${identifier(this.wanted.name)}`;
  }

  renameColumn(name: string, former: readonly string[]): string[] {
    const isThere = (each: string): boolean => this.there.has(each.toLowerCase());
    const was = isThere(name) ? undefined : former.find(isThere);
    return was === undefined ? [] : [this.#rename(was, name)];
  }

  #rename(from: string, to: string): string {
    this.there.set(to.toLowerCase(), this.there.get(from.toLowerCase())!);
    this.there.delete(from.toLowerCase());
    this.#renamed.set(to, from);
    return `${this.#table} RENAME COLUMN ${identifier(from)} TO ${identifier(to)}`;
  }

  columnSql(column: Column, found: string): string[] {
    const { name, type } = column;
    const was = this.#renamed.get(name) ?? name;
    const has = this.there.get(name.toLowerCase());
    if (has === undefined) return [this.#add(column)];
    if (has.type === type) return [];
    if (!this.#hasReading || has.isKey || this.there.has(asideOf(name).toLowerCase()))
      throw new Unfit(`the column ${was} of ${found} is ${has.type} there, and the model would have ${type}`);
    // What can't be read any more is not lost.
    this.#setAside.set(name, asideOf(name));
    return [`${this.#table} RENAME COLUMN ${identifier(name)} TO ${identifier(asideOf(name))}`, this.#add(column)];
  }

  #add({ name, type, constraints }: Column): string {
    this.#added.push(name);
    const parts = constraints.filter((each) => each !== "NOT NULL");
    return `${this.#table} ADD COLUMN ${[identifier(name), type, ...parts].join(" ")}`;
  }

  /** A column with other limits than the model has by now is made anew; one that others refer to, or the key, stays as it is. */
  limitsSql(connection: Connection, found: string, { name, type, constraints }: Column): string[] {
    const was = this.#renamed.get(name) ?? name;
    const has = this.there.get(name.toLowerCase());
    if (has?.type !== type || has.isKey || this.wanted.tied.includes(name)) return [];
    const check = constraints.find((each) => each.includes("CHECK"));
    const now = check === undefined ? undefined : checkIn(check);
    // What the column is called is no difference.
    const before = checkOf(this.definition, was, type)?.replaceAll(identifier(was), identifier(name));
    if (before === now) return [];
    const isBroken =
      now !== undefined &&
      connection
        .prepare(
          `SELECT 1 FROM ${identifier(found)} WHERE NOT (${now.replaceAll(identifier(name), identifier(was))}) LIMIT 1`,
        )
        .get([]) !== undefined;
    // Rows that were right before stay: the model tells what is wrong with them.
    const right = isBroken ? undefined : now;
    if (before === right) return [];
    const moment = identifier(`ironwood_new_${name}`);
    const limits =
      right === undefined
        ? []
        : [`CONSTRAINT ${identifier(name)} CHECK (${right.replaceAll(identifier(name), moment)})`];
    return [
      `${this.#table} ADD COLUMN ${[moment, type, ...limits].join(" ")}`,
      `UPDATE ${identifier(this.wanted.name)} SET ${moment} = ${identifier(name)}`,
      `${this.#table} DROP COLUMN ${identifier(name)}`,
      `${this.#table} RENAME COLUMN ${moment} TO ${identifier(name)}`,
    ];
  }

  /** Rows are known by other columns than before: that is another table. */
  requireKey(model: AnyModel): void {
    if (this.wanted.keys === undefined) return;
    const wanted = this.wanted.keys
      .map((each) => each.toLowerCase())
      .sort()
      .join(", ");
    const has = [...this.there]
      .flatMap(([name, { isKey }]) => (isKey ? [name] : []))
      .sort()
      .join(", ");
    if (wanted !== has)
      throw new Unfit(
        `rows of ${this.wanted.name} are known by ${has} there, and by ${model.parts.key.join(", ") || "a hidden key"} in the model`,
      );
  }

  fillComment(): string[] {
    if (this.fill() === undefined) return [];
    return [
      `-- The rows of ${identifier(this.wanted.name)} are read by .formerly({ read }), which fills ${this.#added.map(identifier).join(", ")}`,
    ];
  }

  fill(): TableToFill | undefined {
    if (!this.#hasReading || this.#added.length === 0) return undefined;
    const { name, model, columns } = this.wanted;
    return { name, model, columns, setAside: this.#setAside, renamed: this.#renamed };
  }
}

/** What a constraint has to hold of a column. */
function checkIn(sql: string): string | undefined {
  const begin = sql.indexOf("CHECK (");
  if (begin < 0) return undefined;
  let depth = 0;
  for (let at = begin + 6; at < sql.length; at++) {
    if (sql[at] === "(") depth++;
    else if (sql[at] === ")" && --depth === 0) return sql.slice(begin + 7, at);
  }
  return undefined;
}

/** What the definition of a table has to hold of one of its columns. */
function checkOf(definition: string, column: string, type: string): string | undefined {
  const begin = definition.indexOf(`${identifier(column)} ${type}`);
  if (begin < 0) return undefined;
  const rest = definition.slice(begin + identifier(column).length + type.length + 1);
  return /^( NOT NULL)?( CONSTRAINT "(?:[^"]|"")*")? CHECK \(/.test(rest) ? checkIn(rest) : undefined;
}
