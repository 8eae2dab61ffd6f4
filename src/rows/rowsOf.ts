import { IronwoodError, requireEntry } from "../errors/index.ts";
import { allSoon, follow, getOrMake, internal, isPromise, type Soon } from "../engine/index.ts";
import { type AnyEntry, type EntryState, FieldState } from "../entry/index.ts";
import { type AnyModel, type KindOf, pointerTo, type Problem } from "../model/index.ts";
import { type AnyTable, applyStoredRows, type Table, table, type TableState } from "../table/index.ts";
import { setHolder } from "./holding.ts";
import { editedIn } from "./openEntries.ts";

/** The model of the rows that a field of a model holds. */
export type RowModel<M, N extends string> =
  KindOf<M, N> extends { readonly rowModel: infer R extends AnyModel } ? R : AnyModel;

const known = new WeakMap<object, Map<string, AnyTable>>();

/**
 * The rows inside a row as a table, as the lines of an order: what is changed in it is changed in the entry, what the entry
 * reverts or undoes is in it. A row that is being edited counts when the entry is checked, saved or left.
 *
 * @throws `unknownField` when the entry has no such field; `wrongType` when it holds no rows
 * @example bindGrid(document.querySelector("#lines")!, rowsOf(order, "lines"), { edit: "row", totals: ["count"] });
 */
export function rowsOf<E extends AnyEntry, N extends string>(entry: E, name: N): Table<RowModel<E["model"], N>> {
  requireEntry("rowsOf", entry);
  const ofEntry = getOrMake(known, entry, () => new Map<string, AnyTable>());
  return getOrMake(ofEntry, name, () => linkedTable(entry[internal] as EntryState, name)) as Table<
    RowModel<E["model"], N>
  >;
}

/** The rows inside a row that somebody has as a table, by the names of their fields. */
export function linkedTables(entry: EntryState): ReadonlyMap<string, AnyTable> {
  // What is linked later is followed too.
  entry.core.parts.track();
  return known.get(entry) ?? new Map<string, AnyTable>();
}

type Rows = readonly object[];

function linkedTable(entry: EntryState, name: string): AnyTable {
  const { core, locale, timeZone } = entry;
  const field = core.field(name);
  const model = field instanceof FieldState ? (field.kind.rowModel as AnyModel | undefined) : undefined;
  if (!(field instanceof FieldState) || model === undefined)
    throw new IronwoodError("wrongType", `rowsOf was given the field "${name}"`, {
      where: core.where,
      expected: "a field of the kind rows()",
    });
  const lines: AnyTable = table(model, field.value as Rows, { locale, timeZone });
  const state = lines[internal] as TableState;
  setHolder(state, field);
  // What is typed in a row belongs to the entry until it is in the row.
  state.typedHistory = core.history;
  // The rows on which entry and table last agreed: by comparing with these one knows which of the two has changed.
  let agreed = field.value as Rows;
  const agree = (): void => {
    const [inField, inTable] = [field.value as Rows, [...lines] as Rows];
    const isFieldChanged = !sameRows(inField, agreed);
    agreed = isFieldChanged ? inField : inTable;
    if (isFieldChanged) applyStoredRows(state, inField);
    else if (!sameRows(inField, inTable)) field.value = inTable;
  };
  follow(() => [field.value as Rows, [...lines]], agree);
  follow(
    () => entry.locale,
    (language) => {
      lines.locale = language;
    },
  );
  core.parts.add({
    get changed() {
      return editedIn(state).some((entry) => entry.changed);
    },
    commit() {
      const problems = commitAll(state, pointerTo(name));
      // During a pass followers run only in the next pass, but a commit needs the rows now.
      agree();
      return problems;
    },
    revert() {
      for (const entry of editedIn(state)) entry.revert();
    },
  });
  return lines;
}

const sameRows = (a: Rows, b: Rows): boolean => a.length === b.length && a.every((row, place) => row === b[place]);

/** Has what is being edited be in the table. @returns what can't be, by the places of the rows */
function commitAll(lines: TableState, pointer: string): Soon<readonly Problem[]> {
  const found: Soon<readonly Problem[]>[] = editedIn(lines).map((entry) => {
    const problemsIn = (problems: readonly Problem[]): readonly Problem[] => {
      const place = [...lines].indexOf(entry.kept!);
      return problems.map((problem) => ({ ...problem, pointer: `${pointer}/${place}${problem.pointer}` }));
    };
    const committed = entry.commit();
    if (isPromise(committed)) return committed.then((result) => (result.ok ? [] : problemsIn(result.problems)));
    return committed.ok ? [] : problemsIn(committed.problems);
  });
  const all = allSoon(found);
  return isPromise(all) ? all.then((each) => each.flat()) : all.flat();
}
