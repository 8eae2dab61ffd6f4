import { internal } from "../engine/index.ts";
import { EntryState } from "../entry/index.ts";

/** The entry behind its public face; `undefined` for anything else. */
export function entryIn(thing: unknown): EntryState | undefined {
  const state = typeof thing === "object" && thing !== null && internal in thing ? thing[internal] : undefined;
  return state instanceof EntryState ? (state as EntryState) : undefined;
}
