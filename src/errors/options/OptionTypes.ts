/** What the value of an option may be: of a type, or one of some values. */
export type OptionType =
  | "any"
  | "text"
  | "textOrFunction"
  | "timeZone"
  | "locale"
  | "boolean"
  | "number"
  | "count"
  | "function"
  | "object"
  | "unsavedOf"
  | "display"
  | "list"
  | "signal"
  | readonly unknown[];

/** The options of a call, by their names. */
export type OptionTypes = Readonly<Record<string, OptionType>>;
