/** What the value of an option may be: of a type, or one of some values. */
export type OptionType =
  | "any"
  | "text"
  | "locale"
  | "boolean"
  | "number"
  | "count"
  | "function"
  | "object"
  | "list"
  | "signal"
  | readonly unknown[];

/** The options of a call, by their names. */
export type OptionTypes = Readonly<Record<string, OptionType>>;

export type RequireOptions = (call: string, options: unknown, types: OptionTypes) => void;

export type RequireArgument = (isRight: boolean, call: string, received: unknown, expected: string) => void;
