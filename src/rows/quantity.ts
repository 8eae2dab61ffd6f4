import type { AnyKind } from "../model/index.ts";
import { Decimal, plainNumber } from "../notation/index.ts";

/** How many a row stands for: a number, or a Decimal where the field is of `decimal`. */
export type Quantity = number | Decimal;

const isExact = (kind: AnyKind | undefined): boolean => kind?.kind === "decimal";

/** A quantity as a field of a kind has it; what is blank is none. */
export function quantityFor(kind: AnyKind | undefined, given: unknown): Quantity {
  if (given === undefined || given === null) return isExact(kind) ? Decimal.of(0) : 0;
  if (!isExact(kind)) return given instanceof Decimal ? Number(given.toString()) : Number(given);
  return given instanceof Decimal ? given : Decimal.of(plainNumber(Number(given)));
}

/** Both of one kind. */
export const sumOf = (a: Quantity, b: Quantity): Quantity => (a instanceof Decimal ? a.add(b) : a + (b as number));

export const differenceOf = (a: Quantity, b: Quantity): Quantity =>
  a instanceof Decimal ? a.subtract(b) : a - (b as number);

/** Negative when the first is less, 0 when both are the same, positive when the first is more; NaN is neither. */
export const compareQuantities = (a: Quantity, b: Quantity): number =>
  a instanceof Decimal ? a.compare(b) : a - (b as number);
