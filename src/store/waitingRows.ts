import type { AnyModel } from "../model/index.ts";
import { keyIn, type LookUp, lookUpOf, type TableState } from "../table/index.ts";
import type { Differing } from "./Unsaved.ts";
import type { WriteGroup } from "./WriteGroups.ts";

/** One table of several that are written together, as it stands now. */
export interface TableToWrite {
  readonly table: TableState;
  /** All that differ. */
  readonly rows: readonly Differing<AnyModel>[];
  /** Whether a row can't be written now, whatever the others are. */
  isHeld(row: Differing<AnyModel>): boolean;
}

/** What a row is known by as long as it is not changed. */
const identityOf = ({ now, base }: Differing<AnyModel>): unknown => now ?? base;

/**
 * Finds the rows that have to wait: those that can't be written now, those that one change has touched together with one of them, new rows
 * that refer to a new row that waits, and deleted rows to which a row refers that waits.
 *
 * @returns whether a row is one of them
 */
export function waitingRows(tables: readonly TableToWrite[]): (row: Differing<AnyModel>) => boolean {
  const waiting = new Waiting();
  for (const each of tables) for (const row of each.rows) if (each.isHeld(row)) waiting.add(each.table, row);
  for (let before = 0; before < waiting.size;) {
    before = waiting.size;
    for (const { table, rows } of tables)
      for (const row of rows) if (!waiting.has(row) && waiting.dependsOn(table, row)) waiting.add(table, row);
  }
  return (row) => waiting.has(row);
}

class Waiting {
  readonly #rows = new Set<unknown>();
  readonly #groups = new Set<WriteGroup>();
  /** By table, the keys of new rows that wait, and the keys that a waiting row refers to at the place. */
  readonly #created = new Map<TableState, Set<LookUp>>();
  readonly #referred = new Map<TableState, Set<LookUp>>();

  get size(): number {
    return this.#rows.size;
  }

  has(row: Differing<AnyModel>): boolean {
    return this.#rows.has(identityOf(row));
  }

  add(table: TableState, row: Differing<AnyModel>): void {
    this.#rows.add(identityOf(row));
    if (row.group !== undefined) this.#groups.add(row.group.now);
    if (row.kind === "new") add(this.#created, table, lookUpOf(row.key));
    for (const { to, key } of table.referencesOf(row.base)) add(this.#referred, to as TableState, key);
  }

  dependsOn(table: TableState, { group, kind, now, base }: Differing<AnyModel>): boolean {
    if (group !== undefined && this.#groups.has(group.now)) return true;
    if (kind === "deleted") return this.#referred.get(table)?.has(lookUpOf(keyIn(table.model, base))) === true;
    return table.referencesOf(now).some(({ to, key }) => this.#created.get(to as TableState)?.has(key) === true);
  }
}

function add<K>(sets: Map<K, Set<LookUp>>, of: K, key: LookUp): void {
  const set = sets.get(of);
  if (set === undefined) sets.set(of, new Set([key]));
  else set.add(key);
}
