import { type AnyKind, readAs } from "./kinds/kind.ts";
import { showValue } from "./showValue.ts";

const shown = (value: unknown, locale: string): string => showValue(undefined, value, locale, "UTC");

/**
 * What a calculated value is that the model says nothing of: it can be shown and compared, and not read. Apart from the
 * model's kinds, so that a page without numbers does not load how numbers are read.
 */
export const plainKind: AnyKind = {
  kind: "text",
  options: {},
  empty: undefined,
  expects: "what the calculation gives",
  missing: "valueMissing",
  isBlank: (value) => value === undefined,
  same: (a, b) => a === b,
  belongs: () => true,
  read: (text) => readAs(text),
  edit: shown,
  show: shown,
  check: () => [],
};
