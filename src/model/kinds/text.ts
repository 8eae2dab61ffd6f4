import { requireValues } from "../../errors/index.ts";
import { choiceOf } from "./choices.ts";
import {
  checkOptions,
  type CommonOptions,
  type Finding,
  type Kind,
  nothingFound,
  optionsOf,
  type Sure,
  readAs,
  withGiven,
} from "./kind.ts";

/** Options of `text`. */
export interface TextOptions extends CommonOptions<string> {
  /** In code points, not in UTF-16 units; included. */
  readonly minLength?: number | undefined;
  /** In code points, not in UTF-16 units; included. What is typed beyond it stays and is explained. */
  readonly maxLength?: number | undefined;
  /** A regular expression that the whole text has to match, as in HTML and with the `u` flag. */
  readonly pattern?: string | undefined;
  /** The one text that is right. */
  readonly const?: string | undefined;
  /**
   * What form it has: an `email` address as HTML takes it, an absolute `uri` of one of the `schemes`, a telephone number to dial (`tel`), a
   * `color` as `#rrggbb`, a `month` as `2026-11` or a `week` as `2026-W48`.
   */
  readonly format?: TextFormat | undefined;
  /** The schemes that a `uri` may have, without the colon. Default: `http`, `https`, `mailto` and `tel`, which run nothing. */
  readonly schemes?: readonly string[] | undefined;
  /** What is made of it when it is left. */
  readonly tidy?: Tidying | undefined;
  /** That the place where a row is kept gives it: who made the row there, or changed it last. Blank until then; nobody else can change it. */
  readonly given?: "createdBy" | "changedBy" | undefined;
}

/** How a text is tidied when it is left: in this order. */
export interface Tidying {
  /** Takes the white space at both ends away. */
  readonly trim?: boolean | undefined;
  /** A Unicode normalization form, as of `String.prototype.normalize`. */
  readonly form?: "NFC" | "NFD" | "NFKC" | "NFKD" | undefined;
  /** Upper or lower case, by the root rules of Unicode, the same for every reader. */
  readonly letters?: "upper" | "lower" | undefined;
}

const formats = {
  // HTML's own definition of a valid e-mail address.
  email:
    /^[a-zA-Z0-9.!#$%&'*+/=?^_`{|}~-]+@[a-zA-Z0-9](?:[a-zA-Z0-9-]{0,61}[a-zA-Z0-9])?(?:\.[a-zA-Z0-9](?:[a-zA-Z0-9-]{0,61}[a-zA-Z0-9])?)*$/,
  // RFC 3986: a scheme, and then no blanks or marks that have to be escaped.
  uri: /^[a-z][a-z0-9+.-]*:(?:[\w.~:/?#[\]@!$&'()*+,;=%-]|[\u0080-\uffff])+$/i,
  tel: /^\+?[\s()./-]*\d[\d\s()./-]*$/,
  color: /^#[0-9a-f]{6}$/i,
  month: /^\d{4,}-(?:0[1-9]|1[0-2])$/,
  week: /^\d{4,}-W(?:0[1-9]|[1-4]\d|5[0-3])$/,
} as const;

/** The names of the formats of text: JSON Schema's, and HTML's where that has none. */
export type TextFormat = keyof typeof formats;

/** How a text of each format looks, for messages. */
const formatExamples: Readonly<Record<TextFormat, string>> = {
  email: "jr@thornbeck.example",
  uri: "https://thornbeck.example/beds/7",
  tel: "+44 1632 960 001",
  color: "#3a6b35",
  month: "2026-11",
  week: "2026-W48",
};

/** What is said of a text that a control can't read as one of a format. */
export const notOfFormat = (format: TextFormat): Finding => ({
  code: "badInput",
  message: "typeMismatch",
  facts: { example: formatExamples[format] },
});

/** Reads a month or a week as people write it: the year first or last, with any sign between; `undefined` where it is none. */
export function readPeriod(text: string, format: "month" | "week"): string | undefined {
  const parts = /^\s*(\d{4,})\s*[-./\s]\s*([Ww]?)(\d{1,2})\s*$|^\s*([Ww]?)(\d{1,2})\s*[-./\s]\s*(\d{4,})\s*$/.exec(
    text,
  );
  if (parts === null) return undefined;
  const [, firstYear, firstMark, firstNumber, lastMark, lastNumber, lastYear] = parts;
  const mark = format === "week" ? "W" : (firstMark ?? lastMark)!.toUpperCase();
  const written = `${firstYear ?? lastYear}-${mark}${(firstNumber ?? lastNumber)!.padStart(2, "0")}`;
  return formats[format].test(written) ? written : undefined;
}

/**
 * Text of one or more lines. Blank is the empty text; text of white space only counts as missing.
 *
 * @throws `unknownOption`, `wrongOption`
 * @example text({ title: "Tag", required: true, pattern: "[A-Z]{2}-[0-9]{4}", examples: ["AB-0042"] })
 */
export function text<const O extends TextOptions>(options?: O): Kind<string, "", Sure<O>> {
  const given: TextOptions = withGiven<TextOptions>("text", optionsOf("text", options), ["createdBy", "changedBy"]);
  requireValues("text", given, ["pattern"], isPattern, "a regular expression that is valid with the u flag");
  const { pattern } = given;
  const whole = pattern === undefined ? undefined : compiled(pattern);
  const kind: Kind<string, "", Sure<O>> = {
    kind: "text",
    options: given,
    empty: "",
    expects: "a text",
    missing: "valueMissing",
    isBlank: (value) => value.trim() === "",
    same: (a, b) => a === b,
    belongs: (value) => typeof value === "string",
    read: (written) => readAs(written),
    edit: (value) => value,
    show: (value) => value,
    check: (value) => checkText(value, given, whole),
  };
  checkOptions(kind, ["minLength", "maxLength", "pattern", "const", "format", "schemes", "tidy", "given"]);
  // Of a text they are suggestions.
  kind.narrowed = (some) => ({ ...kind, choices: some.map(choiceOf) });
  const { tidy } = given;
  const isFormat = (value: unknown): boolean => Object.hasOwn(formats, value as string);
  requireValues("text", given, ["format"], isFormat, Object.keys(formats).join(", "));
  if (tidy !== undefined) kind.tidy = (value) => tidied(value, tidy);
  return kind;
}

const compiled = (pattern: string): RegExp => new RegExp(`^(?:${pattern})$`, "u");

function isPattern(value: unknown): boolean {
  try {
    return compiled(value as string) instanceof RegExp;
  } catch {
    return false;
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
  if (options.format !== undefined && !isOfFormat(value, options.format, options.schemes))
    found.push({
      code: "typeMismatch",
      message: "typeMismatch",
      facts: { example: examples?.[0] ?? formatExamples[options.format] },
    });
  if (options.const !== undefined && value !== options.const)
    found.push({ code: "notConst", message: "notConst", facts: { value: options.const } });
  return found.length === 0 ? nothingFound : found;
}

/** The schemes of addresses that run nothing. */
export const harmlessSchemes: readonly string[] = ["http", "https", "mailto", "tel"];

function isOfFormat(value: string, format: TextFormat, schemes = harmlessSchemes): boolean {
  if (!formats[format].test(value)) return false;
  return format !== "uri" || schemes.includes(value.slice(0, value.indexOf(":")).toLowerCase());
}

function tidied(text: string, { trim, form, letters }: Tidying): string {
  let tidy = trim === true ? text.trim() : text;
  if (form !== undefined) tidy = tidy.normalize(form);
  if (letters === undefined) return tidy;
  return letters === "upper" ? tidy.toUpperCase() : tidy.toLowerCase();
}
