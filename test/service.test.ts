import { mkdtempSync } from "node:fs";
import { connect } from "node:net";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, expect, jest, test } from "@jest/globals";
import { serve, type ServerType } from "@hono/node-server";
import { httpStore } from "../src/browser/index.ts";
import { fileStore } from "../src/files/index.ts";
import { boolean, model, number, type RowOf, text } from "../src/model/index.ts";
import { rowsService } from "../src/serve/index.ts";
import { type Store, StoreError } from "../src/store/index.ts";

const tree = model({ tag: text({ required: true }), girth: number({ minimum: 0 }) }, { key: "tag" });
const path = join(mkdtempSync(join(tmpdir(), "thornbeck-")), "trees.ndjson");
let server: ServerType;
let address: string;
beforeAll(async () => {
  const service = rowsService(fileStore(path, tree), tree, { maxBody: 1_000 });
  await new Promise<void>((ready) => {
    server = serve({ fetch: service.fetch, port: 0, hostname: "127.0.0.1" }, (info) => {
      address = `http://127.0.0.1:${info.port}/`;
      ready();
    });
  });
});
afterAll(() => void server.close());

const post = (body: string, headers: Record<string, string> = {}): Promise<Response> =>
  fetch(address, { method: "POST", body, headers: { "content-type": "application/json", ...headers } });

test("rows go in and come out, through the store in the browser", async () => {
  const store = httpStore(address, tree);
  expect(await store.append({ tag: "AB-0042", girth: 31.5 })).toEqual({ place: "trees.ndjson" });
  const rows = [];
  for await (const each of store.read()) rows.push(each);
  expect(rows).toEqual([{ ok: true, row: { tag: "AB-0042", girth: 31.5 }, line: 1 }]);
});

test("what is wrong is a problem document, and the store says it in words", async () => {
  const response = await post('{"girth":-1}');
  expect([response.status, response.headers.get("content-type")]).toEqual([422, "application/problem+json"]);
  expect(await response.json()).toMatchObject({
    title: "The row is not right.",
    problems: [
      { code: "valueMissing", pointer: "/tag" },
      { code: "rangeUnderflow", pointer: "/girth" },
    ],
  });
  expect((await post("rubbish")).status).toBe(400);
  expect((await post('{"tag":"x","__proto__":{"girth":5}}')).status).toBe(422);
  await expect(httpStore(address, tree).append({ tag: "", girth: 1 })).rejects.toThrow(
    "The row is not right. tag: Enter a value.",
  );
});

test("it answers this machine only, its own pages only, and no large body", async () => {
  expect((await post("{}", { origin: "http://elsewhere.example" })).status).toBe(403);
  const other = rowsService(fileStore(path, tree), tree);
  const asked = async (host: string): Promise<number> =>
    (await other.fetch(new Request("http://localhost/", { headers: { host } }))).status;
  expect([await asked("elsewhere.example"), await asked("localhost:80")]).toEqual([403, 200]);
  expect((await post(JSON.stringify({ tag: "x".repeat(2_000) }))).status).toBe(413);
});

test("a store that refuses, and a service that is gone, are told in plain words", async () => {
  const full: Store<RowOf<typeof tree>> = {
    ...fileStore(path, tree),
    append: () => Promise.reject(new StoreError("full", "The disk is full.")),
  };
  const response = await rowsService(full, tree).fetch(
    new Request("http://localhost/", { method: "POST", body: '{"tag":"x"}' }),
  );
  expect([response.status, await response.json()]).toMatchObject([507, { title: "The disk is full." }]);
  await expect(httpStore("http://127.0.0.1:1/", tree).append({ tag: "x", girth: 1 })).rejects.toThrow(
    /can't be reached.*try again/,
  );
});

test("a failure of the service itself tells a client nothing of its inside", async () => {
  const error = jest.spyOn(console, "error").mockImplementation(() => {});
  const broken: Store<RowOf<typeof tree>> = {
    ...fileStore(path, tree),
    append: () => Promise.reject(new Error("secret path")),
  };
  const response = await rowsService(broken, tree).fetch(
    new Request("http://localhost/", { method: "POST", body: '{"tag":"x"}' }),
  );
  expect([response.status, await response.text()]).toEqual([500, expect.not.stringContaining("secret")]);
  error.mockRestore();
});

const visit = model({
  tag: text({ required: true }),
  state: text({ default: "new" }),
  fenced: boolean({ default: true }),
  fenceCost: number(),
  double: number(),
  code: text({ writeOnly: true }),
})
  .calculated({ double: (row) => (row.fenceCost ?? 0) * 2 })
  .relevant({ fenceCost: (row) => row.fenced });
type Visit = RowOf<typeof visit>;

/** A store in memory, to see what gets there. */
function memory(): { store: Store<Visit>; kept: Visit[] } {
  const kept: Visit[] = [];
  return {
    kept,
    store: {
      place: "visits",
      append: (row) => (kept.push(row), Promise.resolve({ place: "visits" })),
      async *read() {
        await Promise.resolve();
        for (const [index, row] of kept.entries()) yield { ok: true, row, line: index + 1 };
      },
    },
  };
}
const request = (path: string, body?: unknown): Request =>
  new Request(`http://localhost${path}`, body === undefined ? {} : { method: "POST", body: JSON.stringify(body) });

test("what is kept is the row that was checked: with defaults, without what is not relevant; a secret is never given out", async () => {
  const { store, kept } = memory();
  const { fetch: ask } = rowsService(store, visit);
  const made = await ask(request("/any/path", { tag: "A", fenced: false, fenceCost: 48, code: "secret" }));
  expect([made.status, await made.json()]).toEqual([
    201,
    { place: "visits", row: { tag: "A", state: "new", fenced: false } },
  ]);
  expect(kept).toMatchObject([{ tag: "A", state: "new", fenced: false, code: "secret" }]);
  expect(kept[0]!.fenceCost).toBeUndefined();
  await ask(request("/", { tag: "B", fenceCost: 7 }));
  expect(kept[1]).toMatchObject({ state: "new", fenced: true, fenceCost: 7 });
  expect((await ask(request("/", { tag: "C", double: 7 }))).status).toBe(422);
  const listing = JSON.stringify(await (await ask(request("/"))).json());
  expect([listing.includes("secret"), listing.includes('"B"')]).toEqual([false, true]);
  expect((await ask(new Request("http://localhost/", { method: "DELETE" }))).headers.get("allow")).toBe(
    "GET, HEAD, POST",
  );
});

test("a long listing comes in parts, and the store in the browser reads all of them", async () => {
  const { store, kept } = memory();
  for (let number = 0; number < 25; number++) kept.push({ tag: `T${number}`, state: "new", fenced: true } as Visit);
  const { fetch: ask } = rowsService(store, visit, { maxRows: 10 });
  const page = await ask(request("/?from=5&count=3"));
  expect(await page.json()).toMatchObject({ rows: [{ tag: "T5" }, { tag: "T6" }, { tag: "T7" }] });
  expect(page.headers.get("link")).toBe('<?from=8&count=3>; rel="next"');
  expect((await ask(request("/?from=-1"))).status).toBe(400);
  const server = serve({ fetch: ask, port: 0, hostname: "127.0.0.1" });
  await new Promise<void>((ready) => server.on("listening", ready));
  const { port } = server.address() as { port: number };
  const tags: string[] = [];
  for await (const each of httpStore(`http://127.0.0.1:${port}/visits`, visit).read())
    if (each.ok) tags.push(`${each.line}:${each.row.tag}`);
  server.close();
  expect(tags).toEqual(Array.from({ length: 25 }, (_, number) => `${number + 1}:T${number}`));
});

test("a body that never ends is given up, and its connection closed", async () => {
  const { store } = memory();
  const server = serve({ fetch: rowsService(store, visit, { timeout: 100 }).fetch, port: 0, hostname: "127.0.0.1" });
  await new Promise<void>((ready) => server.on("listening", ready));
  const { port } = server.address() as { port: number };
  const socket = connect(port, "127.0.0.1");
  socket.write("POST / HTTP/1.1\r\nHost: localhost\r\nContent-Length: 50\r\n\r\n{");
  let said = "";
  socket.on("data", (data) => (said += data.toString()));
  await new Promise<void>((closed) => socket.on("close", () => closed()));
  server.close();
  expect(said).toMatch(/^HTTP\/1\.1 408[^]*did not come to its end in time/);
});

test("whatever a service answers, the store in the browser says what it is", async () => {
  const answers: [status: number, body: string, said: RegExp][] = [
    [200, "null", /is no list of rows/],
    [200, "{}", /is no list of rows/],
    [200, '{"rows":7}', /is no list of rows/],
    [200, "<p>", /is no list of rows/],
    [422, '{"title":"Wrong.","problems":{"a":1}}', /^Wrong\.$/],
    [
      422,
      '{"title":"Wrong.","problems":[null,7,{"message":"Look."},{"pointer":3,"message":"Here."}]}',
      /^Wrong\. Look\. Here\.$/,
    ],
    [409, '{"title":7,"detail":"Taken."}', /^Taken\.$/],
    [500, "null", /^The service answered 500/],
  ];
  for (const [status, body, said] of answers) {
    const server = serve({ fetch: () => new Response(body, { status }), port: 0, hostname: "127.0.0.1" });
    await new Promise<void>((ready) => server.on("listening", ready));
    const { port } = server.address() as { port: number };
    const store = httpStore(`http://127.0.0.1:${port}/`, tree);
    const read: unknown[] = [];
    const reading = (async () => {
      for await (const each of store.read()) read.push(each);
    })();
    const error = await reading.catch((each: unknown) => each as StoreError);
    expect([error?.name, error?.message]).toEqual(["StoreError", expect.stringMatching(said)]);
    server.close();
  }
  const silent = serve({ fetch: () => new Response(null, { status: 201 }), port: 0, hostname: "127.0.0.1" });
  await new Promise<void>((ready) => silent.on("listening", ready));
  const { port } = silent.address() as { port: number };
  const store = httpStore(`http://127.0.0.1:${port}/`, tree);
  expect(await store.append({ tag: "A", girth: 1 })).toEqual({ place: `http://127.0.0.1:${port}/` });
  silent.close();
  await expect(
    store.append({ tag: "A", girth: 1 }, { signal: AbortSignal.abort(new Error("enough")) }),
  ).rejects.toThrow("enough");
});
