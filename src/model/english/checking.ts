import { counted } from "./counted.ts";
import { such } from "./such.ts";
import type { AreaWords } from "../words.ts";
import type { CheckingMessage } from "../messageNames.ts";

/** English for entries: what is wrong, and what came of saving and undoing. */
export const checkingEnglish: AreaWords<CheckingMessage> = {
  valueMissing: (facts) => `Enter a value${such(facts)}.`,
  patternMismatch: (facts) =>
    facts.example === undefined ? "This does not have the right form." : `Enter it like ${facts.example}.`,
  typeMismatch: ({ example }) => `Enter it like ${example}.`,
  tooLong: ({ count, limit }) => `At most ${limit} characters; this has ${count}.`,
  tooShort: ({ count, limit }) => `At least ${limit} characters; this has ${count}.`,
  notAChoice: ({ value }) => `${value} is not one of the choices.`,
  notConst: ({ value }) => `This has to be ${value}.`,
  choiceExists: ({ value }) => `${value} is there already.`,
  outOfDate: ({ value }) => `${value} (out of date)`,
  ruleBroken: () => "This does not go together with the rest.",
  changedElsewhere: ({ value, mine }) =>
    value === undefined ? "This was changed elsewhere too." : `Changed elsewhere too. There: ${value}. Here: ${mine}.`,
  chooseInCell: () => "Enter yours again to keep it; Escape takes the other.",
  notSaved: ({ reason }) => `Not saved: ${reason} What you entered is still here.`,
  notSavedNow: ({ reason }) => `Not saved: ${reason} What you entered is still here; try again.`,
  nowhereToSave: () => "Not saved: there is no place yet where this is kept. What you entered is still here.",
  saved: ({ title }) => (title ? `Saved ${title}.` : "Saved."),
  savedTo: ({ title, place }) => (title ? `Saved ${title} to ${place}.` : `Saved to ${place}.`),
  problemCount: ({ count }) => `Not saved yet: ${counted(count, "entry needs", "entries need")} your attention.`,
  notSet: () => "not set",
  readOnly: () => "This can't be changed here.",
  checking: () => "Checking…",
  checkFailed: ({ reason }) => `This could not be checked: ${reason} It can be saved as it is, or try again later.`,
  noAnswer: ({ count }) => `there was no answer within ${counted(count, "second", "seconds")}.`,
  warned: ({ count }) =>
    `Not saved yet: look at ${counted(count, "warning", "warnings")}. To save all the same, press again.`,
  changeOf: ({ title }) => `change of ${title}`,
  goingBack: () => "going back to what was saved",
  startingNew: () => "starting anew",
  undo: ({ value }) => `Undo ${value}`,
  redo: ({ value }) => `Redo ${value}`,
  undone: ({ value }) => `Undone: ${value}.`,
  redone: ({ value }) => `Done again: ${value}.`,
  notUndone: ({ title }) => `${title} was changed elsewhere since, and stays as it is.`,
  nothingToUndo: () => "There is nothing to undo.",
  nothingToRedo: () => "There is nothing to do again.",
  leaveUnsaved: ({ title }) =>
    title ? `${title} has changes that are not saved.` : "There are changes that are not saved.",
  save: () => "Save",
  leave: () => "Leave without saving",
  stay: () => "Stay here",
  yes: () => "Yes",
  no: () => "No",
  ok: () => "OK",
  cancel: () => "Cancel",
  nothingEntered: () => "nothing entered",
};
