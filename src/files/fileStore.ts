import { createReadStream } from "node:fs";
import { open } from "node:fs/promises";
import { extname } from "node:path";
import { IronwoodError, requireArgument, requireModel, requireOptions } from "../errors/index.ts";
import type { AbortSignalLike } from "../engine/index.ts";
import { type AnyModel, type FieldPathsOf, type Problem, type RowOf } from "../model/index.ts";
import { type Store, type StoredRow } from "../store/index.ts";
import {
  ndjsonLine,
  type ReadLine,
  requireColumns,
  type RowFormat,
  RowReader,
  textPieces,
} from "../store/text/index.ts";
import { csvAppender } from "./csvAppender.ts";
import { storeError } from "./failures.ts";
import { withFileLock } from "./fileLock.ts";
import { inTurn } from "./inTurn.ts";
import { layoutOf } from "./layout.ts";
import { type Append, lineAppender } from "./lineAppender.ts";

/** Options of `fileStore`. */
export interface FileStoreOptions<M extends AnyModel> {
  /** Whether text in CSV is kept from starting a formula in a spreadsheet, by an apostrophe before it; default: true. */
  readonly guardFormulas?: boolean | undefined;
  /** The fields of a CSV file that has no headings, in the order of its columns; fields that are not named are not kept. */
  readonly columns?: readonly FieldPathsOf<M>[] | undefined;
  /**
   * The layout of a line, for a text file of any ending that rows are only put behind: a text with the names of fields in braces, each
   * of which becomes the field as it is shown, or a function. Such a file can't be read back.
   */
  readonly line?: string | ((row: RowOf<M>) => string) | undefined;
  /** The language in which a layout shows fields; default: `en`. */
  readonly locale?: string | undefined;
}

/**
 * A text file of rows: `.ndjson` and `.jsonl` have a JSON object on each line, `.csv` is RFC 4180 with a heading. A file
 * that is not there is empty and is made by the first row. Several processes may put rows behind one file: a lock file beside it
 * keeps their rows apart. What a killed process left half written is closed by the next row, and told in its receipt.
 *
 * @throws `badPlace` for another ending with no `line`; `unknownOption`, `wrongOption`; `unknownField` in `columns` and `line`
 * @example const trees = fileStore("trees.ndjson", treeCard);
 * @example const log = fileStore("visits.txt", treeCard, { line: "{tag}: {species}, {place.plot}" });
 */
export function fileStore<M extends AnyModel>(
  path: string,
  model: M,
  options: FileStoreOptions<M> = {},
): Store<RowOf<M>> {
  requireArgument(typeof path === "string", "fileStore", path, "a path");
  requireModel("fileStore", model);
  requireOptions("fileStore", options, {
    guardFormulas: "boolean",
    columns: "list",
    line: "any",
    locale: "locale",
  });
  const columns: readonly string[] | undefined = options.columns;
  const { append, read } = partsOf(path, model, { ...options, columns });
  // As a failure names it.
  const place = path;
  return {
    place,
    append: (row, { signal } = {}) =>
      inTurn(path, async () => {
        try {
          const notice = await locked(path, (wholeUpTo) => append(row, wholeUpTo), signal);
          return notice === undefined ? { place } : { place, notice };
        } catch (error) {
          if (signal?.aborted === true && error === signal.reason) throw error;
          throw storeError(error, path, "written");
        }
      }),
    read,
  };
}

interface StoreParts<Row> {
  readonly append: Append<Row>;
  readonly read: () => AsyncIterable<StoredRow<Row>>;
}

type PlainOptions<M extends AnyModel> = Omit<FileStoreOptions<M>, "columns"> & {
  readonly columns: readonly string[] | undefined;
};

function partsOf<M extends AnyModel>(path: string, model: M, options: PlainOptions<M>): StoreParts<RowOf<M>> {
  const ending = extname(path).toLowerCase();
  const { line, columns, guardFormulas = true, locale = "en" } = options;
  if (line !== undefined) {
    const layout = typeof line === "function" ? line : layoutOf(model, line, locale);
    return { append: lineAppender(path, (row) => ended(layout(row))), read: () => unreadable(path) };
  }
  if (ending === ".csv") {
    if (columns !== undefined) requireColumns(model, columns, "fileStore");
    return {
      append: csvAppender(path, model, guardFormulas, columns),
      read: () => readFile(path, model, { format: "csv", columns, locale }),
    };
  }
  if (ending !== ".ndjson" && ending !== ".jsonl")
    throw new IronwoodError("badPlace", "fileStore does not know what a file with this ending holds", {
      received: path,
      expected: 'a path that ends in .ndjson, .jsonl or .csv, or the layout of a line, as line: "{tag}"',
    });
  return {
    append: lineAppender(path, (row) => ndjsonLine(model, row)),
    read: () => readFile(path, model, { format: "ndjson", locale }),
  };
}

const ended = (text: string): string => (text.endsWith("\n") ? text : `${text}\n`);

function unreadable(path: string): never {
  throw new IronwoodError("badPlace", "A file with a layout of its own can only be written", {
    received: path,
    expected: "a file in CSV or NDJSON, to be read back",
  });
}

/** A device or a pipe has no rows to be mixed, and no place for a lock beside it. */
async function locked<T>(
  path: string,
  work: (wholeUpTo: number | undefined) => Promise<T>,
  signal: AbortSignalLike | undefined,
): Promise<T> {
  const file = await open(path, "r").catch(() => undefined);
  const isFile = (await file?.stat())?.isFile() ?? true;
  await file?.close();
  return isFile ? withFileLock(path, work, signal) : work(undefined);
}

async function* readFile<M extends AnyModel>(
  path: string,
  model: M,
  format: RowFormat,
): AsyncIterable<StoredRow<RowOf<M>>> {
  if (!(await isThere(path))) return;
  const reader = new RowReader(model, format);
  let told = 0;
  const unused = (): StoredRow<RowOf<M>>[] => {
    const problems = reader.unused.slice(told).map((heading) => strangeHeading(heading));
    told += problems.length;
    return problems.length === 0 ? [] : [{ ok: false, line: 1, problems }];
  };
  try {
    for await (const { text } of textPieces(createReadStream(path))) {
      const lines = reader.take(text);
      yield* unused();
      yield* lines.map(stored);
    }
    const lines = reader.end();
    yield* unused();
    yield* lines.map(stored);
  } catch (error) {
    throw storeError(error, path, "read");
  }
}

function stored<Row>(line: ReadLine<Row>): StoredRow<Row> {
  return line.ok
    ? { ok: true, row: line.row, line: line.line }
    : { ok: false, problems: line.problems, line: line.line };
}

const strangeHeading = (heading: string): Problem => ({
  code: "badInput",
  message: `The column "${heading}" is no field, or a second one for the same field: it is not read.`,
  severity: "error",
  pointer: "",
});

async function isThere(path: string): Promise<boolean> {
  try {
    await (await open(path, "r")).close();
    return true;
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === "ENOENT") return false;
    throw storeError(error, path, "read");
  }
}
