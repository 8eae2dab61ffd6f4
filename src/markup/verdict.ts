import type { ErrorCode } from "../errors/index.ts";

/** One thing that is wrong in a page. */
export interface Verdict {
  readonly code: ErrorCode;
  readonly message: string;
  /** The element, with line and column where they are known. */
  readonly place: string;
}

/** A name or a value as a message shows it. */
export const quoted = (text: string): string => JSON.stringify(text);
