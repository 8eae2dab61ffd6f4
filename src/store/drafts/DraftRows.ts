import { internal } from "../../engine/index.ts";
import { type AnyModel, type KeyOf, type RowOf, sayOfKeeping } from "../../model/index.ts";
import { editedIn } from "../../rows/index.ts";
import { keyIn, lookUpOf, type LookUp, type Table, type TableState } from "../../table/index.ts";
import { keyFromJson } from "../changes/index.ts";
import type { KeptRows } from "../KeptRows.ts";
import { fromJson, toJson } from "../text/index.ts";
import type { NotTaken } from "./Draft.ts";
import { type DraftFields, isDraftFields, typedIn } from "./draftFields.ts";
import { enterAndLeave } from "./enterTyped.ts";
import { inWords } from "./leftOut.ts";
import { isKept, withSecretsOf } from "./secrets.ts";

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
  /** What was typed in the row and not put into the table yet. */
  readonly typed?: DraftFields | undefined;
}

/** What is typed in a row. */
interface Typed<M extends AnyModel> {
  readonly key: KeyOf<M>;
  readonly row: RowOf<M>;
  readonly fields: DraftFields;
}

export function isDraftRow(json: unknown): json is DraftRow {
  const { title, at, typed } = (json ?? {}) as Partial<DraftRow>;
  return (
    typeof title === "string" &&
    (typed === undefined || isDraftFields(typed)) &&
    (at === undefined || typeof (at as Partial<typeof at> | null)?.version === "string")
  );
}

/** Rows of a table that are not saved, as a draft has them: they come back with what they were made of, so that what others did is not lost. */
export class DraftRows<M extends AnyModel> {
  readonly #table: Table<M>;
  readonly #rows: KeptRows<M>;

  constructor(table: Table<M>, rows: KeptRows<M>) {
    this.#table = table;
    this.#rows = rows;
  }

  #jsonOf(row: RowOf<M> | undefined): unknown {
    return row && toJson(this.#table.model, row, isKept);
  }

  /** The rows that differ, and those in which something is typed; followed. @param numberOf - of a group of rows that belong together */
  read(numberOf: (group: object) => number = () => 0): readonly DraftRow[] {
    this.#rows.track();
    const typed = this.#typed();
    const differing = this.#rows.differing().map(({ at, key, base, now, group }): DraftRow => {
      const found = now === undefined ? undefined : typed.get(lookUpOf(key));
      typed.delete(lookUpOf(key));
      return {
        title: this.#titleOf(key),
        ...(at && { at: { key: at.key, version: at.version } }),
        base: this.#jsonOf(base),
        now: this.#jsonOf(now),
        ...(group && { group: numberOf(group) }),
        ...(found && { typed: found.fields }),
      };
    });
    const others = [...typed.values()].flatMap(({ key, row, fields }): readonly DraftRow[] => {
      const at = this.#rows.placeOf(key);
      const json = this.#jsonOf(row);
      return at === undefined ? [] : [{ title: this.#titleOf(key), at, base: json, now: json, typed: fields }];
    });
    return [...differing, ...others];
  }

  #titleOf(key: KeyOf<M>): string {
    const { model } = this.#table;
    return model.parts.key.length === 0 ? (model.title ?? "") : String(key);
  }

  /** What is typed in rows and not in the table yet, by the keys of the rows. */
  #typed(): Map<LookUp, Typed<M>> {
    const found = new Map<LookUp, Typed<M>>();
    for (const entry of editedIn(this.#table[internal] as TableState)) {
      const fields = entry.changed ? typedIn(entry) : undefined;
      const key = entry.key as KeyOf<M>;
      if (fields !== undefined) found.set(lookUpOf(key), { key, row: entry.kept as RowOf<M>, fields });
    }
    return found;
  }

  /** Whether rows are at their place as they are in a draft. */
  isSaved(content: readonly DraftRow[]): boolean {
    const { model } = this.#table;
    return content.every(({ at, now, typed }) => {
      if (typed !== undefined) return false;
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
  notTaken({ title }: Pick<DraftRow, "title">, reason: string): { readonly name: string; readonly message: string } {
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
      reading?.ok === true ? (withSecretsOf(model as AnyModel, reading.row, here?.now?.row) as RowOf<M>) : undefined;
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

  /** Enters again what was typed in a row that is back, and leaves it open there. @returns what is left out */
  enter({ title, at, now, typed }: DraftRow, locale: string): readonly NotTaken[] {
    if (typed === undefined) return [];
    const key =
      at === undefined ? this.#newKey(now) : this.#rows.there(keyFromJson(this.#table.model, at.key)).tableKey;
    const state = this.#table[internal] as TableState;
    const slot = key === undefined ? undefined : state.slotFor(key);
    if (slot !== undefined) return inWords(state.locale, enterAndLeave(state, slot, typed, locale));
    return [this.notTaken({ title }, sayOfKeeping(state.locale, "draftRowChanged", {}))];
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
}
