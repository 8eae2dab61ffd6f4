import { IronwoodError } from "../errors/index.ts";
import { follow, transaction } from "../engine/index.ts";
import { type AnyEntry, Field } from "../entry/index.ts";
import { type AnyModel, type KindOf, pointerTo, type Problem } from "../model/index.ts";
import { type AnyTable, type Table, table } from "../table/index.ts";
import { openRows } from "./openRows.ts";

/** The model of the rows that a field of a model holds. */
export type RowModel<M, N extends string> =
  KindOf<M, N> extends { readonly rowModel: infer R extends AnyModel } ? R : AnyModel;

const known = new WeakMap<object, Map<string, AnyTable>>();

/**
 * The rows inside a row as a table, as the lines of an order: what is changed in it is changed in the entry, what the entry
 * reverts or undoes is in it. A row that is being edited counts when the entry is checked or saved.
 *
 * @throws `unknownField` when the entry has no such field; `wrongType` when it holds no rows
 * @example bindGrid(document.querySelector("#lines")!, rowsOf(order, "lines"), { edit: "row", totals: ["count"] });
 */
export function rowsOf<E extends AnyEntry, N extends string>(entry: E, name: N): Table<RowModel<E["model"], N>> {
  let ofEntry: Map<string, AnyTable> | undefined = known.get(entry);
  if (ofEntry === undefined) known.set(entry, (ofEntry = new Map<string, AnyTable>()));
  let made = ofEntry.get(name);
  if (made === undefined) ofEntry.set(name, (made = inStep(entry, name)));
  return made as Table<RowModel<E["model"], N>>;
}

type Rows = readonly object[];

function inStep(entry: AnyEntry, name: string): AnyTable {
  const field = entry.core.field(name);
  const model = field instanceof Field ? (field.kind.rowModel as AnyModel | undefined) : undefined;
  if (!(field instanceof Field) || model === undefined)
    throw new IronwoodError("wrongType", `rowsOf was given the field "${name}"`, {
      where: entry.core.where,
      expected: "a field of the kind rows()",
    });
  const lines: AnyTable = table(model, field.value as Rows, { locale: entry.locale });
  // Both ways, and neither writes what the other has already: what is the same is no change.
  follow(
    () => field.value as Rows,
    (rows) => takeRows(lines, rows),
  );
  follow(
    () => [...lines],
    (rows) => {
      if (!sameRows(rows, field.value as Rows)) field.value = rows;
    },
  );
  entry.core.parts.add(() => commitAll(lines, field));
  return lines;
}

const sameRows = (a: Rows, b: Rows): boolean => a.length === b.length && a.every((row, place) => row === b[place]);

/** What is at both ends alike stays; between them rows are changed, added and taken out one by one. */
function takeRows(lines: AnyTable, rows: Rows): void {
  const slots = lines.slotsInUse();
  const before = slots.map((slot) => lines.rowAt(slot)!);
  if (sameRows(before, rows)) return;
  let start = 0;
  while (start < before.length && start < rows.length && before[start] === rows[start]) start++;
  let end = 0;
  while (end < Math.min(before.length, rows.length) - start && before.at(-1 - end) === rows.at(-1 - end)) end++;
  const gone = slots.slice(start, slots.length - end);
  const come = rows.slice(start, rows.length - end);
  transaction(() => {
    // Rows stand in the order of their places: where more come than go, those behind move on by one.
    const places = come.length > gone.length && end > 0 ? [...gone, ...slots.slice(slots.length - end)] : gone;
    const content = come.length > gone.length && end > 0 ? rows.slice(start) : come;
    content.forEach((row, number) => lines.putBack(places[number] ?? lines.slots, row));
    for (const slot of places.slice(content.length)) lines.putBack(slot, undefined);
  });
}

/** Has what is being edited be in the table. @returns what can't be, by the place of its row */
function commitAll(lines: AnyTable, field: Field): readonly Problem[] {
  const problems: Problem[] = [];
  for (const entry of [...openRows(lines)]) {
    const done = entry.commit();
    if ("then" in done || done.ok) continue;
    const place = [...lines].indexOf(entry.kept!);
    for (const problem of done.problems)
      problems.push({ ...problem, pointer: `${pointerTo(field.name)}/${place}${problem.pointer}` });
  }
  return problems;
}
