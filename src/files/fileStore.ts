import { extname } from "node:path";
import { IronwoodError, requireArgument, requireModel, requireOptions } from "../errors/index.ts";
import type { AnyModel, FieldPathsOf, KeyOf, RowOf } from "../model/index.ts";
import type { ChangeableStore, Store } from "../store/index.ts";
import { requireColumns } from "../store/text/index.ts";
import { csvAppender } from "./csvAppender.ts";
import { guarded } from "./failures.ts";
import { inTurn } from "./inTurn.ts";
import { layoutOf } from "./layout.ts";
import { lineAppender } from "./lineAppender.ts";
import { locked } from "./locked.ts";
import { LogStore } from "./log/LogStore.ts";
import { csvFormat } from "./whole/csvFormat.ts";
import { jsonFormat } from "./whole/jsonFormat.ts";
import { WholeFileStore } from "./whole/WholeFileStore.ts";

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
  /** Who writes, or what says it, for fields with `given: "createdBy"` and `"changedBy"`. */
  readonly by?: string | (() => string) | undefined;
}

/**
 * A file of rows, for `keep` and for rows that are put behind one another. `.ndjson` and `.jsonl` have a JSON object on each line, and every
 * change is a line more: saving costs what is saved. `.csv` (RFC 4180 with a heading) and `.json` (a list of objects) are written as
 * a whole for each save, and keep the columns, members and lines that the model does not know. A file that is not there is empty,
 * and is made by the first row.
 *
 * Several processes may write to one file: a lock file beside it keeps them apart. A file is whole or as it was, whenever a process is killed;
 * a row put behind others that was left half written is closed by the next, and told in its receipt.
 *
 * @throws `badPlace` for another ending with no `line`; `unknownOption`, `wrongOption`; `unknownField` in `columns` and `line`
 * @example const kept = await keep(stock, fileStore("stock.ndjson", plant), { writeAfter: 500 });
 * @example const log = fileStore("visits.txt", treeCard, { line: "{tag}: {species}, {place.plot}" });
 */
export function fileStore<M extends AnyModel>(
  path: string,
  model: M,
  options: FileStoreOptions<M> & { readonly line: NonNullable<FileStoreOptions<M>["line"]> },
): Store<RowOf<M>>;
export function fileStore<M extends AnyModel>(
  path: string,
  model: M,
  options?: FileStoreOptions<M>,
): ChangeableStore<RowOf<M>, KeyOf<M>>;
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
    by: "textOrFunction",
  });
  const { line, guardFormulas = true, locale = "en", by } = options;
  const columns: readonly string[] | undefined = options.columns;
  if (line !== undefined) return layoutStore(path, typeof line === "function" ? line : layoutOf(model, line, locale));
  switch (extname(path).toLowerCase()) {
    case ".csv":
      if (columns !== undefined) requireColumns(model, columns, "fileStore");
      return new WholeFileStore(
        path,
        model,
        csvFormat(path, model, { columns, guardFormulas, locale }),
        by,
        csvAppender(path, model, guardFormulas, columns),
      );
    case ".json":
      return new WholeFileStore(path, model, jsonFormat(path, model), by);
    case ".ndjson":
    case ".jsonl":
      return new LogStore(path, model, locale, by);
    default:
      throw new IronwoodError("badPlace", "fileStore does not know what a file with this ending holds", {
        received: path,
        expected: 'a path that ends in .ndjson, .jsonl, .json or .csv, or the layout of a line, as line: "{tag}"',
      });
  }
}

/** A file whose lines are for people: rows are put behind one another, and are not read back. */
function layoutStore<Row>(path: string, layout: (row: Row) => string): Store<Row> {
  const append = lineAppender<Row>(path, (row) => ended(layout(row)));
  // As a failure names it.
  const place = path;
  return {
    place,
    append: (row, { signal } = {}) =>
      inTurn(path, () =>
        guarded(path, "written", signal, async () => {
          const notice = await locked(path, (wholeUpTo) => append(row, wholeUpTo), signal);
          return notice === undefined ? { place } : { place, notice };
        }),
      ),
    read: () => unreadable(path),
  };
}

const ended = (text: string): string => (text.endsWith("\n") ? text : `${text}\n`);

function unreadable(path: string): never {
  throw new IronwoodError("badPlace", "A file with a layout of its own can only be written", {
    received: path,
    expected: "a file in CSV, JSON or NDJSON, to be read back",
  });
}
