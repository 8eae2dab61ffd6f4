import type { AnyModel } from "../model/index.ts";
import { type LookUp, lookUpOf, SlotSet, type TableState } from "../table/index.ts";
import type { AtPlace } from "./Unsaved.ts";

/** So many rows may have a version of their own before all of them are kept in a list. */
const FEW = 1024;

/**
 * Where the rows of a table are at the place where they are kept, by their slots: one bit for each row that does not differ, and its version where
 * that is not the usual one, as after a first load from a database. Where many have versions of their own, as in a file, that is a list:
 * eight bytes for each row. The keys too, where the place gives them. Of rows that differ it is the journal that knows.
 */
export class PlaceVersions<M extends AnyModel> {
  readonly #known = new SlotSet();
  #usual = "";
  /** By slot, versions that are not the usual one. */
  readonly #others = new Map<number, string>();
  /** The versions of all slots, where many of them are not the usual one. */
  #list: string[] | undefined;
  /** The keys that the place gave, and where they are; `undefined` where rows have keys of their own. */
  readonly #keys: unknown[] | undefined;
  readonly #slots = new Map<LookUp, number>();
  readonly #table: TableState<M>;

  constructor(table: TableState<M>) {
    this.#table = table;
    this.#keys = table.isNumbered ? [] : undefined;
  }

  /** Where the row in a slot is at the place. @param key - its key here */
  at(slot: number, key: unknown): AtPlace | undefined {
    if (!this.#known.has(slot)) return undefined;
    const version = this.#list?.[slot] ?? this.#others.get(slot) ?? this.#usual;
    return { key: this.#keys === undefined ? key : this.#keys[slot], version };
  }

  set(slot: number, { key, version }: AtPlace): void {
    if (!this.#known.has(slot)) this.#known.add(slot);
    this.#setVersion(slot, version);
    if (this.#keys === undefined) return;
    this.#keys[slot] = key;
    this.#slots.set(lookUpOf(key), slot);
  }

  #setVersion(slot: number, version: string): void {
    if (this.#list !== undefined) this.#list[slot] = version;
    else if (version === this.#usual) this.#others.delete(slot);
    else {
      this.#others.set(slot, version);
      if (isMany(this.#others.size, this.#known.size)) this.#makeList();
    }
  }

  #makeList(): void {
    const list: string[] = [];
    for (let slot = 0; slot < 8 * this.#known.bits.length; slot++) list.push(this.#others.get(slot) ?? this.#usual);
    this.#list = list;
    this.#others.clear();
  }

  clear(slot: number): void {
    if (this.#known.has(slot)) this.#known.delete(slot);
    this.#others.delete(slot);
    if (this.#keys === undefined) return;
    this.#slots.delete(lookUpOf(this.#keys[slot]));
    this.#keys[slot] = undefined;
  }

  /** The slot of a row that does not differ, by its key at the place. */
  slotOf(placeKey: unknown): number | undefined {
    return this.#keys === undefined ? this.#table.slotFor(placeKey as never) : this.#slots.get(lookUpOf(placeKey));
  }

  /**
   * Where all rows are, as they were loaded: in slots one after the other.
   *
   * @param keys - those that the place gives; none are read where rows have keys of their own
   */
  load(versions: readonly string[], keys: readonly unknown[]): void {
    this.#known.fill(versions.length);
    this.#usual = versions[0] ?? "";
    this.#others.clear();
    this.#list = undefined;
    let others = 0;
    for (const version of versions) if (version !== this.#usual) others++;
    if (isMany(others, versions.length)) this.#list = versionsOf(versions);
    else if (others > 0) for (const [slot, version] of versions.entries()) this.#setVersion(slot, version);
    this.#slots.clear();
    if (this.#keys === undefined) return;
    this.#keys.length = 0;
    for (const [slot, key] of keys.entries()) {
      this.#keys[slot] = key;
      this.#slots.set(lookUpOf(key), slot);
    }
  }
}

const isMany = (others: number, all: number): boolean => others > FEW && others * 4 > all;

/** Most rows have the version of the row before: one text for all of them. */
function versionsOf(all: readonly string[]): string[] {
  const versions: string[] = [];
  let last = "";
  for (const version of all) {
    if (version !== last) last = version;
    versions.push(last);
  }
  return versions;
}
