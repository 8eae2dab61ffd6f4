import { IronwoodError, shown, unknownName } from "../IronwoodError.ts";
import type { OptionType, OptionTypes } from "./OptionTypes.ts";

/**
 * Refuses options that a call does not have, and values that an option can't have: all of them at once.
 *
 * @throws `unknownOption`, `wrongOption`
 */
export function requireOptions(call: string, options: unknown, types: OptionTypes): void {
  if (options === undefined) return;
  const names = Object.keys(types);
  if (typeof options !== "object" || options === null || Array.isArray(options))
    throw new IronwoodError("wrongOption", `${call} was given something that is no object of options`, {
      received: options,
      expected: `an object with ${names.join(", ")}, or nothing`,
    });
  const errors: IronwoodError[] = [];
  for (const [name, value] of Object.entries(options as Readonly<Record<string, unknown>>)) {
    const type = types[name];
    if (type === undefined) errors.push(unknownName("unknownOption", `The option of ${call}`, name, names));
    else if (value !== undefined && !isOf(value, type))
      errors.push(
        new IronwoodError("wrongOption", `The option ${name} of ${call} can't be this`, {
          received: value,
          expected: inWords(type),
        }),
      );
  }
  throwAll(errors);
}

/** Refuses a call whose argument is not what it is for. @throws `wrongType` */
export function requireArgument(isRight: boolean, call: string, received: unknown, expected: string): void {
  if (!isRight) throw new IronwoodError("wrongType", `${call} was given something else`, { received, expected });
}

function throwAll(errors: readonly IronwoodError[]): void {
  const [first, ...others] = errors;
  if (first === undefined) return;
  if (others.length === 0) throw first;
  const text = errors.map(({ message }) => message).join(" ");
  throw new IronwoodError(first.code, text.replace(/[.]$/, ""));
}

function isOf(value: unknown, type: OptionType): boolean {
  if (typeof type === "object") return type.includes(value);
  switch (type) {
    case "any":
      return true;
    case "text":
      return typeof value === "string";
    case "locale":
      return isLocale(value);
    case "count":
      return Number.isInteger(value) && (value as number) >= 0;
    case "list":
      return Array.isArray(value);
    case "signal":
      return typeof (value as { readonly addEventListener?: unknown } | null)?.addEventListener === "function";
    case "object":
      return typeof value === "object" && value !== null;
    case "boolean":
    case "number":
    case "function":
      return typeof value === type;
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

const words = {
  any: "anything",
  text: "a text",
  locale: 'a language tag of BCP 47, as "en" or "de-AT"',
  count: "a whole number that is not negative",
  list: "a list",
  signal: "the signal of an AbortController",
  object: "an object",
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
