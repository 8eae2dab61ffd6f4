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

/** A limit that was given, with what is said where a value breaks it. */
export interface GivenLimit<Limit> {
  readonly limit: Limit;
  readonly code: "rangeUnderflow" | "rangeOverflow";
  readonly message: "rangeUnderflow" | "notOver" | "rangeOverflow" | "notUnder";
  /** @param order - how a value compares with the limit: negative where it is less */
  readonly isBroken: (order: number) => boolean;
}

const sorts = [
  ["minimum", "rangeUnderflow", "rangeUnderflow", (order: number) => order < 0],
  ["exclusiveMinimum", "rangeUnderflow", "notOver", (order: number) => order <= 0],
  ["maximum", "rangeOverflow", "rangeOverflow", (order: number) => order > 0],
  ["exclusiveMaximum", "rangeOverflow", "notUnder", (order: number) => order >= 0],
] as const;

/** The limits that were given, in the order in which they are checked. */
export const limitsIn = <Limit>(range: Range<Limit>): readonly GivenLimit<Limit>[] =>
  sorts.flatMap(([name, code, message, isBroken]) => {
    const { [name]: limit } = range;
    return limit === undefined ? [] : [{ limit, code, message, isBroken }];
  });

/** Whether a value keeps its limits. */
export const isWithin = <Value, Limit>(
  value: Value,
  range: Range<Limit>,
  compare: (value: Value, limit: Limit) => number,
): boolean => limitsIn(range).every(({ limit, isBroken }) => !isBroken(compare(value, limit)));
