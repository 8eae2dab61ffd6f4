import { platform } from "../engine/index.ts";
import { nearestName } from "../errors/index.ts";
import { type AnyKind, type AnyModel, pointerTo, type Problem, storedFields } from "../model/index.ts";
import { Decimal } from "../notation/index.ts";
import { type Cell, cellText, type Column, columnOfOthers } from "./columns.ts";
import type { DeclaredColumn } from "./tableColumns.ts";
import type { ShownColumn, TableShape } from "./tableShape.ts";

/** A column of a table of another program that is a field of the model. */
export interface MappedColumn extends Column {
  readonly kind: AnyKind;
  readonly shown: ShownColumn;
  /** Why the column would not keep a value as it is; `undefined` where it does. */
  readonly whyNotKept: (value: unknown) => string | undefined;
}

/** The columns of a table, in the order of the fields; and what keeps the table from being used, in words. */
export function mappedColumns(
  model: AnyModel,
  table: string,
  shape: TableShape,
  declared: ReadonlyMap<string, DeclaredColumn | undefined>,
): { readonly columns: readonly MappedColumn[]; readonly faults: readonly string[] } {
  const faults: string[] = [];
  if (!shape.isTable) faults.push(`${table} is no table that can be written to`);
  const byName = new Map(shape.columns.map((column) => [column.name.toLowerCase(), column]));
  const names = shape.columns.map(({ name }) => name);
  const byField = new Map([...declared].flatMap(([name, each]) => (each === undefined ? [] : [[each.field, name]])));
  const columns = storedFields(model).flatMap(([field, kind]): MappedColumn[] => {
    const name = byField.get(field);
    const given = name === undefined ? undefined : declared.get(name);
    const shown = name === undefined ? undefined : byName.get(name);
    if (given !== undefined && shown !== undefined) return [mappedColumn(field, kind, given, shown)];
    const wanted = given?.column ?? field;
    const nearest = nearestName(wanted, names);
    faults.push(
      `${table} has no column ${wanted} for the field ${field}${nearest === undefined ? "" : `; did you mean ${nearest}?`}`,
    );
    return [];
  });
  if (faults.length > 0) return { columns, faults: [...faults, `the columns of ${table} are ${names.join(", ")}`] };
  const keys = model.parts.key.map((field) => byField.get(field)!);
  const isUnique = shape.keys.some((each) => each.size === keys.length && keys.every((key) => each.has(key)));
  if (!isUnique)
    faults.push(`${keys.map((key) => byName.get(key)!.name).join(", ")} is no primary key of ${table}, nor unique`);
  return { columns, faults };
}

function mappedColumn(field: string, kind: AnyKind, { read, write }: DeclaredColumn, shown: ShownColumn): MappedColumn {
  const plain = columnOfOthers(field, shown.name, kind, shown.isRequired);
  const isBlank = (value: unknown): boolean => value === undefined || kind.isBlank(value);
  const isRounded = kind.kind === "decimal" && shown.isNumeric && write === undefined;
  return {
    ...plain,
    kind,
    shown,
    toCell:
      write === undefined ? plain.toCell : (value) => (isBlank(value) ? plain.toCell(value) : write(value as never)),
    fromCell: (cell) => {
      if (cell === null) return plain.fromCell(cell);
      // Whole numbers that JavaScript can't tell from the next one.
      if (Number.isInteger(cell) && !Number.isSafeInteger(cell)) return undefined;
      if (read === undefined) return plain.fromCell(cell);
      const value = attempt(() => read(cell as never));
      return value !== undefined && kind.belongs(value) ? value : undefined;
    },
    whyNotKept: (value) =>
      isRounded && !isBlank(value) && Decimal.of(String(Number(String(value)))).compare(value) !== 0
        ? `the column ${shown.name} has no room for so many digits`
        : undefined,
  };
}

/** What a builder's function gives; nothing where it fails, which is told. */
function attempt(work: () => unknown): unknown {
  try {
    return work();
  } catch (error) {
    platform.report(error);
    return undefined;
  }
}

/** That a cell holds no value of its field. */
export function notSuch(model: AnyModel, field: string, cell: Cell): Problem {
  const message = `${model.titleOf(field)} is not ${model.kindOf(field)!.expects}: ${cellText(cell)}.`;
  return { code: "typeMismatch", message, severity: "error", pointer: pointerTo(field) };
}
