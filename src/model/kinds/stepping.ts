import { plainNumber } from "../../notation/index.ts";
import type { Reach } from "./kind.ts";
import { isWithin, type Range } from "./range.ts";

/** What says where a spinner goes. */
export interface StepLimits extends Range<number> {
  readonly multipleOf?: number | undefined;
  readonly step?: number | undefined;
}

/** The values that steps lead to: `base`, and so many steps from it, inside limits that are both included. */
interface Grid {
  readonly base: number;
  readonly step: number;
  readonly least: number;
  readonly greatest: number;
  /** The value so many steps from the base. */
  readonly at: (place: number) => number;
}

/** How far a quotient of binary fractions may be from the whole number that it means. */
const DUST = 1e-9;

/** The grid begins at the minimum, as HTML's `stepUp()` has it; where only multiples are right, at the first of them. */
function gridOf(limits: StepLimits): Grid {
  const { minimum = -Infinity, maximum = Infinity, multipleOf } = limits;
  const { exclusiveMinimum: over = -Infinity, exclusiveMaximum: under = Infinity } = limits;
  const step = limits.step ?? multipleOf ?? 1;
  const start = Number.isFinite(minimum) ? minimum : 0;
  const base = multipleOf === undefined ? start : withoutDust(Math.ceil(start / multipleOf - DUST), multipleOf, 0);
  const at = (place: number): number => withoutDust(place, step, base);
  const overPlace = Math.floor((over - base) / step + DUST) + 1;
  const underPlace = Math.ceil((under - base) / step - DUST) - 1;
  const last = multipleOf === undefined ? maximum : withoutDust(Math.floor(maximum / multipleOf + DUST), multipleOf, 0);
  return {
    base,
    step,
    at,
    least: Math.max(minimum === -Infinity ? minimum : base, Number.isFinite(over) ? at(overPlace) : -Infinity),
    greatest: Math.min(maximum === Infinity ? maximum : last, Number.isFinite(under) ? at(underPlace) : Infinity),
  };
}

/** So many steps from a base, without the dust of binary fractions. */
function withoutDust(place: number, step: number, base: number): number {
  const digits = Math.max(fractionDigits(step), fractionDigits(base));
  return Number((base + place * step).toFixed(digits));
}

const fractionDigits = (value: number): number => plainNumber(value).split(".")[1]?.length ?? 0;

/**
 * The least and the greatest value that a control offers: by steps where some lead inside the limits, else the limits, even those
 * that are excluded, since no value is next to them.
 */
export function reachOf(limits: StepLimits): Reach<number> {
  const { minimum = -Infinity, maximum = Infinity, exclusiveMinimum = -Infinity, exclusiveMaximum = Infinity } = limits;
  const hasSteps = limits.step !== undefined || limits.multipleOf !== undefined;
  const bySteps = hasSteps ? gridOf(limits) : undefined;
  const { least, greatest } =
    bySteps !== undefined && bySteps.least <= bySteps.greatest
      ? bySteps
      : { least: Math.max(minimum, exclusiveMinimum), greatest: Math.min(maximum, exclusiveMaximum) };
  const orNone = (limit: number): number | undefined => (Number.isFinite(limit) ? limit : undefined);
  return { least: orNone(least), greatest: orNone(greatest) };
}

/**
 * The value after so many steps, inside the limits. From blank, the first step gives the least value, or one step from 0. Where no step
 * leads inside the limits, the value stays.
 */
export function stepped(value: number | undefined, times: number, limits: StepLimits): number | undefined {
  const { base, step, at, least, greatest } = gridOf(limits);
  if (least > greatest) return value;
  const clamped = (next: number): number => Math.min(greatest, Math.max(least, next));
  if (value === undefined) return clamped(Number.isFinite(least) ? least : times * step);
  const place = (value - base) / step;
  const near = Math.round(place);
  const isOnGrid = Math.abs(place - near) < DUST;
  const before = times > 0 ? Math.floor(place) : Math.ceil(place);
  const next = clamped(at((isOnGrid ? near : before) + times));
  // At the end of the grid, a step up from a right value never leads down.
  const isAgainst = (next - value) * times < 0 && isWithin(value, limits, (a, b) => a - b);
  return isAgainst ? value : next;
}
