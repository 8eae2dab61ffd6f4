import {
  type AnyModel,
  type KeyOf,
  putIn,
  type RowOf,
  sayOfKeeping,
  storedFields,
  valueIn,
} from "../../model/index.ts";
import { keyIn, type Table } from "../../table/index.ts";
import { keyFromJson } from "../changes/index.ts";
import type { KeptRows } from "../KeptRows.ts";
import { fromJson, toJson } from "../text/index.ts";

/** A row that differs from its place. */
export interface DraftRow {
  readonly title: string;
  /** Its key and its version at the place; absent for one that is new there. */
  readonly at?: { readonly key: unknown; readonly version: string } | undefined;
  /** As it was at the place; absent for one that is new. */
  readonly base?: unknown;
  /** As it is here; absent for one that is deleted. */
  readonly now?: unknown;
  /** Of tables that are kept together: rows with one number belong together. */
  readonly group?: number | undefined;
}

export function isDraftRow(json: unknown): json is DraftRow {
  const { title, at } = (json ?? {}) as Partial<DraftRow>;
  return (
    typeof title === "string" && (at === undefined || typeof (at as Partial<typeof at> | null)?.version === "string")
  );
}

/** Rows of a table that are not saved, as a draft has them: they come back with what they were made of, so that what others did is not lost. */
export class DraftRows<M extends AnyModel> {
  readonly #table: Table<M>;
  readonly #rows: KeptRows<M>;
  readonly #secrets: readonly string[];

  constructor(table: Table<M>, rows: KeptRows<M>) {
    this.#table = table;
    this.#rows = rows;
    this.#secrets = storedFields(table.model).flatMap(([name, kind]) =>
      kind.options.writeOnly === true ? [name] : [],
    );
  }

  #jsonOf(row: RowOf<M> | undefined): unknown {
    return row && toJson(this.#table.model, row, (kind) => kind.options.writeOnly !== true);
  }

  /** The rows that differ; followed. @param numberOf - of a group of rows that belong together */
  read(numberOf: (group: object) => number = () => 0): readonly DraftRow[] {
    const { model } = this.#table;
    this.#rows.track();
    return this.#rows.differing().map(({ at, key, base, now, group }): DraftRow => {
      const title = model.parts.key.length === 0 ? (model.title ?? "") : String(key);
      return {
        title,
        ...(at && { at: { key: at.key, version: at.version } }),
        base: this.#jsonOf(base),
        now: this.#jsonOf(now),
        ...(group && { group: numberOf(group) }),
      };
    });
  }

  /** Whether rows are at their place as they are in a draft. */
  isSaved(content: readonly DraftRow[]): boolean {
    const { model } = this.#table;
    return content.every(({ at, now }) => {
      const key = at === undefined ? this.#newKey(now) : keyFromJson(model, at.key);
      if (key === undefined) return false;
      const there = this.#rows.there(key as KeyOf<M>).now;
      return JSON.stringify(this.#jsonOf(there?.row)) === JSON.stringify(now);
    });
  }

  /** The key of a row that was new; `undefined` where the place gives it. */
  #newKey(json: unknown): unknown {
    const { model } = this.#table;
    const reading = model.parts.key.length === 0 ? undefined : fromJson(model, json);
    return reading?.ok === true ? keyIn(model, reading.row) : undefined;
  }

  /** What is told of a row that was not taken. */
  notTaken({ title }: DraftRow, reason: string): { readonly name: string; readonly message: string } {
    const message = sayOfKeeping(this.#table.locale, "draftLeftOut", { reason: `${title}: ${reason}` });
    return { name: title, message };
  }

  /** Puts a row back. @returns why it can't be */
  take({ at, base, now }: DraftRow): string | undefined {
    const table = this.#table;
    const { model } = table;
    const rows = this.#rows;
    const here = at === undefined ? undefined : rows.there(keyFromJson(model, at.key));
    const [before, after] = [base, now].map((json) => (json === undefined ? undefined : fromJson(model, json)));
    for (const reading of [before, after]) if (reading?.ok === false) return reading.problems[0]!.message;
    const rowOf = (reading: typeof before): RowOf<M> | undefined =>
      reading?.ok === true ? this.#withSecrets(reading.row, here?.now?.row) : undefined;
    const mine = rowOf(after);
    if (at === undefined) return mine === undefined ? undefined : this.#takeNew(mine);
    const key = keyFromJson(model, at.key);
    if (here?.isUnsaved === true) return sayOfKeeping(table.locale, "draftRowChanged", {});
    const was = rowOf(before);
    if (was === undefined) return undefined;
    // As if it were at its place what it was then, changed here, and then by others to what it is now.
    rows.takeIn([{ key, now: { key, version: at.version, row: was } }]);
    const place = rows.there(key);
    if (place.tableKey === undefined) return sayOfKeeping(table.locale, "draftRowChanged", {});
    const result = mine === undefined ? table.delete(place.tableKey) : table.update(place.tableKey, mine as never);
    rows.note();
    rows.takeIn([{ key, now: here?.now }]);
    return result.ok ? undefined : result.problems[0]!.message;
  }

  /** A row that was new: where others have put in one with its key since, somebody has to choose. */
  #takeNew(row: RowOf<M>): string | undefined {
    const { model } = this.#table;
    const key = keyIn(model, row) as KeyOf<M>;
    const now = model.parts.key.length === 0 ? undefined : this.#rows.there(key).now;
    if (now !== undefined) this.#rows.takeIn([{ key, now: undefined }]);
    const result = this.#table.insert(row as never);
    this.#rows.note();
    if (now !== undefined) this.#rows.takeIn([{ key, now }]);
    return result.ok ? undefined : result.problems[0]!.message;
  }

  #withSecrets(row: RowOf<M>, now: RowOf<M> | undefined): RowOf<M> {
    if (this.#secrets.length === 0 || now === undefined) return row;
    const whole = { ...(row as object) } as Record<string, unknown>;
    for (const name of this.#secrets) putIn(whole, name, valueIn(now, name));
    return whole as RowOf<M>;
  }
}
