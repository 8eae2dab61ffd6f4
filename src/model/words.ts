/** The parts that a message is made of: limits and examples already written in the reader's notation. */
export interface MessageFacts {
  readonly title?: string;
  readonly limit?: string;
  readonly count?: number;
  readonly example?: string;
  readonly value?: string;
  readonly place?: string;
  readonly reason?: string;
}

/** Every message that Ironwood can show to the person at the window, by name. */
export const messageNames = [
  "valueMissing",
  "choiceMissing",
  "answerMissing",
  "badNumber",
  "badInteger",
  "badDate",
  "badTime",
  "badDateTime",
  "badInstant",
  "patternMismatch",
  "typeMismatch",
  "tooLong",
  "tooShort",
  "rangeUnderflow",
  "rangeOverflow",
  "beforeMinimum",
  "afterMaximum",
  "notOver",
  "notUnder",
  "stepMismatch",
  "notAChoice",
  "tooFew",
  "tooMany",
  "notConst",
  "duplicateItem",
  "tooLarge",
  "wrongFile",
  "inRow",
  "choiceExists",
  "addChoice",
  "noChoices",
  "searching",
  "outOfDate",
  "ruleBroken",
  "notSaved",
  "saved",
  "savedTo",
  "problemCount",
  "problemsHere",
  "notSet",
  "readOnly",
  "checking",
  "checkFailed",
  "noAnswer",
  "warned",
  "warnedHere",
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
  "nothingChosen",
  "nothingEntered",
  "stepOf",
  "stepsLeft",
  "stepDone",
  "stepWrong",
  "firstStep",
  "lastStep",
] as const;

export type MessageName = (typeof messageNames)[number];

/** A language that messages are said in; `ironwood/messages/…` has one for each folder. */
export interface Language {
  /** A BCP 47 tag: used for every locale that begins with it. */
  readonly tag: string;
  readonly messages: { readonly [Name in MessageName]: (facts: MessageFacts) => string };
}
