import { IronwoodError, unknownName } from "../../errors/index.ts";
import {
  type AnyKind,
  type AnyModel,
  nameIn,
  type Problem,
  putIn,
  type RowOf,
  sayOfRows,
  storedFields,
  valueIn,
} from "../../model/index.ts";
import { CsvLines } from "./csvLines.ts";
import { fromCell } from "./csvText.ts";
import { fieldsOf } from "./headings.ts";
import { type Line, type LineFault, type LineReader, TextLines } from "./lines.ts";
import { fromJson, notReadAsBefore, olderRow, type RowReading } from "./rows.ts";

/** How the rows of a text are written. */
export interface RowFormat {
  /** Rows in lines of `csv` (RFC 4180), or of JSON (`ndjson`). */
  readonly format: "csv" | "ndjson";
  /** The fields of the columns, by their headings or by their places. */
  readonly columns?: ColumnNames | undefined;
  /** The language that numbers and dates are written in; default: as files have them. */
  readonly notation?: string | undefined;
  /** The language of what is told. */
  readonly locale: string;
}

/**
 * Which column is which field: by heading, where others are found by their names and titles; or a list in the order of the columns,
 * for a file that has no headings. `undefined` leaves a column out.
 */
export type ColumnNames = Readonly<Record<string, string | undefined>> | readonly (string | undefined)[];

/** What is wrong with a line of a file. */
export interface LineProblem extends Problem {
  /** Counted from 1, as editors do. */
  readonly line: number;
  /** The heading of the column; blank where the whole line is meant. */
  readonly column: string;
}

/** A line as it was read: a row and which fields it was given, or what is wrong with it. */
export type ReadLine<Row> =
  | {
      readonly ok: true;
      readonly line: number;
      readonly row: Row;
      readonly given: readonly string[];
      /** Headings of columns of an older model that the row was read of. */
      readonly covered?: ReadonlySet<string> | undefined;
    }
  | { readonly ok: false; readonly line: number; readonly problems: readonly LineProblem[] };

/**
 * Reads rows of CSV or NDJSON from text that comes in pieces. Every line that it can't take is told, and the reading goes on.
 * Whatever reads rows from text reads them with this.
 */
export class RowReader<M extends AnyModel> {
  readonly #model: M;
  readonly #format: RowFormat;
  readonly #lines: LineReader<string | readonly string[]>;
  /** The fields of the columns; `undefined` for a column that is none. */
  #fields: readonly (string | undefined)[] | undefined;
  #headings: readonly string[] = [];
  #named: readonly string[] = [];
  readonly #unused: string[] = [];
  /** Those of them of which some row was read, as that of an older model. */
  readonly #covered = new Set<string>();

  constructor(model: M, format: RowFormat) {
    this.#model = model;
    this.#format = format;
    this.#lines = format.format === "csv" ? new CsvLines() : new TextLines();
    if (isList(format.columns))
      this.#useFields(
        format.columns.map((name) => name ?? ""),
        format.columns,
      );
  }

  /** The fields of the columns, once the headings are read; `undefined` for a column that is none. */
  get fields(): readonly (string | undefined)[] | undefined {
    return this.#fields;
  }

  /** Headings that are no fields, or whose field another column has already. */
  get unused(): readonly string[] {
    return this.#unused;
  }

  /** Those of them of which no row was read so far, as that of an older model. */
  get unread(): readonly string[] {
    return this.#unused.filter((heading) => !this.#covered.has(heading));
  }

  /**
   * Reads the next piece of the text.
   *
   * @returns the rows of the lines that end in it, and what is wrong with the others
   * @throws `unknownField` for a first line that names no field, or not the key
   */
  take(piece: string): ReadLine<RowOf<M>>[] {
    return this.#read(this.#lines.take(piece));
  }

  /** Reads what is left when the text has ended. @throws as {@link take} does */
  end(): ReadLine<RowOf<M>>[] {
    return this.#read(this.#lines.end());
  }

  /** Problems of a row, with the line and the column where they stand in the file. */
  inLine(line: number, problems: readonly Problem[]): LineProblem[] {
    return problems.map((each) => {
      const name = nameIn(each.pointer);
      const column = this.#headings[this.#fields?.indexOf(name) ?? -1] ?? name;
      return { ...each, line, column };
    });
  }

  #read(lines: readonly Line<string | readonly string[]>[]): ReadLine<RowOf<M>>[] {
    return lines.flatMap((line) => this.readLine(line) ?? []);
  }

  /** Reads one line. @returns the row, or what is wrong with it; `undefined` for the line of the headings. @throws as {@link take} does */
  readLine({ line, content, fault }: Line<string | readonly string[]>): ReadLine<RowOf<M>> | undefined {
    if (typeof content !== "string" && this.#fields === undefined) {
      this.#takeHeadings(content, fault);
      return undefined;
    }
    const reading = fault === undefined ? this.#rowOf(content) : this.#unreadable(fault);
    if (reading.ok) {
      const { row, covered } = reading;
      return { ok: true, line, row, given: this.#givenBy(content), covered };
    }
    return { ok: false, line, problems: this.inLine(line, reading.problems) };
  }

  #takeHeadings(headings: readonly string[], fault: LineFault | undefined): void {
    const { columns, locale, notation } = this.#format;
    if (fault !== undefined)
      throw new IronwoodError(
        "unknownField",
        `The first line can't be read: ${sayOfRows(locale, fault).replace(/\.$/, "")}`,
      );
    const { fields, unused } = fieldsOf(this.#model, headings, isList(columns) ? {} : columns, [locale, notation]);
    this.#unused.push(...unused);
    this.#useFields(headings, fields);
  }

  #useFields(headings: readonly string[], fields: readonly (string | undefined)[]): void {
    this.#headings = headings;
    this.#fields = fields;
    this.#named = fields.filter((name) => name !== undefined);
  }

  #rowOf(content: string | readonly string[]): CellsReading<RowOf<M>> {
    return typeof content === "string" ? this.#fromJson(content) : this.#fromCells(content);
  }

  #unreadable(fault: LineFault): CellsReading<RowOf<M>> {
    return { ok: false, problems: [badInput(sayOfRows(this.#format.locale, fault))] };
  }

  #fromJson(text: string): RowReading<RowOf<M>> {
    let json: unknown;
    try {
      json = JSON.parse(text);
    } catch (error) {
      const { message } = error as Error;
      return { ok: false, problems: [badInput(sayOfRows(this.#format.locale, "notJson", { reason: message }))] };
    }
    return fromJson(this.#model, json);
  }

  #fromCells(cells: readonly string[]): CellsReading<RowOf<M>> {
    const count = cells.length;
    const limit = this.#headings.length;
    if (count !== limit) {
      const message = sayOfRows(this.#format.locale, "cellCount", { count, limit: String(limit) });
      return { ok: false, problems: [badInput(message)] };
    }
    const json: Record<string, unknown> = {};
    cells.forEach((cell, column) => {
      const name = this.#fields![column];
      const kind = name === undefined ? undefined : this.#model.kindOf(name);
      if (name !== undefined && kind !== undefined) putIn(json, name, this.#valueOf(kind, cell));
    });
    return this.#model.parts.formerly.some(({ read }) => read !== undefined)
      ? this.#fromOlder(json, cells)
      : fromJson(this.#model, json);
  }

  /** A row of a file that an older model may have written: its own reading is handed also what is in columns of no field. */
  #fromOlder(json: Readonly<Record<string, unknown>>, cells: readonly string[]): CellsReading<RowOf<M>> {
    const others = this.#headings.flatMap((heading, column): [string, string][] =>
      this.#unused.includes(heading) && cells[column] !== "" ? [[heading, cells[column]!]] : [],
    );
    const older = olderRow(this.#model, { ...Object.fromEntries(others), ...json });
    if (older.failure !== undefined) return { ok: false, problems: [notReadAsBefore(older.failure)] };
    // What is in no field and was not read is no part of the row, as everywhere in CSV.
    const names = new Set(others.map(([heading]) => heading));
    const own = Object.fromEntries(Object.entries(older.json).filter(([name]) => !names.has(name)));
    for (const name of older.covered) this.#covered.add(name);
    return { ...fromJson(this.#model, own), covered: older.covered };
  }

  #valueOf(kind: AnyKind, cell: string): unknown {
    const { notation } = this.#format;
    if (notation === undefined) return fromCell(kind, cell);
    const reading = kind.read(cell, notation);
    return reading.ok ? reading.value : cell;
  }

  /** The names of the fields that a line has; of CSV the same for all. */
  #givenBy(content: string | readonly string[]): readonly string[] {
    if (typeof content !== "string") return this.#named;
    const json: unknown = JSON.parse(content);
    return storedFields(this.#model).flatMap(([name]) => (valueIn(json, name) === undefined ? [] : [name]));
  }
}

type CellsReading<Row> = RowReading<Row> & { readonly covered?: ReadonlySet<string> };

/** Whether columns are named in their order, in a file without headings. */
const isList = (columns: ColumnNames | undefined): columns is readonly (string | undefined)[] => Array.isArray(columns);

/** Refuses columns of fields that the model does not keep, and a list with no column for the key. @throws `unknownField` */
export function requireColumns(model: AnyModel, columns: ColumnNames, where: string): void {
  const names = storedFields(model).map(([name]) => name);
  for (const name of Object.values<string | undefined>(columns))
    if (name !== undefined && !names.includes(name))
      throw unknownName("unknownField", "The field", name, names, `columns of ${where}`);
  const missing = isList(columns) ? model.parts.key.filter((name) => !columns.includes(name)) : [];
  if (missing.length > 0)
    throw new IronwoodError("unknownField", `There is no column for the key "${missing[0]!}"`, {
      where: `columns of ${where}`,
      received: Object.values(columns),
    });
}

const badInput = (message: string): Problem => ({ code: "badInput", message, severity: "error", pointer: "" });
