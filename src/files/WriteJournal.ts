import { randomUUID } from "node:crypto";
import { readFile, stat, truncate, unlink } from "node:fs/promises";
import { type GivenValues, isRemembered } from "../store/changes/index.ts";
import { appendText } from "./appendText.ts";
import { putInPlace, writeBeside } from "./replaceFile.ts";

/** One step of a write of several files: one that was written beside gets its name, or one goes. */
export type WriteStep = { readonly from: string; readonly to: string } | { readonly remove: string };

/** One write that was done at a place. */
export interface JournalEntry {
  readonly id: string;
  /** When: RFC 9557. */
  readonly at: string;
  /** What the place was before, and what it is after. */
  readonly before: string;
  readonly after: string;
  /** Keys of rows that were put or changed, and of those that are no more, as JSON; `null` where they are too many. */
  readonly keys: readonly unknown[] | null;
  readonly gone: readonly unknown[];
  /** Keys that were made for rows whose model has none. */
  readonly given: readonly unknown[];
  /** What was given to fields of the rows. */
  readonly values?: GivenValues | undefined;
  /** For a write of several files: what is to be done, until another line says that it is. */
  readonly steps?: readonly WriteStep[] | undefined;
}

/** A write, and where what is noted of it ends in the journal, in bytes. */
export interface NotedWrite extends JournalEntry {
  readonly end: number;
}

/** That the steps of a write are done, and what the place is now. */
interface DoneLine {
  readonly done: string;
  readonly after: string;
}

/** What a journal held from some place on. */
export interface JournalPart {
  /** Another journal than the one that was read before has another name; a blank text where there is none. */
  readonly name: string;
  /** The writes that are done. */
  readonly entries: readonly NotedWrite[];
  /** A last one that is not. */
  readonly open: JournalEntry | undefined;
  /** In bytes. */
  readonly upTo: number;
}

/** How far a place was told: the journal, how many bytes of it, and what the place was then. */
export interface JournalMark {
  readonly name: string;
  readonly upTo: number;
  readonly identity: string;
}

/** So many keys of a write are listed; who follows a larger one reads all again. */
export const LISTED = 1_000;
/** A journal that is larger is begun anew with what is remembered. In bytes. */
const LARGE = 1 << 20;
const NEWLINE = 10;

/** A mark from its text; `undefined` for what is none. */
export function markFrom(text: string): JournalMark | undefined {
  const parts = text.split("~");
  const [name = "", upTo = "", identity = ""] = parts;
  return parts.length === 3 ? { name, upTo: Number(upTo), identity } : undefined;
}

/** A file beside another, or in a folder, in which writes are noted: a line of JSON for each. To be written under the lock of the place. */
export class WriteJournal {
  readonly path: string;

  constructor(path: string) {
    this.path = `${path}.writes`;
  }

  /** Reads what was noted. @param from - in bytes, where a line begins */
  async read(from = 0): Promise<JournalPart> {
    const bytes = await this.#bytes();
    const begin = bytes.indexOf(NEWLINE) + 1;
    const upTo = bytes.lastIndexOf(NEWLINE) + 1;
    const { journal = "" } = (jsonOf(bytes.toString("utf8", 0, begin)) ?? {}) as { readonly journal?: string };
    const entries: NotedWrite[] = [];
    let open: JournalEntry | undefined;
    let at = Math.max(begin, from);
    for (let end = bytes.indexOf(NEWLINE, at); end >= 0; end = bytes.indexOf(NEWLINE, at)) {
      const json = jsonOf(bytes.toString("utf8", at, end));
      at = end + 1;
      // What somebody has spoiled is none of it: who follows finds that something is missing, and reads all again.
      if (isDone(json)) {
        if (open?.id !== json.done) continue;
        entries.push({ ...open, after: json.after, steps: undefined, end: at });
        open = undefined;
      } else if (isEntry(json)) {
        if (json.steps === undefined || json.after !== "") entries.push({ ...json, end: at });
        else open = json;
      }
    }
    return { name: journal, entries, open, upTo };
  }

  async #bytes(): Promise<Buffer> {
    try {
      return await readFile(this.path);
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code === "ENOENT") return Buffer.alloc(0);
      throw error;
    }
  }

  /** Where the journal ends now, for a place that is what it is now. */
  async mark(identity: string): Promise<string> {
    const { name, upTo } = await this.read();
    return [name, upTo, identity].join("~");
  }

  /** Whether there is a write whose steps are not all done. */
  async isOpen(): Promise<boolean> {
    return (await this.read()).open !== undefined;
  }

  /** Notes a write, on the disk. @returns what takes it back */
  async note(entry: JournalEntry): Promise<() => Promise<void>> {
    const size = (await stat(this.path).catch(() => undefined))?.size ?? 0;
    const begin = size === 0 ? `${JSON.stringify({ journal: randomUUID() })}\n` : "";
    await appendText(this.path, () => `${begin}${JSON.stringify(entry)}\n`);
    return () => (size === 0 ? unlink(this.path) : truncate(this.path, size));
  }

  async noteDone(id: string, after: string): Promise<void> {
    const line: DoneLine = { done: id, after };
    await appendText(this.path, () => `${JSON.stringify(line)}\n`);
  }

  /** Takes off a line that was not written to its end. */
  async repair(): Promise<void> {
    const bytes = await this.#bytes();
    const whole = bytes.lastIndexOf(NEWLINE) + 1;
    if (whole < bytes.length) await truncate(this.path, whole);
  }

  /** Takes off the last entry. */
  async dropLast(): Promise<void> {
    const bytes = await this.#bytes();
    await truncate(this.path, bytes.lastIndexOf(NEWLINE, bytes.length - 2) + 1);
  }

  /** Begins anew with the writes of the last day when it has become large. */
  async prune(): Promise<void> {
    if (((await stat(this.path).catch(() => undefined))?.size ?? 0) < LARGE) return;
    const { entries } = await this.read();
    const kept = entries
      .filter(({ at }) => isRemembered(Date.parse(at), Date.now()))
      .map((entry) => ({ ...entry, end: undefined }));
    // Many writes of one day stay; then it is looked at again when there are as many more.
    if (kept.length * 2 > entries.length) return;
    await writeBeside(
      this.path,
      [{ journal: randomUUID() }, ...kept].map((line) => `${JSON.stringify(line)}\n`),
    );
    await putInPlace(this.path);
  }
}

const isDone = (json: unknown): json is DoneLine =>
  typeof (json as Partial<DoneLine> | null)?.done === "string" && typeof (json as DoneLine).after === "string";

function isEntry(json: unknown): json is JournalEntry {
  const { id, at, before, after, keys, gone, given, steps } = (json ?? {}) as Partial<JournalEntry>;
  const areTexts = [id, at, before, after].every((each) => typeof each === "string");
  return areTexts && [keys ?? [], gone, given, steps ?? []].every((each) => Array.isArray(each));
}

function jsonOf(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return {};
  }
}
