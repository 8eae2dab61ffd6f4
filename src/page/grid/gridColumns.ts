import { IronwoodError, requireArgument, unknownName } from "../../errors/index.ts";
import { RowCommand } from "../../command/index.ts";
import type { AnyKind, AnyModel, FieldPathsOf, Title } from "../../model/index.ts";

/** A column that shows a field. */
export interface FieldColumn<Name extends string = string> {
  /** The name of the field; nested ones with dots. */
  readonly name: Name;
  /** Its heading, or a function that gives it in a language; default: the model's title. */
  readonly title?: Title | undefined;
  /** A CSS length, as wide as what is in it (`fit-content`, the default), or what is left (`stretch`). */
  readonly width?: string | undefined;
  /** Default: numbers at the end, everything else at the start. */
  readonly align?: "start" | "end" | "center" | undefined;
  /** Whether people may not change it here. */
  readonly readOnly?: boolean | undefined;
}

/** A column with a button for each row, whose command is given that row. */
export interface CommandColumn {
  /** The command that each of its buttons runs for its row. */
  readonly command: unknown;
  /** The heading; default: the command's title. */
  readonly title?: Title | undefined;
  /** How wide it is: a width of CSS, `stretch`, or `fit-content`, the default. */
  readonly width?: string | undefined;
}

/** A column of a grid: a field by its name, or with options; or a command. */
export type GridColumn<M extends AnyModel = AnyModel> =
  | FieldPathsOf<M>
  | FieldColumn<FieldPathsOf<M>>
  | (Omit<CommandColumn, "command"> & { readonly command: RowCommand<M> });

/** A column as the grid works with it. */
export interface Column {
  /** What it is called in a layout: the name of its field, or `command 1`, `command 2`. */
  readonly id: string;
  readonly name: string | undefined;
  readonly kind: AnyKind | undefined;
  readonly command: RowCommand | undefined;
  /** In the language of the table. */
  readonly title: string;
  titleIn(locale: string): string;
  readonly width: string;
  readonly align: "start" | "end" | "center";
  /** Whether it is only looked at, whatever the row. */
  readonly fixed: boolean;
}

const atEnd = new Set(["integer", "number", "decimal"]);

/** @throws `unknownField` with the nearest name; `wrongType` for a command that acts on no row, or on another model's */
export function columnsFrom(
  given: readonly GridColumn[] | undefined,
  model: AnyModel,
  where: string,
  locale: string,
): readonly Column[] {
  const list = given ?? model.names.filter((name) => model.kindOf(name)?.options.writeOnly !== true);
  requireArgument(list.length > 0, "columns", given, `one column or more, at ${where}`);
  const isColumn = (each: unknown): boolean => typeof each === "string" || (typeof each === "object" && each !== null);
  requireArgument(list.every(isColumn), "columns", given, `names of fields, or { name } and { command }, at ${where}`);
  let commands = 0;
  const seen = new Set<string>();
  return list.map((each) => {
    if (typeof each === "object" && "command" in each)
      return commandColumn(each, model, `command ${++commands}`, where, locale);
    const {
      name,
      title,
      width = "fit-content",
      align,
      readOnly = false,
    } = typeof each === "string" ? { name: each } : each;
    if (!model.names.includes(name)) throw unknownName("unknownField", "The field", name, model.names, where);
    if (seen.has(name))
      throw new IronwoodError("wrongOption", `The field "${name}" was given two columns`, {
        where,
        expected: "one column for each field",
      });
    seen.add(name);
    const kind = model.kindOf(name);
    const numeric = kind === undefined ? model.isCalculated(name) : atEnd.has(kind.kind);
    const fixed =
      readOnly ||
      model.isCalculated(name) ||
      kind === undefined ||
      untyped.has(kind.kind) ||
      kind.options.readOnly === true;
    checkWidth(width, where);
    return {
      id: name,
      name,
      kind,
      command: undefined,
      ...titled((locale) => said(title, locale) ?? model.titleOf(name, locale), locale),
      width,
      align: align ?? (numeric ? "end" : "start"),
      fixed,
    };
  });
}

/** What has no text to be typed. */
const untyped = new Set(["file", "group", "rows"]);

function commandColumn(
  { command, title, width = "fit-content" }: CommandColumn,
  model: AnyModel,
  id: string,
  where: string,
  locale: string,
): Column {
  if (!(command instanceof RowCommand) || command.model !== model)
    throw new IronwoodError(
      "wrongType",
      `The column "${id}" was given a command that does not act on rows of this model`,
      {
        where,
        received: command,
        expected: `command(model, …) with the model of the rows${model.title === undefined ? "" : `, "${model.title}"`}`,
      },
    );
  checkWidth(width, where);
  return {
    id,
    name: undefined,
    kind: undefined,
    command,
    ...titled((each) => said(title, each) ?? command.title, locale),
    width,
    align: "start",
    fixed: true,
  };
}

const said = (title: Title | undefined, locale: string): string | undefined =>
  typeof title === "function" ? title(locale) : title;

const titled = (
  titleIn: (locale: string) => string,
  locale: string,
): { readonly title: string; titleIn(locale: string): string } => ({ title: titleIn(locale), titleIn });

/** The same columns in a language: those whose titles are others in it are others. */
export function columnsIn(columns: readonly Column[], locale: string): readonly Column[] {
  return columns.map((column) => {
    const title = column.titleIn(locale);
    return title === column.title ? column : { ...column, title };
  });
}

function checkWidth(width: string, where: string): void {
  if (width === "stretch" || width === "fit-content" || CSS.supports("width", width)) return;
  throw new IronwoodError("wrongOption", `The width of a column can't be "${width}"`, {
    where,
    expected: 'a CSS length such as "8rem", "fit-content" or "stretch"',
  });
}

/** The fields of columns; what only runs commands has none. */
export const namesOf = (columns: readonly Column[]): string[] =>
  columns.flatMap(({ name }) => (name === undefined ? [] : [name]));
