import { internal, refuse, transaction } from "../engine/index.ts";
import { rowWithFields, sameRow } from "../merge/index.ts";
import { type AnyModel, givenTo, type KeyOf, type Problem, type RowOf } from "../model/index.ts";
import type { RowResult, Table } from "../table/index.ts";

/** A row of a file. */
export interface RowOfFile<M extends AnyModel> {
  readonly row: RowOf<M>;
  /** The names of the fields that the file has. */
  readonly given: readonly string[];
  readonly line: number;
}

/** What one row of a file makes of the row with its key; of a key that comes twice it is the later line. */
interface RowChange<M extends AnyModel> {
  readonly key: KeyOf<M>;
  readonly before: RowOf<M> | undefined;
  readonly row: RowOf<M>;
  readonly line: number;
}

/** A row that was left out, and why. */
export interface RefusedLine {
  readonly line: number;
  readonly problems: readonly Problem[];
}

/**
 * Merges rows of a file into a table that is kept at a place: as changes, which are unsaved like any others, and one step to undo. Here
 * nothing is taken with its problems, as when a table is loaded: it could not be saved.
 *
 * @param isAllOrNone - whether one row that is refused keeps all others from being taken too
 * @returns what was refused
 */
export function mergeIntoKept<M extends AnyModel>(
  table: Table<M>,
  rows: readonly RowOfFile<M>[],
  isAllOrNone: boolean,
): readonly RefusedLine[] {
  const state = table[internal];
  const changes = changesOf(table, rows);
  const wrong = changes.flatMap(({ row, before, line }): RefusedLine[] => {
    const problems = state.newErrors(row, before);
    return problems.length === 0 ? [] : [{ line, problems }];
  });
  if (isAllOrNone && wrong.length > 0) return wrong;
  const lines = new Set(wrong.map(({ line }) => line));
  const right = changes.filter(({ line }) => !lines.has(line));
  const together = transaction<void, Problem>(() => {
    for (const each of right) apply(table, each);
  });
  if (together.ok) return wrong;
  // What several rows may not have together is found out where all are there: then one after the other shows which it is.
  if (isAllOrNone) return [firstRefused(table, right)];
  const refused = right.flatMap((each): RefusedLine[] => {
    const one = apply(table, each);
    return one.ok ? [] : [{ line: each.line, problems: one.problems }];
  });
  return [...wrong, ...refused].sort((a, b) => a.line - b.line);
}

const TRIED = "This was only tried.";

/** The first row with which those before it can't be taken, where not all of them can. Nothing is changed. */
function firstRefused<M extends AnyModel>(table: Table<M>, changes: readonly RowChange<M>[]): RefusedLine {
  const problemsOf = (count: number): readonly Problem[] => {
    const tried = transaction<void, Problem | typeof TRIED>(() => {
      refuse(TRIED);
      for (const each of changes.slice(0, count)) apply(table, each);
    });
    return tried.ok ? [] : tried.problems.filter((problem) => problem !== TRIED);
  };
  let [right, refused] = [0, changes.length];
  while (refused - right > 1) {
    const middle = (right + refused) >> 1;
    if (problemsOf(middle).length === 0) right = middle;
    else refused = middle;
  }
  return { line: changes[refused - 1]!.line, problems: problemsOf(refused) };
}

function apply<M extends AnyModel>(table: Table<M>, { key, before, row }: RowChange<M>): RowResult<RowOf<M>> {
  // The compiler does not see that a whole row is a part of one, where the model may be any.
  const values = row as never;
  return before === undefined ? table.insert(values) : table.update(key, values);
}

function changesOf<M extends AnyModel>(table: Table<M>, rows: readonly RowOfFile<M>[]): RowChange<M>[] {
  const { model } = table;
  const changes = new Map<string, RowChange<M>>();
  for (const { row, given, line } of rows) {
    const key = table.keyOf(row);
    const text = JSON.stringify(key);
    const before = table.get(key);
    const now = changes.get(text)?.row ?? before;
    // What the place gives stays as the place has it.
    const names = given.filter((name) => givenTo(model.kindOf(name)!) === undefined);
    const merged = now === undefined ? row : (rowWithFields(model, now, row, names) as RowOf<M>);
    changes.set(text, { key, before, row: merged, line });
  }
  return [...changes.values()].filter(({ before, row }) => !sameRow(model, before, row));
}
