/**
 * Text to number and back in a reader's locale. Everything is found out from `Intl`, so every locale that the
 * runtime knows is read in its own way.
 */

/** How one locale writes numbers. */
interface NumberMarks {
  /** Its ten digits, in order. */
  readonly digits: readonly string[];
  readonly decimal: string;
  readonly group: string;
  /** Digits in the group next to the decimal sign, and in the groups beyond. */
  readonly lastGroup: number;
  readonly otherGroups: number;
  readonly minus: string;
  /** A digit of the locale, or one that everybody types. */
  readonly anyDigit: RegExp;
}

const marks = new Map<string, NumberMarks>();

/** The marks of a locale; found out once. */
export function numberMarks(locale: string): NumberMarks {
  let found = marks.get(locale);
  if (found === undefined) {
    found = findMarks(locale);
    marks.set(locale, found);
  }
  return found;
}

function findMarks(locale: string): NumberMarks {
  const plain = new Intl.NumberFormat(locale, { useGrouping: false });
  const digits = [...Array(10).keys()].map((digit) => plain.format(digit));
  const grouped = new Intl.NumberFormat(locale, {
    useGrouping: "always",
    maximumFractionDigits: 1,
  });
  const parts = grouped.formatToParts(-1234567891.5);
  const of = (type: string): string | undefined => parts.find((part) => part.type === type)?.value;
  const sizes = parts.filter((part) => part.type === "integer").map((part) => [...part.value].length);
  return {
    digits,
    decimal: of("decimal") ?? ".",
    group: of("group") ?? "",
    lastGroup: sizes.at(-1) ?? 3,
    otherGroups: sizes.at(-2) ?? 3,
    minus: withoutDirection(of("minusSign") ?? "-"),
    anyDigit: new RegExp(`[0-9${digits.join("")}]`, "u"),
  };
}

/** Marks of direction say nothing about a number: U+061C, U+200E, U+200F, U+202A to U+202E, U+2066 to U+2069. */
const withoutDirection = (text: string): string => text.replace(/[\u061c\u200e\u200f\u202a-\u202e\u2066-\u2069]/g, "");

/** What people use between groups of digits, whatever their locale. */
const ANY_GROUP = " \u00a0\u202f\u2009'\u2019";

/** What a text of a number may carry beside the number. */
export interface NumberAffixes {
  /** Ways to write the unit, longest first. */
  readonly units: readonly string[];
  /** Whether a percent sign may follow, and a number without one counts as percent. */
  readonly percent: boolean;
}

const NO_AFFIXES: NumberAffixes = { units: [], percent: false };

/**
 * Reads numbers as people write them: the locale's digits and decimal sign, complete grouping in the locale's sizes or
 * by blanks and apostrophes, `-` or U+2212 in front, a unit or percent sign behind. One separator that can't be grouping
 * is the decimal sign, whichever it is.
 *
 * @returns what gives the number of a text, or `undefined` when the text is not one
 */
export function numberReader(
  locale: string,
  affixes: NumberAffixes = NO_AFFIXES,
): (text: string) => number | undefined {
  const { decimal } = numberMarks(locale);
  return (text) => {
    const short = affixes.percent ? undefined : shortNumber(text, decimal);
    if (short !== undefined) return short;
    const plain = readPlain(text, locale, affixes);
    if (plain === undefined) return undefined;
    const value = Number(plain);
    // -0 is 0, and what is too large to hold is not a number that was read.
    return Number.isFinite(value) ? value + 0 : undefined;
  };
}

/** As {@link numberReader}, for one text. */
export const readNumber = (text: string, locale: string, affixes?: NumberAffixes): number | undefined =>
  numberReader(locale, affixes)(text);

/**
 * What most people type most of the time: a few digits, and perhaps one point that is the locale's own decimal sign. Fifteen
 * digits are exact as a whole number and so is the power of ten behind them, so that their quotient is rounded just once, as
 * ECMA-262 has it for the text; and at each key it takes a fraction of the time.
 */
function shortNumber(text: string, decimal: string): number | undefined {
  const { length } = text;
  if (length === 0 || length > 15) return undefined;
  let whole = 0;
  let parts = 0;
  for (let place = 0; place < length; place++) {
    const digit = text.charCodeAt(place) - ZERO;
    if (digit >= 0 && digit <= 9) {
      whole = whole * 10 + digit;
      parts *= 10;
    } else if (digit === POINT && parts === 0 && decimal === "." && place > 0 && place < length - 1) parts = 1;
    else return undefined;
  }
  return parts === 0 ? whole : whole / parts;
}

const ZERO = 0x30;
const POINT = 0x2e - ZERO;

/** As {@link readNumber}, but gives the number as a text with ASCII digits and a point, exact at any length. */
export function readPlain(text: string, locale: string, affixes: NumberAffixes = NO_AFFIXES): string | undefined {
  const { digits, decimal, group, lastGroup, otherGroups, minus, anyDigit } = numberMarks(locale);
  if (!affixes.percent && (decimal === "." ? plainDecimal : plainDigits).test(text)) return text;
  if (!anyDigit.test(text)) return undefined;
  let rest = withoutAffixes(withoutDirection(text).trim(), affixes, locale);
  const negative = rest.startsWith("-") || rest.startsWith("\u2212") || (minus !== "" && rest.startsWith(minus));
  if (negative) rest = rest.slice(rest.startsWith(minus) ? minus.length : 1).trimStart();
  rest = toAsciiDigits(rest, digits);
  const plain = unseparated(rest, { decimal, group, lastGroup, otherGroups });
  if (plain === undefined) return undefined;
  const signed = negative ? `-${plain}` : plain;
  return affixes.percent ? shifted(signed, -2) : signed;
}

const plainDigits = /^\d+$/;
const plainDecimal = /^\d+(?:\.\d+)?$/;

/** The sign stands behind the number or, as in Turkish and Basque, in front of it; a minus sign may come before it. */
function withoutPercent(text: string): string {
  const signs = "%\u066a\ufe6a\uff05";
  const isSign = (letter: string | undefined): boolean => letter !== undefined && signs.includes(letter);
  if (isSign(text.at(-1))) return text.slice(0, -1).trimEnd();
  const [, minus = "", rest = text] = /^([-\u2212]?)(.*)$/su.exec(text) ?? [];
  return isSign(rest[0]) ? minus + rest.slice(1).trimStart() : text;
}

function withoutAffixes(text: string, { units, percent }: NumberAffixes, locale: string): string {
  if (units.length === 0 && !percent) return text;
  if (percent) return withoutPercent(text);
  const lower = text.toLocaleLowerCase(locale);
  for (const unit of units) {
    if (lower.endsWith(unit.toLocaleLowerCase(locale))) return text.slice(0, text.length - unit.length).trimEnd();
  }
  return text;
}

function toAsciiDigits(text: string, digits: readonly string[]): string {
  return [...text]
    .map((letter) => {
      const digit = digits.indexOf(letter);
      return digit === -1 ? letter : String(digit);
    })
    .join("");
}

type Separators = Pick<NumberMarks, "decimal" | "group" | "lastGroup" | "otherGroups">;

/** The digits with a point, or `undefined` when the separators do not make a number. */
function unseparated(text: string, separators: Separators): string | undefined {
  const match = /^(?:\d|[^\d\s-](?=\d)|[\s\u00a0\u202f\u2009](?=\d))+[^\d\s-]?$/u.exec(text);
  if (match === null) return undefined;
  const found = [...text].filter((letter) => letter < "0" || letter > "9");
  if (found.length === 0) return text;
  const { decimal } = separators;
  const places = found.filter((letter) => letter === decimal).length;
  if (places === 1 && text.lastIndexOf(decimal) > lastOther(text, decimal)) {
    const [whole, part] = text.split(decimal) as [string, string];
    const left = ungrouped(whole, separators);
    if (left !== undefined) return point(left, part);
  }
  const grouped = ungrouped(text, separators);
  if (grouped !== undefined) return grouped;
  const only = found.length === 1 ? found[0]! : undefined;
  if (only === undefined || !".,\u066b\u00b7".includes(only)) return undefined;
  const [whole, part] = text.split(only) as [string, string];
  return point(whole, part);
}

const lastOther = (text: string, decimal: string): number =>
  [...text].reduce((last, letter, place) => ((letter < "0" || letter > "9") && letter !== decimal ? place : last), -1);

const point = (whole: string, part: string): string | undefined =>
  whole === "" && part === "" ? undefined : `${whole === "" ? "0" : whole}${part === "" ? "" : `.${part}`}`;

/** The digits of a whole number without its grouping, or `undefined` when the grouping is not complete. */
function ungrouped(text: string, { group, lastGroup, otherGroups }: Separators): string | undefined {
  if (/^\d*$/.test(text)) return text;
  const separator = [...text].find((letter) => letter < "0" || letter > "9")!;
  if (separator !== group && !ANY_GROUP.includes(separator)) return undefined;
  const groups = text.split(separator);
  const [first, ...others] = groups as [string, ...string[]];
  if (!/^[1-9]\d*$/.test(first) || others.some((each) => !/^\d+$/.test(each))) return undefined;
  const last = others.pop()!;
  const whole =
    first.length <= otherGroups && last.length === lastGroup && others.every((each) => each.length === otherGroups);
  return whole ? groups.join("") : undefined;
}

/** Moves the point of a number written as text, so that no digit is lost to binary fractions. */
export function shifted(plain: string, places: number): string {
  const negative = plain.startsWith("-");
  const [whole, part = ""] = (negative ? plain.slice(1) : plain).split(".") as [string, string?];
  const all = whole + part;
  const at = whole.length + places;
  const padded = at <= 0 ? "0".repeat(1 - at) + all : all.padEnd(at, "0");
  const cut = at <= 0 ? 1 : at;
  const left = padded.slice(0, cut).replace(/^0+(?=\d)/, "");
  const right = padded.slice(cut).replace(/0+$/, "");
  return (negative && /[1-9]/.test(left + right) ? "-" : "") + left + (right === "" ? "" : `.${right}`);
}

/** A number as text with ASCII digits and a point, in full and with no exponent. */
export function plainNumber(value: number): string {
  const text = String(value);
  const exponent = /^(-?)(\d+)(?:\.(\d+))?e([+-]\d+)$/.exec(text);
  if (exponent === null) return text;
  const [, sign, whole, part = "", power] = exponent;
  return shifted(`${sign!}${whole!}${part === "" ? "" : `.${part}`}`, Number(power));
}

/** The text to edit a number with: full precision in the locale's digits and decimal sign, no grouping, no unit. */
export function editingNumber(plain: string, locale: string, percent = false): string {
  const { digits, decimal } = numberMarks(locale);
  const text = percent ? shifted(plain, 2) : plain;
  return [...text].map((letter) => (letter === "." ? decimal : (digits[letter.charCodeAt(0) - 48] ?? letter))).join("");
}

const unitTexts = new Map<string, readonly string[]>();

/** The ways a locale writes a unit behind a number, longest first; a unit that `Intl` does not know stands for itself. */
export function unitWays(locale: string, unit: string): readonly string[] {
  const key = `${locale} ${unit}`;
  let ways = unitTexts.get(key);
  if (ways === undefined) {
    ways = findUnitWays(locale, unit);
    unitTexts.set(key, ways);
  }
  return ways;
}

function findUnitWays(locale: string, unit: string): readonly string[] {
  const ways = new Set<string>([unit]);
  if (isKnownUnit(unit))
    for (const unitDisplay of ["long", "short", "narrow"] as const)
      for (const count of [0, 1, 2, 3, 5, 11, 100, 1.5])
        for (const part of new Intl.NumberFormat(locale, { style: "unit", unit, unitDisplay }).formatToParts(count))
          if (part.type === "unit") ways.add(withoutDirection(part.value).trim());
  ways.delete("");
  return [...ways].sort((a, b) => b.length - a.length);
}

/** Whether `Intl` has words for a unit: one of ECMA-402's simple units, or two of them with `-per-` between. */
export function isKnownUnit(unit: string): boolean {
  const units = Intl.supportedValuesOf("unit");
  return unit.split("-per-").every((each) => units.includes(each));
}

const formats = new Map<string, Intl.NumberFormat>();

/** A formatter, made once for each locale and set of options: making one costs more than a thousand uses. */
export function numberFormat(locale: string, options: Intl.NumberFormatOptions): Intl.NumberFormat {
  const key = `${locale} ${JSON.stringify(options)}`;
  let format = formats.get(key);
  if (format === undefined) {
    format = new Intl.NumberFormat(locale, options);
    formats.set(key, format);
  }
  return format;
}
