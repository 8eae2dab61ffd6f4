import { requireArgument, requireTable } from "../errors/index.ts";
import { follow, type FollowOptions, internal, type Stoppable } from "../engine/index.ts";
import type { AnyModel, KeyOf, RowOf } from "../model/index.ts";
import type { SlotContent } from "./RowStorage.ts";
import { fieldsBetween } from "./rowShape.ts";
import type { Table } from "./Table.ts";
import type { TableState } from "./TableState.ts";

/** What happened to one row, from before a transaction to after it. */
export type RowChange<M> = {
  /** The key of the row now; of one that was deleted, its last. */
  readonly key: KeyOf<M>;
  /** The names of the fields that changed; of an inserted or deleted row, those that are not blank. */
  readonly fields: readonly string[];
} & (
  | { readonly kind: "insert"; readonly after: RowOf<M> }
  | { readonly kind: "update"; readonly before: RowOf<M>; readonly after: RowOf<M>; readonly keyBefore: KeyOf<M> }
  | { readonly kind: "delete"; readonly before: RowOf<M> }
);

/**
 * Reports the changes of a table, row by row, once at the end of each transaction. When all rows were
 * loaded, or there were more changes than the table remembers, `loaded` is true and no single change is given.
 *
 * @returns what ends it
 * @example followRows(stock, (changes) => changes.forEach(({ kind, key, fields }) => log(kind, key, fields)));
 */
export function followRows<M extends AnyModel>(
  table: Table<M>,
  react: (changes: readonly RowChange<M>[], what: { readonly loaded: boolean }) => void,
  options: FollowOptions = {},
): Stoppable {
  requireTable("followRows", table);
  requireArgument(typeof react === "function", "followRows", react, "a function that is told of the changes");
  const state = table[internal] as TableState<M>;
  let read = state.log.end;
  return follow(
    () => {
      state.trackReads();
      return state.log.end;
    },
    () => {
      const befores = state.log.since(read);
      read = state.log.end;
      if (befores === undefined) return react([], { loaded: true });
      const changes = [...befores].flatMap(([slot, before]) => changesIn(state, slot, before));
      if (changes.length > 0) react(changes, { loaded: false });
    },
    options,
  );
}

function changesIn<M extends AnyModel>(
  table: TableState<M>,
  slot: number,
  { row: before, id }: SlotContent<RowOf<M>>,
): RowChange<M>[] {
  const { row: after, id: idNow } = table.contentAt(slot);
  // Another row has the slot now.
  if (before !== undefined && after !== undefined && id !== idNow)
    return [gone(table, before, id), come(table, after, idNow)];
  if (after === before) return [];
  if (before === undefined) return [come(table, after!, idNow)];
  if (after === undefined) return [gone(table, before, id)];
  const fields = fieldsBetween(table.model, before, after);
  if (fields.length === 0) return [];
  return [{ kind: "update", key: table.keyFor(after, id), keyBefore: table.keyFor(before, id), before, after, fields }];
}

function come<M extends AnyModel>(table: TableState<M>, after: RowOf<M>, id: number): RowChange<M> {
  return { kind: "insert", key: table.keyFor(after, id), after, fields: fieldsBetween(table.model, undefined, after) };
}

function gone<M extends AnyModel>(table: TableState<M>, before: RowOf<M>, id: number): RowChange<M> {
  return {
    kind: "delete",
    key: table.keyFor(before, id),
    before,
    fields: fieldsBetween(table.model, before, undefined),
  };
}
