import type { AnyModel, KeyOf, RowOf } from "../../model/index.ts";
import { sayOfKeeping, valueIn, putIn, storedFields } from "../../model/index.ts";
import { keyIn, type Table } from "../../table/index.ts";
import { keyFromJson } from "../changes/index.ts";
import type { KeptRows } from "../KeptRows.ts";
import { fromJson, toJson } from "../text/index.ts";
import type { DraftSource, NotTaken } from "./Draft.ts";

/** A row that differs from its place. */
interface DraftRow {
  readonly title: string;
  /** Its key and its version at the place; absent for one that is new there. */
  readonly at?: { readonly key: unknown; readonly version: string } | undefined;
  /** As it was at the place; absent for one that is new. */
  readonly base?: unknown;
  /** As it is here; absent for one that is deleted. */
  readonly now?: unknown;
}

function isDraftRow(json: unknown): json is DraftRow {
  const { title, at } = (json ?? {}) as Partial<DraftRow>;
  return (
    typeof title === "string" && (at === undefined || typeof (at as Partial<typeof at> | null)?.version === "string")
  );
}

/** Rows of a table that are not saved, as what a draft is of: they come back with what they were made of, so that what others did is not lost. */
export function rowsSource<M extends AnyModel>(table: Table<M>, rows: KeptRows<M>): DraftSource<readonly DraftRow[]> {
  const { model } = table;
  const secrets = storedFields(model).flatMap(([name, kind]) => (kind.options.writeOnly === true ? [name] : []));
  const jsonOf = (row: RowOf<M> | undefined): unknown =>
    row && toJson(model, row, (kind) => kind.options.writeOnly !== true);
  return {
    get locale() {
      return table.locale;
    },
    model: model.title,
    read() {
      rows.track();
      const all = rows.differing().map(({ at, key, base, now }): DraftRow => {
        const title = model.parts.key.length === 0 ? (model.title ?? "") : String(key);
        return { title, ...(at && { at: { key: at.key, version: at.version } }), base: jsonOf(base), now: jsonOf(now) };
      });
      return all.length === 0 ? undefined : all;
    },
    isContent: (json): json is readonly DraftRow[] => Array.isArray(json) && json.every(isDraftRow),
    titles: (content) => content.map(({ title }) => title),
    isSaved: (content) =>
      content.every(({ at, now }) => {
        const key = at === undefined ? newKey(now) : keyFromJson(model, at.key);
        if (key === undefined) return false;
        const there = rows.there(key as KeyOf<M>).now;
        return JSON.stringify(jsonOf(there?.row)) === JSON.stringify(now);
      }),
    take(draft) {
      const leftOut: NotTaken[] = [];
      for (const row of draft.content) {
        const reason = takeRow(row);
        if (reason === undefined) continue;
        const message = sayOfKeeping(table.locale, "draftLeftOut", { reason: `${row.title}: ${reason}` });
        leftOut.push({ name: row.title, message });
      }
      return leftOut;
    },
  };

  /** The key of a row that was new; `undefined` where the place gives it. */
  function newKey(json: unknown): unknown {
    const reading = model.parts.key.length === 0 ? undefined : fromJson(model, json);
    return reading?.ok === true ? keyIn(model, reading.row) : undefined;
  }

  /** @returns why it can't be taken */
  function takeRow({ at, base, now }: DraftRow): string | undefined {
    const here = at === undefined ? undefined : rows.there(keyFromJson(model, at.key));
    const [before, after] = [base, now].map((json) => (json === undefined ? undefined : fromJson(model, json)));
    for (const reading of [before, after]) if (reading?.ok === false) return reading.problems[0]!.message;
    const rowOf = (reading: typeof before): RowOf<M> | undefined =>
      reading?.ok === true ? withSecrets(reading.row, here?.now?.row) : undefined;
    const mine = rowOf(after);
    if (at === undefined) {
      const result = mine === undefined ? undefined : table.insert(mine as never);
      return result === undefined || result.ok ? undefined : result.problems[0]!.message;
    }
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

  function withSecrets(row: RowOf<M>, now: RowOf<M> | undefined): RowOf<M> {
    if (secrets.length === 0 || now === undefined) return row;
    const whole = { ...(row as object) } as Record<string, unknown>;
    for (const name of secrets) putIn(whole, name, valueIn(now, name));
    return whole as RowOf<M>;
  }
}
