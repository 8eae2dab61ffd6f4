import { IronwoodError, unknownName } from "../errors/index.ts";
import type { AnyField, EntryCore } from "./EntryCore.ts";
import { Field } from "./Field.ts";

/**
 * `entry.values` and `entry.fields`: objects whose members are made when they are looked at, and that know the name that
 * was meant when one is misspelled. Symbols, and the names by which consoles and promises look at any object, are not
 * there.
 */
function members(core: EntryCore, get: (name: string) => unknown, set: (name: string, value: unknown) => void): object {
  const known = new Set(core.model.names);
  const looksAtAny = new Set(["then", "toJSON", "constructor", "asymmetricMatch", "nodeType", "$$typeof"]);
  return new Proxy(Object.create(null) as object, {
    get(_, name) {
      if (typeof name === "symbol" || (looksAtAny.has(name) && !known.has(name))) return undefined;
      return get(name);
    },
    set(_, name, value) {
      set(String(name), value);
      return true;
    },
    has: (_, name) => known.has(name as string),
    ownKeys: () => [...known],
    getOwnPropertyDescriptor(_, name) {
      if (!known.has(name as string)) return undefined;
      return { configurable: true, enumerable: true, writable: true, value: get(name as string) };
    },
    deleteProperty: () => false,
    defineProperty: () => false,
  });
}

export function valuesOf(core: EntryCore): object {
  return members(
    core,
    (name) => {
      const field = core.field(name);
      return field.relevant ? field.value : field instanceof Field ? field.kind.empty : undefined;
    },
    (name, value) => {
      const field = core.field(name);
      if (!(field instanceof Field))
        throw new IronwoodError("calculatedField", `The field "${name}" is calculated and can't be set`, {
          where: core.where,
        });
      field.value = value;
    },
  );
}

export function fieldsOf(core: EntryCore): object {
  return members(
    core,
    (name): AnyField => core.field(name),
    (name) => {
      throw unknownName("unknownField", "A field can't be replaced:", name, core.model.names, core.where);
    },
  );
}
