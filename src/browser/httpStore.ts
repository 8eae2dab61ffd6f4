import { requireArgument, requireModel } from "../errors/index.ts";
import { type AnyModel, type RowOf } from "../model/index.ts";
import { type Store, type StoredRow, StoreError, type StoreErrorKind } from "../store/index.ts";
import { fromJson, toJson } from "../store/text/index.ts";

/** How long an answer may take, in milliseconds. */
const PATIENCE = 30_000;

/**
 * Rows behind a service that speaks as `rowsService` does.
 *
 * @param address - of the service, absolute or relative to the page
 * @example const trees = httpStore("service/cards", treeCard);
 */
export function httpStore<M extends AnyModel>(address: string, model: M): Store<RowOf<M>> {
  requireArgument(typeof address === "string", "httpStore", address, "the address of a service");
  requireModel("httpStore", model);
  return {
    place: address,
    async append(row, { signal } = {}) {
      const request = {
        method: "POST",
        headers: { "content-type": "application/json" },
        body: JSON.stringify(toJson(model, row)),
      };
      const { answer } = await asked(address, request, signal as AbortSignal | undefined);
      const { place = address } = objectIn(answer) as { place?: string };
      return { place };
    },
    async *read({ signal } = {}) {
      let line = 0;
      for (let next: string | undefined = address; next !== undefined;) {
        const { answer, response } = await asked(next, {}, signal as AbortSignal | undefined);
        const { rows, unreadable } = listingIn(answer, next);
        for (const row of rows) yield { ...fromJson(model, row), line: ++line };
        for (const each of unreadable) yield { ok: false, ...each };
        next = nextPage(response, next);
      }
    },
  };
}

interface Listing {
  readonly rows: readonly unknown[];
  readonly unreadable: readonly Omit<Extract<StoredRow<never>, { ok: false }>, "ok">[];
}

interface Asked {
  readonly response: Response;
  /** The body as JSON; `undefined` where it is none. */
  readonly answer: unknown;
}

async function asked(address: string, request: RequestInit, signal: AbortSignal | undefined): Promise<Asked> {
  const patience = AbortSignal.timeout(PATIENCE);
  let response: Response;
  let text: string;
  try {
    response = await fetch(address, {
      ...request,
      signal: signal === undefined ? patience : AbortSignal.any([signal, patience]),
    });
    text = await response.text();
  } catch (cause) {
    // Who gave it up knows why, and is told just that.
    if (signal?.aborted === true) throw signal.reason;
    throw new StoreError("unreachable", "The service can't be reached. Look whether it runs, and try again.", {
      cause,
    });
  }
  const answer = jsonIn(text);
  if (response.ok) return { response, answer };
  throw new StoreError(
    kindOf(response.status),
    messageOf(answer) ?? `The service answered ${`${response.status} ${response.statusText}`.trim()}.`,
  );
}

function jsonIn(text: string): unknown {
  try {
    return JSON.parse(text) as unknown;
  } catch {
    return undefined;
  }
}

/** A JSON object, or one with nothing in it. */
const objectIn = (answer: unknown): Readonly<Record<string, unknown>> =>
  typeof answer === "object" && answer !== null ? (answer as Readonly<Record<string, unknown>>) : {};

function listingIn(answer: unknown, address: string): Listing {
  const { rows, unreadable = [] } = objectIn(answer);
  if (Array.isArray(rows) && Array.isArray(unreadable))
    return { rows, unreadable: unreadable as Listing["unreadable"] };
  throw new StoreError("refused", `What ${address} answered is no list of rows.`);
}

/** Where the rows go on: the `Link` header (RFC 8288) with `rel="next"`. */
function nextPage(response: Response, address: string): string | undefined {
  const [, target] = /<([^>]*)>\s*;\s*rel="?next"?/.exec(response.headers.get("link") ?? "") ?? [];
  if (target === undefined) return undefined;
  return new URL(target, response.url === "" ? address : response.url).href;
}

/** What a status (RFC 9110, RFC 6585, RFC 4918) says of the place: whether it may go away, or a person has to do something. */
function kindOf(status: number): StoreErrorKind {
  if (status === 507) return "full";
  const mayGoAway = status === 408 || status === 425 || status === 429 || (status >= 500 && status !== 501);
  return mayGoAway ? "unreachable" : "refused";
}

/** What a problem document (RFC 9457) tells; members that are not as they should be are passed over. */
function messageOf(answer: unknown): string | undefined {
  const { title, detail, problems } = objectIn(answer);
  const texts = [title, detail].filter((each) => typeof each === "string" && each !== "");
  if (texts.length === 0) return undefined;
  const told = (Array.isArray(problems) ? problems : []).map(objectIn).flatMap(({ pointer, message }) => {
    if (typeof message !== "string") return [];
    return typeof pointer === "string" && pointer !== "" ? [`${pointer.slice(1)}: ${message}`] : [message];
  });
  return [...texts, ...told].join(" ");
}
