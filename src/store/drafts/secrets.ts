import { getOrMake } from "../../engine/index.ts";
import { type AnyKind, type AnyModel, rowWith, storedFields, valueIn } from "../../model/index.ts";
import { keyIn, lookUpOf } from "../../table/index.ts";

/** A secret is in no draft. */
export const isKept = ({ options }: AnyKind): boolean => options.writeOnly !== true;

const known = new WeakMap<AnyModel, boolean>();

/** Whether rows of a model, or rows inside them, have a secret. */
const hasSecrets = (model: AnyModel): boolean =>
  getOrMake(known, model, () =>
    storedFields(model).some(
      ([, kind]) => !isKept(kind) || (kind.rowModel !== undefined && hasSecrets(kind.rowModel as AnyModel)),
    ),
  );

/** A row of a draft with the secrets of the row as it is now, those of rows inside included. */
export function withSecretsOf(model: AnyModel, row: object, now: object | undefined): object {
  if (now === undefined || !hasSecrets(model)) return row;
  return storedFields(model).reduce((whole, [name, kind]) => {
    if (!isKept(kind)) return rowWith(whole, name, valueIn(now, name));
    if (kind.rowModel === undefined) return whole;
    const [inside, insideNow] = [whole, now].map((each) => (valueIn(each, name) ?? []) as readonly object[]);
    return rowWith(whole, name, rowsWithSecretsOf(kind.rowModel as AnyModel, inside!, insideNow!));
  }, row);
}

/** Rows of a draft with the secrets of those that are the same rows now: with the same key, or without keys at the same place. */
export function rowsWithSecretsOf(model: AnyModel, rows: readonly object[], now: readonly object[]): readonly object[] {
  if (!hasSecrets(model)) return rows;
  const hasKey = model.parts.key.length > 0;
  const byKey = new Map(hasKey ? now.map((row) => [lookUpOf(keyIn(model, row)), row]) : []);
  return rows.map((row, place) =>
    withSecretsOf(model, row, hasKey ? byKey.get(lookUpOf(keyIn(model, row))) : now[place]),
  );
}
