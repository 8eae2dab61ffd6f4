import { getOrMake, platform } from "../../engine/index.ts";
import { type AnyModel, type Given, givenFields, type KeyOf, type RowOf, rowWith, valueIn } from "../../model/index.ts";
import type { StoreChange } from "../Store.ts";

type Changes<M extends AnyModel> = readonly StoreChange<RowOf<M>, KeyOf<M>>[];

/** What a place gave the rows of a write: of each change the values of the fields that are given, in order; nothing for a deleted row. */
export type GivenValues = readonly (readonly unknown[] | null)[];

/** Who writes: a name, or what says one. */
export type Writer = string | (() => string) | undefined;

/** What is known where rows are written. */
export interface Giver {
  /** The highest running number that a field has, or had. */
  readonly highest: (field: string) => number;
  readonly by: Writer;
}

type Fields = ReturnType<typeof givenFields>;
const known = new WeakMap<AnyModel, Fields>();
const fieldsOf = (model: AnyModel): Fields => getOrMake(known, model, () => givenFields(model));

/**
 * Gives rows that are to be written what the place gives: a running number and who made them when to new ones, who changed them when to all.
 *
 * @returns `values` for {@link givenAgain}; `undefined` where the model has no such fields
 */
export function giveFields<M extends AnyModel>(
  model: M,
  changes: Changes<M>,
  { highest, by }: Giver,
): { readonly changes: Changes<M>; readonly values: GivenValues | undefined } {
  const fields = fieldsOf(model);
  if (fields.length === 0) return { changes, values: undefined };
  const numbers = new Map<string, number>();
  const writer = typeof by === "function" ? by() : (by ?? "");
  const at = new Date(platform.now()).toISOString();
  const next = (name: string): number => {
    const number = (numbers.get(name) ?? highest(name)) + 1;
    numbers.set(name, number);
    return number;
  };
  const give: Readonly<Record<Given, (name: string, isNew: boolean, was: unknown) => unknown>> = {
    number: (name, isNew, was) => (isNew ? next(name) : was),
    created: (_, isNew, was) => (isNew ? at : was),
    createdBy: (_, isNew, was) => (isNew ? writer : was),
    changed: () => at,
    changedBy: () => writer,
  };
  const values = changes.map((change) =>
    change.kind === "delete"
      ? null
      : fields.map(([name, given]) => give[given](name, change.kind === "insert", valueIn(change.row, name))),
  );
  return { changes: givenAgain(model, changes, values), values };
}

/** The same changes with what was given to their rows when they were written first. */
export function givenAgain<M extends AnyModel>(
  model: M,
  changes: Changes<M>,
  values: GivenValues | undefined,
): Changes<M> {
  const fields = fieldsOf(model);
  if (fields.length === 0 || values === undefined) return changes;
  return changes.map((change, index) => {
    const given = values[index] ?? null;
    if (change.kind === "delete" || given === null) return change;
    return { ...change, row: withValues(change.row, fields, given) as RowOf<M> };
  });
}

const withValues = (row: unknown, fields: Fields, values: readonly unknown[]): unknown =>
  fields.reduce((whole, [name], index) => rowWith(whole, name, values[index] ?? undefined), row as object);

/** The highest running number in some rows. */
export function highestIn(rows: Iterable<unknown>, field: string): number {
  let highest = 0;
  for (const row of rows) {
    const value = valueIn(row, field);
    if (typeof value === "number" && value > highest) highest = value;
  }
  return highest;
}
