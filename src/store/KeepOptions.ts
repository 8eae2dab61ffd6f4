import type { AbortSignalLike } from "../engine/index.ts";
import type { Drafts } from "./drafts/Drafts.ts";

/** Options of `keep`. */
export interface KeepOptions {
  /** So many milliseconds after the last change it is written. Default: it is written when somebody says so. */
  readonly writeAfter?: number | undefined;
  /**
   * Where what is unsaved is kept on this machine, as `browserDrafts()`: after a crash, or days without the line, it is offered again by `draft`
   * of what `keep` gives, and is merged with what others have made of the rows meanwhile.
   */
  readonly drafts?: Drafts | undefined;
  /** Told now and then how many rows were read. @param done - from 0 to 1; `undefined` where that is not known */
  readonly progress?: ((done: number | undefined, rows: number) => void) | undefined;
  /** Ends the reading, and later the keeping. */
  readonly signal?: AbortSignalLike | undefined;
}
