/** What people call a field that has no title of its own: `fenceCost` is "Fence cost". */
export function titleFrom(name: string): string {
  const words = name
    .replace(/([\p{Ll}\d])(\p{Lu})/gu, "$1 $2")
    .replaceAll(/[_-]+/g, " ")
    .toLowerCase();
  return words.charAt(0).toUpperCase() + words.slice(1);
}
