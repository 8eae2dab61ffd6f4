import { mergeRows, type RowConflict } from "../merge/index.ts";
import type { AnyModel } from "../model/index.ts";
import type { KeptConflict } from "./Kept.ts";
import type { Differing, Unsaved, Written } from "./Unsaved.ts";

/** A row of the place as others left it; nothing where it is not there any more. */
export interface News<M extends AnyModel> {
  readonly key: unknown;
  readonly now: Written<M> | undefined;
}

/** A row that was changed here and elsewhere. */
export interface Disputed<M extends AnyModel> {
  readonly placeKey: unknown;
  readonly row: Differing<M>;
  readonly theirs: Written<M> | undefined;
  readonly conflict: RowConflict;
}

/** The rows that somebody has to choose about, of those that were changed here and elsewhere. */
export const disputedRows = <M extends AnyModel>(
  model: M,
  unsaved: Unsaved<M>,
  news: Iterable<News<M>>,
  isStrict: boolean,
): Disputed<M>[] =>
  [...news].flatMap(({ key: placeKey, now: theirs }) => {
    const row = unsaved.findAt(placeKey);
    if (row === undefined) return [];
    const { conflict } = mergeRows(model, { base: row.base, mine: row.now, theirs: theirs?.row, isStrict });
    return conflict === undefined ? [] : [{ placeKey, row, theirs, conflict }];
  });

/** The same as builders are told. */
export const conflictOf = <M extends AnyModel>({ row, theirs, conflict }: Disputed<M>): KeptConflict<M> => ({
  key: row.key,
  base: row.base,
  mine: row.now,
  theirs: theirs?.row,
  fields: conflict.fields,
});
