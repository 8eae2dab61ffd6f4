import { sameValue } from "../engine/index.ts";
import { BLANK, newReader } from "../model/index.ts";
import type { ReadRow } from "./Proposal.ts";

/** An answer that was worked out once, and what it was worked out from. */
export interface Answer {
  /** What the answer stands for. */
  readonly value: unknown;
  readonly from: ReadonlyMap<string, unknown>;
}

/** Works something out from the fields as of now, and notes what was read. Blank where something needed is missing. */
export function answerFrom(row: ReadRow, work: (row: never) => unknown): Answer | undefined {
  const from = new Map<string, unknown>();
  const reader = newReader(row.model, (name) => {
    const value = row.readForRule(name);
    from.set(name, value);
    return value;
  });
  try {
    return { value: work(reader as never), from };
  } catch (reason) {
    if (reason === BLANK) return undefined;
    throw reason;
  }
}

/** Whether something that an answer was worked out from is another now. */
export function isOutOfDate({ from }: Answer, row: ReadRow): boolean {
  for (const [name, before] of from) {
    try {
      if (!sameValue(row.readForRule(name), before)) return true;
    } catch (reason) {
      if (reason === BLANK) return true;
      throw reason;
    }
  }
  return false;
}
