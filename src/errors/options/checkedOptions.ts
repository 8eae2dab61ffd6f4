import { IronwoodError, shown, unknownName } from "../IronwoodError.ts";
import type { OptionType, OptionTypes } from "./OptionTypes.ts";

/**
 * Refuses options that a call does not have, and values that an option can't have: all of them at once.
 *
 * @throws `unknownOption`, `wrongOption`
 */
export function requireOptions(
  call: string,
  options: unknown,
  types: OptionTypes,
  names: readonly string[] = Object.keys(types),
): void {
  if (options === undefined) return;
  if (typeof options !== "object" || options === null || Array.isArray(options))
    throw new IronwoodError("wrongOption", `${call} was given something that is no object of options`, {
      received: options,
      expected: `an object with ${names.join(", ")}, or nothing`,
    });
  const errors: IronwoodError[] = [];
  for (const [name, value] of Object.entries(options as Readonly<Record<string, unknown>>)) {
    const type = types[name];
    if (type === undefined || !names.includes(name))
      errors.push(unknownName("unknownOption", `The option of ${call}`, name, names));
    else if (value !== undefined && !isOf(value, type, call))
      errors.push(
        new IronwoodError("wrongOption", `The option ${name} of ${call} can't be this`, {
          received: value,
          expected: inWords(type),
        }),
      );
  }
  throwAll(errors);
}

function throwAll(errors: readonly IronwoodError[]): void {
  const [first, ...others] = errors;
  if (first === undefined) return;
  if (others.length === 0) throw first;
  const text = errors.map(({ message }) => message).join(" ");
  throw new IronwoodError(first.code, text.replace(/[.]$/, ""));
}

function isOf(value: unknown, type: OptionType, call: string): boolean {
  if (typeof type === "object") return type.includes(value);
  switch (type) {
    case "any":
      return true;
    case "text":
      return typeof value === "string";
    case "textOrFunction":
      return typeof value === "string" || typeof value === "function";
    case "locale":
      return isLocale(value);
    case "timeZone":
      return isTimeZone(value);
    case "count":
      return Number.isInteger(value) && (value as number) >= 0;
    case "list":
      return Array.isArray(value);
    case "signal":
      return isSignal(value);
    case "display":
      return isDisplay(value, call);
    case "unsavedOf":
      return [value, (value as { readonly unsavedOf?: unknown } | null)?.unsavedOf].some(
        (each) => typeof each === "function",
      );
    case "object":
      return typeof value === "object" && value !== null;
    case "boolean":
    case "number":
    case "function":
      return typeof value === type;
  }
}

function isSignal(value: unknown): boolean {
  const { addEventListener, aborted } = (value ?? {}) as {
    readonly addEventListener?: unknown;
    readonly aborted?: unknown;
  };
  return typeof addEventListener === "function" && typeof aborted === "boolean";
}

/** Options of ECMA-402, of numbers or of dates. */
function isDisplay(value: unknown, call: string): boolean {
  if (typeof value !== "object" || value === null) return false;
  const isOfNumbers = /^(number|integer|decimal)\(/.test(call);
  try {
    if (isOfNumbers) new Intl.NumberFormat("en", value);
    else new Intl.DateTimeFormat("en", value);
    return true;
  } catch {
    return false;
  }
}

/** BCP 47. */
function isLocale(value: unknown): boolean {
  try {
    return typeof value === "string" && value !== "" && Intl.getCanonicalLocales(value).length === 1;
  } catch {
    return false;
  }
}

/** A name of the IANA time zone database. */
function isTimeZone(value: unknown): boolean {
  try {
    return (
      typeof value === "string" && new Intl.DateTimeFormat("en", { timeZone: value }).resolvedOptions().timeZone !== ""
    );
  } catch {
    return false;
  }
}

const words = {
  any: "anything",
  text: "a text",
  textOrFunction: "a text, or a function that gives one",
  timeZone: 'a name of the IANA time zone database, as "Europe/Berlin"',
  locale: 'a language tag of BCP 47, as "en" or "de-AT"',
  count: "a whole number that is not negative",
  list: "a list",
  signal: "the signal of an AbortController",
  object: "an object",
  unsavedOf: "a function of the key, or what keep() has given",
  display: "options of Intl.NumberFormat, or of a date Intl.DateTimeFormat, as { maximumFractionDigits: 1 }",
  boolean: "true or false",
  number: "a number",
  function: "a function",
} as const;

function inWords(type: OptionType): string {
  if (typeof type !== "object") return words[type];
  const all = type.map(shown);
  const last = all.pop()!;
  return all.length === 0 ? last : `${all.join(", ")} or ${last}`;
}
