/**
 * Every code an {@link IronwoodError} can carry, with what solves it. The list is read by the compiler, by
 * `docs/errors.md` and by the tests; nothing imports its texts at run time, so it costs a page no bytes.
 * A retired code is never used again for another meaning.
 */
export const errorCodes = {
  ring: "Two or more calculations read each other. Take one of the reads out.",
  tooManyPasses: "Followers keep writing what they follow. Write only when the value differs from what is wanted.",
  writeWhileCalculating:
    "A calculation or a followed expression has no side effects. Write in the reaction of follow().",
  asyncTransaction: "A transaction ends when its function returns. Await first, then do the writes in one transaction.",
  unknownField: "Use one of the names that the model declares.",
  unknownName: "Use one of the names given to bindPage, or give it the thing under this name.",
  unknownOption: "Use one of the options that are listed.",
  refusedName: "Choose another name for the field.",
  nameTaken: "Give the field, calculation or rule a name of its own.",
  wrongType: "Give a value of the field's type.",
  calculatedField: "A calculated field follows what it reads. Change that instead.",
  givenField: "The place where the row is kept gives this field. Leave it out.",
  wrongOption: "Correct the option as the message says.",
  wrongVerdict: "A rule returns true, false or a message.",
  ruleFailed: "The rule threw. Correct it; until then it counts as holding.",
  calculationFailed: "The calculation threw. Correct it; until then its value is blank.",
  tooEarly: "Bind after the page has been read: use a module script, or wait for DOMContentLoaded.",
  page: "The page and what it is bound to disagree. Correct each place in the list.",
  repeatedName: "Give each control a field of its own, or let them be of one radio group or set.",
  unsuitedControl: "Use one of the control kinds that suit the field.",
  contradiction: "Take the attribute out of the page, or change the model.",
  noControl: "Put a control with this name in the page, or ignore it if the field is set by code.",
  noName: "Give the control the name of the field it shows.",
  twoOptionsOneValue: "Give each option a value of its own.",
  unknownChoice: "Give the option one of the model's values.",
  missingChoice: "Put a control for this value in the page.",
  unknownCommand: "Give bindPage the command under this name, or correct the button.",
  unusedCommand: "Put a button for the command in the page, or ignore it if it is run by code.",
  commandsAlike: "Rename one of the two commands.",
  initialDiffers: "Take the initial value out of the page, or make it the model's default.",
  boundTwice: "Stop the first binding of the element before it is bound again.",
  nowhereToSave: "Give the entry save, or take the button that saves out of its form.",
  noStatus: 'Put an element with role="status" in the page, where messages are read.',
  noJudge: "Give judge, from ironwood/judge, beside strict: true; or leave strict out of a bundle for production.",
  noAsker: "Bind a page, or say by setAsker() who asks.",
  unknownKey: "Use the key of a row that is in the table.",
  keptTable: "The rows are kept at a place. Use what keep() has given, or stop it first.",
  draftGone: "Take or drop a draft while draft.offered has one.",
  badPlace: "Name a place that can be written to.",
} as const;

/** The stable code of an {@link IronwoodError}. */
export type ErrorCode = keyof typeof errorCodes;
