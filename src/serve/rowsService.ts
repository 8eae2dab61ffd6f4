import { Hono } from "hono";
import { bodyLimit } from "hono/body-limit";
import { newEntry } from "../entry/index.ts";
import type { AnyModel, GivenOf, Problem, RowOf } from "../model/index.ts";
import { fromJson, type Store, StoreError, toJson } from "../store/index.ts";
import { onlyFromHere } from "./guard.ts";

export interface ServiceOptions {
  /** The most bytes that the body of a request may have; default: 1 MiB. */
  readonly maxBody?: number | undefined;
}

/**
 * A service over a store: `GET /` gives its rows, `POST /` adds one that the model's checks let through. What is wrong
 * is told as a problem document (RFC 9457). It answers requests to this machine only.
 *
 * @returns a Hono application: mount it where it belongs, or serve its `fetch`
 */
export function rowsService<M extends AnyModel>(
  store: Store<RowOf<M>>,
  model: M,
  { maxBody = 1_048_576 }: ServiceOptions = {},
): Hono {
  const service = new Hono();
  service.use(onlyFromHere);
  service.use(bodyLimit({ maxSize: maxBody, onError: () => problemDocument(413, "The request is too large.") }));
  service.get("/", async () => {
    const rows: unknown[] = [];
    const unreadable: unknown[] = [];
    for await (const each of store.read()) {
      if (each.ok) rows.push(toJson(model, each.row));
      else unreadable.push({ line: each.line, problems: each.problems });
    }
    return Response.json({ place: store.place, rows, unreadable });
  });
  service.post("/", async (context) => {
    const body: unknown = await context.req.json().catch(() => undefined);
    const reading = fromJson(model, body);
    if (!reading.ok) return problemDocument(422, "The row can't be read.", reading.problems);
    const problems = await newEntry(model, { values: reading.row as unknown as GivenOf<M>, locale: "en" }).check();
    if (problems.some((problem) => problem.severity === "error"))
      return problemDocument(422, "The row is not right.", problems);
    const receipt = await store.append(reading.row, { signal: context.req.raw.signal });
    return Response.json({ row: toJson(model, reading.row), ...receipt }, { status: 201 });
  });
  service.onError((error) => {
    if (error instanceof StoreError) return problemDocument(error.kind === "full" ? 507 : 503, error.message);
    console.error(error);
    return problemDocument(500, "The service failed.");
  });
  return service;
}

function problemDocument(status: number, title: string, problems?: readonly Problem[]): Response {
  return new Response(JSON.stringify({ status, title, problems }), {
    status,
    headers: { "content-type": "application/problem+json" },
  });
}
