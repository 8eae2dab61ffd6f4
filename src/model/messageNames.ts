/** The messages of entries: what is wrong, and what came of saving and undoing. */
export const checkingMessages = [
  "valueMissing",
  "patternMismatch",
  "typeMismatch",
  "tooLong",
  "tooShort",
  "notAChoice",
  "notConst",
  "choiceExists",
  "outOfDate",
  "ruleBroken",
  "changedElsewhere",
  "chooseInCell",
  "notSaved",
  "notSavedNow",
  "nowhereToSave",
  "saved",
  "savedTo",
  "problemCount",
  "notSet",
  "readOnly",
  "checking",
  "checkFailed",
  "noAnswer",
  "warned",
  "changeOf",
  "goingBack",
  "startingNew",
  "undo",
  "redo",
  "undone",
  "redone",
  "notUndone",
  "nothingToUndo",
  "nothingToRedo",
  "leaveUnsaved",
  "save",
  "leave",
  "stay",
  "yes",
  "no",
  "ok",
  "cancel",
  "nothingEntered",
] as const;

/** The messages about values that are no text. */
export const valuesMessages = [
  "choiceMissing",
  "answerMissing",
  "badNumber",
  "badInteger",
  "badDate",
  "badTime",
  "badDateTime",
  "badInstant",
  "rangeUnderflow",
  "rangeOverflow",
  "beforeMinimum",
  "afterMaximum",
  "notOver",
  "notUnder",
  "stepMismatch",
  "tooFew",
  "tooMany",
  "duplicateItem",
  "tooLarge",
  "wrongFile",
  "oneFile",
  "inRow",
] as const;

/** The messages of tables, lists and grids. */
export const rowsMessages = [
  "noRow",
  "rowGone",
  "rowChanged",
  "rowNotSaved",
  "noRows",
  "loadingRows",
  "markChanged",
  "markWrong",
  "markNew",
  "markUnsaved",
  "markConflict",
  "markSelected",
  "markGone",
  "rowState",
  "total",
  "rowWent",
  "rowLeft",
  "rowLeftHere",
  "rowGoneHere",
  "rowGoneEntered",
  "copied",
  "copying",
  "copyStopped",
  "sorting",
  "sortStopped",
  "notCopied",
  "pasted",
  "notPasted",
  "noColumn",
  "noRowFor",
  "sortedUp",
  "sortedDown",
  "notSorted",
  "columnWidth",
  "columnPlace",
  "columnHidden",
  "sortFirst",
  "tableFull",
  "notJson",
  "cellCount",
  "openQuote",
  "notUtf8",
  "inUse",
] as const;

/** The messages of forms in pages. */
export const stepsMessages = [
  "problemsHere",
  "warnedHere",
  "nothingChosen",
  "stepOf",
  "stepsLeft",
  "stepDone",
  "stepWrong",
  "firstStep",
  "lastStep",
] as const;

/** The messages of the lists of combo boxes, and for who chooses between two changes. */
export const choicesMessages = ["addChoice", "noChoices", "searching", "keepMine", "takeTheirs"] as const;

/** The messages of tables that are kept at a place. */
export const keepingMessages = [
  "keptSaved",
  "keptWritten",
  "keptUnsaved",
  "keptSaving",
  "keptRefused",
  "keptUnreachable",
  "keptConflict",
  "keptRowsLeftOut",
  "keptNothing",
  "keptKeyTaken",
  "keptStopped",
  "conflictTitle",
  "conflictQuestion",
  "conflictAgain",
  "conflictField",
  "conflictBase",
  "conflictMine",
  "conflictTheirs",
  "conflictRow",
  "conflictWas",
  "conflictDeleted",
  "conflictAsIs",
  "conflictMissing",
  "conflictTake",
  "conflictLater",
  "conflictChoose",
  "conflictNone",
  "conflictDone",
] as const;

/** All of them. */
export const messageNames = [
  ...checkingMessages,
  ...valuesMessages,
  ...rowsMessages,
  ...stepsMessages,
  ...choicesMessages,
  ...keepingMessages,
] as const;

export type CheckingMessage = (typeof checkingMessages)[number];
export type ValuesMessage = (typeof valuesMessages)[number];
export type RowsMessage = (typeof rowsMessages)[number];
export type StepsMessage = (typeof stepsMessages)[number];
export type ChoicesMessage = (typeof choicesMessages)[number];
export type KeepingMessage = (typeof keepingMessages)[number];

/** Every message that Ironwood can show to the person at the window, by name. */
export type MessageName =
  CheckingMessage | ValuesMessage | RowsMessage | StepsMessage | ChoicesMessage | KeepingMessage;
