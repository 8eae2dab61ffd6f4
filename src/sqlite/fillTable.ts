import { type AnyKind, type AnyModel, putIn, valueIn } from "../model/index.ts";
import { jsonOf, olderRow, valueFromJson } from "../store/text/index.ts";
import { type Cell, cellText, type Column, identifier } from "./columns.ts";
import type { Connection } from "./driver.ts";
import { notSuch } from "./mappedColumns.ts";
import { type TableToFill, Unfit } from "./migration.ts";

/** So many rows are read at once. */
const PAGE = 1_000;
/** So many rows that can't be read are told one by one. */
const TOLD = 5;

/**
 * Has the rows of a table read by the model's own reading of older ones, and fills columns that are new.
 *
 * @throws {@link Unfit} where a row can't be read: nothing of it is dropped
 */
export function fillTable(connection: Connection, table: TableToFill): void {
  const faults: string[] = [];
  const names = (
    connection.prepare(`PRAGMA table_info(${identifier(table.name)})`).all() as { readonly name: string }[]
  ).map(({ name }) => name);
  const select = `SELECT rowid, ${names.map(identifier).join(", ")} FROM ${identifier(table.name)}`;
  const page = connection.prepare(`${select} WHERE rowid > ? ORDER BY rowid LIMIT ${PAGE}`);
  for (let last = Number.MIN_SAFE_INTEGER; ;) {
    const rows = page.raw().all([last]) as Cell[][];
    for (const [place, ...cells] of rows) {
      const row = new OlderRow(table, names, cells);
      faults.push(...row.faults.map((each) => `row ${String(place)}: ${each}`));
      for (const [column, cell] of row.filled)
        connection
          .prepare(`UPDATE ${identifier(table.name)} SET ${identifier(column)} = ? WHERE rowid = ?`)
          .run([cell, place!]);
    }
    if (rows.length < PAGE) break;
    last = rows.at(-1)![0] as number;
  }
  if (faults.length === 0) return;
  const more = faults.length > TOLD ? [`and ${faults.length - TOLD} more`] : [];
  throw new Unfit(
    `rows of ${table.name} can't be read as the model has them now: ${[...faults.slice(0, TOLD), ...more].join("; ")}`,
  );
}

/** One row as it was kept, and what is to be put into its new columns. */
class OlderRow {
  readonly filled: (readonly [column: string, cell: Cell])[] = [];
  readonly faults: string[] = [];
  readonly #others: string[] = [];

  constructor(table: TableToFill, names: readonly string[], cells: readonly Cell[]) {
    const { model, columns, setAside } = table;
    const given = this.#given(table, names, cells);
    const isRead = (field: string, json: unknown): boolean => {
      const kind = model.kindOf(field)!;
      const { value } = valueFromJson(kind, valueIn(json, field));
      return value === undefined || kind.belongs(value);
    };
    const aside = columns.filter(({ name }) => setAside.has(name)).map(({ field }) => field);
    const { json, failure } = olderRow(model, given, (each) => [
      ...this.#others.filter((name) => name in each),
      ...aside.filter((field) => !isRead(field, each)),
    ]);
    if (failure !== undefined) this.faults.push(`the model's own reading failed: ${failure}`);
    for (const { field, name, valueOf, toCell } of columns) {
      const kind = model.kindOf(field)!;
      const before = cells[names.indexOf(name)] ?? null;
      const kept = cells[names.indexOf(setAside.get(name) ?? "")] ?? null;
      if (before !== null) continue;
      const row: Record<string, unknown> = {};
      putIn(row, field, valueFromJson(kind, valueIn(json, field)).value);
      const value = valueOf(row);
      if (value !== undefined && kind.belongs(value)) this.filled.push([name, toCell(value)]);
      else if (kept !== null && valueIn(json, field) !== undefined)
        this.faults.push(notSuch(model, field, kept).message);
    }
  }

  /** The row as JSON, under the names that it was kept by, and those of now. */
  #given({ columns, renamed, setAside, model }: TableToFill, names: readonly string[], cells: readonly Cell[]) {
    const given: Record<string, unknown> = {};
    const byName = new Map(columns.map((column) => [column.name, column]));
    const asides = new Map([...setAside].map(([column, aside]) => [aside, column]));
    for (const [index, name] of names.entries()) {
      const cell = cells[index] ?? null;
      if (cell === null) continue;
      const column = byName.get(name);
      const aside = byName.get(asides.get(name) ?? "");
      if (column !== undefined) {
        const value = jsonOfCell(column, model.kindOf(column.field)!, cell);
        putIn(given, column.field, value);
        if (renamed.has(name)) given[renamed.get(name)!] = value;
      } else if (aside !== undefined) putIn(given, aside.field, raw(cell));
      else if (!name.startsWith("ironwood_")) {
        given[name] = raw(cell);
        this.#others.push(name);
      }
    }
    return given;
  }
}

const raw = (cell: Cell): unknown => (typeof cell === "number" ? cell : cellText(cell));

function jsonOfCell({ fromCell }: Column, kind: AnyKind, cell: Cell): unknown {
  const value = fromCell(cell);
  return value === undefined ? raw(cell) : jsonOf(kind, value);
}

/** A row with a cell that is no value of its field any more, as the model's own reading has it; `undefined` where that can't read it. */
export function olderCells(
  model: AnyModel,
  columns: readonly Column[],
  cells: readonly Cell[],
): Record<string, unknown> | undefined {
  const given: Record<string, unknown> = {};
  const wrong: string[] = [];
  for (const [index, column] of columns.entries()) {
    const cell = cells[index] ?? null;
    if (cell === null) continue;
    if (column.fromCell(cell) === undefined) wrong.push(column.field);
    putIn(given, column.field, jsonOfCell(column, model.kindOf(column.field)!, cell));
  }
  const isRight = (field: string, json: unknown): boolean => {
    const { value } = valueFromJson(model.kindOf(field)!, valueIn(json, field));
    return value === undefined || model.kindOf(field)!.belongs(value);
  };
  const { json, failure } = olderRow(model, given, (each) => wrong.filter((field) => !isRight(field, each)));
  if (failure !== undefined || !wrong.every((field) => isRight(field, json))) return undefined;
  const row: Record<string, unknown> = {};
  for (const { field } of columns) {
    const kind = model.kindOf(field)!;
    putIn(row, field, valueFromJson(kind, valueIn(json, field)).value ?? kind.empty);
  }
  return row;
}
