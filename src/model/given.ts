import type { AnyKind } from "./kinds/kind.ts";
import type { AnyModel } from "./Model.ts";
import { storedFields } from "./storedFields.ts";

/** What the place where a row is kept gives a field: a running number, or when and by whom the row was made, or changed last. */
export type Given = "number" | "created" | "changed" | "createdBy" | "changedBy";

/** What a field is given by the place where its row is kept; `undefined` for one that people and code enter. */
export const givenTo = (kind: AnyKind): Given | undefined =>
  (kind.options as { readonly given?: Given | undefined }).given;

/** The fields that the place gives, with what it gives. */
export const givenFields = (model: AnyModel): readonly (readonly [name: string, given: Given])[] =>
  storedFields(model).flatMap(([name, kind]) => {
    const given = givenTo(kind);
    return given === undefined ? [] : [[name, given] as const];
  });

/** Whether the key of a row is a running number, which a new row does not have yet. */
export const hasGivenKey = (model: AnyModel): boolean =>
  model.parts.key.length === 1 && givenTo(model.kindOf(model.parts.key[0]!)!) === "number";

/** Whether a key is one for now, until the place has given one. */
export const isForNow = (key: unknown): boolean => typeof key === "number" && key < 0;
