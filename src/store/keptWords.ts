import { nameIn, type Problem, say, sayOfKeeping, valueIn } from "../model/index.ts";
import type { KeptState } from "./Kept.ts";

/** What is known of a table that is kept, in numbers and reasons. */
export interface KeptFacts {
  readonly state: KeptState;
  readonly place: string;
  /** How many rows are not saved. */
  readonly unsaved: number;
  /** In how many rows something is typed that is not in the table yet. */
  readonly editing: number;
  /** How many rows the last write had, where nothing was changed since. */
  readonly written: number;
  /** How many rows are being written. */
  readonly writing: number;
  readonly conflicts: number;
  /** How many rows are refused, and why the first of them is. */
  readonly refused: number;
  readonly reason: string;
  /** How many rows wait until rows of another table are saved, and what people call a row of that. */
  readonly waiting: { readonly count: number; readonly title: string };
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
      if (facts.editing > 0) return say("keptEditing", facts.editing);
      return facts.written > 0 ? say("keptWritten", facts.written) : say("keptSaved");
    case "unsaved":
      return sayUnsaved(locale, facts);
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

function sayUnsaved(locale: string, { unsaved, waiting }: Pick<KeptFacts, "unsaved" | "waiting">): string {
  const all = sayOfKeeping(locale, "keptUnsaved", { count: unsaved });
  if (waiting.count === 0) return all;
  const waits = sayOfKeeping(locale, "keptWaits", waiting);
  return waiting.count === unsaved ? waits : `${all} ${waits}`;
}

/** What every place may say of a row, in a language; what only one place says stays as it is. */
export function inLanguage(
  locale: string,
  place: string,
  problem: Problem,
  of: { readonly title: string; readonly row: unknown },
): Problem {
  const { code, pointer } = problem;
  switch (code) {
    case "keyTaken":
      return { ...problem, message: sayOfKeeping(locale, "keptKeyTaken", { place }) };
    case "inUse":
      return { ...problem, message: sayOfKeeping(locale, "keptStillUsed", { value: of.title, place }) };
    case "notAChoice": {
      // A place may mean something inside the value of a field, or the row as a whole: then its own words stay.
      const value = valueIn(of.row, nameIn(pointer));
      return value === undefined
        ? problem
        : { ...problem, message: say(locale, "notAChoice", { value: String(value) }) };
    }
    default:
      return problem;
  }
}
