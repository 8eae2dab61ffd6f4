/** What makes a line unreadable, whatever its cells or members are. */
export type LineFault = "openQuote" | "notUtf8";

/** A line of a file, with its cells or its text, or with what makes it unreadable. */
export interface Line<T> {
  /** Where the line begins, counted from 1. */
  readonly line: number;
  readonly content: T;
  /** Where it begins and ends in the whole text, in characters, its line end included; of CSV. */
  readonly from?: number;
  readonly to?: number;
  readonly fault?: LineFault | undefined;
}

/** Takes text piece by piece and gives the lines that are whole. */
export interface LineReader<T> {
  take(piece: string): Line<T>[];
  /** What is left when the text has ended. */
  end(): Line<T>[];
}

/** Stands for bytes that are not UTF-8: second halves of two characters in a row, which no UTF-8 text can hold. */
export const NOT_UTF8 = "\uDC80\uDC80";

export const lineFault = (text: string): LineFault | undefined => (text.includes(NOT_UTF8) ? "notUtf8" : undefined);

/** Lines of text, as NDJSON has them, ended as on any system; blank ones are passed over. */
export class TextLines implements LineReader<string> {
  #rest = "";
  #line = 1;

  take(piece: string): Line<string>[] {
    const text = this.#rest + piece;
    // A CR at the end may be the first half of a line end.
    const whole = text.endsWith("\r") ? text.slice(0, -1) : text;
    const lines = whole.split(/\r\n|\n|\r/);
    this.#rest = lines.pop()! + text.slice(whole.length);
    return this.#numbered(lines);
  }

  #numbered(lines: readonly string[]): Line<string>[] {
    return lines.flatMap((text) => {
      const line = this.#line++;
      return text.trim() === "" ? [] : [{ line, content: text, fault: lineFault(text) }];
    });
  }

  end(): Line<string>[] {
    const rest = this.#rest;
    this.#rest = "";
    return this.#numbered(rest.split("\r"));
  }
}
