import type { AnyKind } from "../model/index.ts";

/** What one side made of a value; `unreadable` where a person typed what can't be read, which differs from every value. */
export interface Mine {
  readonly value: unknown;
  readonly unreadable?: unknown;
}

/**
 * Whether a value that was changed here disagrees with what it was changed to elsewhere. A blank is a value like any other, also as the
 * base: what was blank, and was filled in here and there in different ways, disagrees.
 */
export function disagree(kind: AnyKind, base: unknown, { value, unreadable }: Mine, theirs: unknown): boolean {
  if (kind.same(base, theirs)) return false;
  return unreadable !== undefined || !kind.same(value, theirs);
}
