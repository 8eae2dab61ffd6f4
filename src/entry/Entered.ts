import type { AnyKind, Finding, Reading } from "../model/index.ts";

/** What a field holds: value and text are one pair, in undo and drafts too. A class for the reason that `readAs` has one. */
export class Entered {
  constructor(
    readonly value: unknown,
    /** What was typed; `undefined` when the value came from code and its text is made from it. */
    readonly text: string | undefined,
    /** Why the text can't be read; the value is then the kind's blank. */
    readonly unreadable: Finding | undefined,
  ) {}
}

/** The content of a field that follows a proposal: its value is calculated. */
export const FOLLOWING: Entered = Object.freeze(new Entered(undefined, undefined, undefined));

/** A value that nobody typed. */
export const enteredValue = (value: unknown): Entered => new Entered(value, undefined, undefined);

/** The content that reading a typed text gives. */
export const enteredText = (text: string, reading: Reading<unknown>, kind: AnyKind): Entered =>
  reading.ok ? new Entered(reading.value, text, undefined) : new Entered(kind.empty, text, reading.finding);

/** When two contents of a field are the same for a person. */
export const sameEntered =
  (kind: AnyKind) =>
  (a: Entered, b: Entered): boolean =>
    a === b ||
    (a !== FOLLOWING &&
      b !== FOLLOWING &&
      // A text that was typed and deleted again is the same as no text.
      (a.text ?? "") === (b.text ?? "") &&
      (a.text === b.text || kind.isBlank(a.value)) &&
      (a.unreadable === undefined) === (b.unreadable === undefined) &&
      kind.same(a.value, b.value));
