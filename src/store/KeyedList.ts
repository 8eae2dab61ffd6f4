import { KeyIndex, type LookUp, lookUpOf } from "../table/index.ts";

/**
 * Things by their keys, in the order in which they came. A thing keeps its key as long as it is in it.
 *
 * To put one in takes half as long as in a `Map` of texts, which has to be told apart from all others each time that it grows.
 */
export class KeyedList<T extends { readonly key: unknown }> {
  /** With holes, where things were taken out. */
  #items: (T | undefined)[] = [];
  #index!: KeyIndex;
  size = 0;

  constructor() {
    this.#renew([]);
  }

  #renew(items: T[]): void {
    this.#items = items;
    this.#index = new KeyIndex((at) => lookUpOf(items[at]!.key), items.length);
    for (const [at, { key }] of items.entries()) this.#index.addNew(lookUpOf(key), at);
  }

  /** @param key - as it is looked up, here and below */
  get(key: LookUp): T | undefined {
    const at = this.#index.get(key);
    return at === undefined ? undefined : this.#items[at];
  }

  /** Puts one in; one with the same key is not there any more. */
  set(key: LookUp, item: T): void {
    const at = this.#items.length;
    if (this.#index.addNew(key, at)) {
      this.#items.push(item);
      this.size++;
    } else this.#items[this.#index.get(key)!] = item;
  }

  delete(key: LookUp): void {
    const at = this.#index.get(key);
    if (at === undefined) return;
    this.#index.remove(key, at);
    this.#items[at] = undefined;
    this.size--;
    // At most half of it is holes.
    if (this.#items.length > 2 * this.size + 16) this.#renew(this.#items.filter((item) => item !== undefined));
  }

  forEach(work: (item: T) => void): void {
    for (const item of this.#items) if (item !== undefined) work(item);
  }
}
