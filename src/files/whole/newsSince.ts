import { setTimeout as pause } from "node:timers/promises";
import type { StoreNews, VersionedRow } from "../../store/index.ts";
import { identityOf } from "../polling.ts";
import { nextOf } from "../replaceFile.ts";
import type { WriteJournal } from "../WriteJournal.ts";

/** A place, for what was written at it to be told. */
interface PlaceOfNews {
  readonly path: string;
  readonly journal: WriteJournal;
  readonly mark: () => Promise<string>;
  /** Reads the rows. @returns what finds one by its key */
  readonly find: () => Promise<(key: unknown) => VersionedRow<unknown, unknown> | undefined>;
}

/** A writer has noted what it will put in place in a moment: so often it is waited for, for so many milliseconds. */
const LOOKS = 50;
const MOMENT = 20;

/** What was written at a file since a mark, by the journal of its writes; that all is to be read again where others have changed it. */
export async function newsSince(since: string, place: PlaceOfNews): Promise<StoreNews<unknown, unknown>[]> {
  const [name = "", upTo = "0", known = ""] = since.split("~");
  for (let look = 0; look < LOOKS; look++) {
    const now = await identityOf(place.path);
    if (now === known && since.split("~").length === 3) return [];
    const part = await place.journal.read(Number(upTo));
    const isSame = since.split("~").length === 3 && (part.name === name || (name === "" && Number(upTo) === 0));
    let last = known;
    // Where another program has changed the file in between, that is no write that was noted.
    const isWhole = isSame && part.entries.every(({ before, after }) => before === last && ((last = after), true));
    const isListed = part.entries.every(({ keys }) => keys !== null);
    if (isWhole && isListed && part.entries.length > 0 && last === now) {
      const find = await place.find();
      // What was read must be what was noted.
      if ((await identityOf(place.path)) !== now) continue;
      const mark = [part.name, part.upTo, now].join("~");
      return part.entries.map(({ id, keys, gone }, index) => ({
        kind: "changes",
        id,
        changes: [
          ...gone.map((key) => ({ key, now: undefined })),
          ...keys!.map((key) => ({ key, now: find(key) })),
        ],
        // Only when all are told is the file what the last of them left.
        mark: index === part.entries.length - 1 ? mark : since,
      }));
    }
    // A writer that is about to put it in place, or one that was killed.
    if ((await identityOf(nextOf(place.path))) === "" && (await identityOf(place.path)) === now) break;
    await pause(MOMENT);
  }
  return [{ kind: "reload", mark: await place.mark() }];
}
