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
export function whyRefused(name: string): string | undefined {
  if (name === "") return "a blank name finds no control";
  if (refused.has(name)) return "the name has a meaning of its own in JavaScript or HTML";
  if (/^\d+$/.test(name)) return "a name that is a whole number changes the order of fields in JavaScript";
  if (/[./]/.test(name)) return "dots and slashes part the names of nested fields";
  if (name.startsWith("-")) return "a leading hyphen belongs to commands";
  if (/[\s"']/.test(name)) return "blanks and quotes do not belong in a name";
  return undefined;
}

/** What people call a field that has no title of its own: `fenceCost` is "Fence cost". */
export function titleFrom(name: string): string {
  const words = name
    .replace(/([\p{Ll}\d])(\p{Lu})/gu, "$1 $2")
    .replaceAll(/[_-]+/g, " ")
    .toLowerCase();
  return words.charAt(0).toUpperCase() + words.slice(1);
}
