import { createReadStream } from "node:fs";
import { open } from "node:fs/promises";
import { CsvLines, textPieces } from "../store/text/index.ts";
import { beginsUtf16, inUtf16 } from "./utf16.ts";

/** What has to be known of a CSV file before a row is put behind it. */
export interface CsvEnd {
  /** Up to where this is known, in bytes; 0 for a file that is new or has nothing in it. */
  readonly size: number;
  /** The first bytes of the file, by which it is known again. */
  readonly head: Buffer;
  readonly headings: readonly string[] | undefined;
  readonly delimiter: string;
  /** What is put behind the last row, before its line end, where that row is torn. */
  readonly closing: string;
  /** Whether the file ends inside a quote: then a line end at its end is part of a cell. */
  readonly isInQuote: boolean;
  /** The line in which that row begins, where the file was read from its start. */
  readonly tornLine: number | undefined;
}

/** What is known of a file with nothing in it. @param columns - how its columns are called, where it has no line for that */
export const emptyCsv = (columns?: readonly string[]): CsvEnd => ({
  size: 0,
  head: Buffer.alloc(0),
  headings: columns,
  delimiter: ",",
  closing: "",
  isInQuote: false,
  tornLine: undefined,
});

const HEAD = 4096;

/**
 * Learns the columns of a CSV file and how it ends: a process that was killed may have left a row torn inside quotes. Only what was
 * put behind it since the last time is read.
 *
 * @param nothing - what is known of the file without looking at it
 * @param known - what was learnt the last time
 * @param wholeUpTo - how many bytes it had before the row that a process was killed in; `undefined` where none is known to have been
 * @throws {@link StoreError} `refused` for text in UTF-16
 */
export async function readCsvEnd(
  path: string,
  nothing: CsvEnd,
  known: CsvEnd = nothing,
  wholeUpTo?: number,
): Promise<CsvEnd> {
  const { size, head } = await headOf(path);
  if (size === 0) return nothing;
  if (beginsUtf16(head)) throw inUtf16(path);
  const isSame =
    known.headings !== undefined && size >= known.size && head.subarray(0, known.head.length).equals(known.head);
  const before = isSame ? known : nothing;
  if (wholeUpTo === undefined || wholeUpTo < before.size || wholeUpTo >= size || !(await isAfterLine(path, wholeUpTo)))
    return readFrom(path, size, head, before);
  const whole = wholeUpTo === 0 ? nothing : await readFrom(path, wholeUpTo, head, before);
  return readFrom(path, size, head, { ...whole, isTorn: true });
}

/** Whether a line ends just before a place; else somebody has changed the file since, and the place says nothing. */
async function isAfterLine(path: string, place: number): Promise<boolean> {
  if (place === 0) return true;
  const file = await open(path, "r");
  try {
    return (await file.read(Buffer.alloc(1), 0, 1, place - 1)).buffer[0] === 10;
  } finally {
    await file.close();
  }
}

async function headOf(path: string): Promise<{ size: number; head: Buffer }> {
  const file = await open(path, "r").catch((error: unknown) => {
    if ((error as NodeJS.ErrnoException).code === "ENOENT") return undefined;
    throw error;
  });
  if (file === undefined) return { size: 0, head: Buffer.alloc(0) };
  try {
    const { buffer, bytesRead } = await file.read(Buffer.alloc(HEAD), 0, HEAD, 0);
    return { size: (await file.stat()).size, head: buffer.subarray(0, bytesRead) };
  } finally {
    await file.close();
  }
}

async function readFrom(
  path: string,
  size: number,
  head: Buffer,
  known: CsvEnd & { readonly isTorn?: boolean },
): Promise<CsvEnd> {
  if (size === known.size) return known;
  const { headings: before, delimiter, isTorn = false } = known;
  const lines = new CsvLines(before && { delimiter, width: before.length, isOneRow: isTorn });
  let first: readonly string[] | undefined;
  let last: readonly string[] = [];
  const take = (read: readonly { readonly content: readonly string[] }[]): void => {
    first ??= read[0]?.content;
    last = read.at(-1)?.content ?? last;
  };
  for await (const { text } of textPieces(createReadStream(path, { start: known.size, end: size - 1 })))
    take(lines.take(text));
  take(lines.end());
  const headings = before ?? first;
  const { torn } = lines;
  const cells = torn?.cells ?? last.length;
  // With as many cells as there are headings it would look like a whole row.
  const more = (isTorn || torn !== undefined) && cells === headings?.length ? lines.delimiter! : "";
  return {
    size,
    head,
    headings,
    delimiter: lines.delimiter ?? ",",
    closing: (torn === undefined ? "" : '"') + more,
    isInQuote: torn !== undefined,
    tornLine: before === undefined ? torn?.line : undefined,
  };
}
