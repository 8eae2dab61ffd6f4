import { getOrMake } from "../engine/index.ts";
import { isDecimal } from "../notation/index.ts";
import type { AnyKind } from "./kinds/kind.ts";
import { yesOrNo } from "./yesOrNo.ts";

const formats = new Map<string, Intl.NumberFormat>();

/** A value whose kind is not known, as that of a calculation the model says nothing of: with at most six decimals, so that it can be read. */
function showPlain(value: unknown, locale: string): string {
  if (typeof value === "boolean") return yesOrNo(value, locale);
  const isExact = isDecimal(value);
  if (typeof value !== "number" && !isExact) return String(value);
  const format = getOrMake(formats, locale, () => new Intl.NumberFormat(locale, { maximumFractionDigits: 6 }));
  return format.format(isExact ? (value.toString() as `${number}`) : value);
}

/**
 * A value as people see it, wherever it stands: in a form, a cell, a group's title, a search, an export, a message.
 *
 * @param kind - `undefined` where the model says nothing of it
 * @returns its display format, with unit or caption; blank where there is no value
 */
export function showValue(kind: AnyKind | undefined, value: unknown, locale: string, timeZone: string): string {
  if (value === undefined || value === null) return "";
  if (kind === undefined) return showPlain(value, locale);
  return kind.isBlank(value) ? "" : kind.show(value, locale, timeZone);
}

/** What people choose by between two values: what they show, or more where that tells little. */
export const showWhole = (kind: AnyKind | undefined, value: unknown, locale: string, timeZone: string): string =>
  kind?.showWhole === undefined || kind.isBlank(value)
    ? showValue(kind, value, locale, timeZone)
    : kind.showWhole(value, locale, timeZone);
