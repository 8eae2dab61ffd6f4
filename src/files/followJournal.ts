import { setTimeout as pause } from "node:timers/promises";
import type { AbortSignalLike } from "../engine/index.ts";
import type { StoreNews, VersionedRow } from "../store/index.ts";
import { lookRegularly } from "./polling.ts";
import { type JournalPart, markFrom, type WriteJournal } from "./WriteJournal.ts";

/** A place whose writes are in a journal, for what was written at it to be told. */
interface PlaceOfNews {
  readonly journal: WriteJournal;
  /** What the place is, by which it is seen that it was changed. */
  readonly identity: () => Promise<string>;
  /** Whether a write is noted that is not done yet. */
  readonly isBusy: () => Promise<boolean>;
  /** A key from the JSON that the journal has. */
  readonly keyOf: (json: unknown) => unknown;
  /** Reads the rows. @returns what finds one by its key */
  readonly find: () => Promise<(key: unknown) => VersionedRow<unknown, unknown> | undefined>;
}

/** A write that is noted is done in a moment: so often it is waited for, for so many milliseconds. */
const LOOKS = 50;
const MOMENT = 20;

/** Tells what is written at a place after a mark, until it is aborted. */
export function followJournal(
  place: PlaceOfNews,
  since: string,
  listener: (news: StoreNews<never, never>) => void,
  signal: AbortSignalLike,
): void {
  let mark = since;
  lookRegularly(async () => {
    for (const news of await newsSince(mark, place)) {
      if (signal.aborted) return;
      ({ mark } = news);
      listener(news as StoreNews<never, never>);
    }
  }, signal);
}

/** What was written since a mark, by the journal of writes; that all is to be read again where others have changed the place. */
async function newsSince(since: string, place: PlaceOfNews): Promise<StoreNews<unknown, unknown>[]> {
  const mark = markFrom(since);
  const { journal } = place;
  for (let look = 0; look < LOOKS; look++) {
    const now = await place.identity();
    if (mark?.identity === now) return [];
    const part = await journal.read(mark?.upTo ?? 0);
    // A mark that was made before there was a journal stands before its first write.
    const isSame = mark !== undefined && (part.name === mark.name || (mark.name === "" && mark.upTo === 0));
    // What was written since it was looked is told the next time.
    const last = part.entries.findLastIndex(({ after }) => after === now);
    const entries = part.entries.slice(0, last + 1);
    // Where another program has changed the place in between, that is no write that was noted.
    const isWhole = entries.every(({ before }, index) => before === (entries[index - 1]?.after ?? mark?.identity));
    const isListed = entries.every(({ keys }) => keys !== null);
    if (isSame && isWhole && isListed && last >= 0) {
      // Rows as they are now: never as they were before.
      const find = await place.find();
      return entries.map(({ id, keys, gone, after, end }) => ({
        kind: "changes",
        id,
        changes: [
          ...gone.map((key) => ({ key: place.keyOf(key), now: find(key) })),
          ...keys!.map((key) => ({ key: place.keyOf(key), now: find(key) })),
        ],
        mark: [part.name, end, after].join("~"),
      }));
    }
    // A writer is about to do it, or was killed; or it has noted that it is done since the journal was read.
    const isQuiet = !(await place.isBusy()) && (await place.identity()) === now;
    if (isQuiet && isSameEnd(part, await journal.read(part.upTo))) break;
    await pause(MOMENT);
  }
  return [{ kind: "reload", mark: await journal.mark(await place.identity()) }];
}

function isSameEnd(one: JournalPart, other: JournalPart): boolean {
  return one.name === other.name && one.upTo === other.upTo;
}
