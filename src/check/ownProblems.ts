import { type AnyKind, missingAt, type Problem, problemAt } from "../model/index.ts";
import type { Conditions } from "./Conditions.ts";

const noProblems: readonly Problem[] = [];

/** What is wrong with a value by itself, before any rule: it is missing, or breaks the constraints of its kind. */
export function ownProblems(
  conditions: Conditions,
  name: string,
  kind: AnyKind,
  value: unknown,
  { pointer, locale, timeZone }: { readonly pointer: string; readonly locale: string; readonly timeZone: string },
): readonly Problem[] {
  if (kind.isBlank(value)) {
    const required = kind.options.required === true || conditions.isRequired(name);
    return required === false ? noProblems : [missingAt(kind, pointer, locale, required)];
  }
  const found = conditions.kindNow(name, kind).check(value, locale, timeZone);
  return found.length === 0 ? noProblems : found.map((finding) => problemAt(finding, kind, pointer, locale));
}
