import { Decimal } from "../../notation/index.ts";
import type { Reach } from "./kind.ts";
import { isWithin, type Range } from "./range.ts";

/** What says where a spinner of exact decimals goes. */
export interface DecimalStepLimits extends Range<string> {
  readonly multipleOf?: string | undefined;
  readonly step?: string | undefined;
}

interface Grid {
  readonly base: Decimal;
  readonly step: Decimal;
  readonly least: Decimal | undefined;
  readonly greatest: Decimal | undefined;
}

/** The value on the grid that is not more than another. */
function floorOn(value: Decimal, step: Decimal, base: Decimal): Decimal {
  const places = value.subtract(base).divide(step, { digits: 0, rounding: "trunc" });
  const near = base.add(places.multiply(step));
  return near.compare(value) > 0 ? near.subtract(step) : near;
}

/** The value on the grid that is not less than another. */
function ceilingOn(value: Decimal, step: Decimal, base: Decimal): Decimal {
  const floor = floorOn(value, step, base);
  return floor.compare(value) < 0 ? floor.add(step) : floor;
}

const compare = (value: Decimal, limit: string): number => value.compare(limit);
const zero = Decimal.of(0);
const more = (a: Decimal | undefined, b: Decimal | undefined): Decimal | undefined =>
  a === undefined || (b !== undefined && b.compare(a) > 0) ? b : a;
const less = (a: Decimal | undefined, b: Decimal | undefined): Decimal | undefined =>
  a === undefined || (b !== undefined && b.compare(a) < 0) ? b : a;
const decimalOf = (text: string | undefined): Decimal | undefined =>
  text === undefined ? undefined : Decimal.of(text);

/** The grid begins at the minimum, as HTML's `stepUp()` has it; where only multiples are right, at the first of them. */
function gridOf(limits: DecimalStepLimits): Grid {
  const [minimum, maximum, over, under, multiple] = [
    limits.minimum,
    limits.maximum,
    limits.exclusiveMinimum,
    limits.exclusiveMaximum,
    limits.multipleOf,
  ].map(decimalOf);
  const step = decimalOf(limits.step) ?? multiple ?? Decimal.of(1);
  const first = minimum !== undefined && multiple !== undefined ? ceilingOn(minimum, multiple, zero) : minimum;
  const last = maximum !== undefined && multiple !== undefined ? floorOn(maximum, multiple, zero) : maximum;
  const base = first ?? zero;
  return {
    base,
    step,
    least: more(first, over === undefined ? undefined : floorOn(over, step, base).add(step)),
    greatest: less(last, under === undefined ? undefined : ceilingOn(under, step, base).subtract(step)),
  };
}

/** The least and the greatest value that a spinner offers: by steps where some lead inside the limits, else the limits. */
export function decimalReach(limits: DecimalStepLimits): Reach<Decimal> {
  const hasSteps = limits.step !== undefined || limits.multipleOf !== undefined;
  const grid = hasSteps ? gridOf(limits) : undefined;
  if (grid !== undefined && hasRoom(grid)) return grid;
  return {
    least: more(decimalOf(limits.minimum), decimalOf(limits.exclusiveMinimum)),
    greatest: less(decimalOf(limits.maximum), decimalOf(limits.exclusiveMaximum)),
  };
}

const hasRoom = ({ least, greatest }: Grid): boolean =>
  least === undefined || greatest === undefined || least.compare(greatest) <= 0;

/**
 * The value after so many steps, exactly. From blank, the first step gives the least value, or one step from 0. Where no step leads
 * inside the limits, the value stays.
 */
export function decimalStepped(
  value: Decimal | undefined,
  times: number,
  limits: DecimalStepLimits,
): Decimal | undefined {
  const grid = gridOf(limits);
  if (!hasRoom(grid)) return value;
  const { base, step, least, greatest } = grid;
  const distance = step.multiply(times);
  // From between two steps, the first one leads to the next on the grid.
  const start = value === undefined ? zero : (times > 0 ? floorOn : ceilingOn)(value, step, base);
  const next = value === undefined && least !== undefined ? least : start.add(distance);
  const reached = less(greatest, more(least, next))!;
  // At the end of the grid, a step up from a right value never leads down.
  const isAgainst = value !== undefined && reached.compare(value) * times < 0 && isWithin(value, limits, compare);
  return isAgainst ? value : reached;
}
