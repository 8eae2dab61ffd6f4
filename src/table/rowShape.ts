import { IronwoodError, shown, unknownName } from "../errors/index.ts";
import {
  type AnyKind,
  type AnyModel,
  givenTo,
  kept,
  pointerTo,
  type Problem,
  putIn,
  storedFields,
  valueIn,
} from "../model/index.ts";
import { type LookUp, lookUpOf } from "./KeyIndex.ts";

/** Values by name, as they are given for a row. */
export type Given = Readonly<Record<string, unknown>>;

/**
 * A complete row: what was given over what was there, blanks for the rest.
 *
 * @throws `wrongType`; `unknownField` with the nearest name
 */
export function wholeRow(model: AnyModel, given: Given, where: string, before?: unknown): unknown {
  const row: Record<string, unknown> = {};
  refuseStrangers(model, given, where, "");
  for (const [name, kind] of storedFields(model)) {
    const isGiven = has(given, name);
    // What only the place gives is not entered here: a new row does not have it yet.
    if (givenTo(kind) !== undefined) {
      const was: unknown = valueIn(before, name) ?? kind.empty;
      if (before !== undefined && isGiven && !kind.same(valueIn(given, name) ?? kind.empty, was))
        throw new IronwoodError("givenField", `The field "${name}" is given by the place where its row is kept`, {
          where,
          received: valueIn(given, name),
        });
      putIn(row, name, was);
      continue;
    }
    const value: unknown = (isGiven ? valueIn(given, name) : valueIn(before, name)) ?? kind.empty;
    if (isGiven && !kind.isBlank(value) && !kind.belongs(value))
      throw new IronwoodError("wrongType", `The field "${name}" was given ${shown(value)}`, {
        where,
        expected: kind.expects,
      });
    putIn(row, name, kept(value));
  }
  return Object.freeze(row);
}

function refuseStrangers(model: AnyModel, given: Given, where: string, group: string): void {
  for (const [key, value] of Object.entries(given)) {
    const name = group + key;
    const inner = model.groups.get(name);
    if (inner !== undefined && value !== undefined && !inner.belongs(value))
      throw new IronwoodError("wrongType", `The group "${name}" was given ${shown(value)}`, {
        where,
        expected: inner.expects,
      });
    if (inner !== undefined) refuseStrangers(model, (value ?? {}) as Given, where, `${name}.`);
    else if (!model.names.includes(name)) throw unknownName("unknownField", "The field", name, model.names, where);
  }
}

/** The fields in which two rows differ; of a row that came or went, all that are not blank. */
export function fieldsBetween(model: AnyModel, before: unknown, after: unknown): string[] {
  const names: string[] = [];
  for (const [name, kind] of storedFields(model)) {
    const [a, b] = [valueIn(before, name), valueIn(after, name)];
    // Most fields are the very same.
    if (a === b || givenTo(kind) !== undefined) continue;
    if (!kind.same(a ?? kind.empty, b ?? kind.empty)) names.push(name);
  }
  return names;
}

/** What no two rows may have alike, as a text; `undefined` where part of it is blank. */
export function textOf(model: AnyModel, row: unknown, names: readonly string[]): string | undefined {
  const values: unknown[] = [];
  for (const name of names) {
    const kind = model.kindOf(name)!;
    const value: unknown = valueIn(row, name) ?? kind.empty;
    if (kind.isBlank(value)) return undefined;
    values.push(kind.meaning?.(value) ?? value);
  }
  return JSON.stringify(values);
}

const has = (given: Given, name: string): boolean => {
  const [first = "", ...rest] = name.split(".");
  if (!Object.hasOwn(given, first)) return false;
  const inner = given[first];
  return (
    rest.length === 0 || (typeof inner === "object" && inner !== null && has(inner as typeof given, rest.join(".")))
  );
};

export function keyIn(model: AnyModel, row: unknown): unknown {
  const names = model.parts.key;
  return names.length === 1 ? valueIn(row, names[0]!) : names.map((name) => valueIn(row, name));
}

export function lookUpIn(row: unknown, names: readonly string[]): LookUp {
  if (names.length === 1) return lookUpOf((row as Readonly<Record<string, unknown>>)[names[0]!]);
  return JSON.stringify(names.map((name) => valueIn(row, name)));
}

export function wrongTypes(row: unknown, kinds: readonly [string, AnyKind][], model: AnyModel): readonly Problem[] {
  if (typeof row !== "object" || row === null) return [typeProblem("", "This is not an object.")];
  let problems: Problem[] | undefined;
  for (let index = 0; index < kinds.length; index++) {
    const [name, kind] = kinds[index]!;
    const value = valueIn(row, name);
    if (value === undefined || value === null || value === kind.empty || kind.belongs(value)) continue;
    problems = [...(problems ?? []), typeProblem(pointerTo(name), `${model.titleOf(name)} is not ${kind.expects}.`)];
  }
  if (model.groups.size === 0) return problems ?? noProblems;
  for (const [name, kind] of model.groups) {
    const value = valueIn(row, name);
    if (value === undefined || value === null || kind.belongs(value)) continue;
    problems = [...(problems ?? []), typeProblem(pointerTo(name), `${model.titleOf(name)} is not ${kind.expects}.`)];
  }
  return problems ?? noProblems;
}

const noProblems: readonly Problem[] = [];
const typeProblem = (pointer: string, message: string): Problem => ({
  code: "typeMismatch",
  message,
  severity: "error",
  pointer,
});
