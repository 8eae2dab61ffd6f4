import { IronwoodError, unknownName } from "../IronwoodError.ts";
import { requireArgument } from "./checkedArguments.ts";

const refused = new Set([
  "__proto__",
  "constructor",
  "prototype",
  "toString",
  "valueOf",
  "hasOwnProperty",
  "_charset_",
  "isindex",
]);

/** Why a name can't be a field's, or `undefined` when it can. */
function whyRefused(name: string): string | undefined {
  if (name === "") return "a blank name finds no control";
  if (refused.has(name)) return "the name has a meaning of its own in JavaScript or HTML";
  if (/^\d+$/.test(name)) return "a name that is a whole number changes the order of fields in JavaScript";
  if (/[./]/.test(name)) return "dots and slashes part the names of nested fields";
  if (name.startsWith("-")) return "a leading hyphen belongs to commands";
  if (/[\s"']/.test(name)) return "blanks and quotes do not belong in a name";
  return undefined;
}

/**
 * Refuses names that no field can have: all of them at once.
 *
 * @param fields - what is declared under each name
 * @throws `refusedName`
 */
export function requireNames(call: string, fields: object): void {
  const refusals = [...Object.keys(fields), ...hiddenPrototype(fields)]
    .map((name) => [name, whyRefused(name)] as const)
    .filter(([, why]) => why !== undefined)
    .map(([name, why]) => `"${name}": ${why}`);
  if (refusals.length > 0)
    throw new IronwoodError("refusedName", `Fields can't have these names: ${refusals.join("; ")}`, { where: call });
}

/** `{ __proto__: … }` in a literal sets the prototype and leaves no field behind, so it is looked for apart. */
function hiddenPrototype(fields: object): readonly string[] {
  const prototype = Object.getPrototypeOf(fields) as object | null;
  return prototype === null || Object.getPrototypeOf(prototype) === null ? [] : ["__proto__"];
}

/**
 * Refuses former names of fields that are not declared, and former names that are no names of the past.
 *
 * @param former - by the name of a field, the name or names that it had
 * @throws `unknownField`, `nameTaken`, `wrongType`
 */
export function requireFormerNames(former: object, names: readonly string[], declared: readonly string[]): void {
  const call = ".formerly()";
  const taken = new Map<string, string>();
  for (const [field, given] of Object.entries(former as Readonly<Record<string, unknown>>)) {
    if (!declared.includes(field)) throw unknownName("unknownField", "The field", field, declared, call);
    for (const name of [given ?? []].flat() as readonly unknown[]) {
      requireArgument(
        typeof name === "string" && name !== "",
        call,
        name,
        `the name that "${field}" had, or a list of them`,
      );
      const other = names.includes(name as string) ? name : taken.get(name as string);
      if (other !== undefined)
        throw new IronwoodError(
          "nameTaken",
          `The former name "${String(name)}" of "${field}" is a name of "${String(other)}"`,
          {
            where: call,
            expected: "a name that no field has now, and no other had",
          },
        );
      taken.set(name as string, field);
    }
  }
}
