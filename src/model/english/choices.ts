import type { AreaWords } from "../words.ts";
import type { ChoicesMessage } from "../messageNames.ts";

/** English for the lists of combo boxes, and for who chooses between two changes. */
export const choicesEnglish: AreaWords<ChoicesMessage> = {
  addChoice: ({ value }) => `Add “${value}”`,
  noChoices: () => "No choices",
  searching: () => "Searching…",
  keepMine: ({ value }) => (value === undefined ? "Keep mine" : `Keep mine: ${value}`),
  takeTheirs: ({ value }) => (value === undefined ? "Take the other" : `Take the other: ${value}`),
};
