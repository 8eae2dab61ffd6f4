import type { AbortSignalLike } from "../engine/index.ts";

/** Options of `keep`. */
export interface KeepOptions {
  /** So many milliseconds after the last change it is written. Default: it is written when somebody says so. */
  readonly writeAfter?: number | undefined;
  /** Told now and then how many rows were read. @param done - from 0 to 1; `undefined` where that is not known */
  readonly progress?: ((done: number | undefined, rows: number) => void) | undefined;
  /** Ends the reading, and later the keeping. */
  readonly signal?: AbortSignalLike | undefined;
}
