import type { AnyFieldState } from "../entry/index.ts";

/** The value of a field as a builder is told it: a secret is not, and what can't be read is as it was typed. */
export function shownValue(field: AnyFieldState): string {
  if (field.kind.options.writeOnly === true) return "a secret";
  if (field.unreadable) return `"${field.text}" can't be read`;
  return field.blank ? "blank" : field.display;
}
