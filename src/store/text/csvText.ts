import { getOrMake } from "../../engine/index.ts";
import { plainNumber } from "../../notation/index.ts";
import { type AnyKind, type AnyModel, type RowOf, storedFields, valueIn } from "../../model/index.ts";
import { valueToJson } from "./rows.ts";

/** A text that a spreadsheet would take for a formula, or that looks as if it had been kept from being one. */
const formula = /^[=+\-@\t\r\n\uFF1D\uFF0B\uFF0D\uFF20]/;
const guardedFormula = /^'+[=+\-@\t\r\n\uFF1D\uFF0B\uFF0D\uFF20]/;
const plainDecimal = /^[+-]?(\d+\.?\d*|\.\d+)$/;

/**
 * A value as a cell of CSV: the same in every locale. With `guard`, text can't start a formula in a spreadsheet. With and without
 * it, {@link fromCell} gives the same value back.
 */
export function toCell(kind: AnyKind, value: unknown, guard: boolean): string {
  if (value === undefined || kind.isBlank(value)) return "";
  switch (kind.kind) {
    case "number":
    case "integer":
      return plainNumber(value as number);
    case "boolean":
    case "decimal":
      return String(value);
    case "rows":
    case "list":
    case "file":
      return JSON.stringify(valueToJson(kind, value));
    case "oneOf":
      return guarded(oneChoice(kind, value), guard);
    case "someOf":
      return guarded(someChoices(kind, value as readonly unknown[]), guard);
    case "group":
    case "instant":
    case "text":
    case "date":
    case "time":
    case "dateTime":
      return guarded(value as string, guard);
  }
}

const guarded = (text: string, guard: boolean): string =>
  guardedFormula.test(text) || (guard && formula.test(text)) ? `'${text}` : text;

/** A value from a cell of CSV; what is not of the kind stays text, for the row's check to report. */
export function fromCell(kind: AnyKind, cell: string): unknown {
  if (cell === "") return undefined;
  const trimmed = cell.trim();
  const text = guardedFormula.test(cell) ? cell.slice(1) : cell;
  switch (kind.kind) {
    case "number":
    case "integer":
      return /^[+-]?(\d+\.?\d*|\.\d+)(e[+-]?\d+)?$/i.test(trimmed) ? Number(trimmed) : cell;
    case "decimal":
      return plainDecimal.test(trimmed) ? asJson(trimmed) : cell;
    case "boolean":
      if (trimmed === "true") return true;
      return trimmed === "false" ? false : cell;
    case "oneOf":
      return choiceOf(kind, text);
    case "someOf":
      return choicesOf(kind, text);
    case "rows":
    case "list":
    case "file":
      return parsed(cell) ?? cell;
    case "group":
    case "text":
      return text;
    case "instant":
    case "date":
    case "time":
    case "dateTime":
      return trimmed;
  }
}

/** A decimal number as JSON has it: `+.5` is `0.5`. */
const asJson = (text: string): string =>
  text
    .replace("+", "")
    .replace(/^(-?)\./, (_, sign: string) => `${sign}0.`)
    .replace(/\.$/, "");

/** A text as JSON; `undefined` where it is none. */
function parsed(text: string): unknown {
  try {
    return JSON.parse(text) as unknown;
  } catch {
    return undefined;
  }
}

/** A choice as text; in JSON's quotes where its text alone would be taken for something else. */
function oneChoice(kind: AnyKind, value: unknown): string {
  const text = String(value);
  return choiceOf(kind, text) === value ? text : JSON.stringify(value);
}

/** Choices with semicolons between; as a list of JSON where they could not be told apart. */
function someChoices(kind: AnyKind, values: readonly unknown[]): string {
  const text = values.map(String).join("; ");
  const back = choicesOf(kind, text);
  const isSame = text !== "" && back.length === values.length && back.every((each, index) => each === values[index]);
  return isSame ? text : JSON.stringify(values);
}

function choicesOf(kind: AnyKind, text: string): readonly unknown[] {
  const list = text.startsWith("[") ? parsed(text) : undefined;
  return Array.isArray(list) ? list : text.split(/;\s*/).map((each) => choiceOf(kind, each));
}

/** The values of choices by their texts, made once for each list of choices. */
const valuesByText = new WeakMap<object, ReadonlyMap<string, unknown>>();

function choiceOf(kind: AnyKind, text: string): unknown {
  const { choices = [] } = kind;
  const values = getOrMake(
    valuesByText,
    choices,
    () => new Map(choices.map((choice) => [String(choice.const), choice.const]).reverse() as [string, unknown][]),
  );
  if (values.has(text)) return values.get(text);
  const inQuotes = text.startsWith('"') ? parsed(text) : undefined;
  return typeof inQuotes === "string" ? inQuotes : text;
}

/** The names of the columns, in order. */
export const csvColumns = (model: AnyModel): string[] => storedFields(model).map(([name]) => name);

/** A row as the cells of the columns that are given; a column that is no field has blank cells. */
export function toCells<M extends AnyModel>(
  model: M,
  row: RowOf<M>,
  columns: readonly (string | undefined)[],
  guard: boolean,
): string[] {
  return columns.map((name) => {
    const kind = name === undefined ? undefined : model.kindOf(name);
    return name === undefined || kind === undefined ? "" : toCell(kind, valueIn(row, name), guard);
  });
}
