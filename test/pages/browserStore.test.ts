/** Rows in the browser's own storage: the contract of stores, several windows, and a browser that lets nothing be kept. */
import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import type { Page } from "playwright-core";
import { memoryStore } from "../../src/store/index.ts";
import { storeConformance } from "../../src/testing/index.ts";
import { closeBrowser, newDemo, pageAt } from "./support.ts";

let demo: Awaited<ReturnType<typeof newDemo>>;
let page: Page;
beforeAll(async () => {
  demo = await newDemo();
  ({ page } = await pageAt(demo.address));
});
afterAll(async () => {
  await closeBrowser();
  await demo.stop();
});

/** The names of the checks. */
const names = storeConformance({ open: (model, name) => memoryStore(model, { place: name }) }).map(({ name }) => name);

describe("browserStore keeps to the contract of stores", () => {
  test.each(names)("%s", async (name) => {
    const came = await page.evaluate(async (wanted) => {
      const { browserStore, storeConformance, StoreError } = ironwood;
      const losing = new WeakSet<object>();
      const full = new WeakSet<object>();
      const { add } = IDBObjectStore.prototype;
      const checks = storeConformance({
        // This browser writes some thousands in a second: 100,000 would take half a minute.
        rows: 5_000,
        open(model, at) {
          const store = browserStore(`${wanted} ${at}`, model);
          const write = store.write.bind(store);
          store.write = async (changes, options) => {
            const isFull = full.delete(store);
            if (isFull)
              IDBObjectStore.prototype.add = function (this: IDBObjectStore, ...given: [unknown]) {
                if (this.name === "rows") throw new DOMException("No room.", "QuotaExceededError");
                return add.apply(this, given);
              };
            const result = await write(changes, options).finally(() => {
              IDBObjectStore.prototype.add = add;
            });
            if (losing.delete(store)) throw new StoreError("unreachable", "The answer is lost.");
            return result;
          };
          return store;
        },
        failNext(store, fault) {
          (fault === "full" ? full : losing).add(store);
        },
      });
      return checks.find((each) => each.name === wanted)!.run();
    }, name);
    expect(came).toBe(true);
  });
});

describe("rows in the browser", () => {
  test("are there in another window, which sees what is written; merged by field, and asked about where both changed one", async () => {
    const { page: first } = await pageAt(demo.address);
    const keepIn = async (at: Page): Promise<void> =>
      at.evaluate(async () => {
        const { browserStore, integer, keep, model, table, text } = ironwood;
        const plant = model({ tag: text(), bed: integer(), notes: text() }, { key: "tag" });
        const stock = table(plant, []);
        kept["stock"] = stock;
        kept["kept"] = await keep(stock, browserStore("stock", plant));
      });
    await keepIn(first);
    await first.evaluate(async () => {
      (kept["stock"] as { insert(row: object): void }).insert({ tag: "A", bed: 1, notes: "" });
      await (kept["kept"] as { write(): Promise<unknown> }).write();
    });
    const again = await pageInContextOf(first);
    await keepIn(again);
    const change = (at: Page, fields: object, isWritten = true): Promise<string> =>
      at.evaluate(
        async ([given, writes]) => {
          (kept["stock"] as { update(key: string, fields: object): void }).update("A", given);
          const keeping = kept["kept"] as { write(): Promise<unknown>; state: string };
          if (writes) await keeping.write();
          return keeping.state;
        },
        [fields, isWritten] as const,
      );
    const row = (at: Page): Promise<unknown> =>
      at.evaluate(() => (kept["stock"] as { get(key: string): unknown }).get("A"));
    await change(first, { bed: 2 }, false);
    expect(await change(again, { notes: "theirs" })).toBe("saved");
    await first.waitForFunction(
      () => (kept["stock"] as { get(key: string): { notes: string } }).get("A").notes === "theirs",
    );
    expect(await row(first)).toEqual({ tag: "A", bed: 2, notes: "theirs" });
    expect(await change(first, { bed: 3 })).toBe("saved");
    await again.waitForFunction(() => (kept["stock"] as { get(key: string): { bed: number } }).get("A").bed === 3);
    await change(first, { bed: 4 }, false);
    expect(await change(again, { bed: 5 })).toBe("saved");
    await first.waitForFunction(() => (kept["kept"] as { state: string }).state === "conflict");
  });

  test("where the browser lets nothing be kept, that is told in words", async () => {
    const { page: refused } = await pageAt(demo.address);
    const said = await refused.evaluate(async () => {
      IDBFactory.prototype.open = () => {
        throw new DOMException("No.", "SecurityError");
      };
      const { browserStore, model, text } = ironwood;
      return browserStore("refused", model({ tag: text() }))
        .mark()
        .catch((error: unknown) => [(error as { kind: string }).kind, (error as Error).message]);
    });
    expect(said).toEqual(["refused", expect.stringMatching(/lets this page keep nothing/)]);
  });

  test("refuses what is no name and no model", async () => {
    const said = await page.evaluate(() => {
      const { browserStore, browserDrafts } = ironwood;
      return [
        () => browserStore("", {} as never),
        () => browserStore("x", {} as never),
        () => browserDrafts({ nmae: "x" } as never),
      ].map((call) => {
        try {
          call();
          return "";
        } catch (error) {
          return (error as Error).message;
        }
      });
    });
    expect(said).toEqual([
      expect.stringMatching(/browserStore/),
      expect.stringMatching(/browserStore/),
      expect.stringMatching(/"nmae".*"name"/),
    ]);
  });
});

async function pageInContextOf(first: Page): Promise<Page> {
  const next = await first.context().newPage();
  await next.goto(first.url());
  await next.addScriptTag({
    path: new URL("../../.cache/harness/harness.js", import.meta.url).pathname,
    type: "module",
  });
  await next.waitForFunction(() => "ironwood" in globalThis);
  return next;
}
