import type { AnyModel, RowOf } from "../model/index.ts";
import { KeyIndex } from "./KeyIndex.ts";
import { RowStorage } from "./RowStorage.ts";
import { lookUpIn, wrongTypes } from "./rowShape.ts";
import type { LeftOut } from "./TableOptions.ts";
import { keyTaken, tableFull } from "./tableProblems.ts";

/** Rows that were loaded, found by their keys, and what was left out. */
export interface LoadedRows<Row> {
  readonly storage: RowStorage<Row>;
  readonly keys: KeyIndex;
  readonly leftOut: readonly LeftOut[];
}

/** An index of the keys of rows in a storage. @param count - how many are to come */
export function keysOf<M extends AnyModel>(model: M, storage: RowStorage<RowOf<M>>, count = 0): KeyIndex {
  const names = model.parts.key;
  const keyAt =
    names.length === 0 ? (slot: number) => storage.idAt(slot) : (slot: number) => lookUpIn(storage.rows[slot], names);
  return new KeyIndex(keyAt, count);
}

/**
 * Loads rows into a storage of their own. Rows that break constraints are taken; those of wrong types, with a key that is taken, or too
 * many are left out.
 *
 * @param firstKey - where keys are given to rows: the first of them
 */
export function loadInto<M extends AnyModel>(
  { model, locale }: { readonly model: M; readonly locale: string },
  firstKey: number | undefined,
  rows: readonly RowOf<M>[],
  maxItems = Infinity,
): LoadedRows<RowOf<M>> {
  const storage = new RowStorage<RowOf<M>>(firstKey);
  const keys = keysOf(model, storage, rows.length);
  const leftOut: LeftOut[] = [];
  const kinds = [...model.kinds].filter(([name]) => !model.isCalculated(name));
  const keyNames = model.parts.key;
  for (let place = 0; place < rows.length; place++) {
    const row = rows[place]!;
    const { slots } = storage;
    const wrong = wrongTypes(row, kinds, model);
    if (wrong.length > 0) leftOut.push({ place, problems: wrong });
    else if (slots >= maxItems) leftOut.push({ place, problems: [tableFull(locale, maxItems)] });
    else if (keys.addNew(firstKey !== undefined ? storage.nextId : lookUpIn(row, keyNames), slots)) storage.append(row);
    else leftOut.push({ place, problems: [keyTaken(locale, model, row)] });
  }
  return { storage, keys, leftOut };
}
