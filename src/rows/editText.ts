import { type AnyKind, showValue } from "../model/index.ts";

/** A value in full, as it can be typed again; what can't be typed is as it is shown. */
export function editText(
  value: unknown,
  kind: AnyKind | undefined,
  { locale, timeZone }: { readonly locale: string; readonly timeZone: string },
): string {
  const given = value !== undefined && value !== null && kind?.isBlank(value) === false;
  return given ? kind.edit(value, locale, timeZone) : showValue(kind, value, locale, timeZone);
}
