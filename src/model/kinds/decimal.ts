import { requireRange, requireValues } from "../../errors/index.ts";
import { sayOfValues } from "../sayOfValues.ts";
import { Decimal, editingNumber, isKnownUnit, numberFormat, readPlain, unitWays } from "../../notation/index.ts";
import {
  checkOptions,
  type CommonOptions,
  type Finding,
  type Kind,
  nothingFound,
  optionsOf,
  type Reading,
  type Sure,
  readAs,
} from "./kind.ts";
import { decimalReach, decimalStepped } from "./decimalSteps.ts";
import { numericKeyboard } from "./number.ts";
import { limitsIn } from "./range.ts";

/** Options of `decimal`. */
export interface DecimalOptions extends CommonOptions<Decimal> {
  /** The least that is right, included; a text such as `"0.50"`. */
  readonly minimum?: string | undefined;
  /** The most that is right, included. */
  readonly maximum?: string | undefined;
  /** A right value is greater than this. */
  readonly exclusiveMinimum?: string | undefined;
  /** A right value is less than this. */
  readonly exclusiveMaximum?: string | undefined;
  /** Such as `"0.01"` for amounts of money. */
  readonly multipleOf?: string | undefined;
  /** What a spinner moves by; it is no constraint. Without it, `multipleOf`, else 1. */
  readonly step?: string | undefined;
  /** Its unit, as ECMA-402 has it: `meter`, `kilogram`. It is shown, and may be typed. */
  readonly unit?: string | undefined;
  /** How it is shown: ECMA-402's options of `Intl.NumberFormat`. The stored value is never rounded. */
  readonly display?: Intl.NumberFormatOptions | undefined;
}

/**
 * An exact decimal number, as of money. Blank is `undefined`. In JSON it is a text.
 *
 * @throws `unknownOption`, `wrongOption`
 * @example decimal({ title: "Budget", minimum: "0", multipleOf: "0.01", display: { minimumFractionDigits: 2 } })
 */
export function decimal<const O extends DecimalOptions>(options?: O): Kind<Decimal, undefined, Sure<O>> {
  const given: DecimalOptions = optionsOf("decimal", options as DecimalOptions | undefined);
  requireValues("decimal", given, decimalNames, isDecimalText, 'a text such as "0.01"');
  const isPositive = (value: unknown): boolean => Decimal.of(value as string).compare(0) > 0;
  requireValues("decimal", given, ["multipleOf", "step"], isPositive, "more than 0");
  const { multipleOf } = given;
  const isOfMultiple = (value: unknown): boolean =>
    multipleOf === undefined || isMultiple(Decimal.of(value as string), multipleOf);
  requireValues("decimal", given, ["step"], isOfMultiple, `a multiple of the multipleOf, ${multipleOf}`);
  requireRange<string>("decimal", given, (a, b) => Decimal.of(a).compare(b));
  const percent = given.display?.style === "percent";
  const show = (value: Decimal | undefined, locale: string): string =>
    value === undefined ? "" : shownDecimal(value, locale, given);
  const kind: Kind<Decimal, undefined, Sure<O>> = {
    kind: "decimal",
    options: given,
    empty: undefined,
    expects: 'a Decimal, as of Decimal.of("12.50")',
    say: sayOfValues,
    missing: "valueMissing",
    inputMode: keyboardOf(given),
    stepped: (value, times) => decimalStepped(value, times, given),
    get reach() {
      return decimalReach(given);
    },
    isBlank: (value) => value === undefined,
    same: (a, b) => a === b || (a !== undefined && b !== undefined && a.compare(b) === 0),
    belongs: (value) => value instanceof Decimal,
    revive: (json) => (isDecimalText(json) ? Decimal.of(json) : json),
    read(text, locale): Reading<Decimal | undefined> {
      if (text.trim() === "") return readAs(undefined);
      const units = given.unit === undefined ? [] : unitWays(locale, given.unit);
      const plain = readPlain(text, locale, { units, percent });
      if (plain !== undefined) return readAs(Decimal.of(plain));
      const example = editingNumber(exampleOf(given).toString(), locale, percent);
      return { ok: false, finding: { code: "badInput", message: "badNumber", facts: { example } } };
    },
    edit: (value, locale) => (value === undefined ? "" : editingNumber(value.toString(), locale, percent)),
    show,
    check: (value, locale) => checkDecimal(value, given, (limit) => show(Decimal.of(limit), locale)),
  };
  checkOptions(kind, [...decimalNames, "unit", "display"]);
  return kind;
}

const isDecimalText = (value: unknown): value is string => typeof value === "string" && /^-?\d+(\.\d+)?$/.test(value);

const decimalNames = ["minimum", "maximum", "exclusiveMinimum", "exclusiveMaximum", "multipleOf", "step"] as const;

function keyboardOf({ minimum, exclusiveMinimum }: DecimalOptions): "decimal" | "numeric" | "text" {
  const least = minimum ?? exclusiveMinimum;
  return numericKeyboard(least === undefined ? undefined : Number(least), false);
}

/** A number that could be entered, for the message about one that can't be read. */
function exampleOf(options: DecimalOptions): Decimal {
  const sample = Decimal.of("12.5");
  const isRight = checkDecimal(sample, options, String).length === 0;
  return options.examples?.[0] ?? (isRight ? sample : (decimalStepped(undefined, 1, options) ?? sample));
}

function shownDecimal(value: Decimal, locale: string, { unit, display = {} }: DecimalOptions): string {
  const known = unit !== undefined && isKnownUnit(unit);
  const style = known ? ({ style: "unit", unit } as const) : {};
  // A text is formatted exactly, to any number of digits.
  const text = numberFormat(locale, { maximumFractionDigits: 20, ...display, ...style }).format(
    value.toString() as `${number}`,
  );
  return unit === undefined || known ? text : `${text}\u00a0${unit}`;
}

function checkDecimal(value: Decimal, options: DecimalOptions, show: (limit: string) => string): readonly Finding[] {
  const { multipleOf } = options;
  const found: Finding[] = [];
  for (const { limit, code, message, isBroken } of limitsIn<string>(options))
    if (isBroken(value.compare(limit))) found.push({ code, message, facts: { limit: show(limit) } });
  if (multipleOf !== undefined && !isMultiple(value, multipleOf))
    found.push({ code: "stepMismatch", message: "stepMismatch", facts: { limit: show(multipleOf) } });
  return found.length === 0 ? nothingFound : found;
}

const isMultiple = (value: Decimal, step: string): boolean =>
  value.divide(step, { digits: 0, rounding: "trunc" }).multiply(step).compare(value) === 0;
