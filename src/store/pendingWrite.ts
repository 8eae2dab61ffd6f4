import { newId } from "../engine/index.ts";
import type { AnyModel, KeyOf, RowOf } from "../model/index.ts";
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
export function pendingWrite<M extends AnyModel>(rows: readonly Differing<M>[]): PendingWrite<M> {
  return { id: newId(), rows, changes: rows.map(changeOf), isUncertain: false };
}

function changeOf<M extends AnyModel>({ at, now }: Differing<M>): StoreChange<RowOf<M>, KeyOf<M>> {
  if (at === undefined) return { kind: "insert", row: now! };
  const { key, version } = at as { key: KeyOf<M>; version: string };
  return now === undefined ? { kind: "delete", key, version } : { kind: "update", key, version, row: now };
}
