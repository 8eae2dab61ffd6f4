import { type AnyKind, type AnyModel, pointerTo, type Problem, type RowOf } from "../model/index.ts";

/** Goes through the fields that are stored: the declared ones that are not calculated. */
export function storedFields(model: AnyModel): [name: string, kind: AnyKind][] {
  return Object.entries(model.parts.fields as Readonly<Record<string, AnyKind>>).filter(
    ([name]) => !model.isCalculated(name),
  );
}

/** A row as JSON has it: what is blank is absent. */
export function toJson<M extends AnyModel>(model: M, row: RowOf<M>): Record<string, unknown> {
  const json: Record<string, unknown> = {};
  for (const [name, kind] of storedFields(model)) {
    const value = (row as Record<string, unknown>)[name];
    const blank = value === undefined || kind.isBlank(value);
    if (!blank) json[name] = value;
  }
  return json;
}

/** What reading one row came to. */
export type RowReading<Row> =
  { readonly ok: true; readonly row: Row } | { readonly ok: false; readonly problems: readonly Problem[] };

/**
 * A row from JSON. Absent and `null` are blank. A value of another type, or a member that the model does not have, is a
 * problem; what only breaks a constraint is not, since an old row may.
 */
export function fromJson<M extends AnyModel>(model: M, json: unknown): RowReading<RowOf<M>> {
  if (typeof json !== "object" || json === null || Array.isArray(json))
    return { ok: false, problems: [problem("", "This is not an object.")] };
  const given = json as Record<string, unknown>;
  const row: Record<string, unknown> = {};
  const problems: Problem[] = [];
  const fields = storedFields(model);
  for (const [name, kind] of fields) {
    const json = Object.hasOwn(given, name) ? given[name] : undefined;
    const value = kind.revive === undefined ? json : kind.revive(json);
    if (value === undefined || value === null) row[name] = kind.empty;
    else if (kind.belongs(value)) row[name] = value;
    else problems.push(problem(pointerTo(name), `${model.titleOf(name)} is not ${kind.expects}.`));
  }
  const known = new Set(fields.map(([name]) => name));
  for (const name of Object.keys(given))
    if (!known.has(name)) problems.push(problem(pointerTo(name), `There is no field "${name}".`));
  return problems.length > 0 ? { ok: false, problems } : { ok: true, row: row as RowOf<M> };
}

const problem = (pointer: string, message: string): Problem => ({
  code: "typeMismatch",
  message,
  severity: "error",
  pointer,
});
