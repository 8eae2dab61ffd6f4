import { IronwoodError, type OptionTypes, requireArgument, requireOptions, requireTable } from "../errors/index.ts";
import { internal } from "../engine/index.ts";
import type { AnyModel, KeyOf, RowOf } from "../model/index.ts";
import type { Table } from "../table/index.ts";
import type { Kept } from "./Kept.ts";
import type { KeepOptions } from "./KeepOptions.ts";
import { Keeping } from "./Keeping.ts";
import { requireDrafts } from "./requireDrafts.ts";
import type { ChangeableStore } from "./Store.ts";

const options: OptionTypes = { writeAfter: "count", drafts: "any", progress: "function", signal: "signal" };

const isStore = (store: unknown): boolean =>
  typeof store === "object" &&
  store !== null &&
  ["read", "write", "mark", "follow"].every((name) => typeof (store as Record<string, unknown>)[name] === "function");

/**
 * Keeps the rows of a table at a place: reads them first, notes what is changed, writes it, and takes in what others write there. What is
 * entered stays in the table whatever happens at the place, and nothing is called saved that is not there.
 *
 * @param table - a table with no rows: its rows come from the place
 * @returns how it stands, once the rows are there
 * @throws {@link StoreError} where the place can't be read; `keptTable` for a table that has rows, or is kept already; `wrongType` for a
 *   store whose rows can't be changed; the signal's reason when it is aborted
 * @example
 * const stock = table(plant);
 * const kept = await keep(stock, memoryStore(plant), { writeAfter: 500 });
 * stock.insert({ tag: "AB-0042", species: "Tilia cordata" });
 * await kept.write();
 */
export async function keep<M extends AnyModel>(
  table: Table<M>,
  store: ChangeableStore<RowOf<M>, KeyOf<M>>,
  given: KeepOptions = {},
): Promise<Kept<M>> {
  requireTable("keep", table);
  requireArgument(isStore(store), "keep", store, "a store whose rows can be changed, as memoryStore(model) is");
  requireOptions("keep", given, options);
  requireDrafts("keep", given);
  const state = table[internal];
  if (state.keptAt !== undefined)
    throw new IronwoodError("keptTable", `The rows of ${state.where} are kept in ${state.keptAt} already`, {
      expected: "one keep() for each table; stop() of the first before another",
    });
  if (state.count > 0)
    throw new IronwoodError("keptTable", `keep was given ${state.where} with ${state.count} rows`, {
      expected: `a table with none, since its rows come from ${store.place}; rows to begin with go there by store.write()`,
    });
  const keeping = new Keeping(table, store, given);
  await keeping.begin();
  return keeping;
}
