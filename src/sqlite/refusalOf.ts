import {
  type AnyKind,
  type AnyModel,
  pointerTo,
  type Problem,
  sayOfKeeping,
  storedFields,
  valueIn,
} from "../model/index.ts";
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
  const field =
    columns.find(({ name, former }) => [name, ...former].includes(column ?? ""))?.field ?? model.parts.key[0] ?? "";
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

/** Finds the fields, also of rows inside, whose texts a database would keep otherwise than they are given: at half of a character. */
export class HalfCharacters {
  readonly #fields: readonly string[];
  readonly #inside: readonly (readonly [field: string, rows: HalfCharacters])[];

  constructor(model: AnyModel) {
    const fields = storedFields(model);
    this.#fields = fields.flatMap(([field, kind]) => (mayHoldText(kind) ? [field] : []));
    this.#inside = fields.flatMap(([field, { rowModel }]) =>
      rowModel === undefined ? [] : [[field, new HalfCharacters(rowModel as AnyModel)] as const],
    );
  }

  in(row: unknown): readonly Problem[] {
    let found: readonly Problem[] = none;
    for (const field of this.#fields) {
      const value = valueIn(row, field);
      if (typeof value === "string" && !isWellFormed(value)) found = [...found, halfCharacter(field)];
    }
    for (const [field, rows] of this.#inside)
      for (const [index, each] of ((valueIn(row, field) ?? []) as readonly unknown[]).entries())
        for (const problem of rows.in(each))
          found = [...found, { ...problem, pointer: `${pointerTo(field)}/${index}${problem.pointer}` }];
    return found;
  }
}

const none: readonly Problem[] = [];
const mayHoldText = ({ kind, rowModel }: AnyKind): boolean =>
  rowModel === undefined && !["integer", "number", "boolean", "decimal"].includes(kind);

const halfCharacter = (field: string): Problem => ({
  code: "typeMismatch",
  message: "This has half of a character that is written in two parts, which can't be kept.",
  severity: "error",
  pointer: pointerTo(field),
});

/** Whether a text has no half of a character that is written in two parts. */
const isWellFormed = (text: string): boolean => (text as unknown as { isWellFormed(): boolean }).isWellFormed();
