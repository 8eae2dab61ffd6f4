import type { AnyKind, Finding, Reading } from "../model/index.ts";

/** What a field holds: value and text are one pair, in undo and drafts too. A class for the reason that `readAs` has one. */
export class Content {
  constructor(
    readonly value: unknown,
    /** What was typed; `undefined` when the value came from code and its text is made from it. */
    readonly text: string | undefined,
    /** Why the text can't be read; the value is then the kind's blank. */
    readonly unreadable: Finding | undefined,
  ) {}
}

/** What a field holds while it follows what others propose: its value is worked out. */
export const FOLLOWING: Content = Object.freeze(new Content(undefined, undefined, undefined));

export const contentOf = (value: unknown): Content => new Content(value, undefined, undefined);

/** What reading a typed text makes of a field. */
export const contentFrom = (text: string, reading: Reading<unknown>, kind: AnyKind): Content =>
  reading.ok ? new Content(reading.value, text, undefined) : new Content(kind.empty, text, reading.finding);

export const sameContent =
  (kind: AnyKind) =>
  (a: Content, b: Content): boolean =>
    a === b ||
    (a !== FOLLOWING &&
      b !== FOLLOWING &&
      // Nothing typed, and a text that was typed and taken away, are the same nothing.
      (a.text ?? "") === (b.text ?? "") &&
      (a.text === b.text || kind.isBlank(a.value)) &&
      (a.unreadable === undefined) === (b.unreadable === undefined) &&
      kind.same(a.value, b.value));
