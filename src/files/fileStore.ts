import { createReadStream } from "node:fs";
import { open } from "node:fs/promises";
import { basename, extname } from "node:path";
import { createInterface } from "node:readline";
import { pipeline } from "node:stream";
import { type Options as CsvOptions, parse, type Parser } from "csv-parse";
import { stringify } from "csv-stringify/sync";
import { IronwoodError } from "../errors/index.ts";
import type { AnyModel, Problem, RowOf } from "../model/index.ts";
import {
  csvColumns,
  fromCells,
  ndjsonLine,
  readNdjsonLine,
  type Receipt,
  type Store,
  type StoredRow,
  toCells,
} from "../store/index.ts";
import { appendLine } from "./appendLine.ts";
import { storeError } from "./failures.ts";

export interface FileStoreOptions {
  /** Whether text in CSV is kept from starting a formula in a spreadsheet, by an apostrophe before it; default: true. */
  readonly guardFormulas?: boolean | undefined;
}

/**
 * A text file of rows: `.ndjson` and `.jsonl` have a JSON object on each line, `.csv` is RFC 4180 with a heading. A file
 * that is not there is empty and is made by the first row.
 *
 * @throws `badPlace` for another ending
 * @example const trees = fileStore("trees.ndjson", treeCard);
 */
export function fileStore<M extends AnyModel>(path: string, model: M, options: FileStoreOptions = {}): Store<RowOf<M>> {
  const ending = extname(path).toLowerCase();
  if (ending === ".ndjson" || ending === ".jsonl") return ndjsonStore(path, model);
  if (ending === ".csv") return csvStore(path, model, options.guardFormulas ?? true);
  throw new IronwoodError("badPlace", "fileStore does not know what a file with this ending holds", {
    received: path,
    expected: "a path that ends in .ndjson, .jsonl or .csv",
  });
}

/** One write at a time, in the order in which they were asked for. */
function inTurn(): <T>(work: () => Promise<T>) => Promise<T> {
  let last: Promise<unknown> = Promise.resolve();
  return (work) => {
    const next = last.then(work, work);
    last = next.catch(() => undefined);
    return next;
  };
}

function ndjsonStore<M extends AnyModel>(path: string, model: M): Store<RowOf<M>> {
  const turn = inTurn();
  const place = basename(path);
  return {
    place,
    append: (row) => turn(() => written(path, place, () => appendLine(path, ndjsonLine(model, row)))),
    async *read() {
      if (!(await isThere(path))) return;
      let line = 0;
      const lines = createInterface({ input: createReadStream(path, "utf8"), crlfDelay: Infinity });
      try {
        for await (const text of lines) {
          line++;
          if (text.trim() !== "") yield { ...readNdjsonLine(model, text), line };
        }
      } catch (error) {
        throw storeError(error, path, "read");
      } finally {
        lines.close();
      }
    },
  };
}

async function written(path: string, place: string, work: () => Promise<void>): Promise<Receipt> {
  try {
    await work();
    return { place };
  } catch (error) {
    throw storeError(error, path, "written");
  }
}

async function isThere(path: string): Promise<boolean> {
  try {
    await (await open(path, "r")).close();
    return true;
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === "ENOENT") return false;
    throw storeError(error, path, "read");
  }
}

function csvStore<M extends AnyModel>(path: string, model: M, guard: boolean): Store<RowOf<M>> {
  const turn = inTurn();
  const place = basename(path);
  const line = (cells: readonly string[]): string => stringify([cells], { record_delimiter: "windows" });
  const append = async (row: RowOf<M>): Promise<void> => {
    const columns = (await headingOf(path)) ?? csvColumns(model);
    const missing = csvColumns(model).filter((name) => !columns.includes(name));
    if (missing.length > 0)
      throw storeError(new Error(`its heading has no column ${missing.join(", ")}`), path, "written");
    await appendLine(path, line(toCells(model, row, columns, guard)), line(columns));
  };
  return {
    place,
    append: (row) => turn(() => written(path, place, () => append(row))),
    read: () => readCsv(path, model),
  };
}

/** The records of a CSV file. A failure to read the file ends the records with it, as `pipe` alone would not. */
function csvRecords(path: string, options: CsvOptions): Parser {
  const records = parse({ bom: true, record_delimiter: ["\r\n", "\n", "\r"], ...options });
  pipeline(createReadStream(path), records, () => undefined);
  return records;
}

async function headingOf(path: string): Promise<string[] | undefined> {
  if (!(await isThere(path))) return undefined;
  for await (const record of csvRecords(path, { to: 1 })) return record as string[];
  return undefined;
}

async function* readCsv<M extends AnyModel>(path: string, model: M): AsyncIterable<StoredRow<RowOf<M>>> {
  if (!(await isThere(path))) return;
  const records = csvRecords(path, { info: true, relax_column_count: true, skip_empty_lines: true });
  let heading: string[] | undefined;
  try {
    for await (const { record, info } of records as AsyncIterable<{ record: string[]; info: { lines: number } }>) {
      if (heading === undefined) {
        heading = record;
        continue;
      }
      yield { ...recordToRow(model, heading, record), line: info.lines };
    }
  } catch (error) {
    throw storeError(error, path, "read");
  }
}

function recordToRow<M extends AnyModel>(
  model: M,
  heading: readonly string[],
  record: readonly string[],
): ReturnType<typeof fromCells<M>> {
  if (record.length !== heading.length) {
    const message = `This line has ${record.length} cells, and the heading has ${heading.length}.`;
    const problem: Problem = { code: "badInput", message, severity: "error", pointer: "" };
    return { ok: false, problems: [problem] };
  }
  return fromCells(model, Object.fromEntries(heading.map((name, place) => [name, record[place]!])));
}
