import { plainNumber } from "../../notation/index.ts";

/** Limits of a spinner. */
export interface StepLimits {
  readonly minimum?: number | undefined;
  readonly maximum?: number | undefined;
  readonly exclusiveMinimum?: number | undefined;
  readonly exclusiveMaximum?: number | undefined;
  readonly multipleOf?: number | undefined;
  readonly step?: number | undefined;
}

/**
 * The value after so many steps: on the grid of steps that begins at the minimum (as HTML's `stepUp()`), inside the
 * limits, and without the dust of binary fractions. From blank, the first step gives the minimum, or one step from 0.
 */
export function stepped(value: number | undefined, times: number, limits: StepLimits): number {
  const step = limits.step ?? limits.multipleOf ?? 1;
  const { exclusiveMinimum: over = -Infinity, exclusiveMaximum: under = Infinity } = limits;
  const base = limits.minimum ?? 0;
  const digits = Math.max(fractionDigits(step), fractionDigits(base));
  /** The value at a place of the grid, without the dust of binary fractions. */
  const at = (place: number): number => Number((base + place * step).toFixed(digits));
  const overPlace = Math.floor((over - base) / step + 1e-9) + 1;
  const underPlace = Math.ceil((under - base) / step - 1e-9) - 1;
  const minimum = Math.max(limits.minimum ?? -Infinity, Number.isFinite(over) ? at(overPlace) : -Infinity);
  const maximum = Math.min(limits.maximum ?? Infinity, Number.isFinite(under) ? at(underPlace) : Infinity);
  if (value === undefined) return clamped(Number.isFinite(minimum) ? minimum : times * step, minimum, maximum);
  const place = (value - base) / step;
  const near = Math.round(place);
  const onGrid = Math.abs(place - near) < 1e-9;
  const before = times > 0 ? Math.floor(place) : Math.ceil(place);
  const from = onGrid ? near : before;
  return clamped(at(from + times), minimum, maximum);
}

const clamped = (value: number, minimum: number, maximum: number): number =>
  Math.min(maximum, Math.max(minimum, value));
const fractionDigits = (value: number): number => plainNumber(value).split(".")[1]?.length ?? 0;
