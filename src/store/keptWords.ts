import { sayOfKeeping } from "../model/index.ts";
import type { KeptState } from "./Kept.ts";

/** What is known of a table that is kept, in numbers and reasons. */
export interface KeptFacts {
  readonly state: KeptState;
  readonly place: string;
  /** How many rows are not saved. */
  readonly unsaved: number;
  /** How many rows the last write had, where nothing was changed since. */
  readonly written: number;
  /** How many rows are being written. */
  readonly writing: number;
  readonly conflicts: number;
  /** How many rows are refused, and why the first of them is. */
  readonly refused: number;
  readonly reason: string;
  /** How many rows of the place can't be read. */
  readonly leftOut: number;
}

/** How a table stands to its place, in words for the status line. */
export function sayKept(locale: string, facts: KeptFacts): string {
  const { place, leftOut } = facts;
  const said = sayState(locale, facts);
  return leftOut === 0 ? said : `${said} ${sayOfKeeping(locale, "keptRowsLeftOut", { count: leftOut, place })}`;
}

function sayState(locale: string, { state, place, ...facts }: KeptFacts): string {
  const say = (name: Parameters<typeof sayOfKeeping>[1], count = 0): string =>
    sayOfKeeping(locale, name, { place, count, reason: facts.reason });
  switch (state) {
    case "saved":
      return facts.written > 0 ? say("keptWritten", facts.written) : say("keptSaved");
    case "unsaved":
      return say("keptUnsaved", facts.unsaved);
    case "saving":
      return say("keptSaving", facts.writing);
    case "conflict":
      return say("keptConflict", facts.conflicts);
    case "unreachable":
      return say("keptUnreachable", facts.unsaved);
    case "refused":
      return say("keptRefused", facts.refused || facts.unsaved);
    case "stopped":
      return say("keptStopped");
  }
}
