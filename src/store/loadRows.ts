import {
  type AnyKind,
  type AnyModel,
  folded,
  nameIn,
  type Problem,
  putIn,
  type RowOf,
  sayOfRows,
  storedFields,
  valueIn,
} from "../model/index.ts";
import { IronwoodError, nearestName, unknownName } from "../errors/index.ts";
import { internal, platform, type Signal } from "../engine/index.ts";
import { rowWithFields } from "../merge/index.ts";
import { type LeftOut, type Table, table } from "../table/index.ts";
import { fromCell } from "./csvText.ts";
import { CsvLines, type Line, type LineReader, TextLines } from "./lines.ts";
import { fromJson, type RowReading } from "./rows.ts";

/** What rows are read from: a text, or its pieces as they come. Bytes are UTF-8. */
export type TextSource = string | Iterable<string | Uint8Array> | AsyncIterable<string | Uint8Array>;

/** Options of {@link loadRows}. */
export interface LoadOptions {
  /** Default: `csv`. */
  readonly format?: "csv" | "ndjson" | undefined;
  /** Which column is which field, by heading; others are found by their names and titles. `undefined` leaves one out. */
  readonly columns?: Readonly<Record<string, string | undefined>> | undefined;
  /** The language that numbers and dates are written in; default: as files have them, `31.5` and `2026-11-23`. */
  readonly locale?: string | undefined;
  /** Whether what can't be read is left out and told (the default), or nothing is loaded at all. */
  readonly onBad?: "skip" | "stop" | undefined;
  /**
   * Whether the rows take the place of all that are there (the default), or are merged into them: a row with the same key gets
   * the fields that the file has and keeps its others, and the rest join. Of a key that comes twice the later line counts.
   */
  readonly into?: "replace" | "merge" | undefined;
  /** So many rows at most; how many were left out is told. */
  readonly maxItems?: number | undefined;
  /** How many bytes or characters there are, so that progress is known. */
  readonly size?: number | undefined;
  /** Told now and then how far it is. @param done - from 0 to 1; `undefined` when it is not known */
  readonly progress?: ((done: number | undefined, rows: number) => void) | undefined;
  readonly signal?: Signal | undefined;
}

/** What is wrong with a line of a file. */
export interface LineProblem extends Problem {
  /** Counted from 1, as editors do. */
  readonly line: number;
  /** The heading of the column; blank where the whole line is meant. */
  readonly column: string;
}

/** What loading came to. */
export interface Loaded {
  /** Whether the rows are in the table: not when it was to stop at what can't be read. */
  readonly ok: boolean;
  readonly rows: number;
  /** How many were left out because there may not be more. */
  readonly beyond: number;
  readonly problems: readonly LineProblem[];
  /** Headings that are no fields. */
  readonly unused: readonly string[];
}

/** So many milliseconds at most without a pause: a page stays alive meanwhile. */
const AT_ONCE = 30;
/** So much text is read at once. */
const PIECE = 1 << 16;
/** So many problems are told at most; a file of another kind would have one in each line. */
const TOLD = 1000;

/**
 * Reads rows from CSV (RFC 4180) or NDJSON into a table: all of them, once everything is read, and never half. To load again
 * doubles nothing. What can't be read is told by line and column.
 *
 * @returns how many rows there are now, what was left out and why
 * @throws `unknownField` for `columns`, for a first line that names no field or not the key; `wrongOption`; what the source
 *   throws; the signal's reason when it is aborted
 * @example
 * const file = await fetch("stock.csv");
 * const { rows, problems } = await loadRows(stock, file.body!, { progress: (done) => (bar.value = done ?? 0) });
 */
export async function loadRows<M extends AnyModel>(
  table: Table<M>,
  source: TextSource,
  options: LoadOptions = {},
): Promise<Loaded> {
  const loading = new Loading(table, options);
  await loading.read(source);
  return loading.finish();
}

class Loading<M extends AnyModel> {
  readonly #rows: RowOf<M>[] = [];
  readonly #lines: number[] = [];
  /** The names of the fields that each row was given; of CSV the same for all. */
  readonly #given: (readonly string[])[] = [];
  readonly #problems: LineProblem[] = [];
  readonly #reader: LineReader<string | readonly string[]>;
  #fields: readonly (string | undefined)[] | undefined;
  #headings: readonly string[] = [];
  #named: readonly string[] = [];
  readonly #unused: string[] = [];
  #beyond = 0;
  #done = 0;
  readonly #table: Table<M>;
  readonly #options: LoadOptions;

  constructor(table: Table<M>, options: LoadOptions) {
    this.#table = table;
    this.#options = options;
    const { format = "csv", columns = {}, onBad = "skip", into = "replace" } = options;
    const allowed = { format: ["csv", "ndjson"], onBad: ["skip", "stop"], into: ["replace", "merge"] };
    for (const [name, given] of Object.entries({ format, onBad, into }))
      if (!allowed[name as keyof typeof allowed].includes(given))
        throw new IronwoodError("wrongOption", `loadRows was given ${name} "${given}"`, {
          expected: allowed[name as keyof typeof allowed].map((each) => `"${each}"`).join(" or "),
        });
    if (into === "merge" && table.model.parts.key.length === 0)
      throw new IronwoodError("wrongOption", "loadRows can't merge rows that have no key of their own", {
        where: table[internal].where,
        expected: 'into: "replace", or a model with a key',
      });
    const names = storedFields(table.model).map(([name]) => name);
    for (const name of Object.values(columns))
      if (name !== undefined && !names.includes(name))
        throw unknownName("unknownField", "The field", name, names, "columns of loadRows");
    this.#reader = format === "csv" ? new CsvLines() : new TextLines();
  }

  async read(source: TextSource): Promise<void> {
    const { size = typeof source === "string" ? source.length : undefined, signal, progress } = this.#options;
    let since = platform.now();
    for await (const text of pieces(source)) {
      for (const line of this.#reader.take(text.text)) this.#take(line);
      this.#done += text.size;
      if (signal?.aborted === true) throw signal.reason;
      if (platform.now() - since < AT_ONCE) continue;
      progress?.(size === undefined ? undefined : Math.min(1, this.#done / size), this.#rows.length);
      await new Promise<void>((go) => void platform.after(0, go));
      since = platform.now();
    }
    for (const line of this.#reader.end()) this.#take(line);
  }

  #take({ line, content }: Line<string | readonly string[]>): void {
    if (typeof content !== "string" && this.#fields === undefined) return this.#takeHeadings(content);
    const { maxItems = Infinity } = this.#options;
    if (this.#rows.length >= maxItems) {
      this.#beyond++;
      return;
    }
    const reading = typeof content === "string" ? this.#fromJson(content) : this.#fromCells(content);
    if (!reading.ok) return this.#wrong(line, reading.problems);
    this.#rows.push(reading.row);
    this.#lines.push(line);
    if (this.#options.into === "merge")
      this.#given.push(typeof content === "string" ? namesIn(content, this.#table.model) : this.#named);
  }

  #takeHeadings(headings: readonly string[]): void {
    const { columns = {} } = this.#options;
    const { model } = this.#table;
    const fields = storedFields(model).map(([name]) => name);
    this.#headings = headings;
    this.#fields = headings.map((heading) => {
      if (Object.hasOwn(columns, heading)) return columns[heading];
      const wanted = folded(heading);
      const isMeant = (name: string): boolean => folded(name) === wanted || folded(model.titleOf(name)) === wanted;
      // A calculated column is worked out anew.
      if (!model.names.some(isMeant)) this.#unused.push(heading);
      return fields.find(isMeant);
    });
    this.#named = this.#fields.filter((name) => name !== undefined);
    const missing = model.parts.key.filter((name) => !this.#named.includes(name));
    if (this.#named.length > 0 && missing.length === 0) return;
    const [first = fields[0]!] = missing;
    throw new IronwoodError(
      "unknownField",
      this.#named.length === 0
        ? "The first line names no field"
        : `The first line has no column for the key "${first}"`,
      {
        where: "loadRows",
        received: headings.slice(0, 8).join(", "),
        expected: `headings such as ${fields.slice(0, 8).join(", ")}, or columns: { … }`,
        nearest: nearestName(first, headings),
      },
    );
  }

  #fromJson(text: string): RowReading<RowOf<M>> {
    try {
      return fromJson(this.#table.model, JSON.parse(text));
    } catch {
      return { ok: false, problems: [problem("", sayOfRows(this.#table.locale, "badLine"))] };
    }
  }

  #fromCells(cells: readonly string[]): RowReading<RowOf<M>> {
    const { model, locale } = this.#table;
    if (cells.length > this.#headings.length)
      return {
        ok: false,
        problems: [
          problem("", sayOfRows(locale, "tooManyCells", { count: cells.length, limit: String(this.#headings.length) })),
        ],
      };
    const json: Record<string, unknown> = {};
    cells.forEach((cell, place) => {
      const name = this.#fields![place];
      const kind = name === undefined ? undefined : model.kindOf(name);
      if (name === undefined || kind === undefined) return;
      const value = this.#options.locale === undefined ? fromCell(kind, cell) : this.#inLocale(kind, cell);
      putIn(json, name, value);
    });
    return fromJson(model, json);
  }

  #inLocale(kind: AnyKind, cell: string): unknown {
    const reading = kind.read(cell, this.#options.locale!);
    return reading.ok ? reading.value : cell;
  }

  #wrong(line: number, problems: readonly Problem[]): void {
    if (this.#problems.length >= TOLD) return;
    for (const each of problems) {
      const place = this.#fields?.indexOf(nameIn(each.pointer)) ?? -1;
      this.#problems.push({ ...each, line, column: this.#headings[place] ?? nameIn(each.pointer) });
    }
  }

  finish(): Loaded {
    const { onBad = "skip", into = "replace" } = this.#options;
    if (onBad === "stop" && this.#problems.length > 0) return this.#outcome(false);
    if (into === "replace") this.#replace();
    else this.#merge();
    return this.#outcome(true);
  }

  #replace(): void {
    // A key that comes twice shows only when they are together: where that is to stop it, it is tried elsewhere first.
    if (this.#options.onBad === "stop") {
      const { model, locale } = this.#table;
      this.#tell(table(model, this.#rows, { locale }).leftOut);
      if (this.#problems.length > 0) return;
    }
    this.#tell(this.#table.load(this.#rows));
  }

  #tell(leftOut: readonly LeftOut[]): void {
    for (const { place, problems } of leftOut)
      if (problems.some(({ code }) => code === "tableFull")) this.#beyond++;
      else this.#wrong(this.#lines[place]!, problems);
  }

  #merge(): void {
    const merged = new Map<string, RowOf<M>>();
    const textOf = (row: RowOf<M>): string => JSON.stringify(this.#table.keyOf(row));
    for (const row of this.#table) merged.set(textOf(row), row);
    this.#rows.forEach((row, place) => {
      const text = textOf(row);
      const before = merged.get(text);
      merged.set(
        text,
        before === undefined ? row : (rowWithFields(this.#table.model, before, row, this.#given[place]!) as RowOf<M>),
      );
    });
    // All rows that were read are right by themselves, so what is left out now is too many.
    this.#beyond += this.#table.load([...merged.values()]).length;
  }

  #outcome(loaded: boolean): Loaded {
    const ok = loaded && !(this.#options.onBad === "stop" && this.#problems.length > 0);
    return { ok, rows: this.#table.size, beyond: this.#beyond, problems: this.#problems, unused: this.#unused };
  }
}

/** The names of the fields that a line of JSON has. */
function namesIn(line: string, model: AnyModel): readonly string[] {
  const json: unknown = JSON.parse(line);
  return storedFields(model).flatMap(([name]) => (valueIn(json, name) === undefined ? [] : [name]));
}

const problem = (pointer: string, message: string): Problem => ({
  code: "typeMismatch",
  message,
  severity: "error",
  pointer,
});

interface Piece {
  readonly text: string;
  readonly size: number;
}

interface Decoder {
  decode(bytes?: Uint8Array, options?: { readonly stream: boolean }): string;
}

/** The text in pieces that are read in a moment each. */
async function* pieces(source: TextSource): AsyncGenerator<Piece> {
  const { TextDecoder } = globalThis as unknown as { TextDecoder: new () => Decoder };
  const decoder = new TextDecoder();
  for await (const given of typeof source === "string" ? [source] : source) {
    const text = typeof given === "string" ? given : decoder.decode(given, { stream: true });
    for (let from = 0; from < text.length; from += PIECE) {
      const part = text.slice(from, from + PIECE);
      yield { text: part, size: typeof given === "string" ? part.length : (given.length * part.length) / text.length };
    }
  }
  const rest = decoder.decode();
  if (rest !== "") yield { text: rest, size: 0 };
}
