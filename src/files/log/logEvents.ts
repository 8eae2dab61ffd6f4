import { isAscii, isUtf8 } from "node:buffer";
import { createReadStream } from "node:fs";
import type { AnyModel } from "../../model/index.ts";
import { type LogLine, readLogLine, WRITE_BEGINS, type WriteHead } from "./logLine.ts";

/** Where a line stands: its number, counted from 1, and its bytes without its end. */
export interface LinePlace {
  readonly line: number;
  readonly start: number;
  readonly end: number;
}

/** A row, or one that can't be read, with its place. */
export type PlacedLine<M extends AnyModel> = Exclude<LogLine<M>, { kind: "write" }> & LinePlace;

/** What a log tells, in order. */
export type LogEvent<M extends AnyModel> = LogPlace &
  (
    | { readonly kind: "line"; readonly line: PlacedLine<M> }
    | { readonly kind: "write"; readonly head: WriteHead<M>; readonly rows: readonly PlacedLine<M>[] }
    /** A write that was begun, has not all of its lines, and that others were put behind. */
    | { readonly kind: "half"; readonly places: readonly LinePlace[] }
    /** That the log ends in a write that is not whole: the lines that it has; or in a line that has no end: that line. */
    | { readonly kind: "tail"; readonly places: readonly LinePlace[]; readonly line: PlacedLine<M> | undefined }
  );

/** How far a log was read: up to the end of a line, or of a write. */
export interface LogPlace {
  /** In bytes. */
  readonly upTo: number;
  readonly lineCount: number;
}

const NEWLINE = 10;

interface RawLine extends LinePlace {
  readonly text: string;
  readonly isText: boolean;
  /** Where the next line begins. */
  readonly next: number;
  /** Whether it has its line end. */
  readonly isEnded: boolean;
}

/**
 * Reads a log from a place on, where a line begins.
 *
 * @param from - in bytes
 * @param linesBefore - how many lines stand before
 */
export async function* logEvents<M extends AnyModel>(
  path: string,
  model: M,
  from: number,
  linesBefore: number,
  locale: string,
): AsyncGenerator<LogEvent<M>[]> {
  let head: WriteHead<M> | undefined;
  let places: LinePlace[] = [];
  let rows: PlacedLine<M>[] = [];
  /** Where what is not whole begins. */
  const before = ({ start, line }: LinePlace): LogPlace => ({ upTo: start, lineCount: line - 1 });
  for await (const lines of rawLines(path, from, linesBefore)) {
    const events: LogEvent<M>[] = [];
    for (const { text, isText, next, isEnded, line, start, end } of lines) {
      const place = { line, start, end };
      if (!isEnded) {
        const isHead = text.startsWith(WRITE_BEGINS) || WRITE_BEGINS.startsWith(text);
        if (head !== undefined || isHead)
          events.push({ kind: "tail", ...before(places[0] ?? place), places: [...places, place], line: undefined });
        // It may be whole, and have no end only.
        else {
          const read = readLogLine(model, text, isText, locale) as Exclude<LogLine<M>, { kind: "write" }>;
          events.push({ kind: "tail", ...before(place), places: [], line: { ...read, ...place } });
        }
        yield events;
        return;
      }
      if (isBlankLine(text)) continue;
      const at = { upTo: next, lineCount: line };
      const read = readLogLine(model, text, isText, locale);
      if (read.kind === "write") {
        if (head !== undefined) events.push({ kind: "half", ...at, places });
        ({ head } = read);
        places = [place];
        rows = [];
      } else if (head === undefined) {
        events.push({ kind: "line", ...at, line: { ...read, ...place } });
        continue;
      } else {
        places.push(place);
        rows.push(Object.assign(read, place));
      }
      if (rows.length < head.rows) continue;
      events.push({ kind: "write", ...at, head, rows });
      head = undefined;
      places = [];
    }
    yield events;
  }
  if (head !== undefined) yield [{ kind: "tail", ...before(places[0]!), places, line: undefined }];
}

/** Most lines begin with what is no white space. */
const isBlankLine = (text: string): boolean => !text.startsWith("{") && text.trim() === "";

/** The lines of a file, some at a time. Besides the line feed, a lone carriage return ends a line. */
async function* rawLines(path: string, from: number, linesBefore: number): AsyncGenerator<RawLine[]> {
  let rest: Buffer = Buffer.alloc(0);
  let at = from;
  let line = linesBefore;
  const linesIn = (bytes: Buffer, start: number, isText: boolean, isEnded: boolean): RawLine[] => {
    const isFirst = start === 0 && bytes[0] === 0xef && bytes[1] === 0xbb && bytes[2] === 0xbf;
    const text = bytes.toString("utf8", isFirst ? 3 : 0);
    const parts = text.replace(/\r$/, "").split("\r");
    let begin = start + (isFirst ? 3 : 0);
    return parts.map((part, index) => {
      const size =
        parts.length === 1 ? bytes.length - (begin - start) - (text.endsWith("\r") ? 1 : 0) : Buffer.byteLength(part);
      const isLast = index === parts.length - 1;
      const next = isLast ? start + bytes.length + (isEnded ? 1 : 0) : begin + size + 1;
      const raw = { text: part, isText, line: ++line, start: begin, end: begin + size, next };
      begin = next;
      return { ...raw, isEnded: isEnded || !isLast };
    });
  };
  for await (const chunk of createReadStream(path, { start: from, highWaterMark: 1 << 18 }) as AsyncIterable<Buffer>) {
    const bytes = rest.length === 0 ? chunk : Buffer.concat([rest, chunk]);
    const lines: RawLine[] = [];
    const last = bytes.lastIndexOf(NEWLINE);
    // Most text has a byte for each character, and can be cut as one text.
    const whole = isAscii(bytes) ? bytes.toString("latin1", 0, last + 1) : undefined;
    if (whole?.includes("\r") === false) {
      let begin = 0;
      for (let end = whole.indexOf("\n"); end >= 0; end = whole.indexOf("\n", begin)) {
        const place = { line: ++line, start: at + begin, end: at + end, next: at + end + 1 };
        lines.push({ text: whole.slice(begin, end), isText: true, isEnded: true, ...place });
        begin = end + 1;
      }
      at += begin;
      rest = bytes.subarray(begin);
      yield lines;
      continue;
    }
    const areAllText = isUtf8(bytes.subarray(0, last + 1));
    let begin = 0;
    for (let end = bytes.indexOf(NEWLINE); end >= 0; end = bytes.indexOf(NEWLINE, begin)) {
      const one = bytes.subarray(begin, end);
      lines.push(...linesIn(one, at + begin, areAllText || isUtf8(one), true));
      begin = end + 1;
    }
    at += begin;
    rest = bytes.subarray(begin);
    yield lines;
  }
  if (rest.length > 0) yield linesIn(rest, at, isUtf8(rest), false);
}
