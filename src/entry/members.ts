import { IronwoodError, unknownName } from "../errors/index.ts";
import { getOrMake, transaction } from "../engine/index.ts";
import type { AnyFieldState, EntryCore } from "./EntryCore.ts";
import { FieldState } from "./FieldState.ts";
import { GroupFieldsState } from "./GroupFieldsState.ts";

const looksAtAny = new Set(["then", "toJSON", "constructor", "asymmetricMatch", "nodeType", "$$typeof"]);

/** The names right inside a group, or of the model itself. */
function namesInside({ model }: EntryCore, group: string): Set<string> {
  const before = group === "" ? "" : `${group}.`;
  const inside = model.names.filter((name) => name.startsWith(before));
  return new Set(inside.map((name) => name.slice(before.length).split(".")[0]!));
}

/**
 * `entry.values` and `entry.fields`: objects whose members are made when they are first read, and that suggest the nearest name
 * for a misspelled one. Symbols, and the names that consoles and promises ask of any object, are not
 * there.
 */
function members(
  core: EntryCore,
  group: string,
  get: (name: string) => unknown,
  set: (name: string, value: unknown) => void,
): object {
  let inside: Set<string> | undefined;
  const names = (): Set<string> => {
    inside ??= namesInside(core, group);
    return inside;
  };
  const full = (name: string): string => (group === "" ? name : `${group}.${name}`);
  return new Proxy(Object.create(null) as object, {
    get(_, name) {
      if (typeof name === "symbol" || (looksAtAny.has(name) && !names().has(name))) return undefined;
      return get(full(name));
    },
    set(_, name, value) {
      set(full(String(name)), value);
      return true;
    },
    has: (_, name) => names().has(name as string),
    ownKeys: () => [...names()],
    getOwnPropertyDescriptor(_, name) {
      if (!names().has(name as string)) return undefined;
      return { configurable: true, enumerable: true, writable: true, value: get(full(name as string)) };
    },
    deleteProperty: () => false,
    defineProperty: () => false,
  });
}

export function valuesOf(core: EntryCore, group = ""): object {
  const inner = new Map<string, object>();
  return members(
    core,
    group,
    (name) => {
      if (core.model.groups.has(name)) return getOrMake(inner, name, () => valuesOf(core, name));
      const field = core.field(name);
      if (field.relevant) return field.value;
      return field instanceof FieldState ? field.kind.empty : undefined;
    },
    (name, value) => {
      if (core.model.groups.has(name)) return setGroup(core, name, value);
      const field = core.field(name);
      if (!(field instanceof FieldState))
        throw new IronwoodError("calculatedField", `The field "${name}" is calculated and can't be set`, {
          where: core.where,
        });
      field.value = value;
    },
  );
}

/** Sets the fields of a group that are given; the others stay. */
function setGroup(core: EntryCore, group: string, value: unknown): void {
  if (typeof value !== "object" || value === null)
    throw new IronwoodError("wrongType", `The group "${group}" was given no object`, {
      where: core.where,
      received: value,
      expected: core.model.groups.get(group)!.expects,
    });
  // All of it or nothing, and one step to undo.
  transaction(() => void Object.assign(valuesOf(core, group), value));
}

export function fieldsOf(core: EntryCore, group = ""): object {
  const inner = new Map<string, GroupFieldsState>();
  return members(
    core,
    group,
    (name): AnyFieldState | GroupFieldsState => {
      if (!core.model.groups.has(name)) return core.field(name);
      return getOrMake(inner, name, () => new GroupFieldsState(core, name, fieldsOf(core, name)));
    },
    (name) => {
      throw unknownName("unknownField", "A field can't be replaced:", name, core.model.names, core.where);
    },
  );
}
