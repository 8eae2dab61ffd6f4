import { transaction } from "../../engine/index.ts";
import type { AnyModel, Problem } from "../../model/index.ts";
import type { Table } from "../../table/index.ts";
import type { KeptRows } from "../KeptRows.ts";
import type { DraftSource, NotTaken } from "./Draft.ts";
import { type DraftRow, DraftRows, isDraftRow } from "./DraftRows.ts";

/** Rows of several tables, by the names of the tables. */
type DraftTables = Readonly<Record<string, readonly DraftRow[]>>;

/** A row of one of the tables. */
interface PlacedRow {
  readonly of: DraftRows<AnyModel>;
  readonly row: DraftRow;
}

/** Rows of tables that are kept together and are not saved, as what a draft is of: what one change has touched comes back as one. */
export function togetherSource(
  tables: ReadonlyMap<string, { readonly table: Table; readonly rows: KeptRows<AnyModel> }>,
): DraftSource<DraftTables> {
  const byName = new Map([...tables].map(([name, { table, rows }]) => [name, new DraftRows(table, rows)] as const));
  const first = [...tables.values()][0]!.table;
  const placed = (content: DraftTables): PlacedRow[] =>
    // Tables that others refer to were named before those that refer to them, or are of the same change.
    [...byName].flatMap(([name, of]) => (content[name] ?? []).map((row) => ({ of, row })));
  return {
    get locale() {
      return first.locale;
    },
    model: undefined,
    read() {
      const numbers = new Map<object, number>();
      const numberOf = (group: object): number => {
        if (!numbers.has(group)) numbers.set(group, numbers.size + 1);
        return numbers.get(group)!;
      };
      const all = [...byName].map(([name, rows]) => [name, rows.read(numberOf)] as const);
      const differing = all.filter(([, rows]) => rows.length > 0);
      return differing.length === 0 ? undefined : Object.fromEntries(differing);
    },
    isContent: (json): json is DraftTables =>
      typeof json === "object" &&
      json !== null &&
      Object.entries(json).every(([name, rows]) => byName.has(name) && Array.isArray(rows) && rows.every(isDraftRow)),
    titles: (content) => placed(content).map(({ row }) => row.title),
    isSaved: (content) => [...byName].every(([name, rows]) => rows.isSaved(content[name] ?? [])),
    take: ({ content, locale }) =>
      groupsOf(placed(content)).flatMap((group) => {
        const told = takeTogether(group);
        return told.length > 0 ? told : group.flatMap(({ of, row }) => of.enter(row, locale));
      }),
  };
}

/** Rows that belong together, in the order of the first of each. */
function groupsOf(all: readonly PlacedRow[]): readonly (readonly PlacedRow[])[] {
  const groups = new Map<unknown, PlacedRow[]>();
  for (const each of all) {
    const group = each.row.group ?? each;
    const found = groups.get(group);
    if (found === undefined) groups.set(group, [each]);
    else found.push(each);
  }
  return [...groups.values()];
}

/** Puts back what one change had touched: all of it, or nothing. */
function takeTogether(group: readonly PlacedRow[]): NotTaken[] {
  const told: NotTaken[] = [];
  const result = transaction<void, Problem>(() => {
    for (const { of, row } of group) {
      const reason = of.take(row);
      if (reason !== undefined) told.push(of.notTaken(row, reason));
    }
  });
  if (result.ok || told.length > 0) return told;
  const [{ of, row }] = group as readonly [PlacedRow];
  return [of.notTaken(row, result.problems[0]!.message)];
}
