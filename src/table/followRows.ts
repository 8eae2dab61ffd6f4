import { follow, type FollowOptions, type Stoppable } from "../engine/index.ts";
import type { AnyModel, KeyOf, RowOf } from "../model/index.ts";
import { fieldsBetween } from "./rowShape.ts";
import type { Table } from "./Table.ts";

/** What happened to one row, from before a transaction to after it. */
export type RowChange<M> = {
  /** The key of the row now; of one that was deleted, its last. */
  readonly key: KeyOf<M>;
  /** The names of the fields that are others now; of a row that came or went, those that are not blank. */
  readonly fields: readonly string[];
} & (
  | { readonly kind: "insert"; readonly after: RowOf<M> }
  | { readonly kind: "update"; readonly before: RowOf<M>; readonly after: RowOf<M>; readonly keyBefore: KeyOf<M> }
  | { readonly kind: "delete"; readonly before: RowOf<M> }
);

/**
 * Tells of each change of a table, row by row: once at the end of a transaction, with what came of it. When all rows were
 * loaded anew, or there were more changes than are kept, there is nothing to tell one by one, and `loaded` is true.
 *
 * @returns what ends it
 * @example followRows(stock, (changes) => changes.forEach(({ kind, key, fields }) => log(kind, key, fields)));
 */
export function followRows<M extends AnyModel>(
  table: Table<M>,
  react: (changes: readonly RowChange<M>[], what: { readonly loaded: boolean }) => void,
  options: FollowOptions = {},
): Stoppable {
  let read = table.log.end;
  return follow(
    () => {
      table.noteRead();
      return table.log.end;
    },
    () => {
      const befores = table.log.since(read);
      read = table.log.end;
      if (befores === undefined) return react([], { loaded: true });
      const changes = [...befores].flatMap(([slot, before]) => changeOf(table, slot, before));
      if (changes.length > 0) react(changes, { loaded: false });
    },
    options,
  );
}

function changeOf<M extends AnyModel>(table: Table<M>, slot: number, before: RowOf<M> | undefined): RowChange<M>[] {
  const after = table.rowAt(slot);
  if (after === before) return [];
  const fields = fieldsBetween(table.model, before, after);
  if (before === undefined) return [{ kind: "insert", key: table.keyFor(after!, slot), after: after!, fields }];
  if (after === undefined) return [{ kind: "delete", key: table.keyFor(before, slot), before, fields }];
  const keyBefore = table.keyFor(before, slot);
  return fields.length === 0
    ? []
    : [{ kind: "update", key: table.keyFor(after, slot), keyBefore, before, after, fields }];
}
