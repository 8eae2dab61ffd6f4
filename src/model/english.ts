import type { Language, MessageFacts } from "./words.ts";

const plural = new Intl.PluralRules("en");
const counted = (count: number | undefined, one: string, other: string): string =>
  `${count ?? 0} ${plural.select(count ?? 0) === "one" ? one : other}`;
const such = ({ example }: MessageFacts): string => (example === undefined ? "" : `, such as ${example}`);

/** English: the language of every locale that no other language was added for. */
export const english: Language = {
  tag: "en",
  messages: {
    valueMissing: (facts) => `Enter a value${such(facts)}.`,
    choiceMissing: () => "Choose one.",
    answerMissing: () => "Answer this.",
    badNumber: (facts) => `This is not a number. Enter a number${such(facts)}.`,
    badInteger: (facts) => `This is not a whole number. Enter a whole number${such(facts)}.`,
    badDate: (facts) => `This is not a date that exists. Enter a date${such(facts)}.`,
    badTime: (facts) => `This is not a time of day. Enter a time${such(facts)}.`,
    badDateTime: (facts) => `This is not a date and time. Enter both${such(facts)}.`,
    badInstant: (facts) => `This is not a date and time that exists here. Enter both${such(facts)}.`,
    patternMismatch: (facts) =>
      facts.example === undefined ? "This does not have the right form." : `Enter it like ${facts.example}.`,
    typeMismatch: ({ example }) => `Enter it like ${example}.`,
    tooLong: ({ count, limit }) => `At most ${limit} characters; this has ${count}.`,
    tooShort: ({ count, limit }) => `At least ${limit} characters; this has ${count}.`,
    rangeUnderflow: ({ limit }) => `Enter ${limit} or more.`,
    rangeOverflow: ({ limit }) => `Enter ${limit} or less.`,
    beforeMinimum: ({ limit }) => `Enter ${limit} or later.`,
    afterMaximum: ({ limit }) => `Enter ${limit} or earlier.`,
    notOver: ({ limit }) => `Enter more than ${limit}.`,
    notUnder: ({ limit }) => `Enter less than ${limit}.`,
    stepMismatch: ({ limit }) => `Enter a multiple of ${limit}.`,
    notAChoice: ({ value }) => `${value} is not one of the choices.`,
    tooFew: ({ count }) => `Give at least ${count}.`,
    tooMany: ({ count }) => `Give at most ${count}.`,
    notConst: ({ value }) => `This has to be ${value}.`,
    duplicateItem: ({ value }) => `${value} is there twice.`,
    tooLarge: ({ limit }) => `Choose a file of at most ${limit}.`,
    wrongFile: ({ value }) => `Choose a file of this kind: ${value}.`,
    inRow: ({ count, title, reason }) => `Row ${count}, ${title}: ${reason}`,
    choiceExists: ({ value }) => `${value} is there already.`,
    addChoice: ({ value }) => `Add “${value}”`,
    noChoices: () => "No choices",
    searching: () => "Searching…",
    outOfDate: ({ value }) => `${value} (out of date)`,
    ruleBroken: () => "This does not go together with the rest.",
    notSaved: ({ reason }) => `Not saved: ${reason} What you entered is still here; try again.`,
    saved: ({ title }) => `Saved ${title}.`,
    savedTo: ({ title, place }) => `Saved ${title} to ${place}.`,
    problemCount: ({ count }) => `Not saved yet: ${counted(count, "entry needs", "entries need")} your attention.`,
    notSet: () => "not set",
    readOnly: () => "This can't be changed here.",
  },
};
