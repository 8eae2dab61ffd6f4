/** A key as it is looked up: several fields make one text. */
export type LookUp = string | number | boolean;

/** A text and a number are their own; several fields make one text, and anything else, as an exact decimal, is found by its text. */
export function lookUpOf(key: unknown): LookUp {
  if (typeof key === "string" || typeof key === "number" || typeof key === "boolean") return key;
  return Array.isArray(key) ? JSON.stringify(key) : String(key);
}

/** A number for each text that nobody can know beforehand: no file can be made whose keys all fall on one place. */
const SEED = Math.trunc(Math.random() * 0x7fff_ffff);
const numbers = new Float64Array(1);
const halves = new Int32Array(numbers.buffer);

/** A whole number of 32 bits for a key; equal keys have the same. */
function hashOf(key: LookUp): number {
  let hash = SEED;
  if (typeof key === "string")
    for (let index = 0; index < key.length; index++) {
      hash = Math.imul(hash ^ key.charCodeAt(index), 0x5bd1_e995);
      hash ^= hash >>> 15;
    }
  else {
    // The two zeros are one key.
    numbers[0] = Number(key) + 0;
    hash = Math.imul(hash ^ halves[0]!, 0x5bd1_e995);
    hash = Math.imul(hash ^ (hash >>> 15) ^ halves[1]!, 0x5bd1_e995);
  }
  hash = Math.imul(hash ^ (hash >>> 13), 0x5bd1_e995);
  return hash ^ (hash >>> 15);
}

/**
 * Which slot has which key: eleven to twenty-two bytes for each. The keys themselves are read from the rows, which stand in their slots as long
 * as they are in the index. Inside a transaction two rows may have one key for a while, as when two exchange theirs; the first that came is
 * the one that is found.
 */
export class KeyIndex {
  /** For each place the hash of a key, and its slot counted from 1; 0 for a place that is free. What finds its place taken is at the next. */
  #places: Int32Array;
  /** The number of places less one, which is a power of two. */
  #mask: number;
  #size = 0;
  readonly #doubles = new Map<LookUp, Set<number>>();
  readonly #keyAt: (slot: number) => LookUp | undefined;

  /**
   * @param keyAt - the key of the row in a slot
   * @param count - how many keys are to come
   */
  constructor(keyAt: (slot: number) => LookUp | undefined, count = 0) {
    this.#keyAt = keyAt;
    let places = 8;
    while (places * 3 < count * 4) places *= 2;
    this.#places = new Int32Array(2 * places);
    this.#mask = places - 1;
  }

  get(key: LookUp): number | undefined {
    const found = this.#find(hashOf(key), key);
    return found < 0 ? undefined : this.#places[found + 1]! - 1;
  }

  /** Where a key is in the list of places; below 0 where it is not: then the free place for it, as its complement. */
  #find(hash: number, key: LookUp): number {
    const places = this.#places;
    for (let at = hash & this.#mask; ; at = (at + 1) & this.#mask) {
      const slot = places[2 * at + 1]! - 1;
      if (slot < 0) return ~(2 * at);
      if (places[2 * at] === hash && this.#keyAt(slot) === key) return 2 * at;
    }
  }

  /** Adds a key that nobody has, as while rows are loaded. @returns whether nobody had it */
  addNew(key: LookUp, slot: number): boolean {
    const hash = hashOf(key);
    const found = this.#find(hash, key);
    if (found >= 0) return false;
    this.#places[~found] = hash;
    this.#places[~found + 1] = slot + 1;
    this.#size++;
    if (this.#size * 4 > this.#mask * 3) this.#grow();
    return true;
  }

  #grow(): void {
    const before = this.#places;
    const places = new Int32Array(2 * before.length);
    this.#mask = before.length - 1;
    for (let from = 0; from < before.length; from += 2) {
      if (before[from + 1] === 0) continue;
      let at = before[from]! & this.#mask;
      while (places[2 * at + 1] !== 0) at = (at + 1) & this.#mask;
      places[2 * at] = before[from]!;
      places[2 * at + 1] = before[from + 1]!;
    }
    this.#places = places;
  }

  add(key: LookUp, slot: number): void {
    if (this.addNew(key, slot)) return;
    const doubles = this.#doubles.get(key);
    if (doubles === undefined) this.#doubles.set(key, new Set([slot]));
    else doubles.add(slot);
  }

  remove(key: LookUp, slot: number): void {
    const doubles = this.#doubles.get(key);
    const found = this.#findSlot(hashOf(key), slot);
    if (found === undefined) doubles?.delete(slot);
    else if (doubles === undefined) this.#free(found);
    else {
      const next = doubles.values().next().value!;
      this.#places[found + 1] = next + 1;
      doubles.delete(next);
    }
    if (doubles?.size === 0) this.#doubles.delete(key);
  }

  /** Where a slot is in the list of places. */
  #findSlot(hash: number, slot: number): number | undefined {
    const places = this.#places;
    for (let at = hash & this.#mask; places[2 * at + 1] !== 0; at = (at + 1) & this.#mask)
      if (places[2 * at + 1] === slot + 1) return 2 * at;
    return undefined;
  }

  /** Frees a place. What is behind it moves up as far as it may: no key is found beyond a free place. */
  #free(found: number): void {
    const places = this.#places;
    this.#size--;
    let free = found >> 1;
    for (let at = (free + 1) & this.#mask; places[2 * at + 1] !== 0; at = (at + 1) & this.#mask) {
      const first = places[2 * at]! & this.#mask;
      // How far a key is from its first place, and how far the free place is from that.
      if (((at - first) & this.#mask) < ((at - free) & this.#mask)) continue;
      places[2 * free] = places[2 * at]!;
      places[2 * free + 1] = places[2 * at + 1]!;
      free = at;
    }
    places[2 * free + 1] = 0;
  }

  /** Whether more than one row has a key. */
  isDouble(key: LookUp): boolean {
    return this.#doubles.has(key);
  }
}
