import { type AnyModel, pointerTo, type Problem, sayOfKeeping, storedFields, valueIn } from "../model/index.ts";
import { RefusedInside } from "./ChildTables.ts";
import type { Column } from "./columns.ts";

/** Why a database does not take a row, at the field that it concerns. @throws what is no such refusal */
export function refusalOf(error: unknown, model: AnyModel, columns: readonly Column[], place: string): Problem {
  if (error instanceof RefusedInside) {
    const inside = refusalOf(error.error, error.model, error.columns, place);
    return { ...inside, pointer: error.pointer + inside.pointer };
  }
  const { code = "", message = "" } = error as { readonly code?: string; readonly message?: string };
  if (!code.startsWith("SQLITE_CONSTRAINT")) throw error;
  const [, check] = /CHECK constraint failed: (.*)$/.exec(message) ?? [];
  const [, column = check] = /constraint failed: [^.]*\.(\S+?)(,|$)/.exec(message) ?? [];
  const field = columns.find(({ name }) => name === column)?.field ?? model.parts.key[0] ?? "";
  const isTaken = /UNIQUE|PRIMARY KEY/.test(message);
  return {
    code: isTaken ? "keyTaken" : "typeMismatch",
    message: isTaken
      ? sayOfKeeping("en", "keptKeyTaken", { place })
      : `${model.titleOf(field)} can't be this in ${place}.`,
    severity: "error",
    pointer: pointerTo(field),
  };
}

/** The fields, also of rows inside, whose texts a database would keep otherwise than they are given: at half of a character. */
export function halfCharacters(model: AnyModel, row: unknown, pointer = ""): Problem[] {
  return storedFields(model).flatMap(([field, kind]) => {
    const value = valueIn(row, field);
    const at = pointer + pointerTo(field);
    if (kind.rowModel !== undefined)
      return ((value ?? []) as readonly unknown[]).flatMap((each, index) =>
        halfCharacters(kind.rowModel as AnyModel, each, `${at}/${index}`),
      );
    if (typeof value !== "string" || isWellFormed(value)) return [];
    const message = "This has half of a character that is written in two parts, which can't be kept.";
    return [{ code: "typeMismatch", message, severity: "error", pointer: at }];
  });
}

/** Whether a text has no half of a character that is written in two parts. */
const isWellFormed = (text: string): boolean => (text as unknown as { isWellFormed(): boolean }).isWellFormed();
