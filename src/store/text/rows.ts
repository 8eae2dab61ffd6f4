import {
  type AnyKind,
  type AnyModel,
  type ChosenFile,
  pointerTo,
  type Problem,
  putIn,
  type RowOf,
  storedFields,
  valueIn,
} from "../../model/index.ts";
import { requireArgument, requireModel } from "../../errors/index.ts";
import { type ModernRow, modernRow, unreadNames } from "./older.ts";

/** A row as JSON has it: what is blank is absent. @param isMeant - says which fields are meant; default: all that are kept */
export function toJson<M extends AnyModel>(
  model: M,
  row: RowOf<M>,
  isMeant: (kind: AnyKind) => boolean = () => true,
): Record<string, unknown> {
  requireModel("toJson", model);
  requireArgument(typeof row === "object" && (row as unknown) !== null, "toJson", row, "a row of the model");
  const json: Record<string, unknown> = {};
  for (const [name, kind] of storedFields(model)) {
    if (!isMeant(kind)) continue;
    const value = valueIn(row, name);
    if (value !== undefined && !kind.isBlank(value)) putIn(json, name, valueToJson(kind, value, isMeant));
  }
  return json;
}

/** A value as JSON has it. Of a picked file that is what it is called and how large it is; where its content goes is the builder's to say. */
export function valueToJson(kind: AnyKind, value: unknown, isMeant?: (kind: AnyKind) => boolean): unknown {
  if (kind.rowModel !== undefined)
    return (value as readonly object[]).map((row) => toJson(kind.rowModel as AnyModel, row as never, isMeant));
  if (kind.kind !== "file") return value;
  const { name, size, type } = value as ChosenFile;
  return { name, size, type };
}

/** What reading one row came to. */
export type RowReading<Row> =
  { readonly ok: true; readonly row: Row } | { readonly ok: false; readonly problems: readonly Problem[] };

/**
 * A row from JSON. Absent and `null` are blank. A value of another type, or a member that the model does not have, is a
 * problem; what only breaks a constraint is not, since an old row may. A row of an older model is read as `.formerly()` says.
 */
export function fromJson<M extends AnyModel>(model: M, json: unknown): RowReading<RowOf<M>> {
  requireModel("fromJson", model);
  if (typeof json !== "object" || json === null || Array.isArray(json))
    return { ok: false, problems: [problem("", "This is not an object.")] };
  const reading = rowFrom(model, json as Record<string, unknown>);
  if (reading.ok || model.parts.formerly.length === 0) return reading;
  const { json: modern, failure } = olderRow(model, json as Record<string, unknown>);
  const again = rowFrom(model, modern);
  return again.ok || failure === undefined
    ? again
    : { ok: false, problems: [...again.problems, notReadAsBefore(failure)] };
}

/**
 * A row of JSON with the names and values of now, where an older model has written it.
 *
 * @param unread - finds the full names of what can't be read; default: what a row of JSON can't have
 */
export const olderRow = (
  model: AnyModel,
  json: Readonly<Record<string, unknown>>,
  unread = (each: Readonly<Record<string, unknown>>): readonly string[] => {
    const reading = rowFrom(model, each);
    return reading.ok ? [] : unreadNames(model, reading.problems);
  },
): ModernRow => modernRow(model, json, { unread, jsonOf });

/** A value as JSON has it; what is none of its kind, as it is. */
export const jsonOf = (kind: AnyKind, value: unknown): unknown =>
  kind.belongs(value) ? (JSON.parse(JSON.stringify(valueToJson(kind, value))) as unknown) : value;

/** That the builder's reading of older rows threw. */
export const notReadAsBefore = (failure: string): Problem =>
  problem("", `The model's own reading of older rows failed: ${failure}`);

function rowFrom<M extends AnyModel>(model: M, given: Readonly<Record<string, unknown>>): RowReading<RowOf<M>> {
  const row: Record<string, unknown> = {};
  const problems: Problem[] = [];
  const fields = storedFields(model);
  for (const [name, kind] of fields) {
    const { value, problems: inside } = valueFromJson(kind, valueIn(given, name));
    if (value === undefined || value === null) putIn(row, name, kind.empty);
    else if (inside !== undefined)
      problems.push(...inside.map((each) => ({ ...each, pointer: pointerTo(name) + each.pointer })));
    else if (kind.belongs(value)) putIn(row, name, value);
    else problems.push(problem(pointerTo(name), `${model.titleOf(name)} is not ${kind.expects}.`));
  }
  problems.push(...strangers(model, given, ""));
  return problems.length > 0 ? { ok: false, problems } : { ok: true, row: row as RowOf<M> };
}

/** A value from JSON: as its kind has it, rows by their own model. What is no such value is given back as it is. */
export function valueFromJson(kind: AnyKind, json: unknown): { value: unknown; problems?: readonly Problem[] } {
  if (kind.rowModel === undefined || !Array.isArray(json))
    return { value: kind.revive === undefined ? json : kind.revive(json) };
  const readings = json.map((each) => fromJson(kind.rowModel as AnyModel, each));
  const problems = readings.flatMap((reading, number) =>
    reading.ok ? [] : reading.problems.map((each) => ({ ...each, pointer: `/${number}${each.pointer}` })),
  );
  const rows = readings.flatMap((reading) => (reading.ok ? [reading.row] : []));
  return problems.length > 0 ? { value: json, problems } : { value: rows };
}

/** Members that the model does not have, in groups too; a group that is no object. */
function strangers(model: AnyModel, given: Readonly<Record<string, unknown>>, group: string): Problem[] {
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
