import type { AnyModel } from "../model/index.ts";
import { type LookUp, lookUpOf, type TableState } from "../table/index.ts";
import type { AtPlace } from "./Unsaved.ts";

/**
 * Where the rows of a table are at the place where they are kept, by their slots: a list of versions, eight bytes for each row; the keys
 * too, where the place gives them. Of rows that differ it is the journal that knows.
 */
export class PlaceVersions<M extends AnyModel> {
  #versions: (string | undefined)[] = [];
  /** The keys that the place gave, and where they are; `undefined` where rows have keys of their own. */
  readonly #keys: unknown[] | undefined;
  readonly #slots = new Map<LookUp, number>();
  #last = "";
  readonly #table: TableState<M>;

  constructor(table: TableState<M>) {
    this.#table = table;
    this.#keys = table.isNumbered ? [] : undefined;
  }

  /** Where the row in a slot is at the place. @param key - its key here */
  at(slot: number, key: unknown): AtPlace | undefined {
    const version = this.#versions[slot];
    return version === undefined ? undefined : { key: this.#keys === undefined ? key : this.#keys[slot], version };
  }

  set(slot: number, { key, version }: AtPlace): void {
    // Most rows have the version of the row before: one text for all of them.
    if (version !== this.#last) this.#last = version;
    this.#versions[slot] = this.#last;
    if (this.#keys === undefined) return;
    this.#keys[slot] = key;
    this.#slots.set(lookUpOf(key), slot);
  }

  clear(slot: number): void {
    this.#versions[slot] = undefined;
    if (this.#keys === undefined) return;
    this.#slots.delete(lookUpOf(this.#keys[slot]));
    this.#keys[slot] = undefined;
  }

  /** The slot of a row that does not differ, by its key at the place. */
  slotOf(placeKey: unknown): number | undefined {
    return this.#keys === undefined ? this.#table.slotFor(placeKey as never) : this.#slots.get(lookUpOf(placeKey));
  }

  /** Where all rows are, as they were loaded: in slots one after the other. */
  load(all: readonly AtPlace[]): void {
    this.#versions = [];
    this.#slots.clear();
    if (this.#keys !== undefined) this.#keys.length = 0;
    for (let slot = 0; slot < all.length; slot++) this.set(slot, all[slot]!);
  }
}
