import { newId } from "../../engine/index.ts";
import { type AnyModel, type KeyOf, pointerTo, type Problem, type RowOf, sayOfKeeping } from "../../model/index.ts";
import { keyIn, type LookUp, lookUpOf } from "../../table/index.ts";
import type { StoreChange, WriteResult } from "../Store.ts";

type Changes<M extends AnyModel> = readonly StoreChange<RowOf<M>, KeyOf<M>>[];
type Put<M extends AnyModel> = Exclude<StoreChange<RowOf<M>, KeyOf<M>>, { kind: "delete" }>;

/** What a place has, for changes to be judged by. */
export interface RowsThere<M extends AnyModel> {
  readonly place: string;
  /** The version of the row that has a key; `undefined` where none has. */
  readonly versionOf: (key: LookUp) => string | undefined;
  /** Keys for rows whose model has none, in the order of the inserts, where they were given before. */
  readonly given?: readonly KeyOf<M>[] | undefined;
}

/** What changes come to at a place: what is there afterwards, or what keeps them from being made. */
export type Judged<M extends AnyModel> =
  | {
      readonly ok: true;
      /** In the order of the changes: the row and the key that it has afterwards; `undefined` for one that is deleted. */
      readonly rows: readonly (KeyedRow<M> | undefined)[];
      /** Keys that no row has any more. */
      readonly gone: readonly KeyOf<M>[];
      /** The keys that were made for rows whose model has none. */
      readonly given: readonly KeyOf<M>[];
    }
  | { readonly ok: false; readonly conflicts: readonly KeyOf<M>[] }
  | Extract<WriteResult<RowOf<M>, KeyOf<M>>, { refused: unknown }>;

/** A row with its key at the place. */
export interface KeyedRow<M extends AnyModel> {
  readonly key: KeyOf<M>;
  readonly row: RowOf<M>;
}

/** Judges changes of rows by what is there: all of them can be made, or none. */
export function judgeChanges<M extends AnyModel>(model: M, changes: Changes<M>, there: RowsThere<M>): Judged<M> {
  const conflicts = changes.flatMap((change) =>
    change.kind === "insert" || there.versionOf(lookUpOf(change.key)) === change.version ? [] : [change.key],
  );
  if (conflicts.length > 0) return { ok: false, conflicts };
  const { rows, given } = keyedRows(model, changes, there.given);
  // What goes leaves its key to others.
  const going = new Map<LookUp, KeyOf<M>>();
  for (const [index, change] of changes.entries()) {
    if (change.kind === "insert") continue;
    const was = lookUpOf(change.key);
    const now = rows[index];
    if (now === undefined || lookUpOf(now.key) !== was) going.set(was, change.key);
  }
  const coming = new Set<LookUp>();
  const refused = rows.flatMap((each, index) => {
    if (each === undefined) return [];
    const key = lookUpOf(each.key);
    const change = changes[index]!;
    const isOwn = change.kind === "update" && lookUpOf(change.key) === key;
    const isTaken = coming.has(key) || (!isOwn && there.versionOf(key) !== undefined && !going.has(key));
    coming.add(key);
    return isTaken ? [{ change: index, problems: [keyTaken(model, there.place)] }] : [];
  });
  if (refused.length > 0) return { ok: false, refused };
  // A key that went from one row to another is there in the end.
  const gone = [...going].flatMap(([was, key]) => (coming.has(was) ? [] : [key]));
  return { ok: true, rows, gone, given };
}

/** The rows that changes put at a place, with their keys. @param given - keys that were made for them before */
export function keyedRows<M extends AnyModel>(
  model: M,
  changes: Changes<M>,
  given: readonly KeyOf<M>[] = [],
): { rows: (KeyedRow<M> | undefined)[]; given: KeyOf<M>[] } {
  const made: KeyOf<M>[] = [];
  const keyOf = (change: Put<M>): KeyOf<M> => {
    if (model.parts.key.length > 0) return keyIn(model, change.row) as KeyOf<M>;
    if (change.kind === "update") return change.key;
    made.push(given[made.length] ?? (newId() as KeyOf<M>));
    return made.at(-1)!;
  };
  const rows = changes.map((change) =>
    change.kind === "delete" ? undefined : { key: keyOf(change), row: change.row },
  );
  return { rows, given: made };
}

/** That another row has a key, told at the field of the key. */
export function keyTaken(model: AnyModel, place: string): Problem {
  const message = sayOfKeeping("en", "keptKeyTaken", { place });
  return { code: "keyTaken", message, severity: "error", pointer: pointerTo(model.parts.key[0] ?? "") };
}
