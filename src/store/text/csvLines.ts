import { type Line, lineFault, type LineReader } from "./lines.ts";

/** The most characters of one row: what is longer has a quote that is never closed, in a file too large to look for its end. */
export const LONGEST_ROW = 1 << 24;

const QUOTE = 34;
const NEWLINE = 10;
const RETURN = 13;

/** What one look for a row came to: the row and where the next one begins, a quote that is not closed, or that more is needed. */
type Scan =
  { readonly cells: readonly string[]; readonly next: number; readonly breaks: number } | "openQuote" | "more";

/** A row in the middle of which the text ends, inside a quote. */
export interface TornRow {
  /** The line in which it begins. */
  readonly line: number;
  /** How many cells it has, the one that is torn included. */
  readonly cells: number;
}

/** What is known of a text that is the rest of another. */
export interface CsvKnown {
  readonly delimiter: string;
  /** How many cells the first line has. */
  readonly width: number;
  /** Whether the text is one row, and what looks like further ones is inside its quotes. */
  readonly isOneRow?: boolean | undefined;
}

/**
 * Rows of CSV (RFC 4180), apart by commas, semicolons or tabs, whichever the first line has most of, with any line ends. A
 * quote that is opened and never rightly closed costs the line in which it stands and no other: the reading goes on in the next.
 */
export class CsvLines implements LineReader<readonly string[]> {
  /** What separates the cells; known from the first line on. */
  delimiter: string | undefined;
  /** Text that is not read yet; it begins with a row. */
  #rest = "";
  /** How many characters stood before `#rest`. */
  #before = 0;
  #line = 1;
  #ended = false;
  /** A row that was not whole is looked at again when there is twice as much: so the work stays linear. */
  #enough = 0;
  /** Beginnings of lines that are inside a quote which is never closed: a row that gets there is not whole either. */
  readonly #hopeless = new Set<number>();
  /** How many cells the first line has. */
  #width: number | undefined;
  #torn: TornRow | undefined;
  readonly #isOneRow: boolean;

  /** @param known - what is known from the text before, where this text is the rest of another */
  constructor(known?: CsvKnown) {
    this.delimiter = known?.delimiter;
    this.#width = known?.width;
    this.#isOneRow = known?.isOneRow ?? false;
  }

  /** The row in which the text ended inside a quote, with no whole row after it unless the text is one row; once the text has ended. */
  get torn(): TornRow | undefined {
    return this.#torn;
  }

  /** Takes more of the text. @returns the rows that are whole now */
  take(piece: string): Line<readonly string[]>[] {
    this.#rest += piece;
    return this.#rest.length < this.#enough ? [] : this.#read();
  }

  end(): Line<readonly string[]>[] {
    this.#ended = true;
    return this.#read();
  }

  #read(): Line<readonly string[]>[] {
    this.delimiter ??= this.#delimiterOf();
    if (this.delimiter === undefined) return [];
    const lines: Line<readonly string[]>[] = [];
    let at = 0;
    while (at < this.#rest.length) {
      const scan = this.#scan(at, this.delimiter);
      if (scan === "more") break;
      const next = scan === "openQuote" ? this.#nextLine(at) : scan.next;
      const cells = scan === "openQuote" ? [] : scan.cells;
      const text = this.#rest.slice(at, next);
      if (scan !== "openQuote") this.#width ??= cells.length;
      if (cells.length === this.#width && !this.#isOneRow) this.#torn = undefined;
      if (cells.length > 1 || text.trim() !== "")
        lines.push({
          line: this.#line,
          content: cells,
          fault: scan === "openQuote" ? scan : lineFault(text),
          from: this.#before + at,
          to: this.#before + next,
        });
      this.#line += scan === "openQuote" ? 1 : scan.breaks;
      at = next;
    }
    this.#rest = this.#rest.slice(at);
    this.#before += at;
    this.#enough = this.#rest.length * 2;
    for (const start of this.#hopeless) if (start < this.#before) this.#hopeless.delete(start);
    return lines;
  }

  #delimiterOf(): string | undefined {
    const found = /[^\r\n]+(?=([\r\n]?))/.exec(this.#rest);
    if (!this.#ended && (found === null || found[1] === "")) return undefined;
    const [first = ""] = found ?? [];
    // What stands in quotes separates nothing.
    const plain = first.replaceAll(/"[^"]*"/g, "");
    return [",", ";", "\t"].toSorted((a, b) => plain.split(b).length - plain.split(a).length)[0]!;
  }

  #scan(from: number, delimiter: string): Scan {
    const text = this.#rest;
    const between = delimiter.charCodeAt(0);
    const cells: string[] = [];
    const inside: number[] = [];
    let at = from;
    for (;;) {
      if (text.charCodeAt(at) === QUOTE) {
        const quoted = this.#quoted(at + 1, between, inside);
        if (typeof quoted === "string") {
          if (quoted === "more" && text.length - from < LONGEST_ROW) return quoted;
          if (quoted === "ended") this.#torn ??= { line: this.#line, cells: cells.length + 1 };
          for (const start of inside) this.#hopeless.add(this.#before + start);
          return "openQuote";
        }
        cells.push(quoted.cell);
        at = quoted.next;
      } else {
        const start = at;
        for (; at < text.length; at++) {
          const letter = text.charCodeAt(at);
          if (letter === between || letter === NEWLINE || letter === RETURN) break;
        }
        cells.push(text.slice(start, at));
      }
      if (at < text.length && text.charCodeAt(at) === between) {
        at++;
        continue;
      }
      const next = this.#afterBreak(at);
      return next === undefined ? "more" : { cells, next, breaks: inside.length + 1 };
    }
  }

  /** A cell in quotes, from behind the first one. @param inside - is given where the lines begin that are inside the cell */
  #quoted(
    from: number,
    between: number,
    inside: number[],
  ): { cell: string; next: number } | "openQuote" | "ended" | "more" {
    const text = this.#rest;
    let cell = "";
    for (let piece = from; ;) {
      const close = text.indexOf('"', piece);
      const end = close < 0 ? text.length : close;
      if (this.#noteLines(piece, end, inside)) return "openQuote";
      if (close < 0) return this.#ended ? "ended" : "more";
      const after = text.charCodeAt(close + 1);
      if (after === QUOTE) {
        cell += text.slice(piece, close + 1);
        piece = close + 2;
        continue;
      }
      const isLast = close + 1 === text.length;
      if (isLast && !this.#ended) return "more";
      if (!isLast && after !== between && after !== NEWLINE && after !== RETURN) return "openQuote";
      return { cell: cell + text.slice(piece, close), next: close + 1 };
    }
  }

  /** Notes where lines begin between two places. @returns whether one of these is known to be inside a quote that is never closed */
  #noteLines(from: number, to: number, inside: number[]): boolean {
    for (const found of this.#rest.slice(from, to).matchAll(/\r\n|\n|\r/g)) {
      const start = from + found.index + found[0].length;
      inside.push(start);
      if (this.#hopeless.has(this.#before + start)) return true;
    }
    return false;
  }

  /** Where the line after this end of a line begins; `undefined` where more text has to tell. */
  #afterBreak(at: number): number | undefined {
    const text = this.#rest;
    if (at >= text.length) return this.#ended ? at : undefined;
    if (text.charCodeAt(at) === NEWLINE) return at + 1;
    if (at + 1 === text.length && !this.#ended) return undefined;
    return text.charCodeAt(at + 1) === NEWLINE ? at + 2 : at + 1;
  }

  #nextLine(from: number): number {
    const breaks = /\r\n|\n|\r/g;
    breaks.lastIndex = from;
    return breaks.exec(this.#rest) === null ? this.#rest.length : breaks.lastIndex;
  }
}

/** Cells as a line of CSV, with its line end: quoted wherever a reader or a spreadsheet could split or trim them. */
export function csvLine(cells: readonly string[], delimiter = ","): string {
  const quoted = cells.map((cell) =>
    /[",;\t\r\n]|^\s|\s$/.test(cell) || (cells.length === 1 && cell === "") ? `"${cell.replaceAll('"', '""')}"` : cell,
  );
  return `${quoted.join(delimiter)}\r\n`;
}
