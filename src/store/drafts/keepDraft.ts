import { IronwoodError, requireArgument, requireOptions } from "../../errors/index.ts";
import { internal } from "../../engine/index.ts";
import type { AnyEntry, EntryState } from "../../entry/index.ts";
import type { Draft } from "./Draft.ts";
import { DraftKeeping } from "./DraftKeeping.ts";
import type { Drafts } from "./Drafts.ts";
import { entrySource } from "./entrySource.ts";

/** Options of {@link keepDraft}. */
export interface DraftOptions {
  /** What the draft is found by: the same for the same kind of form, and for a row that is edited with its key. */
  readonly name: string;
}

/**
 * Keeps what is typed into an entry and not saved yet, on this machine, and offers it again after a crash, or when the window was closed.
 * Typing does not wait for it. Once the entry is saved or reverted, nothing is kept any more. Fields that are `writeOnly` are no part of it.
 *
 * @param drafts - where: `browserDrafts()`, `fileDrafts(folder)`
 * @throws `wrongType` for what is no entry; `unknownOption`, `wrongOption`
 * @example
 * const draft = keepDraft(note, browserDrafts(), { name: "field note" });
 * bindPage(document, { note, draft: asDraft(draft) });
 */
export function keepDraft(entry: AnyEntry, drafts: Drafts, options: DraftOptions): Draft {
  const state = (entry as Partial<AnyEntry> | null | undefined)?.[internal];
  requireArgument(state !== undefined && "core" in state, "keepDraft", entry, "an entry");
  const isPlace = typeof drafts === "object" && (drafts as unknown) !== null && "hold" in drafts;
  requireArgument(isPlace, "keepDraft", drafts, "a place for drafts, as browserDrafts() gives it");
  requireOptions("keepDraft", options, { name: "text" });
  if (typeof (options as Partial<DraftOptions>).name !== "string" || options.name === "")
    throw new IronwoodError("wrongOption", "keepDraft was given no name", {
      expected: 'a name by which the draft is found again, as { name: "field note" }',
    });
  return new DraftKeeping(entrySource(state as EntryState), drafts, options.name);
}
