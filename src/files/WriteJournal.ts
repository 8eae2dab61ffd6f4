import { randomUUID } from "node:crypto";
import { open, readFile, rename, stat, truncate, unlink } from "node:fs/promises";
import { appendText } from "./appendText.ts";

/** One write that was done at a place. */
export interface JournalEntry {
  readonly id: string;
  /** When: RFC 9557. */
  readonly at: string;
  /** What the file was before, and what it is after: as `identityOf` has it. */
  readonly before: string;
  readonly after: string;
  /** Keys of rows that were put or changed, and of those that are no more, as JSON; `null` where they are too many. */
  readonly keys: readonly unknown[] | null;
  readonly gone: readonly unknown[];
  /** Keys that were made for rows whose model has none. */
  readonly given: readonly unknown[];
}

/** What a journal held from some place on. */
export interface JournalPart {
  /** Another journal than the one that was read before has another name; a blank text where there is none. */
  readonly name: string;
  readonly entries: readonly JournalEntry[];
  /** In bytes. */
  readonly upTo: number;
}

/** So many milliseconds a write is remembered: who did not hear the answer may ask again. */
const REMEMBERED = 24 * 60 * 60 * 1_000;
/** A journal that is larger is begun anew with what is remembered. In bytes. */
const LARGE = 1 << 20;

/** A file beside another, in which the writes of the other are noted: a line of JSON for each. To be written under the lock of the other. */
export class WriteJournal {
  readonly path: string;

  constructor(path: string) {
    this.path = `${path}.writes`;
  }

  /** Reads what was noted. @param from - in bytes, where a line begins */
  async read(from = 0): Promise<JournalPart> {
    let bytes: Buffer;
    try {
      bytes = await readFile(this.path);
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code === "ENOENT") return { name: "", entries: [], upTo: 0 };
      throw error;
    }
    const begin = bytes.indexOf(10) + 1;
    const upTo = bytes.lastIndexOf(10) + 1;
    const name = begin === 0 ? "" : ((jsonOf(bytes.toString("utf8", 0, begin)) as { journal?: string }).journal ?? "");
    const text = bytes.toString("utf8", Math.max(begin, from), upTo);
    const entries = text.split("\n").flatMap((line) => (line === "" ? [] : [jsonOf(line) as unknown as JournalEntry]));
    return { name, entries, upTo };
  }

  /** Notes a write, on the disk. @returns what takes it back */
  async note(entry: JournalEntry): Promise<() => Promise<void>> {
    const size = (await stat(this.path).catch(() => undefined))?.size ?? 0;
    const begin = size === 0 ? `${JSON.stringify({ journal: randomUUID() })}\n` : "";
    await appendText(this.path, () => `${begin}${JSON.stringify(entry)}\n`);
    return () => (size === 0 ? unlink(this.path) : truncate(this.path, size));
  }

  /** Takes off a line that was not written to its end. */
  async repair(): Promise<void> {
    const bytes = await readFile(this.path).catch(() => undefined);
    if (bytes === undefined) return;
    const whole = bytes.lastIndexOf(10) + 1;
    if (whole < bytes.length) await truncate(this.path, whole);
  }

  /** Takes off the last entry. */
  async dropLast(): Promise<void> {
    const bytes = await readFile(this.path);
    const last = bytes.lastIndexOf(10, bytes.length - 2) + 1;
    await truncate(this.path, last);
  }

  /** Begins anew with the writes of the last day when it has become large. */
  async prune(): Promise<void> {
    if (((await stat(this.path).catch(() => undefined))?.size ?? 0) < LARGE) return;
    const { entries } = await this.read();
    const kept = entries.filter(({ at }) => Date.now() - Date.parse(at) < REMEMBERED);
    // Many writes of one day stay; then it is looked at again when there are as many more.
    if (kept.length * 2 > entries.length) return;
    const lines = [{ journal: randomUUID() }, ...kept].map((line) => `${JSON.stringify(line)}\n`);
    const beside = `${this.path}.new`;
    const file = await open(beside, "w");
    try {
      await file.writeFile(lines.join(""));
      await file.sync();
    } finally {
      await file.close();
    }
    await rename(beside, this.path);
  }
}

function jsonOf(text: string): Record<string, unknown> {
  try {
    return JSON.parse(text) as Record<string, unknown>;
  } catch {
    return {};
  }
}
