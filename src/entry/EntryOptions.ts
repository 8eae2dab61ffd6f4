import type { History, AbortSignalLike } from "../engine/index.ts";
import type { GivenOf, RowOf } from "../model/index.ts";
import type { SaveAnswer } from "./saveMessages.ts";

/** Options of an entry. */
export interface EntryOptions<M> {
  /** Values to begin with; they are not changes. */
  readonly values?: GivenOf<M> | undefined;
  /**
   * Puts a row where rows are kept. It is called when all checks hold. What it returns is told in the status line, or
   * shown at the fields where it refuses the row; what it throws is told as the reason why nothing was saved. Everything
   * typed stays.
   */
  readonly save?:
    ((row: RowOf<M>, context: { signal: AbortSignalLike }) => SaveAnswer | Promise<SaveAnswer>) | undefined;
  /** A BCP 47 tag; default: the page's `lang` once it is bound, else the runtime's. */
  readonly locale?: string | undefined;
  /** An IANA name, as `Europe/Berlin`: by whose clock instants are read and shown; default: the runtime's. */
  readonly timeZone?: string | undefined;
  /** Where changes are noted to be undone; default: one of its own. Entries with the same one are undone in one order. */
  readonly history?: History | undefined;
  /** Whether people may only look now, or why: it is followed. Code can change everything all the same. */
  readonly readOnly?: (() => boolean | string) | undefined;
  /**
   * Whether it may be saved now: true, or the reason why not, which a form's own button then gives as buttons of commands do. Followed.
   */
  readonly allowed?: (() => true | string) | undefined;
  /** What follows a save: the entry stays as it is (the default), or a blank one begins. */
  readonly afterSave?: "stay" | "startNew" | undefined;
}
