import { basename } from "node:path";
import type { Receipt } from "../store/index.ts";
import { appendText } from "./appendText.ts";

export const NEWLINE = 10;

/**
 * Puts a row behind a file.
 *
 * @param wholeUpTo - how many bytes the file had before a row that a process was killed in
 * @returns what the person should know of how the file ended before
 */
export type Append<Row> = (row: Row, wholeUpTo: number | undefined) => Promise<Receipt["notice"]>;

/** What is told of a last row that was torn. */
export const tornNotice = (path: string, line: number | undefined): string =>
  `The last row of ${basename(path)} was not whole${line === undefined ? "" : ` (line ${line})`}, as after a crash; it was closed, and stays to be looked at.`;

/** What is told of a write that had not been done to its end. */
export const cutNotice = (path: string, line: number): string =>
  `The last write to ${basename(path)} was not whole (line ${line}), as after a crash; nobody was told that it was saved, and it was taken off.`;

/** Puts rows behind a file, a line for each. */
export function lineAppender<Row>(path: string, lineOf: (row: Row) => string): Append<Row> {
  return async (row) => {
    let notice: string | undefined;
    await appendText(path, (lastByte = NEWLINE) => {
      const endsLine = lastByte === NEWLINE;
      if (!endsLine) notice = tornNotice(path, undefined);
      return (endsLine ? "" : "\n") + lineOf(row);
    });
    return notice;
  };
}
