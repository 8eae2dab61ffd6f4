import {
  type AnyKind,
  type AnyModel,
  formerNames,
  nameIn,
  type Problem,
  storedFields,
  valueIn,
} from "../../model/index.ts";

/** A row that an older model has written, as the model of now reads it. */
export interface ModernRow {
  readonly json: Readonly<Record<string, unknown>>;
  /** The outermost names of what was read under other names, and is no part of the row any more. */
  readonly covered: ReadonlySet<string>;
  /** Why the model's own reading of it failed. */
  readonly failure?: string | undefined;
}

type Members = Readonly<Record<string, unknown>>;

const outermost = (name: string): string => name.split(".", 1)[0]!;

/** How a model reads and writes rows as JSON. */
interface RowsAsJson {
  /** The full names of what can't be read. */
  readonly unread: (json: Members) => readonly string[];
  readonly jsonOf: (kind: AnyKind, value: unknown) => unknown;
}

/** Renames the members of a row, and has read what the model can't read otherwise. */
export function modernRow(model: AnyModel, given: Members, { unread, jsonOf }: RowsAsJson): ModernRow {
  const covered = new Set<string>();
  let json = given;
  for (const [name] of storedFields(model)) {
    if (isThere(valueIn(json, name))) continue;
    const former = formerNames(model.parts.formerly, name).find((each) => isThere(valueIn(json, each)));
    if (former === undefined) continue;
    const value = valueIn(json, former);
    json = withMember(withoutMember(json, former), name, value);
    covered.add(outermost(former));
  }
  let failure: string | undefined;
  for (const { read } of model.parts.formerly) {
    const wrong = unread(json);
    if (read === undefined || wrong.length === 0) continue;
    const looked = new Set<string>();
    let fields: object;
    try {
      fields = read(watched(given, looked));
    } catch (error) {
      failure ??= String((error as { readonly message?: unknown } | null)?.message ?? error);
      continue;
    }
    const answered = wrong.filter((name) => looked.has(outermost(name)));
    // What looked at nothing that is in the way says nothing of this row.
    if (answered.length === 0) continue;
    for (const name of answered) {
      covered.add(outermost(name));
      // What is no field and was looked at is read. A field that can't be read stays so, unless there is a value for it now.
      if (model.kindOf(name) === undefined || Object.hasOwn(fields, outermost(name))) json = withoutMember(json, name);
    }
    for (const [name, kind] of storedFields(model)) {
      const value = valueIn(fields, name);
      // What could not be worked out, since the row does not have it, is no value.
      const isValue = value !== undefined && !Number.isNaN(value) && !kind.isBlank(value);
      if (isValue && !isThere(valueIn(json, name))) json = withMember(json, name, jsonOf(kind, value));
    }
  }
  return { json, covered, failure };
}

const isThere = (value: unknown): boolean => value !== undefined && value !== null;

/** An object that notes which of its members were looked at. */
const watched = (given: Members, looked: Set<string>): Members =>
  new Proxy(given, {
    get(target, name) {
      if (typeof name === "string") looked.add(name);
      return Object.hasOwn(target, name) ? target[name as string] : undefined;
    },
  });

function withMember(json: Members, name: string, value: unknown): Members {
  const [first, ...rest] = name.split(".");
  if (rest.length === 0) return { ...json, [first!]: value };
  return { ...json, [first!]: withMember(asMembers(json[first!]), rest.join("."), value) };
}

/** Without a member, and without a group that has nothing else. */
function withoutMember(json: Members, name: string): Members {
  const [first, ...rest] = name.split(".");
  const { [first!]: inner, ...others } = json;
  if (rest.length === 0) return others;
  const left = withoutMember(asMembers(inner), rest.join("."));
  return Object.keys(left).length === 0 ? others : { ...json, [first!]: left };
}

const asMembers = (value: unknown): Members =>
  typeof value === "object" && value !== null && !Array.isArray(value) ? (value as Members) : {};

/** The full names of what some problems are about: of one inside a value, that of its field. */
export function unreadNames(model: AnyModel, problems: readonly Problem[]): readonly string[] {
  const fields = storedFields(model).map(([name]) => name);
  return problems.map(({ pointer }) => {
    const name = nameIn(pointer);
    return fields.find((field) => name === field || name.startsWith(`${field}.`)) ?? name;
  });
}
