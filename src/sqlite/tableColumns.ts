import { IronwoodError, shown, unknownName } from "../errors/index.ts";
import { type AnyModel, type FieldPathsOf, storedFields } from "../model/index.ts";
import type { Cell } from "./columns.ts";

/** A column whose cells are other than the library would write them. */
export interface TableColumn<Name extends string = string> {
  /** The field that the column is. */
  readonly field: Name;
  /** The value of a cell; `undefined` for what is no such value, which leaves its row out and is told. A cell that is `NULL` is blank. */
  readonly read: (cell: string | number | Uint8Array) => unknown;
  /** The cell of a value that is not blank. */
  readonly write: (value: never) => string | number | Uint8Array | null;
}

/**
 * Which column of a table that another program has made is which field. Other fields are found in the columns of their names. `undefined`
 * leaves a column out.
 */
export type TableColumns<M extends AnyModel = AnyModel> = Readonly<
  Record<string, FieldPathsOf<M> | TableColumn<FieldPathsOf<M>> | undefined>
>;

/** A column as it was declared. */
export interface DeclaredColumn {
  readonly column: string;
  readonly field: string;
  readonly read?: ((cell: never) => unknown) | undefined;
  readonly write?: ((value: never) => Cell) | undefined;
}

/** Which columns are which fields, and which are left out. @throws `unknownField`, `nameTaken` or `wrongOption` for what can't be so */
export function declaredColumns(model: AnyModel, columns: TableColumns): Map<string, DeclaredColumn | undefined> {
  const stored = storedFields(model);
  const names = stored.map(([name]) => name);
  const where = "columns";
  if (Array.isArray(columns))
    throw new IronwoodError("wrongOption", "The columns of a table were given as a list", {
      where,
      expected: 'an object by their names, as { TAG_NO: "tag" }',
    });
  if (model.parts.key.length === 0)
    throw new IronwoodError("wrongOption", "A model without a key can't be kept in a table of another program", {
      where,
      expected: "model(…, { key }) with the fields whose columns are the primary key, or a unique index",
    });
  const inside = stored.find(([, kind]) => kind.rowModel !== undefined);
  if (inside !== undefined)
    throw new IronwoodError("wrongOption", `The rows in the field "${inside[0]}" have no column in such a table`, {
      where,
      expected: `a store of their own for them, and the field with saved: false`,
    });
  const declared = new Map<string, DeclaredColumn | undefined>();
  const taken = new Map<string, string>();
  for (const [column, given] of Object.entries(columns)) {
    if (declared.has(column.toLowerCase()))
      throw new IronwoodError("nameTaken", `The column "${column}" was given twice: SQLite tells no capitals`, {
        where,
        expected: "it once",
      });
    if (given === undefined) {
      declared.set(column.toLowerCase(), undefined);
      continue;
    }
    const found: Omit<DeclaredColumn, "column"> = typeof given === "string" ? { field: given } : given;
    const { field, read, write } = found;
    if (typeof field !== "string" || (typeof given !== "string" && !isPair(read, write)))
      throw new IronwoodError("wrongOption", `The column ${shown(column)} can't be this`, {
        where,
        received: given,
        expected: "the name of a field, or { field, read, write }",
      });
    if (!names.includes(field)) throw unknownName("unknownField", "The field", field, names, where);
    const other = taken.get(field);
    if (other !== undefined)
      throw new IronwoodError("nameTaken", `The field "${field}" was given two columns, ${other} and ${column}`, {
        where,
        expected: "one",
      });
    taken.set(field, column);
    declared.set(column.toLowerCase(), { column, field, read, write });
  }
  for (const name of names) {
    const column = name.replaceAll(".", "_");
    if (!taken.has(name) && !declared.has(column.toLowerCase()))
      declared.set(column.toLowerCase(), { column, field: name });
  }
  return declared;
}

const isPair = (read: unknown, write: unknown): boolean => typeof read === "function" && typeof write === "function";
