import type { internal, Stoppable } from "../../engine/index.ts";

/** What was entered and not saved, and is offered. */
export interface OfferedDraft {
  /** When it was begun: RFC 9557, in UTC. */
  readonly begun: string;
  /** When something was typed last. */
  readonly changed: string;
  /** What the rows of its model were called; `undefined` where they had no title. */
  readonly model: string | undefined;
  /** The titles of the fields, or of the rows, that it has something for. */
  readonly titles: readonly string[];
}

/** What of a draft was not taken, with the reason, for the person. */
export interface NotTaken {
  /** The name of the field, or the title of the row. */
  readonly name: string;
  /** A whole sentence. */
  readonly message: string;
}

/** What is kept of something that is not saved: of an entry by {@link keepDraft}, of rows by `keep`. */
export interface Draft extends Stoppable {
  /** Fulfilled when it is known whether something is offered: whether it is. */
  readonly ready: Promise<boolean>;
  /** What an earlier window or program has left; `undefined` where that is nothing, or was taken or dropped. Followed. */
  readonly offered: OfferedDraft | undefined;
  /** Why what is typed can't be kept; `undefined` while it can. Followed. */
  readonly failure: string | undefined;
  /** What a person reads of it: that something is offered, or can't be kept; else a blank text. Followed. */
  readonly said: string;
  /** The language of what it is of. */
  readonly locale: string;
  /**
   * Puts what is offered where it was: into the entry, as one step to be undone, or into the table.
   *
   * @returns what can't be held any more, as where the model has changed
   * @throws `draftGone` when nothing is offered
   */
  take(): readonly NotTaken[];
  /** Forgets what is offered. @throws {@link StoreError} */
  drop(): Promise<void>;
  /** Writes what is typed at once, as when a window is left. */
  write(): Promise<void>;
  /** Of the page: says where the person is, and takes the person there again. */
  readonly [internal]: DraftPlace;
}

/** How the page knows where a person is, and takes the person there again. */
export interface DraftPlace {
  controlNow: (() => string | undefined) | undefined;
  goTo: ((control: string) => void) | undefined;
}

/** A draft as it is written. */
export interface DraftText<C> {
  /** What the rows of its model are called. */
  readonly model: string | undefined;
  /** When it was begun, and changed last: RFC 9557, in UTC. */
  readonly begun: string;
  readonly changed: string;
  /** The language in which texts were typed. */
  readonly locale: string;
  readonly content: C;
  /** The name of the control in which the person was. */
  readonly control?: string | undefined;
}

/** What a draft is of. */
export interface DraftSource<C> {
  readonly locale: string;
  /** What the rows of its model are called. */
  readonly model: string | undefined;
  /** What is not saved; followed. `undefined` where that is nothing. */
  read(): C | undefined;
  isContent(json: unknown): json is C;
  titles(content: C): readonly string[];
  /** Whether all of it was saved all the same, as by a window that was left and heard no answer. */
  isSaved?(content: C): boolean;
  take(draft: DraftText<C>): readonly NotTaken[];
}
