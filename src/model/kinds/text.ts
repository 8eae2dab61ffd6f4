import {
  checkOptions,
  type CommonOptions,
  type Finding,
  type Kind,
  nothingFound,
  requireOption,
  type Sure,
} from "./kind.ts";

export interface TextOptions extends CommonOptions<string> {
  /** In code points, not in UTF-16 units; included. */
  readonly minLength?: number | undefined;
  /** In code points, not in UTF-16 units; included. What is typed beyond it stays and is explained. */
  readonly maxLength?: number | undefined;
  /** A regular expression that the whole text has to match, as in HTML and with the `u` flag. */
  readonly pattern?: string | undefined;
  /** The one text that is right. */
  readonly const?: string | undefined;
}

/**
 * Text of one or more lines. Blank is the empty text; text of white space only counts as missing.
 *
 * @throws `unknownOption`, `wrongOption`
 * @example text({ title: "Tag", required: true, pattern: "[A-Z]{2}-[0-9]{4}", examples: ["AB-0042"] })
 */
export function text<const O extends TextOptions>(options?: O): Kind<string, "", Sure<O>> {
  const given: TextOptions = options ?? {};
  const { pattern } = given;
  const kind: Kind<string, "", Sure<O>> = {
    kind: "text",
    options: given,
    empty: "",
    expects: "a text",
    missing: "valueMissing",
    isBlank: (value) => value.trim() === "",
    same: (a, b) => a === b,
    belongs: (value) => typeof value === "string",
    read: (written) => ({ ok: true, value: written }),
    edit: (value) => value,
    show: (value) => value,
    check: (value) => checkText(value, given, whole),
  };
  checkOptions(kind, ["minLength", "maxLength", "pattern", "const"]);
  const whole = pattern === undefined ? undefined : compiled(pattern);
  return kind;
}

function compiled(pattern: string): RegExp {
  try {
    return new RegExp(`^(?:${pattern})$`, "u");
  } catch {
    requireOption(false, "text", "pattern", pattern, "a regular expression that is valid with the u flag");
    throw new TypeError();
  }
}

function checkText(value: string, options: TextOptions, pattern: RegExp | undefined): readonly Finding[] {
  const found: Finding[] = [];
  const { minLength, maxLength, examples } = options;
  // A text is never longer in code points than in units, so most are settled without counting.
  if (maxLength !== undefined && value.length > maxLength) {
    const count = [...value].length;
    if (count > maxLength)
      found.push({ code: "tooLong", message: "tooLong", facts: { count, limit: String(maxLength) } });
  }
  if (minLength !== undefined) {
    const count = [...value].length;
    if (count < minLength)
      found.push({ code: "tooShort", message: "tooShort", facts: { count, limit: String(minLength) } });
  }
  if (pattern !== undefined && !pattern.test(value))
    found.push({
      code: "patternMismatch",
      message: "patternMismatch",
      facts: examples?.[0] === undefined ? {} : { example: examples[0] },
    });
  if (options.const !== undefined && value !== options.const)
    found.push({ code: "notConst", message: "notConst", facts: { value: options.const } });
  return found.length === 0 ? nothingFound : found;
}
