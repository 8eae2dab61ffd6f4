import { readFile, stat, truncate } from "node:fs/promises";
import type { AnyModel, RowOf } from "../model/index.ts";
import { StoreError } from "../store/index.ts";
import { csvColumns, csvLine, fieldsOf, LONGEST_ROW, toCells } from "../store/text/index.ts";
import { appendText } from "./appendText.ts";
import { type CsvEnd, emptyCsv, readCsvEnd } from "./csvEnd.ts";
import { type Append, NEWLINE, tornNotice } from "./lineAppender.ts";

const RETURN = 13;

/** Puts rows behind a file of CSV, in the columns that it has. @param columns - the fields of a file that has no headings */
export function csvAppender<M extends AnyModel>(
  path: string,
  model: M,
  guard: boolean,
  columns: readonly string[] | undefined,
): Append<RowOf<M>> {
  const nothing = emptyCsv(columns);
  const heading = csvLine(csvColumns(model));
  let known: CsvEnd | undefined;
  return async (row, wholeUpTo) => {
    // Of a file that a killed process was only beginning, part of the heading may be all that there is.
    const isBegun = wholeUpTo === 0 && columns === undefined && (await isPartOf(path, heading));
    if (isBegun) await truncate(path, 0);
    // Only what comes after a whole heading can be a row.
    const whole = wholeUpTo === 0 && columns === undefined ? Buffer.byteLength(heading) : wholeUpTo;
    const end = isBegun ? nothing : await readCsvEnd(path, nothing, known, whole);
    const line = csvRow(path, model, row, guard, end, columns);
    let notice = isBegun ? tornNotice(path, undefined) : undefined;
    const size = await appendText(path, (lastByte) => {
      if (lastByte === undefined) return columns === undefined ? heading + line : line;
      const isEnded = !end.isInQuote && (lastByte === NEWLINE || lastByte === RETURN);
      if (!isEnded) notice = tornNotice(path, end.tornLine);
      if (isEnded) return lastByte === RETURN ? `\n${line}` : line;
      return `${end.closing}\r\n${line}`;
    });
    known = end.size === 0 ? undefined : { ...end, size, closing: "", isInQuote: false, tornLine: undefined };
    return notice;
  };
}

/** Whether a file holds the beginning of a text and nothing else. */
async function isPartOf(path: string, text: string): Promise<boolean> {
  const { size } = await stat(path).catch(() => ({ size: 0 }));
  return size > 0 && size < Buffer.byteLength(text) && text.startsWith(await readFile(path, "utf8"));
}

/** A row as a line of a file, in the columns that the file has. @throws {@link StoreError} when it can't hold the row */
function csvRow<M extends AnyModel>(
  path: string,
  model: M,
  row: RowOf<M>,
  guard: boolean,
  end: CsvEnd,
  given: readonly string[] | undefined,
): string {
  const refused = (reason: string): StoreError =>
    new StoreError("refused", `The file ${path} can't be written: ${reason}.`);
  const found = end.headings === undefined ? csvColumns(model) : undefined;
  const columns = given ?? found ?? columnsIn(end.headings!, model, refused);
  // Who names the columns leaves the others out knowingly.
  const missing = given === undefined ? csvColumns(model).filter((name) => !columns.includes(name)) : [];
  if (missing.length > 0) throw refused(`its heading has no column ${missing.join(", ")}`);
  const cells = toCells(model, row, columns, guard);
  const broken = cells.findIndex((cell) => /\p{Surrogate}/u.test(cell));
  if (broken >= 0) throw refused(`${model.titleOf(columns[broken]!)} has half of a character, which UTF-8 can't hold`);
  const line = csvLine(cells, end.delimiter);
  if (line.length > LONGEST_ROW) throw refused(`the row is longer than ${LONGEST_ROW} characters`);
  return line;
}

function columnsIn(
  headings: readonly string[],
  model: AnyModel,
  refused: (reason: string) => StoreError,
): readonly (string | undefined)[] {
  try {
    return fieldsOf(model, headings).fields;
  } catch (error) {
    throw refused((error as Error).message.replace(/\.$/, ""));
  }
}
