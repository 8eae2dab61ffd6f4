import { such } from "./such.ts";
import type { ValuesMessage } from "../messageNames.ts";
import type { AreaWords } from "../words.ts";

/** English for what is wrong with values that are no text. */
export const valuesEnglish: AreaWords<ValuesMessage> = {
  choiceMissing: () => "Choose one.",
  rowMissing: () => "Add a row.",
  answerMissing: () => "Answer this.",
  badNumber: (facts) => `This is not a number. Enter a number${such(facts)}.`,
  badInteger: (facts) => `This is not a whole number. Enter a whole number${such(facts)}.`,
  badDate: (facts) => `This is not a date that exists. Enter a date${such(facts)}.`,
  badTime: (facts) => `This is not a time of day. Enter a time${such(facts)}.`,
  badDateTime: (facts) => `This is not a date and time. Enter both${such(facts)}.`,
  badInstant: (facts) => `This is not a date and time that exists here. Enter both${such(facts)}.`,
  rangeUnderflow: ({ limit }) => `Enter ${limit} or more.`,
  rangeOverflow: ({ limit }) => `Enter ${limit} or less.`,
  beforeMinimum: ({ limit }) => `Enter ${limit} or later.`,
  afterMaximum: ({ limit }) => `Enter ${limit} or earlier.`,
  outsideTimes: ({ value, limit }) => `Enter a time from ${value} to ${limit}.`,
  notOver: ({ limit }) => `Enter more than ${limit}.`,
  notUnder: ({ limit }) => `Enter less than ${limit}.`,
  stepMismatch: ({ limit }) => `Enter a multiple of ${limit}.`,
  tooFew: ({ count }) => `Give at least ${count}.`,
  tooMany: ({ count }) => `Give at most ${count}.`,
  duplicateItem: ({ value }) => `${value} is there twice.`,
  tooLarge: ({ limit }) => `Choose a file of at most ${limit}.`,
  oneFile: () => "Choose only one file. None of these was taken.",
  wrongFile: ({ value }) => `Choose a file of this kind: ${value}.`,
  inRow: ({ count, title, reason }) => `Row ${count}, ${title}: ${reason}`,
};
