/** Tables that the local service of these pages keeps in a database: as plain requests, for `keep` and `keepTogether`. */
import { type AnyModel, type KeyOf, type Problem, type RowOf } from "ironwood";
import {
  type ChangeableStore,
  type Database,
  type DatabaseNews,
  fromJson,
  StoreError,
  toJson,
  type VersionedRow,
  type WriteResult,
} from "ironwood/store";

interface SentRow {
  readonly key: unknown;
  readonly version: string;
  readonly row: unknown;
}
interface SentChange {
  readonly key: unknown;
  readonly now?: SentRow;
}
type SentNews = { readonly id: string; readonly mark: string } & (
  { readonly reload: true } | { readonly reload?: never; readonly tables: Readonly<Record<string, SentChange[]>> }
);
type SentResult =
  | { readonly ok: true; readonly mark: string; readonly written: readonly (SentRow | null)[] }
  | { readonly ok: false; readonly conflicts: readonly SentChange[] }
  | { readonly ok: false; readonly refused: readonly { change: number; problems: readonly Problem[] }[] };
type Row = VersionedRow<never, never>;
type Store = ChangeableStore<never, never>;

/**
 * @param address - of the tables, as `../service/orders`
 * @param place - what people call it
 */
export function servedTables(address: string, place: string): Database {
  const stores = new Map<Store, { readonly name: string; readonly model: AnyModel }>();

  const ask = async (path: string, init: RequestInit = {}): Promise<unknown> => {
    let response: Response;
    try {
      response = await fetch(`${address}/${path}`, init);
    } catch (cause) {
      if (init.signal?.aborted === true) throw init.signal.reason;
      throw new StoreError("unreachable", `${place} can’t be reached.`, { cause });
    }
    if (response.ok) return response.json();
    const { kind = "unreachable", message = `${place} can’t be used now.` } = (await response
      .json()
      .catch(() => ({}))) as { readonly kind?: "unreachable" | "refused" | "full"; readonly message?: string };
    throw new StoreError(kind, message);
  };
  const received = (model: AnyModel, { key, version, row: json }: SentRow): Row => {
    const reading = fromJson(model, json);
    if (!reading.ok)
      throw new StoreError("refused", `A row of ${place} can’t be read: ${reading.problems[0]!.message}`);
    return { key, version, row: reading.row } as Row;
  };
  const changed = (model: AnyModel, { key, now }: SentChange) => ({
    key: key as never,
    now: now && received(model, now),
  });
  const resultOf = (model: AnyModel, result: SentResult): WriteResult<never, never> => {
    if (result.ok)
      return { ...result, written: result.written.map((row) => (row === null ? undefined : received(model, row))) };
    if ("refused" in result) return result;
    return { ok: false, conflicts: result.conflicts.map((each) => changed(model, each)) };
  };
  const newsOf = (news: SentNews): DatabaseNews => {
    if (news.reload === true) return { kind: "reload", mark: news.mark };
    const tables: Record<string, ReturnType<typeof changed>[]> = {};
    for (const { name, model } of stores.values()) {
      const changes = news.tables[name];
      if (changes !== undefined) tables[name] = changes.map((each) => changed(model, each));
    }
    return { kind: "changes", id: news.id, mark: news.mark, tables };
  };

  const database: Database = {
    place,
    store<M extends AnyModel>(model: M, name: string) {
      const store: ChangeableStore<RowOf<M>, KeyOf<M>> = {
        place,
        async *read({ signal } = {}) {
          const { rows } = (await ask(`${name}/rows`, { signal: (signal as AbortSignal | undefined) ?? null })) as {
            rows: (SentRow | { readonly problems: readonly Problem[] })[];
          };
          for (const [index, row] of rows.entries())
            yield "problems" in row
              ? { ok: false, line: index + 1, problems: row.problems }
              : { ok: true, line: index + 1, ...(received(model, row) as VersionedRow<RowOf<M>, KeyOf<M>>) };
        },
        async write(changes, options) {
          const [result] = await database.write([{ store: store as never, changes: changes as never }], options);
          return result!;
        },
        mark: () => database.mark(),
        follow(since, listener, options) {
          database.follow(
            since,
            (news) => {
              if (news.kind === "reload") return listener(news);
              const { id, mark, tables } = news;
              if (name in tables) listener({ kind: "changes", id, mark, changes: tables[name]! });
            },
            options,
          );
        },
        async append(row) {
          const result = await store.write([{ kind: "insert", row }], { id: crypto.randomUUID() });
          if (!result.ok) throw new StoreError("refused", `${place} did not take it.`);
          return { place };
        },
      };
      stores.set(store as never, { name, model });
      return store;
    },
    async write(parts, { id, signal }) {
      const sent = parts.map(({ store, changes }) => {
        const { name, model } = stores.get(store)!;
        const rows = changes.map((each) => (each.kind === "delete" ? each : { ...each, row: toJson(model, each.row) }));
        return { table: name, changes: rows };
      });
      const results = (await ask("changes", {
        method: "POST",
        headers: { "content-type": "application/json" },
        body: JSON.stringify({ id, parts: sent }),
        signal: (signal as AbortSignal | undefined) ?? null,
      })) as SentResult[];
      return results.map((result, index) => resultOf(stores.get(parts[index]!.store)!.model, result));
    },
    mark: async () => ((await ask("mark")) as { mark: string }).mark,
    follow(since, listener, { signal }) {
      void (async () => {
        for (let mark = since; !signal.aborted;)
          try {
            const path = `changes?since=${encodeURIComponent(mark)}`;
            for (const news of (await ask(path, { signal: signal as AbortSignal })) as SentNews[]) {
              listener(newsOf(news));
              ({ mark } = news);
            }
          } catch (error) {
            // What is not of the place is a fault of the page.
            if (!(error instanceof StoreError || signal.reason === error)) reportError(error);
            await new Promise((go) => setTimeout(go, 1_000));
          }
      })();
    },
  };
  return database;
}
