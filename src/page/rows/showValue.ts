import { valueIn } from "../../model/index.ts";
import type { View } from "../../table/index.ts";

/** The text that shows a field of a row: in its display format, with unit or caption. */
export function showValue(row: unknown, name: string, table: View["table"]): string {
  const { model, locale } = table;
  const kind = model.kindOf(name);
  const plain = !model.isCalculated(name) && model.parts.relevance.size === 0;
  const value: unknown = plain ? valueIn(row, name) : table.valueOf(row as never, name);
  if (value === undefined || value === null) return "";
  if (kind === undefined) return typeof value === "number" ? value.toLocaleString(locale) : String(value);
  return kind.isBlank(value) ? "" : kind.show(value, locale);
}
