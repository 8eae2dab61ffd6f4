import type { AnyModel, RowOf } from "../model/index.ts";
import { fromJson, type Store, type StoredRow, StoreError, type StoreErrorKind, toJson } from "../store/index.ts";

/** How long an answer may take, in milliseconds. */
const PATIENCE = 30_000;

/**
 * Rows behind a service that speaks as `rowsService` does.
 *
 * @param address - of the service, absolute or relative to the page
 * @example const trees = httpStore("service/cards", treeCard);
 */
export function httpStore<M extends AnyModel>(address: string, model: M): Store<RowOf<M>> {
  return {
    place: address,
    async append(row, { signal } = {}) {
      const request = {
        method: "POST",
        headers: { "content-type": "application/json" },
        body: JSON.stringify(toJson(model, row)),
      };
      const { place } = (await asked(address, request, signal as AbortSignal | undefined)) as { place: string };
      return { place };
    },
    async *read({ signal } = {}) {
      const { rows, unreadable } = (await asked(address, {}, signal as AbortSignal | undefined)) as Listing;
      let line = 0;
      for (const row of rows) yield { ...fromJson(model, row), line: ++line };
      for (const each of unreadable) yield { ok: false, ...each };
    },
  };
}

interface Listing {
  readonly rows: readonly unknown[];
  readonly unreadable: readonly Omit<Extract<StoredRow<never>, { ok: false }>, "ok">[];
}

async function asked(address: string, request: RequestInit, signal: AbortSignal | undefined): Promise<unknown> {
  const patience = AbortSignal.timeout(PATIENCE);
  let response: Response;
  try {
    response = await fetch(address, {
      ...request,
      signal: signal === undefined ? patience : AbortSignal.any([signal, patience]),
    });
  } catch (cause) {
    throw new StoreError("unreachable", "The service can't be reached. Look whether it runs, and try again.", {
      cause,
    });
  }
  const answer: unknown = await response.json().catch(() => undefined);
  if (response.ok && answer !== undefined) return answer;
  throw new StoreError(
    kindOf(response.status),
    messageOf(answer) ?? `The service answered ${response.status} ${response.statusText}.`,
  );
}

/** What a status (RFC 9110, RFC 6585, RFC 4918) says of the place: whether it may go away, or a person has to do something. */
function kindOf(status: number): StoreErrorKind {
  if (status === 507) return "full";
  const mayGoAway = status === 408 || status === 425 || status === 429 || (status >= 500 && status !== 501);
  return mayGoAway ? "unreachable" : "refused";
}

/** What a problem document (RFC 9457) tells. */
function messageOf(answer: unknown): string | undefined {
  const { title, problems = [] } = (answer ?? {}) as {
    title?: string;
    problems?: readonly { pointer: string; message: string }[];
  };
  if (title === undefined) return undefined;
  return [title, ...problems.map(({ pointer, message }) => `${pointer.slice(1)}: ${message}`)].join(" ");
}
