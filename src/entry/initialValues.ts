import { IronwoodError, unknownName } from "../errors/index.ts";
import { type AnyModel, kept } from "../model/index.ts";

type Given = Readonly<Record<string, unknown>>;

/** The initial values of a new entry by full names: the values that were given, else the defaults. */
export function initialValues(model: AnyModel, given: Given | undefined): Given {
  return given === undefined ? model.defaults : { ...model.defaults, ...checkedValues(model, given) };
}

export function checkedValues(model: AnyModel, given: Given, group = "", values: Record<string, unknown> = {}): Given {
  for (const [key, value] of Object.entries(given)) {
    const name = group === "" ? key : `${group}.${key}`;
    if (model.isCalculated(name) || value === undefined || value === null) continue;
    const kind = model.kindOf(name) ?? model.groups.get(name);
    if (kind === undefined) throw unknownName("unknownField", "The field", name, model.names, "the values of an entry");
    if (!kind.belongs(value))
      throw new IronwoodError("wrongType", `The field "${name}" was given a value of another type`, {
        received: value,
        expected: kind.expects,
      });
    if (kind.kind === "group") checkedValues(model, value as Given, name, values);
    else values[name] = kept(value);
  }
  return values;
}
