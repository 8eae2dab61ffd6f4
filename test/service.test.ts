import { mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, expect, jest, test } from "@jest/globals";
import { serve, type ServerType } from "@hono/node-server";
import { httpStore } from "../src/browser/index.ts";
import { fileStore } from "../src/files/index.ts";
import { model, number, type RowOf, text } from "../src/model/index.ts";
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
  expect((await post("rubbish")).status).toBe(422);
  expect((await post('{"tag":"x","__proto__":{"girth":5}}')).status).toBe(422);
  await expect(httpStore(address, tree).append({ tag: "", girth: 1 })).rejects.toThrow(
    "The row is not right. tag: Enter a value.",
  );
});

test("it answers this machine only, its own pages only, and no large body", async () => {
  expect((await post("{}", { origin: "http://elsewhere.example" })).status).toBe(403);
  const other = rowsService(fileStore(path, tree), tree);
  expect((await other.request("/", { headers: { host: "elsewhere.example" } })).status).toBe(403);
  expect((await other.request("/", { headers: { host: "localhost:80" } })).status).toBe(200);
  expect((await post(JSON.stringify({ tag: "x".repeat(2_000) }))).status).toBe(413);
});

test("a store that refuses, and a service that is gone, are told in plain words", async () => {
  const full: Store<RowOf<typeof tree>> = {
    ...fileStore(path, tree),
    append: () => Promise.reject(new StoreError("full", "The disk is full.")),
  };
  const response = await rowsService(full, tree).request("/", {
    method: "POST",
    body: '{"tag":"x"}',
    headers: { host: "localhost" },
  });
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
  const response = await rowsService(broken, tree).request("/", {
    method: "POST",
    body: '{"tag":"x"}',
    headers: { host: "localhost" },
  });
  expect([response.status, await response.text()]).toEqual([500, expect.not.stringContaining("secret")]);
  error.mockRestore();
});
