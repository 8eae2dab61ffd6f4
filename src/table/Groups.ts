import { getOrMake } from "../engine/index.ts";
import type { AnyModel, FieldPathsOf, RowOf } from "../model/index.ts";
import { columnFrom } from "./columns.ts";
import { Readings } from "./Readings.ts";
import { type AddableNamesOf, Sum, type TotalOf } from "./Sum.ts";
import type { TableState } from "./TableState.ts";

/** The rows of a view that have one value of a field alike. */
export interface RowGroup<M = AnyModel, N extends string = string> {
  /** What they have alike; `undefined` for those in which it is blank. */
  readonly value: unknown;
  /** The same as people see it. */
  readonly title: string;
  /** How many they are. */
  readonly length: number;
  /** The sums that were asked for, by field: of `decimal` a Decimal, of numbers exact and rounded once. */
  readonly totals: { readonly [T in N]: TotalOf<M, T> };
}

/** How a view is asked for groups. An interface, since the compiler compares those of one model at once. */
export interface GroupsMethod<M> {
  <N extends AddableNamesOf<M> = never>(name: FieldPathsOf<M>, totals?: readonly N[]): readonly RowGroup<M, N>[];
}

interface Kept {
  readonly value: unknown;
  length: number;
  readonly sums: Sum[];
}

interface Grouping {
  readonly name: string;
  readonly totals: readonly string[];
  readonly groups: Map<unknown, Kept>;
  /** What was read beside the rows: once that has changed, this is of no use. */
  readonly readings: Readings;
}

/** The groups of a view that somebody has asked for, kept by each row that comes and goes. */
export class Groups<M extends AnyModel> {
  readonly #known = new Map<string, Grouping>();
  readonly #table: TableState<M>;

  constructor(table: TableState<M>) {
    this.#table = table;
  }

  /** The groups by a field, in its order; blank last. */
  of(
    name: string,
    totals: readonly string[],
    slots: { forEach(work: (slot: number) => void): void },
  ): readonly RowGroup[] {
    const key = JSON.stringify([name, totals]);
    const before = this.#known.get(key);
    const isRight = before !== undefined && before.readings.areCurrent;
    const grouping: Grouping = isRight ? before : { name, totals, groups: new Map(), readings: new Readings() };
    if (!isRight) {
      this.#known.set(key, grouping);
      grouping.readings.run(() => slots.forEach((slot) => this.#count(grouping, this.#table.rowAt(slot)!, 1)));
      // What was just read is followed from now on.
      grouping.readings.track();
    }
    const { model, locale, timeZone } = this.#table;
    // What is calculated is known already, and can't be worked out without its row.
    const valueOf = (value: unknown): unknown => value;
    const { keyOf, compare, isOfRow } = columnFrom(name, { model, locale, timeZone, rowsBySlot: [], valueOf });
    const sorted = [...grouping.groups.values()].map((group) => ({
      group,
      key: keyOf(isOfRow ? this.#rowWith(name, group.value) : group.value),
    }));
    sorted.sort((a, b) => compareWithBlanks(a.key, b.key, compare as (a: unknown, b: unknown) => number));
    return sorted.map(({ group }) => this.#shown(group, name, totals));
  }

  /** What an order looks at is a row; of a group only the value is known. */
  #rowWith(name: string, value: unknown): unknown {
    const row: Record<string, unknown> = {};
    const path = name.split(".");
    let inner = row;
    for (const part of path.slice(0, -1)) {
      const next: Record<string, unknown> = {};
      inner[part] = next;
      inner = next;
    }
    inner[path.at(-1)!] = value;
    return row;
  }

  #shown({ value, length, sums }: Kept, name: string, totals: readonly string[]): RowGroup {
    return {
      value,
      title: this.#table.show(this.#table.model.kindOf(name), value),
      length,
      totals: Object.fromEntries(totals.map((each, place) => [each, sums[place]!.valueOf(each)])),
    };
  }

  add(row: RowOf<M>): void {
    for (const grouping of this.#known.values()) grouping.readings.run(() => this.#count(grouping, row, 1));
  }

  take(row: RowOf<M>): void {
    for (const grouping of this.#known.values()) grouping.readings.run(() => this.#count(grouping, row, -1));
  }

  #count({ name, totals, groups }: Grouping, row: RowOf<M>, by: 1 | -1): void {
    const kind = this.#table.model.kindOf(name);
    const found = this.#table.valueOf(row, name);
    const value = found === undefined || kind?.isBlank(found) === true ? undefined : found;
    const key = typeof value === "object" ? String(value) : value;
    const group = getOrMake(groups, key, () => ({
      value,
      length: 0,
      sums: totals.map((each) => new Sum(this.#table.model.kindOf(each))),
    }));
    group.length += by;
    if (group.length === 0) groups.delete(key);
    for (const [place, total] of totals.entries()) group.sums[place]!.add(this.#table.valueOf(row, total), by);
  }

  forget(): void {
    this.#known.clear();
  }
}

/** Blank last. */
function compareWithBlanks(a: unknown, b: unknown, compare: (a: unknown, b: unknown) => number): number {
  if (a === undefined || b === undefined) return Number(a === undefined) - Number(b === undefined);
  return compare(a, b);
}
