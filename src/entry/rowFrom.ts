import { putIn } from "../model/index.ts";
import type { NamedValues } from "./Baseline.ts";

/** A row of values by their full names: those of groups are in objects. */
export function rowFrom(values: NamedValues): Record<string, unknown> {
  const row: Record<string, unknown> = {};
  for (const [name, value] of Object.entries(values)) putIn(row, name, value);
  return row;
}
