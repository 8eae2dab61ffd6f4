import { sayOfValues } from "../sayOfValues.ts";
import { Decimal, editingNumber, isKnownUnit, numberFormat, readPlain, unitWays } from "../../notation/index.ts";
import {
  checkOptions,
  type CommonOptions,
  type Finding,
  type Kind,
  nothingFound,
  type Reading,
  requireOption,
  type Sure,
  readAs,
} from "./kind.ts";
import { numericKeyboard } from "./number.ts";

/** Options of `decimal`. */
export interface DecimalOptions extends CommonOptions<Decimal> {
  /** The least that is right, included; a text such as `"0.50"`. */
  readonly minimum?: string | undefined;
  /** The most that is right, included. */
  readonly maximum?: string | undefined;
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
  const given: DecimalOptions = options ?? {};
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
    inputMode: numericKeyboard(given.minimum === undefined ? undefined : Number(given.minimum), false),
    stepped: (value, times) => steppedDecimal(value, times, given),
    isBlank: (value) => value === undefined,
    same: (a, b) => a === b || (a !== undefined && b !== undefined && a.compare(b) === 0),
    belongs: (value) => value instanceof Decimal,
    revive: (json) => (typeof json === "string" && /^-?\d+(\.\d+)?$/.test(json) ? Decimal.of(json) : json),
    read(text, locale): Reading<Decimal | undefined> {
      if (text.trim() === "") return readAs(undefined);
      const units = given.unit === undefined ? [] : unitWays(locale, given.unit);
      const plain = readPlain(text, locale, { units, percent });
      if (plain !== undefined) return readAs(Decimal.of(plain));
      const example = editingNumber((given.examples?.[0] ?? Decimal.of("12.5")).toString(), locale, percent);
      return { ok: false, finding: { code: "badInput", message: "badNumber", facts: { example } } };
    },
    edit: (value, locale) => (value === undefined ? "" : editingNumber(value.toString(), locale, percent)),
    show,
    check: (value, locale) => checkDecimal(value, given, (limit) => show(Decimal.of(limit), locale)),
  };
  checkOptions(kind, ["minimum", "maximum", "multipleOf", "step", "unit", "display"]);
  for (const name of ["minimum", "maximum", "multipleOf", "step"] as const)
    if (given[name] !== undefined)
      requireOption(/^-?\d+(\.\d+)?$/.test(given[name]), "decimal", name, given[name], 'a text such as "0.01"');
  return kind;
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
  const { minimum, maximum, multipleOf } = options;
  const found: Finding[] = [];
  if (minimum !== undefined && value.compare(minimum) < 0)
    found.push({ code: "rangeUnderflow", message: "rangeUnderflow", facts: { limit: show(minimum) } });
  if (maximum !== undefined && value.compare(maximum) > 0)
    found.push({ code: "rangeOverflow", message: "rangeOverflow", facts: { limit: show(maximum) } });
  if (multipleOf !== undefined && !isMultiple(value, multipleOf))
    found.push({ code: "stepMismatch", message: "stepMismatch", facts: { limit: show(multipleOf) } });
  return found.length === 0 ? nothingFound : found;
}

const isMultiple = (value: Decimal, step: string): boolean =>
  value.divide(step, { digits: 0, rounding: "trunc" }).multiply(step).compare(value) === 0;

/** So many steps on, exactly: on the grid of steps that begins at the minimum, and inside the limits. */
function steppedDecimal(value: Decimal | undefined, times: number, options: DecimalOptions): Decimal {
  const step = Decimal.of(options.step ?? options.multipleOf ?? "1");
  const base = Decimal.of(options.minimum ?? "0");
  let next = base;
  if (value !== undefined) {
    const place = value.subtract(base).divide(step, { digits: 0, rounding: "trunc" });
    const near = base.add(place.multiply(step));
    // From between two steps, the first one leads to the next on the grid.
    const isOnTheWay = near.compare(value) === 0 || times > 0 === value.compare(near) > 0;
    const whole = isOnTheWay ? times : times + Math.sign(-times);
    next = near.add(step.multiply(String(whole)));
  } else if (options.minimum === undefined) next = step.multiply(String(times));
  if (options.minimum !== undefined && next.compare(options.minimum) < 0) return Decimal.of(options.minimum);
  return options.maximum !== undefined && next.compare(options.maximum) > 0 ? Decimal.of(options.maximum) : next;
}
