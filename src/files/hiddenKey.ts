/** The name of the column or member that has the keys of rows whose model has none. */
export const HIDDEN_KEY = "ironwood_key";

/** Keys for rows that were put in without one: each is known by what it holds, and by how many of the kind stand before it. */
export class ProvisionalKeys {
  readonly #equal = new Map<string, number>();

  /** The key of the next row. @param version - what it holds */
  next(version: string): string {
    const count = (this.#equal.get(version) ?? 0) + 1;
    this.#equal.set(version, count);
    return `${version}.${count}`;
  }
}
