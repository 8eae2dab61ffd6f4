import type { Decimal } from "./Decimal.ts";
import { decimalMark } from "./decimalMark.ts";

export const isDecimal = (value: unknown): value is Decimal =>
  typeof value === "object" && value !== null && decimalMark in value;
