import papa from "papaparse";

/** A line of a file: where it begins, counted from 1, and its cells or its text. */
export interface Line<T> {
  readonly line: number;
  readonly content: T;
}

/** Takes text piece by piece and gives the lines that are whole. */
export interface LineReader<T> {
  take(piece: string): Line<T>[];
  /** What is left when the text has ended. */
  end(): Line<T>[];
}

const breaks = (text: string): number => text.split("\n").length - 1;

/** Lines of text, as NDJSON has them; blank ones are passed over. */
export class TextLines implements LineReader<string> {
  #rest = "";
  #line = 1;

  take(piece: string): Line<string>[] {
    const lines = (this.#rest + piece).split("\n");
    this.#rest = lines.pop()!;
    return this.#numbered(lines);
  }

  #numbered(lines: readonly string[]): Line<string>[] {
    return lines.flatMap((text) => {
      const line = this.#line++;
      return text.trim() === "" ? [] : [{ line, content: text.replace(/\r$/, "") }];
    });
  }

  end(): Line<string>[] {
    const rest = this.#rest;
    this.#rest = "";
    return this.#numbered([rest]);
  }
}

/** Rows of CSV (RFC 4180), apart by commas, semicolons or tabs, whichever the first line has most of. */
export class CsvLines implements LineReader<readonly string[]> {
  #rest = "";
  #line = 1;
  #parser: InstanceType<(typeof papa)["Parser"]> | undefined;

  take(piece: string): Line<readonly string[]>[] {
    this.#rest += piece;
    // What separates the cells shows in the first line.
    if (this.#parser === undefined && !this.#rest.includes("\n")) return [];
    return this.#read(true);
  }

  end(): Line<readonly string[]>[] {
    return this.#rest === "" ? [] : this.#read(false);
  }

  #read(goesOn: boolean): Line<readonly string[]>[] {
    if (this.#parser === undefined) {
      this.#rest = this.#rest.replace(/^\uFEFF/, "");
      const first = this.#rest.slice(0, this.#rest.indexOf("\n") + 1 || undefined);
      const delimiter = [",", ";", "\t"].toSorted((a, b) => first.split(b).length - first.split(a).length)[0]!;
      this.#parser = new papa.Parser({ delimiter, newline: first.endsWith("\r\n") ? "\r\n" : "\n" });
    }
    const { data, meta } = this.#parser.parse(this.#rest, 0, goesOn);
    this.#rest = this.#rest.slice(meta.cursor);
    return data.flatMap((cells) => {
      const line = this.#line;
      // A cell may have line breaks in it.
      this.#line += 1 + cells.reduce((sum, cell) => sum + (cell.includes("\n") ? breaks(cell) : 0), 0);
      return cells.length === 1 && cells[0]!.trim() === "" ? [] : [{ line, content: cells }];
    });
  }
}
