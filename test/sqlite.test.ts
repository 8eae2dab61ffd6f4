/** Rows in SQLite: the contract of stores, what the file holds, and what happens when it can't be used. */
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, describe, expect, test } from "@jest/globals";
import type { AnyModel, KeyOf, RowOf } from "../src/index.ts";
import { type SqliteStore, sqliteStore } from "../src/sqlite/index.ts";
import { storeConformance } from "../src/testing/index.ts";

const folder = mkdtempSync(join(tmpdir(), "ironwood-sqlite-"));
const opened: SqliteStore<never, never>[] = [];
const open = <M extends AnyModel>(path: string, model: M): SqliteStore<RowOf<M>, KeyOf<M>> => {
  const store = sqliteStore(path, model);
  opened.push(store as never);
  return store;
};
afterAll(async () => {
  for (const store of opened) await store.close();
  rmSync(folder, { recursive: true });
});

describe("SQLite keeps to the contract of stores", () => {
  const lost = new WeakSet<object>();
  const checks = storeConformance({
    open(model, name) {
      const store = open(join(folder, `${name}.db`), model);
      const { write } = store;
      return {
        ...store,
        async write(changes, options) {
          const result = await write(changes, options);
          if (lost.delete(this)) throw new Error("The answer is lost.");
          return result;
        },
      };
    },
  });
  test.each(checks.map(({ name, run }) => [name, run] as const))("%s", async (_, run) => {
    await run();
  });
});
