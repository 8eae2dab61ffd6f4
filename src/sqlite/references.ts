import type { AnyModel, Problem } from "../model/index.ts";
import type { StoreChange } from "../store/index.ts";
import { inUse, notThere } from "../table/index.ts";
import { type Cell, cellText, type Column, identifier } from "./columns.ts";
import type { Statement } from "./driver.ts";
import { type Changes, NotWritten } from "./TableInDatabase.ts";

/** A column that has keys of rows of another table. */
export interface Reference {
  readonly field: string;
  readonly column: string;
  /** The other table, and the column of its key. */
  readonly table: string;
  readonly key: string;
}

/** A column of another table that has keys of the rows of one. */
export interface Referrer {
  readonly table: string;
  readonly column: string;
}

/** How a table hangs together with others; both are known when all tables were given. */
export interface TableTies {
  /** Its columns that have keys of rows of others. */
  references(): readonly Reference[];
  /** The columns of others that have keys of its rows. */
  referrers(): readonly Referrer[];
}

/** A table without references. */
export const noTies: TableTies = { references: () => [], referrers: () => [] };

/** What is asked in the database to find out whether references hold. */
export interface ReferenceCheck {
  readonly prepare: (sql: string) => Statement;
  readonly columns: readonly Column[];
  readonly references: readonly Reference[];
  readonly referrers: readonly Referrer[];
  /** The cells of the key of a row that some change has taken away, and no other has put back. */
  readonly goneKey: (change: StoreChange<never, never>) => readonly Cell[] | undefined;
}

/** What of one change refers to no row, or takes away a row that others refer to. */
export function referenceProblems(check: ReferenceCheck, change: StoreChange<never, never>): Problem[] {
  const { prepare, columns, references, referrers, goneKey } = check;
  const problems: Problem[] = [];
  if (change.kind !== "delete")
    for (const { field, column, table, key } of references) {
      const { valueOf, toCell } = columns.find(({ name }) => name === column)!;
      const cell = toCell(valueOf(change.row));
      const sql = `SELECT 1 FROM ${identifier(table)} WHERE ${identifier(key)} IS ?`;
      if (cell !== null && prepare(sql).get([cell]) === undefined) problems.push(notThere("en", field, cellText(cell)));
    }
  if (referrers.length === 0) return problems;
  const gone = goneKey(change);
  if (gone !== undefined && change.kind !== "insert")
    for (const { table, column } of referrers) {
      const sql = `SELECT count(*) FROM ${identifier(table)} WHERE ${identifier(column)} IS ?`;
      const [count] = prepare(sql).raw().get(gone) as [number];
      if (count > 0) problems.push(inUse("en", String(change.key), count));
    }
  return problems;
}

/** @throws {@link NotWritten} with every change of which a reference does not hold */
export function requireReferences<M extends AnyModel>(check: ReferenceCheck, changes: Changes<M>): void {
  if (check.references.length === 0 && check.referrers.length === 0) return;
  const failure = new NotWritten<M>();
  for (const [index, change] of changes.entries()) {
    const problems = referenceProblems(check, change as StoreChange<never, never>);
    if (problems.length > 0) failure.refused.push({ change: index, problems });
  }
  if (failure.refused.length > 0) throw failure;
}
