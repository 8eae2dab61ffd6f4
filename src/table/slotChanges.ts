import type { AnyModel, KeyOf, RowOf } from "../model/index.ts";
import type { SlotContent } from "./RowStorage.ts";
import type { SlottedRows } from "./SlottedRows.ts";

/** What happened to one row, from before a transaction to after it. */
export type SlotChange<M> = {
  /** The key of the row now; of one that was deleted, its last. */
  readonly key: KeyOf<M>;
} & (
  | { readonly kind: "insert"; readonly after: RowOf<M> }
  | { readonly kind: "update"; readonly before: RowOf<M>; readonly after: RowOf<M>; readonly keyBefore: KeyOf<M> }
  | { readonly kind: "delete"; readonly before: RowOf<M> }
);

/** What happened to the row, or the rows, of a slot that held something else before. */
export function slotChanges<M extends AnyModel>(
  table: SlottedRows<M>,
  slot: number,
  { row: before, id }: SlotContent<RowOf<M>>,
): SlotChange<M>[] {
  const { row: after, id: idNow } = table.contentAt(slot);
  if (after === before) return [];
  const gone = (): SlotChange<M> => ({ kind: "delete", key: table.keyFor(before!, id), before: before! });
  const come = (): SlotChange<M> => ({ kind: "insert", key: table.keyFor(after!, idNow), after: after! });
  if (before === undefined) return [come()];
  if (after === undefined) return [gone()];
  // Another row has the slot now.
  if (id !== idNow) return [gone(), come()];
  return [{ kind: "update", key: table.keyFor(after, id), keyBefore: table.keyFor(before, id), before, after }];
}
