import type { AnyKind, Finding } from "../model/index.ts";

/** What a field holds: value and text are one pair, in undo and drafts too. */
export interface Content {
  readonly value: unknown;
  /** What was typed; `undefined` when the value came from code and its text is made from it. */
  readonly text: string | undefined;
  /** Why the text can't be read; the value is then the kind's blank. */
  readonly unreadable: Finding | undefined;
}

export const contentOf = (value: unknown): Content => ({ value, text: undefined, unreadable: undefined });

/** What a typed text makes of a field. */
export function contentFrom(text: string, kind: AnyKind, locale: string): Content {
  const reading = kind.read(text, locale);
  if (reading.ok) return { value: reading.value, text, unreadable: undefined };
  return { value: kind.empty, text, unreadable: reading.finding };
}

export const sameContent =
  (kind: AnyKind) =>
  (a: Content, b: Content): boolean =>
    a.text === b.text && (a.unreadable === undefined) === (b.unreadable === undefined) && kind.same(a.value, b.value);
