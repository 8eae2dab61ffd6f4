import type { AnyModel, RowOf } from "../model/index.ts";
import { IronwoodError, requireArgument, requireOptions, requireTable } from "../errors/index.ts";
import { internal, platform, type AbortSignalLike } from "../engine/index.ts";
import { rowWithFields } from "../merge/index.ts";
import { type LeftOut, type Table, table } from "../table/index.ts";
import { mergeIntoKept } from "./mergeIntoKept.ts";
import { type ColumnNames, type LineProblem, type ReadLine, requireColumns, RowReader } from "./text/index.ts";
import { textPieces, type TextSource, isTextSource } from "./text/index.ts";

/** Options of {@link loadRows}. */
export interface LoadOptions {
  /** Default: `csv`. */
  readonly format?: "csv" | "ndjson" | undefined;
  /**
   * Which column is which field: by heading, where others are found by their names and titles; or a list in the order of the columns,
   * for a file that has no headings. `undefined` leaves a column out.
   */
  readonly columns?: ColumnNames | undefined;
  /** The language that numbers and dates are written in; default: as files have them, `31.5` and `2026-11-23`. */
  readonly locale?: string | undefined;
  /** Whether what can't be read is left out and told (the default), or nothing is loaded at all. */
  readonly onBad?: "skip" | "stop" | undefined;
  /**
   * Whether the rows take the place of all that are there (the default), or are merged into them: a row with the same key gets
   * the fields that the file has and keeps its others, and the rest join. Of a key that comes twice the later line counts. Into a
   * table that is kept at a place, rows can only be merged: what they change is unsaved then like any other change, and one step to undo.
   */
  readonly into?: "replace" | "merge" | undefined;
  /** So many rows at most; how many were left out is told. */
  readonly maxItems?: number | undefined;
  /** How many bytes or characters there are, so that progress is known. */
  readonly size?: number | undefined;
  /** Told now and then how far it is. @param done - from 0 to 1; `undefined` when it is not known */
  readonly progress?: ((done: number | undefined, rows: number) => void) | undefined;
  /** Ends the loading: what was read is not put into the table. */
  readonly signal?: AbortSignalLike | undefined;
}

/** What loading came to. */
export interface Loaded {
  /** Whether the rows are in the table: not when it was to stop at what can't be read. */
  readonly ok: boolean;
  /** How many rows are in the table now. */
  readonly rows: number;
  /** How many were left out because there may not be more. */
  readonly beyond: number;
  /** The first 1,000 of them; how many there are besides is `problemsBeyond`. */
  readonly problems: readonly LineProblem[];
  /** How many problems there are beyond those that are told. */
  readonly problemsBeyond: number;
  /** Headings that are no fields, or whose field another column has already. */
  readonly unused: readonly string[];
}

/** So many milliseconds at most without a pause: a page stays alive meanwhile. */
const AT_ONCE = 30;
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
  requireTable("loadRows", table);
  requireArgument(
    isTextSource(source),
    "loadRows",
    source,
    "a text, bytes, or pieces of them as file.stream() gives them",
  );
  requireOptions("loadRows", options, {
    format: ["csv", "ndjson"],
    columns: "object",
    locale: "locale",
    onBad: ["skip", "stop"],
    into: ["replace", "merge"],
    maxItems: "count",
    size: "number",
    progress: "function",
    signal: "signal",
  });
  const loading = new Loading(table, options);
  await loading.read(source);
  return loading.finish();
}

class Loading<M extends AnyModel> {
  readonly #rows: RowOf<M>[] = [];
  readonly #lines: number[] = [];
  /** The names of the fields that each row was given. */
  readonly #given: (readonly string[])[] = [];
  readonly #problems: LineProblem[] = [];
  #problemsBeyond = 0;
  readonly #reader: RowReader<M>;
  #beyond = 0;
  #done = 0;
  readonly #table: Table<M>;
  readonly #options: LoadOptions;

  constructor(table: Table<M>, options: LoadOptions) {
    this.#table = table;
    this.#options = options;
    const { format = "csv", columns = {}, into = "replace" } = options;
    const { keptAt, where } = table[internal];
    if (into === "replace" && keptAt !== undefined)
      throw new IronwoodError("keptTable", `loadRows can't replace the rows of ${where}: they are kept in ${keptAt}`, {
        expected: 'into: "merge", whose changes are then unsaved like any others',
      });
    if (into === "merge" && table.model.parts.key.length === 0)
      throw new IronwoodError("wrongOption", "loadRows can't merge rows that have no key of their own", {
        where,
        expected: 'into: "replace", or a model with a key',
      });
    requireColumns(table.model, columns, "loadRows");
    this.#reader = new RowReader(table.model, { format, columns, notation: options.locale, locale: table.locale });
  }

  async read(source: TextSource): Promise<void> {
    const { size = typeof source === "string" ? source.length : undefined, signal, progress } = this.#options;
    let since = platform.now();
    for await (const piece of textPieces(source)) {
      for (const line of this.#reader.take(piece.text)) this.#take(line);
      this.#done += piece.size;
      if (signal?.aborted === true) throw signal.reason;
      if (platform.now() - since < AT_ONCE) continue;
      progress?.(size === undefined ? undefined : Math.min(1, this.#done / size), this.#rows.length);
      await new Promise<void>((go) => void platform.after(0, go));
      since = platform.now();
    }
    for (const line of this.#reader.end()) this.#take(line);
  }

  #take(read: ReadLine<RowOf<M>>): void {
    const { maxItems = Infinity, into } = this.#options;
    if (this.#rows.length >= maxItems) {
      this.#beyond++;
      return;
    }
    if (!read.ok) return this.#wrong(read.problems);
    this.#rows.push(read.row);
    this.#lines.push(read.line);
    if (into === "merge") this.#given.push(read.given);
  }

  #wrong(problems: readonly LineProblem[]): void {
    const room = Math.max(0, TOLD - this.#problems.length);
    this.#problems.push(...problems.slice(0, room));
    this.#problemsBeyond += Math.max(0, problems.length - room);
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
      else this.#wrong(this.#reader.inLine(this.#lines[place]!, problems));
  }

  /** Rows that are kept at a place are changed, and not loaded. */
  #mergeIntoKept(): void {
    const rows = this.#rows.map((row, place) => ({ row, given: this.#given[place]!, line: this.#lines[place]! }));
    for (const { line, problems } of mergeIntoKept(this.#table, rows, this.#options.onBad === "stop"))
      this.#wrong(this.#reader.inLine(line, problems));
  }

  #merge(): void {
    if (this.#table[internal].keptAt !== undefined) return this.#mergeIntoKept();
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
    return {
      ok,
      rows: this.#table.size,
      beyond: this.#beyond,
      // What shows only where rows are together was found last.
      problems: this.#problems.sort((a, b) => a.line - b.line),
      problemsBeyond: this.#problemsBeyond,
      unused: this.#reader.unread,
    };
  }
}
