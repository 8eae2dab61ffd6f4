import { IronwoodError, unknownName } from "../errors/index.ts";
import type { AnyModel } from "../model/index.ts";

export function canonical(locale: string | undefined): string {
  try {
    return (
      new Intl.NumberFormat(locale).resolvedOptions().locale &&
      (locale ?? Intl.DateTimeFormat().resolvedOptions().locale)
    );
  } catch (cause) {
    throw new IronwoodError("wrongOption", "The locale is not a BCP 47 tag", {
      received: locale,
      expected: 'a tag such as "de-DE"',
      cause,
    });
  }
}

export function knownZone(timeZone: string | undefined): string {
  try {
    return new Intl.DateTimeFormat("en", { timeZone }).resolvedOptions().timeZone;
  } catch (cause) {
    throw new IronwoodError("wrongOption", "The time zone is not known", {
      received: timeZone,
      expected: 'an IANA name such as "Europe/Berlin"',
      cause,
    });
  }
}

type Given = Readonly<Record<string, unknown>>;

/** What a new entry begins with: the defaults, and over them what was given; by full names. */
export function startOf(model: AnyModel, given: Given | undefined): Given {
  return given === undefined ? model.defaults : { ...model.defaults, ...checked(model, given) };
}

export function checked(model: AnyModel, given: Given, group = "", values: Record<string, unknown> = {}): Given {
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
    if (kind.kind === "group") checked(model, value as Given, name, values);
    else values[name] = value;
  }
  return values;
}
