import { type AnyModel, putIn, storedFields, valueIn } from "../model/index.ts";

/** A row with some fields of another, and the rest of its own. */
export function rowWithFields(
  model: AnyModel,
  row: unknown,
  other: unknown,
  fields: readonly string[],
): Record<string, unknown> {
  const merged: Record<string, unknown> = {};
  for (const [name] of storedFields(model)) putIn(merged, name, valueIn(fields.includes(name) ? other : row, name));
  return merged;
}
