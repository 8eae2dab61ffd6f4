/** What may be there at once. */
export type Soon<T> = T | Promise<T>;

/** Whether it has to be waited for: a promise of any origin. */
export const isPromise = <T>(value: Soon<T>): value is Promise<T> =>
  typeof value === "object" && value !== null && "then" in value && typeof value.then === "function";

/** All of several, at once where none has to be waited for. */
export function allSoon<T>(parts: readonly Soon<T>[]): Soon<T[]> {
  return parts.some(isPromise)
    ? Promise.all(parts.map((part) => Promise.resolve(part)))
    : (parts as readonly T[]).slice();
}
