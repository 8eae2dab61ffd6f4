/** Rows that the local service of these pages keeps in its database: as plain requests, for `keep`. */
import type { AnyModel, KeyOf, Problem, RowOf } from "ironwood";
import {
  type ChangeableStore,
  fromJson,
  type StoreChange,
  StoreError,
  toJson,
  type VersionedRow,
} from "ironwood/store";

interface Sent {
  readonly key: unknown;
  readonly version: string;
  readonly row: unknown;
}
interface SentNews {
  readonly id: string;
  readonly mark: string;
  readonly reload?: boolean;
  readonly changes: readonly { readonly key: unknown; readonly now?: Sent }[];
}

/** @param address - of the rows, as `../service/stock` */
export function servedRows<M extends AnyModel>(
  address: string,
  place: string,
  model: M,
): ChangeableStore<RowOf<M>, KeyOf<M>> {
  type Row = VersionedRow<RowOf<M>, KeyOf<M>>;
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
  const received = ({ key, version, row: json }: Sent): Row => {
    const reading = fromJson(model, json);
    if (!reading.ok)
      throw new StoreError("refused", `A row of ${place} can’t be read: ${reading.problems[0]!.message}`);
    return { key: key as KeyOf<M>, version, row: reading.row };
  };
  const changed = ({ key, now }: SentNews["changes"][0]) => ({ key: key as KeyOf<M>, now: now && received(now) });
  const sent = (change: StoreChange<RowOf<M>, KeyOf<M>>): object =>
    change.kind === "delete" ? change : { ...change, row: toJson(model, change.row) };
  return {
    place,
    async *read({ signal } = {}) {
      const { rows } = (await ask("rows", { signal: (signal as AbortSignal | undefined) ?? null })) as {
        rows: (Sent | { readonly problems: readonly Problem[] })[];
      };
      for (const [index, row] of rows.entries())
        yield "problems" in row
          ? { ok: false, line: index + 1, problems: row.problems }
          : { ok: true, line: index + 1, ...received(row) };
    },
    async write(changes, { id, signal }) {
      const answer = (await ask("changes", {
        method: "POST",
        headers: { "content-type": "application/json" },
        body: JSON.stringify({ id, changes: changes.map(sent) }),
        signal: (signal as AbortSignal | undefined) ?? null,
      })) as { ok: boolean; mark: string; written: (Sent | null)[]; conflicts?: SentNews["changes"]; refused?: never };
      if (answer.ok)
        return {
          ok: true,
          mark: answer.mark,
          written: answer.written.map((row) => (row === null ? undefined : received(row))),
        };
      if (answer.conflicts !== undefined) return { ok: false, conflicts: answer.conflicts.map(changed) };
      return { ok: false, refused: answer.refused! };
    },
    mark: async () => ((await ask("mark")) as { mark: string }).mark,
    follow(since, listener, { signal }) {
      void (async () => {
        for (let mark = since; !signal.aborted;)
          try {
            const news = (await ask(`changes?since=${encodeURIComponent(mark)}`, {
              signal: signal as AbortSignal,
            })) as SentNews[];
            for (const each of news) {
              mark = each.mark;
              if (each.reload === true) listener({ kind: "reload", mark });
              else listener({ kind: "changes", id: each.id, mark, changes: each.changes.map(changed) });
            }
          } catch (error) {
            // What is not of the place is a fault of the page.
            if (!(error instanceof StoreError || signal.reason === error)) reportError(error);
            await new Promise((go) => setTimeout(go, 1_000));
          }
      })();
    },
    async append(row) {
      const result = await this.write([{ kind: "insert", row }], { id: crypto.randomUUID() });
      if (!result.ok) throw new StoreError("refused", `${place} did not take it.`);
      return { place };
    },
  };
}
