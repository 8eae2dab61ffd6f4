import { counted } from "./counted.ts";
import type { KeepingMessage } from "../messageNames.ts";
import type { AreaWords } from "../words.ts";

const rows = (count: number | undefined): string => counted(count, "row", "rows");

/** English for tables that are kept at a place. */
export const keepingEnglish: AreaWords<KeepingMessage> = {
  keptSaved: ({ place }) => `Everything is saved in ${place}.`,
  keptWritten: ({ count, place }) => `${rows(count)} saved in ${place}.`,
  keptEditing: ({ count, place }) =>
    `${rows(count)} being edited and not saved yet. Everything else is saved in ${place}.`,
  keptUnsaved: ({ count }) => `${rows(count)} not saved yet.`,
  keptWaits: ({ count, title }) =>
    `${rows(count)} not saved yet: ${title === "" ? "rows of another table have" : `“${title}” has`} to be saved first.`,
  keptSaving: ({ count, place }) => `Saving ${rows(count)} in ${place} …`,
  keptRefused: ({ count, reason }) => `${rows(count)} not saved: ${reason} What you entered is still here.`,
  keptUnreachable: ({ count, reason }) =>
    `${rows(count)} not saved yet: ${reason} What you entered is still here, and saving is tried again.`,
  keptConflict: ({ count }) => `${rows(count)} changed here and elsewhere: choose what is right.`,
  keptRowsLeftOut: ({ count, place }) =>
    `${rows(count)} of ${place} can’t be read, and ${count === 1 ? "is" : "are"} left there as ${count === 1 ? "it is" : "they are"}.`,
  keptNothing: () => "There is nothing to save.",
  keptKeyTaken: ({ place }) => `Another row in ${place} has this already.`,
  keptStillUsed: ({ value, place }) => `Other rows in ${place} still use ${value}.`,
  keptStopped: ({ place }) => `These rows are not saved in ${place} any more.`,
  conflictTitle: () => "Changed here and elsewhere",
  conflictQuestion: () => "Choose what is right. What only one side changed is kept in any case.",
  conflictAgain: () => "This was changed again meanwhile. Choose what is right.",
  conflictField: () => "Field",
  conflictBase: () => "Before",
  conflictMine: () => "Here",
  conflictTheirs: () => "Elsewhere",
  conflictRow: () => "The whole row",
  conflictWas: () => "there",
  conflictDeleted: () => "deleted",
  conflictAsIs: () => "there, and changed",
  conflictMissing: ({ count }) => `Choose one in each line: ${counted(count, "line is", "lines are")} left.`,
  conflictTake: () => "Use what is chosen",
  conflictLater: () => "Later",
  conflictChoose: () => "Choose …",
  conflictNone: () => "Nothing was changed both here and elsewhere.",
  conflictDone: ({ count }) => `${rows(count)} decided.`,
  draftOffered: ({ value }) => `What was entered here on ${value} was not saved. It is still there.`,
  draftTake: () => "Go on with it",
  draftDrop: () => "Discard it",
  draftTaken: () => "What was entered before is here again. It is not saved yet.",
  draftDropped: () => "What was entered before was discarded.",
  draftLeftOut: ({ reason }) => `Not taken: ${reason}`,
  draftNoField: ({ title, value }) => `“${value}”, since there is no field ${title} any more.`,
  draftOtherValue: ({ title, value }) => `“${value}”, which ${title} can’t hold any more.`,
  draftFile: ({ title }) => `the file in ${title}, which has to be chosen again.`,
  draftOtherRow: ({ title, value }) => `“${value}” for ${title}, since its row was changed meanwhile.`,
  draftRowChanged: () => "it was changed here meanwhile.",
  draftFailed: ({ reason }) => `What you type is lost if this window closes before you save: ${reason}`,
};
