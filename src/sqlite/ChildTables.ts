import { IronwoodError } from "../errors/index.ts";
import { type AnyKind, type AnyModel, pointerTo, type Problem, putIn, storedFields, valueIn } from "../model/index.ts";
import { type Cell, type Column, columnsOf, formerColumns, identifier } from "./columns.ts";
import type { Statement } from "./driver.ts";

type Prepare = (sql: string) => Statement;

/** A column of the key of a table. */
export type KeyColumn = Pick<Column, "name" | "type" | "former">;

/** What a table holds that the model wants to be there. */
export interface WantedTable {
  readonly name: string;
  /** What it may be called where an older model has made it. */
  readonly formerNames: readonly string[];
  readonly model: AnyModel;
  readonly columns: readonly Column[];
  /** The columns by which rows are known; `undefined` where that can't have changed. */
  readonly keys?: readonly string[] | undefined;
  /** Columns that tell whose rows they are, and what those were called. */
  readonly owners: readonly KeyColumn[];
  /** Columns that are foreign keys, or that others refer to. */
  readonly tied: readonly string[];
  readonly create: string;
}

/** Rows inside rows, as they were found: by the place of the row of the table. */
export interface FoundInside {
  /** By field, its rows. */
  readonly values: readonly (readonly [field: string, rows: unknown])[];
  readonly problems: readonly Problem[];
}

/** That the database does not take a row inside a row. */
export class RefusedInside {
  constructor(
    readonly error: unknown,
    readonly model: AnyModel,
    readonly columns: readonly Column[],
    /** Where the inner row is in the outer one. */
    readonly pointer: string,
  ) {}
}

/** The table of the outermost rows. */
interface RootTable {
  readonly name: string;
  readonly keys: readonly KeyColumn[];
}

/** The table in whose rows the inner rows are. */
interface ParentTable {
  readonly name: string;
  readonly formerNames: readonly string[];
  /** The columns that say where a row of it is among others, and the fields by which it is reached. */
  readonly places: readonly string[];
  readonly path: readonly string[];
}

/** The place of an inner row among those of its field, counted from 1. */
export const PLACE = "ironwood_place";

/** The columns that say to which row an inner row belongs: those of the key, under the name of the table. */
function ownerColumns({ name: root, keys }: RootTable): readonly KeyColumn[] {
  return keys.map(({ name, type, former }) => ({
    name: name.startsWith("ironwood_") ? "ironwood_parent" : `${root}_${name}`,
    type,
    former: former.map((each) => `${root}_${each}`),
  }));
}

/** One table of inner rows, and those of the rows inside them. */
class ChildTable {
  readonly name: string;
  readonly #formerNames: readonly string[];
  readonly field: string;
  readonly #kind: AnyKind;
  readonly #model: AnyModel;
  readonly #columns: readonly Column[];
  readonly #children: readonly ChildTable[];
  readonly #places: readonly string[];
  /** The fields from the row of the table to these rows. */
  readonly #path: readonly string[];
  readonly #owners: readonly KeyColumn[];
  readonly #sql: { readonly create: string; readonly read: string; readonly insert: string; readonly clear: string };

  constructor(field: string, kind: AnyKind, formerly: readonly string[], parent: ParentTable, root: RootTable) {
    this.field = field;
    this.#kind = kind;
    this.#model = kind.rowModel as AnyModel;
    const [name, ...formerNames] = [parent.name, ...parent.formerNames].flatMap((outer) =>
      [field.replaceAll(".", "_"), ...formerly].map((inner) => `${outer}_${inner}`),
    );
    this.name = name!;
    this.#formerNames = formerNames;
    const depth = parent.places.length + 1;
    this.#places = [...parent.places, depth === 1 ? PLACE : `${PLACE}_${depth}`];
    this.#path = [...parent.path, field];
    this.#owners = ownerColumns(root);
    this.#columns = columnsOf(this.#model);
    for (const { name } of this.#owners) this.#requireFree(name);
    this.#sql = this.#statements(parent, root);
    const own = { name: this.name, formerNames, places: this.#places, path: this.#path };
    this.#children = childrenOf(this.#model, own, root);
  }

  #requireFree(name: string): void {
    const other = this.#columns.find((column) => column.name.toLowerCase() === name.toLowerCase());
    if (other !== undefined)
      throw new IronwoodError(
        "nameTaken",
        `The field "${other.field}" of the rows in "${this.field}" would have the column "${name}", which tells whose rows they are`,
        { expected: "another name for the field, or for the table" },
      );
  }

  #statements(parent: ParentTable, root: RootTable) {
    const table = identifier(this.name);
    const owners = this.#owners.map(({ name }) => identifier(name));
    const keys = root.keys.map(({ name }) => identifier(name));
    const names = this.#columns.map(({ name }) => identifier(name));
    const lines = [
      ...this.#owners.map(({ type }, index) => `  ${owners[index]} ${type}`),
      ...this.#places.map((place) => `  ${place} INTEGER NOT NULL`),
      ...this.#columns.map(({ type, constraints }, index) => `  ${[names[index], type, ...constraints].join(" ")}`),
      `  PRIMARY KEY (${[...owners, ...this.#places].join(", ")})`,
      // Another program that deletes a row deletes what is inside it, too.
      `  FOREIGN KEY (${[...owners, ...parent.places].join(", ")}) REFERENCES ${identifier(parent.name)} ` +
        `(${[...(parent.places.length === 0 ? keys : owners), ...parent.places].join(", ")}) ON DELETE CASCADE ON UPDATE CASCADE`,
    ];
    const inner = [...this.#places, ...names].map((each) => `inner.${each}`);
    const all = [...owners, ...this.#places, ...names];
    return {
      create: `CREATE TABLE ${table} (\n${lines.join(",\n")}\n)`,
      read:
        `SELECT outer.rowid, ${inner.join(", ")} FROM ${identifier(root.name)} AS outer JOIN ${table} AS inner ` +
        `ON ${owners.map((owner, index) => `inner.${owner} IS outer.${keys[index]}`).join(" AND ")} ` +
        `WHERE outer.rowid > ? AND outer.rowid <= ? ORDER BY ${["outer.rowid", ...this.#places.map((place) => `inner.${place}`)].join(", ")}`,
      insert: `INSERT INTO ${table} (${all.join(", ")}) VALUES (${all.map(() => "?").join(", ")})`,
      clear: `DELETE FROM ${table} WHERE ${owners.map((owner) => `${owner} IS ?`).join(" AND ")}`,
    };
  }

  /** This table and those below it, outer ones first. */
  wanted(): WantedTable[] {
    const own = {
      name: this.name,
      formerNames: this.#formerNames,
      model: this.#model,
      columns: this.#columns,
      owners: this.#owners,
      tied: [],
      create: this.#sql.create,
    };
    return [own, ...this.#children.flatMap((child) => child.wanted())];
  }

  /** The rows of some places of the table: by the place, and by the places of the inner rows that they are in. */
  read(prepare: Prepare, after: number, last: number, problems: Map<number, Problem[]>): Map<string, unknown[]> {
    const inside = this.#children.map((child) => [child, child.read(prepare, after, last, problems)] as const);
    const found = new Map<string, unknown[]>();
    const depth = this.#places.length;
    for (const cells of prepare(this.#sql.read).raw().all([after, last]) as Cell[][]) {
      const path = cells.slice(0, depth).join("/");
      const row: Record<string, unknown> = {};
      for (const [index, { field, fromCell, put }] of this.#columns.entries()) {
        const cell = cells[index + depth + 1] ?? null;
        const value = fromCell(cell);
        if (value === undefined && cell !== null) {
          const message = `${this.#model.titleOf(field)} is not ${this.#model.kindOf(field)!.expects}: ${String(cell)}.`;
          const pointer = this.#path.map((name, at) => `${pointerTo(name)}/${Number(cells[at + 1]) - 1}`).join("");
          const all = problems.get(cells[0] as number) ?? [];
          all.push({ code: "typeMismatch", message, severity: "error", pointer: pointer + pointerTo(field) });
          problems.set(cells[0] as number, all);
        }
        put(row, value);
      }
      for (const [child, rows] of inside)
        putIn(row, child.field, rows.get(`${path}/${String(cells[depth])}`) ?? child.#kind.empty);
      const list = found.get(path);
      if (list === undefined) found.set(path, [row]);
      else list.push(row);
    }
    return found;
  }

  get empty(): unknown {
    return this.#kind.empty as unknown;
  }

  clear(prepare: Prepare, key: readonly Cell[]): void {
    for (const child of this.#children) child.clear(prepare, key);
    prepare(this.#sql.clear).run(key);
  }

  /** @throws {@link RefusedInside} */
  write(prepare: Prepare, key: readonly Cell[], places: readonly number[], outer: unknown, pointer: string): void {
    const rows = (valueIn(outer, this.field) ?? []) as readonly unknown[];
    for (const [index, row] of rows.entries()) {
      const at = `${pointer}${pointerTo(this.field)}/${index}`;
      const own = [...places, index + 1];
      try {
        prepare(this.#sql.insert).run([
          ...key,
          ...own,
          ...this.#columns.map(({ valueOf, toCell }) => toCell(valueOf(row))),
        ]);
      } catch (error) {
        throw new RefusedInside(error, this.#model, this.#columns, at);
      }
      for (const child of this.#children) child.write(prepare, key, own, row, at);
    }
  }
}

function childrenOf(model: AnyModel, parent: ParentTable, root: RootTable): ChildTable[] {
  return storedFields(model).flatMap(([field, kind]) =>
    kind.rowModel === undefined ? [] : [new ChildTable(field, kind, formerColumns(model, field), parent, root)],
  );
}

/** Rows inside the rows of a table, in tables of their own: one for each field with rows, also of the rows inside those. */
export class ChildTables {
  readonly #tables: readonly ChildTable[];

  /** @throws `nameTaken` */
  constructor(model: AnyModel, root: RootTable) {
    this.#tables = childrenOf(model, { name: root.name, formerNames: [], places: [], path: [] }, root);
  }

  /** The fields of the table's own rows that have such rows. */
  fields(): readonly { readonly field: string }[] {
    return this.#tables;
  }

  get isNone(): boolean {
    return this.#tables.length === 0;
  }

  wanted(): WantedTable[] {
    return this.#tables.flatMap((each) => each.wanted());
  }

  /** Reads what is inside the rows behind one place of the table, up to another. @returns what is in the row of a place */
  read(prepare: Prepare, after: number, last: number): (place: number) => FoundInside {
    const problems = new Map<number, Problem[]>();
    const found = this.#tables.map((table) => [table, table.read(prepare, after, last, problems)] as const);
    return (place) => ({
      values: found.map(([table, rows]) => [table.field, rows.get(String(place)) ?? table.empty]),
      problems: problems.get(place) ?? [],
    });
  }

  clear(prepare: Prepare, key: readonly Cell[]): void {
    for (const table of this.#tables) table.clear(prepare, key);
  }

  /** @throws {@link RefusedInside} */
  write(prepare: Prepare, key: readonly Cell[], row: unknown): void {
    for (const table of this.#tables) table.write(prepare, key, [], row, "");
  }
}
