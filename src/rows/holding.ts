import type { FieldState } from "../entry/index.ts";

/** The fields that hold the rows of tables, as the field of an order that holds its lines. */
const holders = new WeakMap<object, FieldState>();

/** Notes the field that holds the rows of a table. */
export function setHolder(table: object, field: FieldState): void {
  holders.set(table, field);
}

/** The field that holds the rows of a table; `undefined` for a table of its own. */
export const holderOf = (table: object): FieldState | undefined => holders.get(table);

/** Whether people may not change the rows of a table, or why: what is inside a field that is read-only is so too. */
export function lockOf(table: object): boolean | string {
  const holder = holderOf(table);
  return holder?.readOnly === true && (holder.reason ?? true);
}
