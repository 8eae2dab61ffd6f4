import {
  type AnyModel,
  type ChosenFile,
  pointerTo,
  type Problem,
  putIn,
  type RowOf,
  storedFields,
  valueIn,
} from "../model/index.ts";

/** A row as JSON has it: what is blank is absent. */
export function toJson<M extends AnyModel>(model: M, row: RowOf<M>): Record<string, unknown> {
  const json: Record<string, unknown> = {};
  for (const [name, kind] of storedFields(model)) {
    const value = valueIn(row, name);
    const blank = value === undefined || kind.isBlank(value);
    if (!blank) putIn(json, name, kind.kind === "file" ? fileFacts(value as ChosenFile) : value);
  }
  return json;
}

/** Of a picked file, JSON has what it is called and how large it is; where its content goes is the builder's to say. */
const fileFacts = ({ name, size, type }: ChosenFile): ChosenFile => ({ name, size, type });

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
    const json = valueIn(given, name);
    const value = kind.revive === undefined ? json : kind.revive(json);
    if (value === undefined || value === null) putIn(row, name, kind.empty);
    else if (kind.belongs(value)) putIn(row, name, value);
    else problems.push(problem(pointerTo(name), `${model.titleOf(name)} is not ${kind.expects}.`));
  }
  problems.push(...strangers(model, given, ""));
  return problems.length > 0 ? { ok: false, problems } : { ok: true, row: row as RowOf<M> };
}

/** Members that the model does not have, in groups too; a group that is no object. */
function strangers(model: AnyModel, given: Record<string, unknown>, group: string): Problem[] {
  return Object.entries(given).flatMap(([key, value]) => {
    const name = group + key;
    if (model.groups.has(name)) {
      if (value === null || value === undefined) return [];
      return typeof value === "object" && !Array.isArray(value)
        ? strangers(model, value as Record<string, unknown>, `${name}.`)
        : [problem(pointerTo(name), `${model.titleOf(name)} is not an object.`)];
    }
    const kind = model.kindOf(name);
    const stored = kind !== undefined && !model.isCalculated(name) && kind.options.saved !== false;
    return stored ? [] : [problem(pointerTo(name), `There is no field "${name}".`)];
  });
}

const problem = (pointer: string, message: string): Problem => ({
  code: "typeMismatch",
  message,
  severity: "error",
  pointer,
});
