import { Command } from "../command/index.ts";
import { type AnyEntry, type EntryState, isSteps, type Steps } from "../entry/index.ts";
import { IronwoodError } from "../errors/index.ts";
import { entryIn } from "./entryIn.ts";
import { type PagePart, type PartBinder, partIn } from "./parts/PagePart.ts";

/** What a page is bound to, by the names of its forms, of its commands, of its steps, and of what shows rows. */
export type PageThings = Readonly<Record<string, AnyEntry | Command | Steps | PagePart>>;

/** The same, each sort for itself. */
export interface SortedThings {
  readonly entries: ReadonlyMap<string, EntryState>;
  readonly commands: ReadonlyMap<string, Command>;
  readonly steps: ReadonlyMap<string, Steps>;
  readonly parts: ReadonlyMap<string, PartBinder>;
}

/** @throws `wrongType` for what a page can't be bound to */
export function sortThings(things: PageThings): SortedThings {
  const entries = new Map<string, EntryState>();
  const commands = new Map<string, Command>();
  const steps = new Map<string, Steps>();
  const parts = new Map<string, PartBinder>();
  for (const [name, thing] of Object.entries(things)) {
    const entry = entryIn(thing);
    const part = partIn(thing);
    if (entry !== undefined) entries.set(name, entry);
    else if (part !== undefined) parts.set(name, part);
    else if (thing instanceof Command) commands.set(name, thing);
    else if (isSteps(thing)) steps.set(name, thing);
    else
      throw new IronwoodError("wrongType", `bindPage was given something it can't bind under the name "${name}"`, {
        received: thing,
        expected:
          "an entry (newEntry, editEntry), a command, steps, rows by asGrid(), asList() or asRows(), what keep() gives by asKept(), or what keepDraft() gives by asDraft()",
      });
  }
  return { entries, commands, steps, parts };
}
