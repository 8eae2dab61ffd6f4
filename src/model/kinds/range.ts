/** Limits of values that have an order. */
export interface Range<Limit> {
  readonly minimum?: Limit | undefined;
  readonly maximum?: Limit | undefined;
  readonly exclusiveMinimum?: Limit | undefined;
  readonly exclusiveMaximum?: Limit | undefined;
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
