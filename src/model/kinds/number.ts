import { requireRange, requireValues } from "../../errors/index.ts";
import { sayOfValues } from "../sayOfValues.ts";
import {
  editingNumber,
  isKnownUnit,
  type NumberAffixes,
  numberFormat,
  numberReader,
  plainNumber,
  unitWays,
} from "../../notation/index.ts";
import {
  checkOptions,
  type CommonOptions,
  type Finding,
  type Kind,
  nothingFound,
  optionsOf,
  type Reading,
  type Sure,
  type Sureness,
  readAs,
  withGiven,
} from "./kind.ts";
import { inEachLocale } from "./inEachLocale.ts";
import { type GivenLimit, limitsIn, sampleWithin } from "./range.ts";
import { reachOf, stepped } from "./stepping.ts";

/** Options of `number` and `integer`. */
export interface NumberOptions extends CommonOptions<number> {
  /** The least that is right, included. */
  readonly minimum?: number | undefined;
  /** The most that is right, included. */
  readonly maximum?: number | undefined;
  /** A right value is greater than this. */
  readonly exclusiveMinimum?: number | undefined;
  /** A right value is less than this. */
  readonly exclusiveMaximum?: number | undefined;
  /** A right value is a multiple of this. */
  readonly multipleOf?: number | undefined;
  /** What a spinner moves by; it is no constraint. Without it, `multipleOf`, else 1. */
  readonly step?: number | undefined;
  /** A unit of ECMA-402, as `centimeter`, or a word of your own; it is shown behind the number and may be typed. */
  readonly unit?: string | undefined;
  /** How the number is shown: ECMA-402's options of `Intl.NumberFormat`. The stored value is never rounded. */
  readonly display?: Intl.NumberFormatOptions | undefined;
  /** The one number that is right. */
  readonly const?: number | undefined;
}

/** Options of `integer`. */
export interface IntegerOptions extends NumberOptions {
  /**
   * That the place where a row is kept gives it a running number. Blank until then; nobody else can change it. As the key of a model it is
   * a negative number until then, which is shown as blank.
   */
  readonly given?: "number" | undefined;
}

const stepNames = ["multipleOf", "step"] as const;

const optionNames = [
  "minimum",
  "maximum",
  "exclusiveMinimum",
  "exclusiveMaximum",
  "multipleOf",
  "step",
  "unit",
  "display",
  "const",
] as const;

/**
 * A number: JavaScript's, so exact to about 15 digits. Blank is `undefined`.
 *
 * @throws `unknownOption`, `wrongOption`
 * @example number({ title: "Girth", unit: "centimeter", minimum: 0, display: { maximumFractionDigits: 1 } })
 */
export function number<const O extends NumberOptions>(options?: O): Kind<number, undefined, Sure<O>> {
  return numeric(
    "number",
    optionsOf("number", options),
    (value) => typeof value === "number" && Number.isFinite(value),
  );
}

/**
 * A whole number. Blank is `undefined`.
 *
 * @throws `unknownOption`, `wrongOption`
 * @example integer({ minimum: 1, maximum: 12, default: 1 })
 */
export function integer<const O extends IntegerOptions>(options?: O): Kind<number, undefined, Sure<O>> {
  return numeric("integer", withGiven<IntegerOptions>("integer", optionsOf("integer", options), ["number"]), (value) =>
    Number.isSafeInteger(value),
  );
}

function inputModeFor(whole: boolean, minimum: number | undefined): "numeric" | "decimal" | "text" {
  // The keyboards for numbers of some telephones have no minus sign.
  if (minimum === undefined || minimum < 0) return "text";
  return whole ? "numeric" : "decimal";
}

function numeric<S extends Sureness>(
  name: "number" | "integer",
  options: IntegerOptions,
  belongs: (value: unknown) => boolean,
): Kind<number, undefined, S> {
  const whole = name === "integer";
  requireValues(
    name,
    options,
    ["minimum", "maximum", "exclusiveMinimum", "exclusiveMaximum", ...stepNames],
    Number.isFinite,
    "a finite number",
  );
  requireValues(name, options, stepNames, (value) => (value as number) > 0, "more than 0");
  requireValues(name, whole ? options : {}, stepNames, Number.isInteger, "a whole number");
  const isOfMultiple = (value: unknown): boolean =>
    isMultiple(value as number, options.multipleOf ?? (value as number));
  requireValues(name, options, ["step"], isOfMultiple, `a multiple of the multipleOf, ${String(options.multipleOf)}`);
  requireRange<number>(name, options, (a, b) => a - b);
  const message = whole ? "badInteger" : "badNumber";
  const percent = options.display?.style === "percent";
  const shown = inEachLocale((locale) => newShow(options, locale, whole));
  /** A number for now, until the place gives one, is not shown. */
  const isHidden = (value: number | undefined): value is undefined =>
    value === undefined || (value < 0 && options.given !== undefined);
  const show = (value: number | undefined, locale: string): string => (isHidden(value) ? "" : shown(locale)(value));
  const readIn = inEachLocale((locale) => numberReader(locale, affixesOf(options, percent, locale)));
  const onWhole = { ...options, multipleOf: options.multipleOf ?? (whole ? 1 : undefined) };
  const example = inEachLocale((locale) =>
    editingNumber(plainNumber(options.examples?.[0] ?? exampleOf(onWhole, whole)), locale, percent),
  );
  const { minimum = -Infinity, maximum = Infinity } = options;
  const onlyThese = onlyRange(options);
  const limits = limitsIn(options);
  const kind: Kind<number, undefined, S> = {
    kind: name,
    options,
    empty: undefined,
    expects: whole ? "a whole number" : "a finite number",
    say: sayOfValues,
    missing: "valueMissing",
    inputMode: numericKeyboard(
      options.minimum ?? options.exclusiveMinimum,
      whole || Number.isInteger(options.multipleOf),
    ),
    stepped: (value, times) => stepped(value, times, onWhole),
    get reach() {
      return reachOf(onWhole);
    },
    isBlank: (value) => value === undefined,
    same: (a, b) => a === b,
    belongs,
    read(text, locale): Reading<number | undefined> {
      const value = readIn(locale)(text);
      if (value !== undefined && belongs(value)) return readAs(value);
      if (text.trim() === "") return readAs(undefined);
      return { ok: false, finding: { code: "badInput", message, facts: { example: example(locale) } } };
    },
    edit: (value, locale) => (isHidden(value) ? "" : editingNumber(plainNumber(value), locale, percent)),
    show,
    check: (value, locale) =>
      onlyThese && value >= minimum && value <= maximum
        ? nothingFound
        : checkNumber(value, limits, options, (limit) => show(limit, locale)),
  };
  checkOptions(kind, whole ? [...optionNames, "given"] : optionNames);
  return kind;
}

/** Whether a number is right wherever it is inside its minimum and maximum: told at once, at each key. */
const onlyRange = ({ exclusiveMinimum, exclusiveMaximum, multipleOf, const: only }: NumberOptions): boolean =>
  [exclusiveMinimum, exclusiveMaximum, multipleOf, only].every((option) => option === undefined);

/** The keyboard of `numeric` and of `decimal` has no minus sign on some devices. */
export const numericKeyboard = (minimum: number | undefined, whole: boolean): "numeric" | "decimal" | "text" =>
  inputModeFor(whole, minimum);

const affixesOf = (options: NumberOptions, percent: boolean, locale: string): NumberAffixes => ({
  units: options.unit === undefined ? [] : unitWays(locale, options.unit),
  percent,
});

/** A number that could be entered, for the message about one that can't be read: plain, and inside the limits. */
function exampleOf(options: NumberOptions, whole: boolean): number {
  const {
    minimum,
    maximum,
    multipleOf,
    exclusiveMinimum: over = -Infinity,
    exclusiveMaximum: under = Infinity,
  } = options;
  const sample = whole ? 12 : 31.5;
  const isAllowed = multipleOf === undefined || isMultiple(sample, multipleOf);
  if (!isAllowed || sample <= over || sample >= under) return stepped(undefined, 1, options) ?? (over + under) / 2;
  return sampleWithin(sample, minimum, maximum, (a, b) => a - b);
}

type Show = (value: number) => string;

/** Shows a number as its field says. */
function newShow({ unit, display = {} }: NumberOptions, locale: string, whole: boolean): Show {
  const asItIs = whole || display.maximumFractionDigits !== undefined || display.style !== undefined;
  const known = unit !== undefined && isKnownUnit(unit);
  const style = known ? ({ style: "unit", unit } as const) : {};
  // eslint-disable-next-line @typescript-eslint/unbound-method -- ECMA-402 has it give a function bound to its format
  const { format } = numberFormat(locale, { ...(asItIs ? {} : { maximumFractionDigits: 6 }), ...display, ...style });
  return unit === undefined || known ? format : (value) => `${format(value)}\u00a0${unit}`;
}

function checkNumber(
  value: number,
  limits: readonly GivenLimit<number>[],
  { multipleOf, const: only }: NumberOptions,
  show: (limit: number) => string,
): readonly Finding[] {
  const found: Finding[] = [];
  for (const { limit, code, message, isBroken } of limits)
    if (isBroken(value - limit)) found.push({ code, message, facts: { limit: show(limit) } });
  if (multipleOf !== undefined && !isMultiple(value, multipleOf))
    found.push({ code: "stepMismatch", message: "stepMismatch", facts: { limit: show(multipleOf) } });
  if (only !== undefined && value !== only)
    found.push({ code: "notConst", message: "notConst", facts: { value: show(only) } });
  return found.length === 0 ? nothingFound : found;
}

/** Whether a number is a multiple of another to the precision that binary fractions have: 0.3 is one of 0.1. */
function isMultiple(value: number, step: number): boolean {
  const times = value / step;
  return Math.abs(times - Math.round(times)) <= Number.EPSILON * Math.max(1, Math.abs(times)) * 4;
}
