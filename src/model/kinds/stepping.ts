import { plainNumber } from "../../notation/index.ts";

/** Limits of a spinner. */
export interface StepLimits {
  readonly minimum?: number | undefined;
  readonly maximum?: number | undefined;
  readonly multipleOf?: number | undefined;
  readonly step?: number | undefined;
}

/**
 * The value after so many steps: on the grid of steps that begins at the minimum (as HTML's `stepUp()`), inside the
 * limits, and without the dust of binary fractions. From blank, the first step gives the minimum, or one step from 0.
 */
export function stepped(value: number | undefined, times: number, limits: StepLimits): number {
  const step = limits.step ?? limits.multipleOf ?? 1;
  const { minimum = -Infinity, maximum = Infinity } = limits;
  const base = Number.isFinite(minimum) ? minimum : 0;
  if (value === undefined) return clamped(Number.isFinite(minimum) ? minimum : times * step, minimum, maximum);
  const place = (value - base) / step;
  const near = Math.round(place);
  const onGrid = Math.abs(place - near) < 1e-9;
  const before = times > 0 ? Math.floor(place) : Math.ceil(place);
  const from = onGrid ? near : before;
  const digits = Math.max(fractionDigits(step), fractionDigits(base));
  return clamped(Number((base + (from + times) * step).toFixed(digits)), minimum, maximum);
}

const clamped = (value: number, minimum: number, maximum: number): number =>
  Math.min(maximum, Math.max(minimum, value));
const fractionDigits = (value: number): number => plainNumber(value).split(".")[1]?.length ?? 0;
