import { IronwoodError, suggestion } from "../../errors/index.ts";
import { type AnyModel, folded, formerNames, storedFields } from "../../model/index.ts";

/** The fields that columns are for. */
export interface ColumnFields {
  /** In the order of the columns; `undefined` for a column that is for no field. */
  readonly fields: readonly (string | undefined)[];
  /** Headings that are no fields, or whose field another column has already. */
  readonly unused: readonly string[];
}

/**
 * Finds the fields of columns by their headings: as `columns` says, else by the names and titles of the fields.
 *
 * @param locales - the languages that titles may be in, beside that of the model
 * @throws `unknownField` when no heading is a field, or none is the key
 */
export function fieldsOf(
  model: AnyModel,
  headings: readonly string[],
  columns: Readonly<Record<string, string | undefined>> = {},
  locales: readonly (string | undefined)[] = [],
): ColumnFields {
  const names = storedFields(model).map(([name]) => name);
  // What is said by hand goes before what a heading seems to say, also one that stands before it.
  const taken = new Set(
    headings.flatMap((heading) => (Object.hasOwn(columns, heading) ? [columns[heading] ?? ""] : [])),
  );
  const unused: string[] = [];
  const namesOf = (name: string): readonly string[] => [
    name,
    model.titleOf(name),
    ...locales.map((locale) => model.titleOf(name, locale)),
  ];
  const isMeantBy =
    (wanted: string) =>
    (name: string): boolean =>
      namesOf(name).some((each) => folded(each) === wanted);
  /** The field that a heading names and no other does, where such names are meant. */
  const take = (heading: string, isNamed: (wanted: string) => (name: string) => boolean): string | undefined => {
    const name = names.find(isNamed(folded(heading)));
    if (name === undefined || taken.has(name)) return undefined;
    taken.add(name);
    return name;
  };
  const now = headings.map((heading) =>
    Object.hasOwn(columns, heading) ? columns[heading] : take(heading, isMeantBy),
  );
  // What a field was called counts where no column has its name of now.
  const wasMeantBy =
    (wanted: string) =>
    (name: string): boolean =>
      formerNames(model.parts.formerly, name).some((each) => folded(each) === wanted);
  const fields = now.map((name, index) => {
    const heading = headings[index]!;
    if (name !== undefined || Object.hasOwn(columns, heading)) return name;
    const former = take(heading, wasMeantBy);
    // A calculated column is worked out anew.
    const isNotKept = model.names.some((each) => !names.includes(each) && isMeantBy(folded(heading))(each));
    if (former === undefined && !isNotKept) unused.push(heading);
    return former;
  });
  requireKey(model, headings, fields, names[0]!);
  return { fields, unused };
}

function requireKey(
  model: AnyModel,
  headings: readonly string[],
  fields: readonly (string | undefined)[],
  first: string,
): void {
  const missing = model.parts.key.filter((name) => !fields.includes(name));
  const namesNone = fields.every((name) => name === undefined);
  if (!namesNone && missing.length === 0) return;
  const [wanted = first] = missing;
  throw new IronwoodError(
    "unknownField",
    namesNone ? "The first line names no field" : `The first line has no column for the key "${wanted}"`,
    {
      received: headings.slice(0, 8).join(", "),
      expected: `headings such as ${storedFields(model)
        .slice(0, 8)
        .map(([name]) => name)
        .join(", ")}`,
      nearest: suggestion(wanted, headings),
    },
  );
}
