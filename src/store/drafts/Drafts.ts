import type { AbortSignalLike } from "../../engine/index.ts";

/** A draft as it is kept. */
export interface StoredDraft {
  /** Which of several it is: each window and each program has one of its own. */
  readonly id: string;
  /** What `keepDraft` has written: JSON. */
  readonly text: string;
}

/** A place on this machine where drafts are kept, as `browserDrafts()` and `fileDrafts(folder)` are. */
export interface Drafts {
  /** What people call it. */
  readonly place: string;
  /** Those of a name on which no window and no program is working now. @throws {@link StoreError} */
  list(name: string): Promise<readonly StoredDraft[]>;
  /** Keeps a draft, in the place of the one before with the same id. @throws {@link StoreError} */
  write(name: string, draft: StoredDraft): Promise<void>;
  /** Keeps a draft before it returns, for a window that is left: there may be no time for more. `write` of the same draft comes after it. */
  writeNow?(name: string, draft: StoredDraft): void;
  /** Forgets a draft; one that is not there is forgotten already. @throws {@link StoreError} */
  remove(name: string, id: string): Promise<void>;
  /** Lets the others know that somebody works on a draft, until it is aborted or the program ends in whatever way. */
  hold(name: string, id: string, options: { readonly signal: AbortSignalLike }): Promise<void>;
}
