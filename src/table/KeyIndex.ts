/** A key as it is looked up: several fields make one text. */
export type LookUp = string | number | boolean;

/** A text and a number are their own; several fields make one text, and anything else, as an exact decimal, is found by its text. */
export function lookUpOf(key: unknown): LookUp {
  if (typeof key === "string" || typeof key === "number" || typeof key === "boolean") return key;
  return Array.isArray(key) ? JSON.stringify(key) : String(key);
}

/**
 * Which slot has which key. Inside a transaction two rows may have one for a while, as when two exchange theirs; the first
 * that came is the one that is found.
 */
export class KeyIndex {
  readonly #slots = new Map<LookUp, number>();
  readonly #doubles = new Map<LookUp, Set<number>>();

  get(key: LookUp): number | undefined {
    return this.#slots.get(key);
  }

  /** Adds a key that nobody has, as while rows are loaded. @returns whether nobody had it */
  addNew(key: LookUp, slot: number): boolean {
    const { size } = this.#slots;
    // One look instead of two: a key that is there already leaves the number of keys as it is.
    const there = this.#slots.get(key);
    if (there !== undefined) return false;
    this.#slots.set(key, slot);
    return this.#slots.size > size;
  }

  add(key: LookUp, slot: number): void {
    if (this.addNew(key, slot)) return;
    const doubles = this.#doubles.get(key);
    if (doubles === undefined) this.#doubles.set(key, new Set([slot]));
    else doubles.add(slot);
  }

  remove(key: LookUp, slot: number): void {
    const doubles = this.#doubles.get(key);
    if (this.#slots.get(key) !== slot) doubles?.delete(slot);
    else if (doubles === undefined) this.#slots.delete(key);
    else {
      const next = doubles.values().next().value!;
      this.#slots.set(key, next);
      doubles.delete(next);
    }
    if (doubles?.size === 0) this.#doubles.delete(key);
  }

  /** Whether more than one row has a key. */
  isDouble(key: LookUp): boolean {
    return this.#doubles.has(key);
  }
}
