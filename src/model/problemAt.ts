import type { AnyKind, Finding } from "./kinds/kind.ts";
import { say } from "./languages.ts";
import type { Problem } from "./problem.ts";

/** A finding in words, the field's own where it has some, and with its place. */
export function problemAt(
  { code, message, facts, inside = "" }: Finding,
  kind: AnyKind,
  pointer: string,
  locale: string,
): Problem {
  const own = inside === "" ? kind.options.messages?.[code] : undefined;
  const said = kind.say ?? (say as NonNullable<AnyKind["say"]>);
  const words = typeof own === "function" ? own(facts, locale) : (own ?? said(locale, message, facts));
  return { code, message: words, severity: "error", pointer: pointer + inside };
}

/**
 * That a required field is missing.
 *
 * @param reason - why it is required, where a condition says so: it is then the message
 */
export function missingAt(kind: AnyKind, pointer: string, locale: string, reason: boolean | string): Problem {
  const example: unknown = kind.options.examples?.[0];
  const facts = example === undefined ? {} : { example: kind.edit(example, locale) };
  const missing = problemAt({ code: "valueMissing", message: kind.missing, facts }, kind, pointer, locale);
  return typeof reason === "string" ? { ...missing, message: reason } : missing;
}
