import { newId } from "../engine/index.ts";
import { type AnyModel, givenFields, type KeyOf, type RowOf, rowWith, valueIn } from "../model/index.ts";
import type { StoreChange } from "./Store.ts";
import type { Differing } from "./Unsaved.ts";

/** A write that was begun, and whose answer is not known yet. */
export interface PendingWrite<M extends AnyModel> {
  readonly id: string;
  readonly rows: readonly Differing<M>[];
  readonly changes: readonly StoreChange<RowOf<M>, KeyOf<M>>[];
  /** Whether it may have been written already: then the same write is asked for until there is an answer. */
  isUncertain: boolean;
}

/** A write of rows that differ, under a name of its own. */
export function pendingWrite<M extends AnyModel>(model: M, rows: readonly Differing<M>[]): PendingWrite<M> {
  const given = givenFields(model).map(([name]) => name);
  return { id: newId(), rows, changes: rows.map((row) => changeOf(row, given)), isUncertain: false };
}

/** @param given - the fields that the place gives */
function changeOf<M extends AnyModel>(
  { at, base, now }: Differing<M>,
  given: readonly string[],
): StoreChange<RowOf<M>, KeyOf<M>> {
  if (at === undefined) return { kind: "insert", row: now! };
  const { key, version } = at as { key: KeyOf<M>; version: string };
  if (now === undefined) return { kind: "delete", key, version };
  // A row that was taken back to how it was before it was written first has lost what it was given then.
  const row = given.reduce<object>((whole, name) => rowWith(whole, name, valueIn(base, name)), now) as RowOf<M>;
  return { kind: "update", key, version, row };
}
