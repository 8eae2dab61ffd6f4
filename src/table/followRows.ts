import { requireArgument, requireTable } from "../errors/index.ts";
import { follow, type FollowOptions, internal, type Stoppable } from "../engine/index.ts";
import type { AnyModel, RowOf } from "../model/index.ts";
import type { SlotContent } from "./RowStorage.ts";
import { fieldsBetween } from "./rowShape.ts";
import { slotChanges, type SlotChange } from "./slotChanges.ts";
import type { Table } from "./Table.ts";
import type { TableState } from "./TableState.ts";

/** What happened to one row, from before a transaction to after it. */
export type RowChange<M> = SlotChange<M> & {
  /** The names of the fields that changed; of an inserted or deleted row, those that are not blank. */
  readonly fields: readonly string[];
};

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
  before: SlotContent<RowOf<M>>,
): RowChange<M>[] {
  return slotChanges(table, slot, before).flatMap((change) => {
    const [from, to] = [
      change.kind === "insert" ? undefined : change.before,
      change.kind === "delete" ? undefined : change.after,
    ];
    const fields = fieldsBetween(table.model, from, to);
    return change.kind === "update" && fields.length === 0 ? [] : [{ ...change, fields }];
  });
}
