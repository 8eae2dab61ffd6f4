import { open } from "node:fs/promises";
import { type AnyModel, givenFields, type KeyOf, type Problem, type RowOf } from "../../model/index.ts";
import { highestIn } from "../../store/changes/index.ts";
import { type LookUp, lookUpOf } from "../../table/index.ts";
import { ProvisionalKeys } from "../hiddenKey.ts";
import { digestOf } from "../rowVersion.ts";
import { logEvents, type LinePlace, type PlacedLine } from "./logEvents.ts";
import type { WriteHead } from "./logLine.ts";

/** A row of a log, where it stands as it is now. */
export interface LoggedRow<M extends AnyModel> extends LinePlace {
  readonly key: KeyOf<M>;
  readonly version: string;
  /** Only while all rows are read. */
  readonly row: RowOf<M> | undefined;
}

/** A line that is no row: it can't be read, or a later one has its key. */
export interface OtherLine extends LinePlace {
  readonly problems: readonly Problem[];
  /** The key that it has. */
  readonly key: LookUp | undefined;
}

/** So many bytes before a place tell whether it is the place that was meant. */
const KNOWN_BY = 256;

/** What a log of rows comes to: which row has which key, where it stands, and which writes were done. */
export class RowLog<M extends AnyModel> {
  /** In the order in which their keys came. */
  readonly rows = new Map<LookUp, LoggedRow<M>>();
  readonly others: OtherLine[] = [];
  readonly writes = new Map<string, WriteHead<M>>();
  /** By field that is given a running number, the highest one that a line has. */
  readonly highest = new Map<string, number>();
  /** How many bytes and lines are read. */
  upTo = 0;
  lineCount = 0;
  /** Whether the file goes on with what is not whole; from where, if it has to be cut off. */
  tail: "none" | "openLine" | "halfWrite" = "none";
  /** How many lines say what is no more so. */
  old = 0;
  readonly #model: M;
  readonly #locale: string;
  readonly #holdsRows: boolean;
  readonly #numbered: readonly string[];
  #knownBy = "";
  readonly #provisional = new ProvisionalKeys();

  /** @param holdsRows - whether the rows themselves are held, or only where they are */
  constructor(model: M, locale: string, holdsRows: boolean) {
    this.#model = model;
    this.#locale = locale;
    this.#holdsRows = holdsRows;
    this.#numbered = givenFields(model).flatMap(([field, given]) => (given === "number" ? [field] : []));
  }

  /** Reads on from where it was read to. @returns `false` where the file is another one now, and has to be read anew */
  async catchUp(path: string): Promise<boolean> {
    if (this.upTo > 0 && (await markAt(path, this.upTo)) !== this.#knownBy) return false;
    this.tail = "none";
    for await (const events of logEvents(path, this.#model, this.upTo, this.lineCount, this.#locale))
      for (const event of events) {
        this.upTo = event.upTo;
        this.lineCount = event.lineCount;
        if (event.kind === "line") this.#takeLine(event.line, false);
        else if (event.kind === "write") this.#takeWrite(event.head, event.rows);
        else if (event.kind === "half") this.#takeHalf(event.places);
        else {
          this.tail = event.line === undefined ? "halfWrite" : "openLine";
          // Looked at again when something was put behind it; until then only who reads all is told.
          if (!this.#holdsRows) continue;
          if (event.line !== undefined) this.#takeLine(event.line, false);
          this.#takeHalf(event.places);
        }
      }
    this.#knownBy = await markAt(path, this.upTo);
    return true;
  }

  /** Where it was read to, by which the place is known again. */
  get mark(): string {
    return this.#knownBy;
  }

  #takeWrite(head: WriteHead<M>, rows: readonly PlacedLine<M>[]): void {
    this.writes.set(head.id, head);
    for (const key of head.deleted) {
      this.#forgetOthers(lookUpOf(key));
      if (this.rows.delete(lookUpOf(key))) this.old += 2;
    }
    for (const row of rows) this.#takeLine(row, true);
  }

  #takeHalf(places: readonly LinePlace[]): void {
    const message = "This was not written to its end, as after a crash.";
    for (const place of places)
      this.others.push({
        ...place,
        key: undefined,
        problems: [{ code: "badInput", message, severity: "error", pointer: "" }],
      });
  }

  /** @param isChange - whether the line is of a write, which says how a row is from now on */
  #takeLine(line: PlacedLine<M>, isChange: boolean): void {
    const key = line.key === undefined ? undefined : lookUpOf(line.key);
    if (key !== undefined && isChange) this.#forgetOthers(key);
    const before = key === undefined ? undefined : this.rows.get(key);
    if (before !== undefined) {
      if (isChange) this.old++;
      else this.others.push({ ...placeOf(before), key, problems: [this.#laterLine(line.line)] });
    }
    if (line.kind === "bad") {
      if (key !== undefined) this.rows.delete(key);
      this.others.push({ ...placeOf(line), key, problems: line.problems });
      return;
    }
    const { version, row } = line;
    for (const field of this.#numbered)
      this.highest.set(field, Math.max(this.highest.get(field) ?? 0, highestIn([row], field)));
    const own = line.key ?? (this.#provisional.next(version) as KeyOf<M>);
    const held = this.#holdsRows ? row : undefined;
    const { line: number, start, end } = line;
    this.rows.set(key ?? lookUpOf(own), { key: own, version, row: held, line: number, start, end });
  }

  #laterLine(line: number): Problem {
    const message = `Line ${line} has the same ${this.#model.parts.key.map((name) => this.#model.titleOf(name)).join(" and ")}, and it is that which holds.`;
    return { code: "keyTaken", message, severity: "error", pointer: "" };
  }

  #forgetOthers(key: LookUp): void {
    if (this.others.length === 0) return;
    for (let index = this.others.length - 1; index >= 0; index--)
      if (this.others[index]!.key === key) {
        this.others.splice(index, 1);
        this.old++;
      }
  }
}

const placeOf = ({ line, start, end }: LinePlace): LinePlace => ({ line, start, end });

/** A place in a file, by how many bytes stand before it and what the last of them are; nothing where the file does not reach there. */
export async function markAt(path: string, upTo: number): Promise<string> {
  if (upTo === 0) return "0";
  const file = await open(path, "r");
  try {
    const start = Math.max(0, upTo - KNOWN_BY);
    const { bytesRead, buffer } = await file.read(Buffer.alloc(upTo - start), 0, upTo - start, start);
    return bytesRead < upTo - start ? "" : `${upTo}.${digestOf(buffer)}`;
  } finally {
    await file.close();
  }
}
