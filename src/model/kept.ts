/**
 * A value as it is kept: a list, and rows in it, as a frozen copy, so that what its giver does with the list later changes nothing
 * here; zero without a sign.
 */
export function kept(value: unknown): unknown {
  if (typeof value === "number") return value + 0;
  if (!Array.isArray(value)) return value;
  const items = value as readonly unknown[];
  return Object.isFrozen(value) && items.every(isKept) ? value : Object.freeze(items.map(keptItem));
}

const isRow = (item: unknown): item is object => {
  if (typeof item !== "object" || item === null) return false;
  const prototype: unknown = Object.getPrototypeOf(item);
  return prototype === Object.prototype || prototype === null;
};

const isKept = (item: unknown): boolean => !isRow(item) || Object.isFrozen(item);

const keptItem = (item: unknown): unknown => (isKept(item) ? item : Object.freeze({ ...(item as object) }));
