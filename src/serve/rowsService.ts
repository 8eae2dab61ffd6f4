import { newEntry } from "../entry/index.ts";
import { requireArgument, requireModel, requireOptions } from "../errors/index.ts";
import { type AnyModel, type GivenOf, putIn, type RowOf, storedFields, valueIn } from "../model/index.ts";
import { type Store, StoreError } from "../store/index.ts";
import { fromJson, toJson } from "../store/text/index.ts";
import { refusedElsewhere } from "./guard.ts";
import { problemDocument } from "./problemDocument.ts";
import { readBody } from "./readBody.ts";

/** Options of {@link rowsService}. */
export interface ServiceOptions {
  /** The most bytes that the body of a request may have; default: 1 MiB. */
  readonly maxBody?: number | undefined;
  /** The most rows in one answer; default: 10,000. Where there are more, the answer says where the next ones are. */
  readonly maxRows?: number | undefined;
  /** How long a body may take to come, in milliseconds; default: 30,000. */
  readonly timeout?: number | undefined;
}

/** A service that answers requests as the Fetch standard has them. */
export interface RowsService {
  /** Answers one request, whatever its path is: it is the builder's to say which ones come here. It never rejects. */
  readonly fetch: (request: Request) => Promise<Response>;
}

/**
 * A service over a store: `GET` gives its rows, `POST` adds one that the model's checks let through, as it was checked: with defaults,
 * and without what is not relevant. A long listing comes in parts: `?from=20000&count=500` gives some, and a `Link` header with
 * `rel="next"` (RFC 8288) says where the others are. What is wrong is told as a problem document (RFC 9457). It answers requests to
 * this machine only, and never gives out a field that is `writeOnly`.
 *
 * @throws `unknownOption`, `wrongOption`
 * @example
 * const service = rowsService(fileStore("trees.ndjson", treeCard), treeCard);
 * const response = await service.fetch(new Request("http://localhost/service/cards"));
 */
export function rowsService<M extends AnyModel>(
  store: Store<RowOf<M>>,
  model: M,
  options: ServiceOptions = {},
): RowsService {
  requireArgument(
    typeof (store as Partial<typeof store> | null)?.append === "function",
    "rowsService",
    store,
    "a store",
  );
  requireModel("rowsService", model);
  requireOptions("rowsService", options, { maxBody: "count", maxRows: "count", timeout: "count" });
  const { maxBody = 1_048_576, maxRows = 10_000, timeout = 30_000 } = options;
  const answer = (request: Request): Promise<Response> | Response => {
    const refused = refusedElsewhere(request);
    if (refused !== undefined) return refused;
    if (request.method === "GET" || request.method === "HEAD") return listed(store, model, request, maxRows);
    if (request.method === "POST") return added(store, model, request, { maxBody, timeout });
    return problemDocument(405, `This service does not know ${request.method}.`, undefined, {
      allow: "GET, HEAD, POST",
    });
  };
  return {
    fetch: async (request) => {
      try {
        return await answer(request);
      } catch (error) {
        return failed(error);
      }
    },
  };
}

async function listed<M extends AnyModel>(
  store: Store<RowOf<M>>,
  model: M,
  request: Request,
  maxRows: number,
): Promise<Response> {
  const address = new URL(request.url);
  const from = wholeNumber(address.searchParams.get("from") ?? "0");
  const count = wholeNumber(address.searchParams.get("count") ?? String(maxRows));
  if (from === undefined || count === undefined || count === 0)
    return problemDocument(400, "from and count are whole numbers, and count is not 0.");
  const limit = from + Math.min(count, maxRows);
  const rows: unknown[] = [];
  const unreadable: unknown[] = [];
  let position = 0;
  for await (const each of store.read({ signal: request.signal })) {
    if (position++ < from) continue;
    if (position > limit) break;
    if (each.ok) rows.push(shownJson(model, each.row));
    else unreadable.push({ line: each.line, problems: each.problems });
  }
  const headers: Record<string, string> = {};
  if (position > limit) headers["link"] = `<?from=${limit}&count=${Math.min(count, maxRows)}>; rel="next"`;
  return Response.json({ place: nameOf(store.place), rows, unreadable }, { headers });
}

/** Of a path only the last part: where files are on this machine is nobody's business. */
const nameOf = (place: string): string => place.split(/[\\/]/).at(-1)!;

const wholeNumber = (text: string): number | undefined => (/^\d{1,15}$/.test(text) ? Number(text) : undefined);

async function added<M extends AnyModel>(
  store: Store<RowOf<M>>,
  model: M,
  request: Request,
  limits: Parameters<typeof readBody>[1],
): Promise<Response> {
  const body = await readBody(request, limits);
  if (body instanceof Response) return body;
  const reading = fromJson(model, body.json);
  if (!reading.ok) return problemDocument(422, "The row can't be read.", reading.problems);
  const values = givenIn(model, body.json, reading.row) as GivenOf<M>;
  const entry = newEntry(model, { values, locale: "en" });
  const problems = await entry.check();
  if (problems.some(({ severity }) => severity === "error"))
    return problemDocument(422, "The row is not right.", problems);
  // What was checked, and not what was sent.
  const row = entry.row();
  const receipt = await store.append(row, { signal: request.signal });
  return Response.json({ row: shownJson(model, row), ...receipt, place: nameOf(receipt.place) }, { status: 201 });
}

/** The values that a request has: what it does not have gets its default. */
function givenIn(model: AnyModel, json: unknown, row: unknown): unknown {
  const given: Record<string, unknown> = {};
  for (const [name] of storedFields(model)) {
    const sent = valueIn(json, name);
    if (sent !== undefined && sent !== null) putIn(given, name, valueIn(row, name));
  }
  return given;
}

/** A row as anybody may see it: a secret is only taken in. */
const shownJson = <M extends AnyModel>(model: M, row: RowOf<M>): Record<string, unknown> =>
  toJson(model, row, ({ options }) => options.writeOnly !== true);

function failed(error: unknown): Response {
  if (error instanceof StoreError) return problemDocument(error.kind === "full" ? 507 : 503, error.message);
  console.error(error);
  return problemDocument(500, "The service failed.");
}
