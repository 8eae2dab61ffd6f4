/** `error` keeps a row from being saved; `warning` does not. */
export type Severity = "error" | "warning";

/**
 * The codes that checks of Ironwood give. Those that HTML has are its `ValidityState` flags with HTML's meaning; a rule
 * gives its own name.
 */
export const problemCodes = [
  "valueMissing",
  "badInput",
  "typeMismatch",
  "patternMismatch",
  "tooLong",
  "tooShort",
  "rangeUnderflow",
  "rangeOverflow",
  "stepMismatch",
  "notAChoice",
  "duplicate",
  "tooFew",
  "tooMany",
  "notConst",
  "checkFailed",
  "keyTaken",
  "tableFull",
  "inUse",
  "notAllowed",
  "changedElsewhere",
  "notSaved",
] as const;

/** What is wrong; where HTML has a word for it, HTML's. */
export type ProblemCode = (typeof problemCodes)[number];

/** What is wrong with an entry or a row, said so that a person can put it right. */
export interface Problem {
  /** One of {@link problemCodes}, or the name of the rule that does not hold. */
  readonly code: ProblemCode | (string & {});
  /** What a person is told, in the language of the entry. */
  readonly message: string;
  /** An `error` keeps the row from being saved; a `warning` is asked about. */
  readonly severity: Severity;
  /** Where: a JSON Pointer (RFC 6901) into the row; the empty pointer is the row as a whole. */
  readonly pointer: string;
}

/** The pointer to a field by its full name: `place.plot` is `/place/plot`. Names of fields hold no slash. */
export const pointerTo = (name: string): string => `/${name.replaceAll("~", "~0").replaceAll(".", "/")}`;

/** Whether a pointer is that of a field, or of something inside its value, as one row of several. */
export const pointsInto = (pointer: string, field: string): boolean =>
  pointer === field || (field !== "" && pointer.startsWith(`${field}/`));

/** The full name of the field that a pointer points to; blank for the row as a whole. */
export const nameIn = (pointer: string): string => pointer.slice(1).replaceAll("/", ".").replaceAll("~0", "~");
