import { IronwoodError, requireArgument, requireEntry, requireOptions, unknownName } from "../errors/index.ts";
import { type AnyModel, type FieldPathsOf, titleFrom } from "../model/index.ts";
import type { AnyEntry, Entry } from "./Entry.ts";
import { Steps } from "./FormSteps.ts";

/** One step of a form in pages: its fields, and what people call it. */
export interface StepOptions<Name> {
  /** The fields of the step, by full name; a group's name stands for all of its fields. */
  readonly fields: readonly Name[];
  /** What people call it; without it, made from the name. A function is followed, as for a page in several languages. */
  readonly title?: string | (() => string) | undefined;
}

/**
 * Makes a form in pages of an entry.
 *
 * @param given - the names of the steps in order, and the fields of each: names, or `{ fields, title }`. A group stands
 *   for all that is in it; a step with no fields, as one with a summary, is always relevant.
 * @throws `unknownField` with the nearest name; `wrongOption` for a field in two steps, or when there are no steps
 * @example
 * const route = steps(survey, { place: ["plot", "district"], ground: ["soil"], summary: [] });
 */
export function steps<M extends AnyModel, const S extends string>(
  entry: Entry<M>,
  given: Readonly<Record<S, readonly FieldPathsOf<M>[] | StepOptions<FieldPathsOf<M>>>>,
): Steps<S> {
  requireEntry("steps", entry);
  requireArgument(
    typeof given === "object" && (given as unknown) !== null,
    "steps",
    given,
    '{ place: ["plot", …], … }',
  );
  const { model } = entry as { readonly model: AnyModel };
  const taken = new Map<string, string>();
  const list = Object.entries<readonly string[] | StepOptions<string>>(given).map(([name, options]) => {
    if (!Array.isArray(options))
      requireOptions(`steps(), at "${name}"`, options, { fields: "list", title: "textOrFunction" });
    const { fields, title = titleFrom(name) } = "fields" in options ? options : { fields: options };
    const full = fields.flatMap((field) => inside(field, model));
    for (const field of full) {
      const other = taken.get(field);
      if (other !== undefined)
        throw new IronwoodError("wrongOption", `The field "${field}" is in the steps "${other}" and "${name}"`, {
          expected: "each field in one step",
        });
      taken.set(field, name);
    }
    return { name, fields: full, title: typeof title === "function" ? title : () => title };
  });
  if (list.length === 0)
    throw new IronwoodError("wrongOption", "steps() was given no steps", { expected: '{ place: ["plot", …], … }' });
  return new Steps<S>(entry as AnyEntry as Entry, list);
}

function inside(field: string, model: AnyModel): readonly string[] {
  if (model.groups.has(field)) return model.names.filter((name) => name.startsWith(`${field}.`));
  if (!model.names.includes(field))
    throw unknownName("unknownField", "The field", field, [...model.names, ...model.groups.keys()], "steps()");
  return [field];
}
