import { internal } from "../engine/index.ts";
import { EntryState } from "../entry/index.ts";
import type { OptionTypes } from "../errors/index.ts";

/** What every call that binds has. */
export const bindOptions: OptionTypes = { signal: "signal", strict: "boolean", judge: "object" };

/** The entry behind its public face; `undefined` for anything else. */
export function entryIn(thing: unknown): EntryState | undefined {
  const state = typeof thing === "object" && thing !== null && internal in thing ? thing[internal] : undefined;
  return state instanceof EntryState ? (state as EntryState) : undefined;
}
