import { IronwoodError, type OptionTypes, requireArgument, requireOptions, requireTable } from "../errors/index.ts";
import { internal } from "../engine/index.ts";
import type { Database } from "./Database.ts";
import type { KeptTogether, TablesByName, TogetherOptions } from "./KeptTogether.ts";
import { requireDrafts } from "./requireDrafts.ts";
import { Together } from "./Together.ts";

const options: OptionTypes = { writeAfter: "count", drafts: "any", progress: "function", signal: "signal" };

/**
 * Keeps several tables in one database, as `keep` does one: what a transaction over them has changed is written in one transaction, so that no
 * half of it is ever there. A row that waits for somebody to choose, or is refused, holds back what was changed together with it and what depends on it, and nothing else. Two who change one field
 * of a row are asked also where they have entered the same, since what else each of them did belongs to it: of 100 plants, two who sell 3 leave 94.
 *
 * @param tables - tables with no rows, by the names of their tables in the database
 * @returns how they stand, once the rows are there
 * @throws {@link StoreError} where the database can't be read; `keptTable` for a table that has rows, or is kept already
 * @example
 * const kept = await keepTogether({ stock, orders, lines }, sqliteDatabase("nursery.db"), { writeAfter: 500 });
 */
export async function keepTogether<T extends TablesByName>(
  tables: T,
  database: Database,
  given: TogetherOptions = {},
): Promise<KeptTogether<T>> {
  const isMap = typeof tables === "object" && (tables as unknown) !== null && Object.keys(tables).length > 0;
  requireArgument(isMap, "keepTogether", tables, "tables by their names, as { stock, orders }");
  for (const table of Object.values(tables)) requireTable("keepTogether", table);
  const isDatabase = typeof (database as Partial<Database> | null)?.store === "function";
  requireArgument(isDatabase, "keepTogether", database, "a database, as sqliteDatabase(path) gives it");
  requireOptions("keepTogether", given, options);
  requireDrafts("keepTogether", given);
  for (const [name, table] of Object.entries(tables)) {
    const state = table[internal];
    if (state.keptAt !== undefined || state.count > 0)
      throw new IronwoodError("keptTable", `keepTogether was given "${name}", which is kept already or has rows`, {
        where: state.where,
        expected: `a table with none, since its rows come from ${database.place}`,
      });
  }
  const together = new Together(tables, database, given);
  await together.begin();
  return together;
}
