import type { KindName } from "./kind.ts";
import { requireOption } from "./kind.ts";

/** Limits of values that have an order. */
export interface Range<Limit> {
  readonly minimum?: Limit | undefined;
  readonly maximum?: Limit | undefined;
  readonly exclusiveMinimum?: Limit | undefined;
  readonly exclusiveMaximum?: Limit | undefined;
}

const pairs = [
  ["minimum", "maximum"],
  ["minimum", "exclusiveMaximum"],
  ["exclusiveMinimum", "maximum"],
  ["exclusiveMinimum", "exclusiveMaximum"],
] as const;

/**
 * Refuses limits that leave no value between them, since nothing that a person enters could be right then.
 *
 * @param compare - negative where the first is less, positive where it is more
 */
export function requireRange<Limit>(
  kind: KindName,
  limits: Range<Limit>,
  compare: (a: Limit, b: Limit) => number,
): void {
  for (const [low, high] of pairs) {
    const { [low]: least, [high]: greatest } = limits;
    if (least === undefined || greatest === undefined) continue;
    const order = compare(least, greatest);
    const canBeEqual = low === "minimum" && high === "maximum";
    const expected = `${canBeEqual ? "at least" : "more than"} the ${low}, ${String(least)}`;
    requireOption(canBeEqual ? order <= 0 : order < 0, kind, high, greatest, expected);
  }
}

/** A sample for a message, or the limit that it would break. */
export function sampleWithin<Value>(
  sample: Value,
  least: Value | undefined,
  greatest: Value | undefined,
  compare: (a: Value, b: Value) => number,
): Value {
  if (least !== undefined && compare(sample, least) < 0) return least;
  return greatest !== undefined && compare(sample, greatest) > 0 ? greatest : sample;
}

/** Whether a value keeps its limits. */
export function isWithin<Value, Limit>(
  value: Value,
  { minimum, maximum, exclusiveMinimum, exclusiveMaximum }: Range<Limit>,
  compare: (value: Value, limit: Limit) => number,
): boolean {
  if (minimum !== undefined && compare(value, minimum) < 0) return false;
  if (maximum !== undefined && compare(value, maximum) > 0) return false;
  if (exclusiveMinimum !== undefined && compare(value, exclusiveMinimum) <= 0) return false;
  return exclusiveMaximum === undefined || compare(value, exclusiveMaximum) < 0;
}
