import type { AnyKind } from "./kinds/kind.ts";
import type { GroupKind } from "./kinds/group.ts";
import type { Fields } from "./types.ts";

const isGroup = (kind: AnyKind): kind is GroupKind => kind.kind === "group";

/** The fields of a model by their full names, as `place.plot`; groups stand in `groups`. */
export function flattened(fields: Fields): { kinds: Map<string, AnyKind>; groups: Map<string, GroupKind> } {
  const kinds = new Map<string, AnyKind>();
  const groups = new Map<string, GroupKind>();
  const walk = (some: Fields, before: string): void => {
    for (const [name, kind] of Object.entries(some)) {
      if (!isGroup(kind)) kinds.set(before + name, kind);
      else {
        groups.set(before + name, kind);
        walk(kind.fields, `${before}${name}.`);
      }
    }
  };
  walk(fields, "");
  return { kinds, groups };
}

/** The name of the group that a full name is in; `undefined` for a field of the model itself. */
export function outerName(name: string): string | undefined {
  const dot = name.lastIndexOf(".");
  return dot === -1 ? undefined : name.slice(0, dot);
}

/** What a full name gives in a row whose groups are objects. */
export function valueIn(row: unknown, name: string): unknown {
  // Most fields are in no group.
  if (!name.includes(".")) return memberIn(row, name);
  let value = row;
  for (const part of name.split(".")) value = memberIn(value, part);
  return value;
}

function memberIn(row: unknown, name: string): unknown {
  if (typeof row !== "object" || row === null || !Object.hasOwn(row, name)) return undefined;
  return (row as Record<string, unknown>)[name];
}

/** Puts a value under a full name, making the objects of groups on the way. */
export function putIn(row: Record<string, unknown>, name: string, value: unknown): void {
  if (!name.includes(".")) {
    row[name] = value;
    return;
  }
  const parts = name.split(".");
  const last = parts.pop()!;
  let inner = row;
  for (const part of parts) {
    inner[part] ??= {};
    inner = inner[part] as Record<string, unknown>;
  }
  inner[last] = value;
}

/** A frozen copy of a row in which one field has another value. */
export function rowWith(row: object, name: string, value: unknown): object {
  const [first, ...rest] = name.split(".") as [string, ...string[]];
  const inner = (row as Readonly<Record<string, unknown>>)[first];
  return Object.freeze({
    ...row,
    [first]: rest.length === 0 ? value : rowWith(inner ?? {}, rest.join("."), value),
  });
}
