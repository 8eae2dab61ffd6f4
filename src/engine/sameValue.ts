/** An object that knows when it is equal to another by value. */
interface Comparable {
  compare(other: unknown): number;
}

const isPlain = (value: object): boolean => {
  const prototype = Object.getPrototypeOf(value) as object | null;
  // The end of the chain, whichever frame the object comes from.
  return prototype === null || Object.getPrototypeOf(prototype) === null;
};

/**
 * Whether two values are the same for a person: in depth for lists and plain objects, by value for objects that have
 * `compare`, `-0` is `0` and `NaN` is itself. Any other object is only the same as itself.
 */
export function sameValue(a: unknown, b: unknown): boolean {
  if (a === b) return true;
  if (typeof a !== "object" || typeof b !== "object") return a !== a && b !== b;
  if (a === null || b === null) return false;
  if (Array.isArray(a)) return Array.isArray(b) && a.length === b.length && a.every((item, i) => sameValue(item, b[i]));
  if (Object.getPrototypeOf(a) !== Object.getPrototypeOf(b)) return false;
  if (typeof (a as Comparable).compare === "function") return (a as Comparable).compare(b) === 0;
  return isPlain(a) && sameMembers(a as Record<string, unknown>, b as Record<string, unknown>);
}

function sameMembers(a: Record<string, unknown>, b: Record<string, unknown>): boolean {
  const names = Object.keys(a);
  return (
    names.length === Object.keys(b).length &&
    names.every((name) => Object.hasOwn(b, name) && sameValue(a[name], b[name]))
  );
}
