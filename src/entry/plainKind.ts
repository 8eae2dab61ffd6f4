import { type AnyKind, readAs, yesOrNo } from "../model/index.ts";

const formats = new Map<string, Intl.NumberFormat>();

function shown(value: unknown, locale: string): string {
  if (typeof value === "boolean") return yesOrNo(value, locale);
  if (typeof value !== "number") return String(value);
  let format = formats.get(locale);
  if (format === undefined) formats.set(locale, (format = new Intl.NumberFormat(locale, { maximumFractionDigits: 6 })));
  return format.format(value);
}

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
