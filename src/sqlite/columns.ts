import { IronwoodError } from "../errors/index.ts";
import { type AnyKind, type AnyModel, formerNames, putIn, storedFields, valueIn } from "../model/index.ts";
import { Decimal } from "../notation/index.ts";
import { valueFromJson, valueToJson } from "../store/text/index.ts";

/** What SQLite keeps in a cell. */
export type Cell = string | number | null | Uint8Array;

/** A column of a table: what it is called, what it may hold, and how a value of its field is written and read. */
export interface Column {
  /** The name of the field, as `place.bed`. */
  readonly field: string;
  readonly name: string;
  /** What it was called by older models, the last one first. */
  readonly former: readonly string[];
  readonly type: "TEXT" | "INTEGER" | "INT" | "REAL";
  /** What has to hold of it, in SQL; none where everything may be in it. */
  readonly constraints: readonly string[];
  /** The value of its field in a row. */
  readonly valueOf: (row: unknown) => unknown;
  readonly put: (row: Record<string, unknown>, value: unknown) => void;
  readonly toCell: (value: unknown) => Cell;
  /** `undefined` for a cell that is no value of the field. */
  readonly fromCell: (cell: Cell) => unknown;
}

/** The names that the column of a field had, the last one first. */
export const formerColumns = (model: AnyModel, field: string): readonly string[] =>
  formerNames(model.parts.formerly, field).map((name) => name.replaceAll(".", "_"));

/** An identifier as SQL has it, whatever is in it. */
export const identifier = (name: string): string => `"${name.replaceAll('"', '""')}"`;

/** The texts that SQLite's interface would cut off at U+0000 are kept as their bytes. */
export function textCell(text: string): Cell {
  return text.includes("\0") ? new TextEncoder().encode(text) : text;
}

export const cellText = (cell: Cell): string =>
  cell instanceof Uint8Array ? new TextDecoder().decode(cell) : String(cell);

const booleans: ReadonlyMap<Cell, boolean> = new Map([
  [0, false],
  [1, true],
]);
const types: Readonly<Record<string, Column["type"]>> = { integer: "INTEGER", number: "REAL", boolean: "INTEGER" };

/** The columns of a model: one for each field that is kept, those of groups as `place_bed`; none for rows inside. @throws `nameTaken` */
export function columnsOf(model: AnyModel): readonly Column[] {
  const taken = new Map<string, string>();
  const keys = new Set(model.parts.key);
  const plain = storedFields(model).filter(([, kind]) => kind.rowModel === undefined);
  return plain.map(([field, kind]) => {
    const name = field.replaceAll(".", "_");
    // SQLite knows no difference between capitals and small letters in names.
    const folded = name.toLowerCase();
    const other = taken.get(folded);
    if (other !== undefined || folded.startsWith("ironwood_"))
      throw new IronwoodError(
        "nameTaken",
        `The field "${field}" would have the column "${name}", which ${other === undefined ? "is kept free" : `the field "${other}" has`}`,
        { expected: "another name for one of the two fields" },
      );
    taken.set(folded, field);
    return { ...columnOf(field, name, kind, keys.has(field)), former: formerColumns(model, field) };
  });
}

/** The column of a field in a table that another program made, whatever it is called there. @param isFilled - it can't be `NULL` */
export const columnOfOthers = (field: string, name: string, kind: AnyKind, isFilled: boolean): Column => {
  const type = typeOf(kind);
  return { field, name, former: [], type, constraints: [], ...memberOf(field), ...cellsOf(kind, type, isFilled) };
};

function columnOf(field: string, name: string, kind: AnyKind, isKey: boolean): Omit<Column, "former"> {
  const found = typeOf(kind);
  // A key that is an "INTEGER" would be the number by which SQLite itself knows the row; an "INT" is a value like others.
  const type = isKey && found === "INTEGER" ? "INT" : found;
  const constraints = constraintsOf(name, kind, isKey);
  return { field, name, type, constraints, ...memberOf(field), ...cellsOf(kind, type, isKey) };
}

/** Most fields are simply a member of the row. */
function memberOf(field: string): Pick<Column, "valueOf" | "put"> {
  if (field.includes(".") || field in Object.prototype)
    return { valueOf: (row) => valueIn(row, field), put: (row, value) => putIn(row, field, value) };
  return {
    valueOf: (row) => (row as Readonly<Record<string, unknown>>)[field],
    put: (row, value) => {
      row[field] = value;
    },
  };
}

function typeOf({ kind, choices }: AnyKind): Column["type"] {
  if (kind !== "oneOf") return types[kind] ?? "TEXT";
  const values = (choices ?? []).map((choice) => choice.const);
  if (values.length === 0 || !values.every((value) => typeof value === "number")) return "TEXT";
  return values.every(Number.isInteger) ? "INTEGER" : "REAL";
}

/** What the database itself holds to, whoever writes: types, and limits of numbers. What else a model says is checked before it is written. */
function constraintsOf(name: string, kind: AnyKind, isKey: boolean): string[] {
  const column = identifier(name);
  const { minimum, maximum, exclusiveMinimum, exclusiveMaximum } = kind.options as Readonly<Record<string, unknown>>;
  const checks: string[] = [];
  if (kind.kind === "boolean") checks.push(`${column} IN (0, 1)`);
  if (kind.kind === "integer") checks.push(`typeof(${column}) IN ('integer', 'null')`);
  if (typeof minimum === "number") checks.push(`${column} >= ${minimum}`);
  if (typeof maximum === "number") checks.push(`${column} <= ${maximum}`);
  if (typeof exclusiveMinimum === "number") checks.push(`${column} > ${exclusiveMinimum}`);
  if (typeof exclusiveMaximum === "number") checks.push(`${column} < ${exclusiveMaximum}`);
  const parts = isKey && kind.empty === "" ? ["NOT NULL"] : [];
  return checks.length === 0 ? parts : [...parts, `CONSTRAINT ${column} CHECK (${checks.join(" AND ")})`];
}

/** @param isFilled - a blank text is kept as one, and not as `NULL` */
function cellsOf(kind: AnyKind, type: Column["type"], isFilled: boolean): Pick<Column, "toCell" | "fromCell"> {
  const read = (value: unknown): unknown => (kind.belongs(value) ? value : undefined);
  const blank = isFilled && kind.empty === "" ? "" : null;
  const orNull =
    (write: (value: unknown) => Cell) =>
    (value: unknown): Cell =>
      value === undefined || kind.isBlank(value) ? blank : write(value);
  const unlessNull =
    (from: (cell: Cell) => unknown) =>
    (cell: Cell): unknown =>
      cell === null || cell === blank ? kind.empty : from(cell);
  switch (kind.kind) {
    case "text":
      return { toCell: orNull((value) => textCell(value as string)), fromCell: unlessNull(cellText) };
    case "boolean":
      return {
        toCell: (value) => (value === undefined ? null : Number(value)),
        fromCell: unlessNull((cell) => read(booleans.get(cell) ?? cell)),
      };
    case "decimal":
      return { toCell: orNull(String), fromCell: unlessNull((cell) => read(decimalFrom(cell))) };
    case "someOf":
    case "list":
    case "file":
      return {
        toCell: orNull((value) => JSON.stringify(valueToJson(kind, value))),
        fromCell: unlessNull((cell) => read(fromJsonText(kind, cellText(cell)))),
      };
    case "date":
    case "time":
    case "dateTime":
    case "instant":
      return { toCell: orNull((value) => value as string), fromCell: unlessNull((cell) => read(cell)) };
    default:
      return type === "TEXT"
        ? { toCell: orNull((value) => textCell(String(value))), fromCell: unlessNull((cell) => choiceFrom(kind, cell)) }
        : { toCell: orNull((value) => value as number), fromCell: unlessNull((cell) => read(cell)) };
  }
}

function decimalFrom(cell: Cell): unknown {
  try {
    return Decimal.of(cellText(cell));
  } catch {
    return undefined;
  }
}

/** A choice whose values are not all numbers is written as text. */
function choiceFrom(kind: AnyKind, cell: Cell): unknown {
  const text = cellText(cell);
  const choice = kind.choices?.find((each) => String(each.const) === text);
  if (choice !== undefined) return choice.const;
  return kind.belongs(text) ? text : undefined;
}

function fromJsonText(kind: AnyKind, text: string): unknown {
  try {
    return valueFromJson(kind, JSON.parse(text)).value;
  } catch {
    return undefined;
  }
}
