import type { AnyKind } from "../model/index.ts";
import { type Decimal, isDecimal, plainNumber } from "../notation/index.ts";

/** How many a row stands for: a number, or a Decimal where the field is of `decimal`. */
export type Quantity = number | Decimal;

/** A quantity as a field of a kind has it; what is blank is none. */
export function quantityFor(kind: AnyKind | undefined, given: unknown): Quantity {
  const isExact = kind?.kind === "decimal";
  if (isDecimal(given)) return isExact ? given : Number(given.toString());
  const number = Number(given ?? 0);
  return isExact ? (kind.revive!(plainNumber(number)) as Decimal) : number;
}

/** Both of one kind. */
export const sumOf = (a: Quantity, b: Quantity): Quantity => (isDecimal(a) ? a.add(b) : a + (b as number));

export const differenceOf = (a: Quantity, b: Quantity): Quantity => (isDecimal(a) ? a.subtract(b) : a - (b as number));

/** Negative when the first is less, 0 when both are the same, positive when the first is more; NaN is neither. */
export const compareQuantities = (a: Quantity, b: Quantity): number =>
  isDecimal(a) ? a.compare(b) : a - (b as number);
