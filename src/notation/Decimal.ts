import Big from "big.js";
import { IronwoodError, requireArgument, requireOptions } from "../errors/index.ts";
import { decimalMark } from "./decimalMark.ts";

/** How a division, or a rounding, treats what lies between two results; the names are ECMA-402's. */
export type Rounding = "halfExpand" | "halfEven" | "trunc" | "expand";

const modes: Readonly<Record<Rounding, 0 | 1 | 2 | 3>> = { trunc: 0, halfExpand: 1, halfEven: 2, expand: 3 };

// A constructor of our own: the settings of the package are shared by all who use it.
const Exact = Big();
Exact.NE = -1e6;
Exact.PE = 1e6;

/**
 * An exact decimal number, as of money. Its operations have the names of the ECMAScript proposal for decimal numbers. It never changes; each operation gives a new one, and none of them rounds but
 * {@link divide}, which is told how.
 */
export class Decimal {
  readonly #value: Big;
  /** @internal */
  readonly [decimalMark] = true;

  private constructor(value: Big) {
    this.#value = value;
  }

  /**
   * @param value - digits with at most one point and a sign in front, a safe whole number, or a Decimal
   * @throws `wrongType` for anything else, and for a number with a fraction, which is not exact
   * @example Decimal.of("12.50").multiply("3").toString() // "37.5"
   */
  static of(value: string | number | Decimal): Decimal {
    if (value instanceof Decimal) return value;
    const isText = typeof value === "string" && /^[+-]?(\d+\.?\d*|\.\d+)$/.test(value);
    if (isText || Number.isSafeInteger(value)) return new Decimal(new Exact(String(value).replace(/^\+/, "")));
    throw new IronwoodError("wrongType", "This is not an exact decimal number", {
      received: value,
      expected: 'a text such as "12.50"',
    });
  }

  /** The exact sum. */
  add(other: string | number | Decimal): Decimal {
    return new Decimal(this.#value.plus(Decimal.of(other).#value));
  }

  /** The exact difference. */
  subtract(other: string | number | Decimal): Decimal {
    return new Decimal(this.#value.minus(Decimal.of(other).#value));
  }

  /** The exact product. */
  multiply(other: string | number | Decimal): Decimal {
    return new Decimal(this.#value.times(Decimal.of(other).#value));
  }

  /**
   * The quotient, rounded, since most quotients have no end.
   *
   * @param digits - how many digits the result has behind the point
   * @param rounding - default: `halfExpand`, away from zero in the middle, as is usual with money
   * @throws `wrongType` when `other` is zero
   */
  divide(other: string | number | Decimal, options: { digits: number; rounding?: Rounding }): Decimal {
    const isTold = (options as { digits?: unknown } | null)?.digits !== undefined;
    requireArgument(isTold, "divide", options, "how many digits the quotient has, as { digits: 2 }");
    requireOptions("divide", options, { digits: "count", rounding: Object.keys(modes) });
    const { digits, rounding = "halfExpand" } = options;
    const divisor = Decimal.of(other);
    if (divisor.compare(0) === 0)
      throw new IronwoodError("wrongType", "A decimal number was divided by zero", { expected: "another divisor" });
    const Divided = Big();
    Divided.DP = digits;
    Divided.RM = modes[rounding];
    return Decimal.of(new Divided(this.toString()).div(divisor.toString()).toFixed());
  }

  /** The same with the other sign. */
  negate(): Decimal {
    return Decimal.of(0).subtract(this);
  }

  /** The same without its sign. */
  abs(): Decimal {
    return new Decimal(this.#value.abs());
  }

  /** To so many digits behind the point. */
  rounded(digits: number, rounding: Rounding = "halfExpand"): Decimal {
    return new Decimal(this.#value.round(digits, modes[rounding]));
  }

  /** Negative when it is less than the other, 0 when they are equal by value (1.0 and 1.00 are), positive when it is more. */
  compare(other: unknown): number {
    return this.#value.cmp(Decimal.of(other as Decimal).#value);
  }

  /** In full, with no exponent and no needless zeros; `-0` is `0`. */
  toString(): string {
    const text = this.#value.toFixed();
    return text === "-0" ? "0" : text;
  }

  /** As a text, since a JSON number would not be exact everywhere. */
  toJSON(): string {
    return this.toString();
  }

  /** Refused, so that `<` and `+` can't compare or add wrongly without anybody noticing. */
  valueOf(): never {
    throw new IronwoodError("wrongType", "A Decimal was used where a number is expected, as by < or +", {
      received: this.toString(),
      expected: "compare(), add(), subtract(), multiply() or divide()",
    });
  }
}
