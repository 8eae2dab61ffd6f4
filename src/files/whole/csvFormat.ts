import { type AnyModel, pointerTo, type Problem, valueIn } from "../../model/index.ts";
import { StoreError } from "../../store/index.ts";
import { HIDDEN_KEY } from "../hiddenKey.ts";
import type { KeyedRow } from "../../store/changes/index.ts";
import { csvColumns, csvLine, CsvLines, type Line, RowReader, toCells } from "../../store/text/index.ts";
import { type Edits, type FileContent, type FileFormat, type FileRow, spliced, strange } from "./FileContent.ts";

/** How CSV is read and written here. */
export interface CsvOptions {
  /** The fields of the columns of a file without headings. */
  readonly columns: readonly string[] | undefined;
  readonly guardFormulas: boolean;
  readonly locale: string;
}

type CsvRecord = Line<readonly string[]>;

/** Rows as CSV (RFC 4180): columns, lines and cells that the model does not know stay as they are. */
export function csvFormat<M extends AnyModel>(path: string, model: M, options: CsvOptions): FileFormat<M> {
  return {
    parse: (text) => new CsvContent(path, model, options, text),
    unfit: (row) =>
      csvColumns(model).flatMap((name) => {
        const value = valueIn(row, name);
        return typeof value === "string" && /\p{Surrogate}/u.test(value) ? [halfCharacter(name)] : [];
      }),
  };
}

const halfCharacter = (name: string): Problem => ({
  code: "typeMismatch",
  message: "This has half of a character that is written in two parts, which can't be kept.",
  severity: "error",
  pointer: pointerTo(name),
});

class CsvContent<M extends AnyModel> implements FileContent<M> {
  readonly rows: (FileRow<M> & { readonly record: CsvRecord; readonly covered: ReadonlySet<string> | undefined })[] =
    [];
  readonly others: { readonly line: number; readonly problems: readonly Problem[] }[] = [];
  readonly #path: string;
  readonly #model: M;
  readonly #options: CsvOptions;
  readonly #text: string;
  readonly #reader: RowReader<M>;
  readonly #records: CsvRecord[];
  readonly #delimiter: string;
  readonly #isTorn: boolean;
  #headings: CsvRecord | undefined;

  constructor(path: string, model: M, options: CsvOptions, text: string) {
    this.#path = path;
    this.#model = model;
    this.#options = options;
    this.#text = text;
    const { columns, locale } = options;
    this.#reader = new RowReader(model, { format: "csv", columns, locale });
    const lines = new CsvLines();
    this.#records = [...lines.take(text), ...lines.end()];
    this.#delimiter = lines.delimiter ?? ",";
    this.#isTorn = lines.torn !== undefined;
    let hidden = -1;
    for (const record of this.#records) {
      const read = this.#reader.readLine(record);
      if (read === undefined) {
        this.#headings = record;
        hidden = record.content.indexOf(HIDDEN_KEY);
      } else if (read.ok)
        this.rows.push({
          row: read.row,
          line: read.line,
          hiddenKey: record.content[hidden] || undefined,
          record,
          covered: read.covered,
        });
      else this.others.push({ line: read.line, problems: read.problems });
    }
    this.others.unshift(...this.#strangeColumns());
  }

  /** Columns that are no fields; what the model's own reading of older rows has taken out of one is not strange. */
  #strangeColumns(): { readonly line: number; readonly problems: readonly Problem[] }[] {
    const headings = this.#headings;
    if (headings === undefined) return [];
    const hasReading = this.#model.parts.formerly.some(({ read }) => read !== undefined);
    const isRead = (heading: string): boolean => {
      const column = headings.content.indexOf(heading);
      return (
        hasReading &&
        this.rows.every(({ record, covered }) => record.content[column] === "" || covered?.has(heading) === true)
      );
    };
    return this.#reader.unused
      .filter((heading) => heading !== HIDDEN_KEY && !isRead(heading))
      .map((heading) => ({ line: headings.line, problems: [strange(strangeHeading(heading))] }));
  }

  edit({ changed, added, hiddenKeys }: Edits<M>): string {
    const { columns } = this.#options;
    if (columns !== undefined && hiddenKeys !== undefined)
      throw new StoreError("refused", `The file ${this.#path} can't be changed: its rows have no key.`);
    const isNew = columns === undefined && this.#headings === undefined;
    const own = csvColumns(this.#model);
    const fields: readonly (string | undefined)[] = isNew ? own : (this.#reader.fields ?? columns ?? own);
    // A field that the file has no column for gets one, as does the key of rows whose model has none.
    const missing = columns === undefined ? own.filter((name) => !fields.includes(name)) : [];
    const headings = isNew ? own : (this.#headings?.content ?? []);
    const needsKeys = hiddenKeys !== undefined && !headings.includes(HIDDEN_KEY);
    const more = [...missing, ...(needsKeys ? [HIDDEN_KEY] : [])];
    const hidden = headings.indexOf(HIDDEN_KEY);
    const line = (cells: readonly string[]): string =>
      csvLine(cells, this.#delimiter).replace(/\r\n$/, this.#lineEnd());
    const cellsOf = (
      { row, key }: KeyedRow<M>,
      before: readonly string[] = [],
      covered?: ReadonlySet<string>,
    ): string[] => {
      const cells = toCells(this.#model, row, [...fields, ...missing], this.#options.guardFormulas);
      // What stands in columns of no field stays, but for what the row was read of, as that of an older model.
      for (const [index, field] of fields.entries())
        if (field === undefined)
          cells[index] = covered?.has(headings[index] ?? "") === true ? "" : (before[index] ?? "");
      if (needsKeys) cells.push(key as string);
      else if (hidden >= 0) cells[hidden] = key as string;
      return cells;
    };
    const keys = new Map(this.rows.map(({ record }, index) => [record, { index, key: hiddenKeys?.[index] }]));
    const parts = this.#records.flatMap((record) => {
      const { from = 0, to = 0, content } = record;
      const at = keys.get(record);
      if (at !== undefined && changed.has(at.index)) {
        const now = changed.get(at.index);
        return [{ from, to, by: now === undefined ? "" : line(cellsOf(now, content, this.rows[at.index]!.covered)) }];
      }
      if (more.length === 0 || content.length !== headings.length) return [];
      const key = String(at?.key ?? "");
      const cells = record === this.#headings ? more : more.map((name) => (name === HIDDEN_KEY ? key : ""));
      const text = this.#text.slice(from, to);
      const end = /(\r\n|\n|\r)?$/.exec(text)!.index;
      return [{ from: from + end, to: from + end, by: line(["", ...cells]).replace(/[\r\n]+$/, "") }];
    });
    const text = spliced(this.#text, parts);
    const begin = isNew ? line([...own, ...(needsKeys ? [HIDDEN_KEY] : [])]) : "";
    const end = added.map((each) => line(cellsOf(each))).join("");
    return begin + text + (end === "" ? "" : this.#closing(text) + end);
  }

  /** The line end that the file has. */
  #lineEnd(): string {
    return /\r\n|\n|\r/.exec(this.#text)?.[0] ?? "\r\n";
  }

  /** What is put behind a last line that is not ended, or ends inside quotes. */
  #closing(text: string): string {
    if (text === "" || (!this.#isTorn && /[\r\n]$/.test(text))) return "";
    return (this.#isTorn ? '"' : "") + this.#lineEnd();
  }
}

const strangeHeading = (heading: string): string =>
  `The column "${heading}" is no field, or a second one for the same field: it is not read.`;
