import { IronwoodError, shown, unknownName } from "../IronwoodError.ts";
import { requireArgument } from "./checkedArguments.ts";
import { requireOptions } from "./checkedOptions.ts";
import type { OptionTypes } from "./OptionTypes.ts";

type Given = Readonly<Record<string, unknown>>;

/** What is checked of a kind, so that this knows nothing of the rooms above. */
interface CheckedKind {
  readonly kind: string;
  readonly options: object;
  readonly expects: string;
  belongs(value: unknown): boolean;
  check(value: never, locale: string): readonly unknown[];
}

/** What each option of any kind may be. */
const optionTypes = {
  title: "textOrFunction",
  description: "text",
  required: "boolean",
  default: "any",
  examples: "list",
  placeholder: "text",
  readOnly: "boolean",
  writeOnly: "boolean",
  messages: "object",
  saved: "boolean",
  minLength: "count",
  maxLength: "count",
  minItems: "count",
  maxItems: "count",
  uniqueItems: "boolean",
  minimum: "any",
  maximum: "any",
  exclusiveMinimum: "any",
  exclusiveMaximum: "any",
  multipleOf: "any",
  step: "any",
  const: "any",
  pattern: "text",
  format: "any",
  schemes: "list",
  tidy: "object",
  unit: "text",
  display: "display",
  unanswered: "boolean",
  titles: "object",
  accept: "text",
  maximumSize: "number",
  given: ["number", "created", "changed", "createdBy", "changedBy"],
} satisfies OptionTypes;

/** An option of some kind. */
export type OptionName = keyof typeof optionTypes;

const commonNames: readonly OptionName[] = [
  "title",
  "description",
  "required",
  "default",
  "examples",
  "placeholder",
  "readOnly",
  "writeOnly",
  "messages",
  "saved",
];

const countPairs = [
  ["minLength", "maxLength"],
  ["minItems", "maxItems"],
] as const;

/** Refuses an option whose value can't be right. */
function requireOption(isRight: boolean, kind: string, option: string, received: unknown, expected: string): void {
  if (!isRight)
    throw new IronwoodError("wrongOption", `The option ${option} of ${kind}() can't be ${shown(received)}`, {
      expected,
    });
}

/** Refuses what is no object of options. @throws `wrongType` */
export function requireOptionsOf(kind: string, options: unknown): void {
  const isRight = options === undefined || (typeof options === "object" && options !== null && !Array.isArray(options));
  requireArgument(isRight, `${kind}()`, options, "an object of options, as { required: true }, or nothing");
}

/**
 * Refuses options that are there and have no right value.
 *
 * @param isRight - is not asked where the option is not given
 * @throws `wrongOption`
 */
export function requireValues(
  kind: string,
  options: object,
  names: readonly string[],
  isRight: (value: unknown) => boolean,
  expected: string,
): void {
  for (const name of names) {
    const value = (options as Given)[name];
    if (value !== undefined) requireOption(isRight(value), kind, name, value, expected);
  }
}

/**
 * Refuses options that the kind does not have, counts that leave none, and a default, an example or the one right value of another type.
 *
 * @param names - of the options that it has beside those of all kinds
 * @param codes - of problems, which may have messages
 * @throws `unknownOption`, `wrongOption`
 */
export function requireKindOptions(kind: CheckedKind, names: readonly OptionName[], codes: readonly string[]): void {
  const call = `${kind.kind}()`;
  requireOptions(call, kind.options, optionTypes, [...commonNames, ...names]);
  const options = kind.options as Given;
  for (const [low, high] of countPairs) {
    const { [low]: least, [high]: greatest } = options as Readonly<Record<string, number | undefined>>;
    const isPossible = least === undefined || greatest === undefined || least <= greatest;
    requireOption(isPossible, kind.kind, high, greatest, `at least the ${low}, ${String(least)}`);
  }
  for (const code of Object.keys((options["messages"] as object | undefined) ?? {}))
    if (!codes.includes(code)) throw unknownName("unknownOption", `The code in messages of ${call}`, code, codes);
  const values = [
    ["default", options["default"]],
    ["const", options["const"]],
    ...((options["examples"] ?? []) as readonly unknown[]).map((each) => ["examples", each] as const),
  ] as const;
  for (const [name, value] of values)
    if (value !== undefined && !kind.belongs(value))
      throw new IronwoodError("wrongOption", `The option ${name} of ${call} is not ${kind.expects}`, {
        received: value,
      });
  const only = options["const"];
  const isAllowed = only === undefined || kind.check(only as never, "en").length === 0;
  requireOption(isAllowed, kind.kind, "const", only, "a value that the other options allow");
}

const pairs = [
  ["minimum", "maximum"],
  ["minimum", "exclusiveMaximum"],
  ["exclusiveMinimum", "maximum"],
  ["exclusiveMinimum", "exclusiveMaximum"],
] as const;

/**
 * Refuses limits that leave no value between them, since nothing that a person enters could be right then.
 *
 * @param compare - negative where the first is less, positive where it is more
 * @throws `wrongOption`
 */
export function requireRange<Limit>(
  kind: string,
  limits: Readonly<Partial<Record<(typeof pairs)[number][number], Limit | undefined>>>,
  compare: (a: Limit, b: Limit) => number,
): void {
  for (const [low, high] of pairs) {
    const { [low]: least, [high]: greatest } = limits;
    if (least === undefined || greatest === undefined) continue;
    const order = compare(least, greatest);
    const canBeEqual = low === "minimum" && high === "maximum";
    const expected = `${canBeEqual ? "at least" : "more than"} the ${low}, ${String(least)}`;
    requireOption(canBeEqual ? order <= 0 : order < 0, kind, high, greatest, expected);
  }
}

/** Refuses what the place gives and the builder gives too. @throws `wrongOption` */
export function requireGiven(kind: string, options: object, allowed: readonly string[]): void {
  requireValues(kind, options, ["given"], (value) => allowed.includes(value as string), allowed.join(" or "));
  if ((options as Given)["given"] === undefined) return;
  const expected = "absent where the place gives the field";
  requireValues(kind, options, ["required", "default"], () => false, expected);
}
