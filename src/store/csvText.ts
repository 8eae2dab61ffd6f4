import { plainNumber } from "../notation/index.ts";
import { type AnyKind, type AnyModel, putIn, type RowOf, storedFields, valueIn } from "../model/index.ts";
import { fromJson, type RowReading } from "./rows.ts";

/** A text that a spreadsheet would take for a formula. */
const formula = /^[=+\-@\t\r]/;
const guardedFormula = /^'[=+\-@\t\r]/;

/** A value as a cell of CSV: the same in every locale. With `guard`, text can't start a formula in a spreadsheet. */
export function toCell(kind: AnyKind, value: unknown, guard: boolean): string {
  if (value === undefined || kind.isBlank(value)) return "";
  if (typeof value === "number") return plainNumber(value);
  if (kind.kind === "decimal") return (value as { toJSON(): string }).toJSON();
  if (kind.kind === "rows" || kind.kind === "list") return JSON.stringify(value);
  if (kind.kind === "file") return guarded((value as { name: string }).name, guard);
  if (typeof value === "boolean") return String(value);
  return guarded(Array.isArray(value) ? value.join("; ") : String(value), guard);
}

const guarded = (text: string, guard: boolean): string => (guard && formula.test(text) ? `'${text}` : text);

/** A value from a cell of CSV; what is not of the kind stays text, for the row's check to report. */
export function fromCell(kind: AnyKind, cell: string): unknown {
  if (cell === "") return undefined;
  const text = guardedFormula.test(cell) ? cell.slice(1) : cell;
  switch (kind.kind) {
    case "number":
    case "integer":
      return /^[+-]?(\d+\.?\d*|\.\d+)(e[+-]?\d+)?$/i.test(text.trim()) ? Number(text) : text;
    case "boolean":
      if (text === "true") return true;
      return text === "false" ? false : text;
    case "oneOf":
      return choiceOf(kind, text);
    case "someOf":
      return text.split(/;\s*/).map((each) => choiceOf(kind, each));
    case "rows":
    case "list":
      return parsed(text);
    case "decimal":
    case "file":
    case "group":
    case "instant":
    case "text":
    case "date":
    case "time":
    case "dateTime":
      return text;
  }
}

/** Lists and rows are JSON inside their cell; what is not stays text. */
function parsed(text: string): unknown {
  try {
    return JSON.parse(text) as unknown;
  } catch {
    return text;
  }
}

const choiceOf = (kind: AnyKind, text: string): unknown =>
  kind.choices?.find((choice) => String(choice.const) === text)?.const ?? text;

/** The names of the columns, in order. */
export const csvColumns = (model: AnyModel): string[] => storedFields(model).map(([name]) => name);

/** A row as the cells of the columns that are given. */
export function toCells<M extends AnyModel>(
  model: M,
  row: RowOf<M>,
  columns: readonly string[],
  guard: boolean,
): string[] {
  return columns.map((name) => {
    const kind = model.kindOf(name);
    return kind === undefined ? "" : toCell(kind, valueIn(row, name), guard);
  });
}

/** A row from the cells under the names of the columns. */
export function fromCells<M extends AnyModel>(model: M, cells: Readonly<Record<string, string>>): RowReading<RowOf<M>> {
  const json: Record<string, unknown> = {};
  for (const [name, cell] of Object.entries(cells)) {
    const kind = model.kindOf(name);
    if (kind !== undefined) putIn(json, name, fromCell(kind, cell));
  }
  return fromJson(model, json);
}
