/** A file that the person picks: gone on with when the page is open again, and asked for anew where that can't be. */
import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import type { Page } from "playwright-core";
import { closeBrowser, newDemo, pageAt } from "./support.ts";

let demo: Awaited<ReturnType<typeof newDemo>>;
beforeAll(async () => {
  demo = await newDemo();
});
afterAll(async () => {
  await closeBrowser();
  await demo.stop();
});

interface Came {
  readonly place: string;
  readonly asked: number;
  readonly content: string;
}

/** In the place of the picker, which only a person can use, a file of the page's own; and what the person answers when asked again. */
async function save(page: Page, tag: string, answer: "granted" | "denied" | "prompt" = "granted"): Promise<Came> {
  return page.evaluate(
    async ([given, permission]) => {
      const { model, pickedFile, text } = ironwood;
      let asked = 0;
      const folder = await navigator.storage.getDirectory();
      Object.assign(globalThis, {
        showSaveFilePicker: ({ suggestedName }: { suggestedName: string }) => {
          asked++;
          return folder.getFileHandle(suggestedName, { create: true });
        },
      });
      const proto = FileSystemFileHandle.prototype as unknown as Record<string, unknown>;
      proto["queryPermission"] = () => Promise.resolve(permission === "granted" ? "granted" : "prompt");
      proto["requestPermission"] = () => Promise.resolve(permission === "denied" ? "denied" : "granted");
      const store = pickedFile(model({ tag: text() }, { key: "tag" }), "trees.ndjson");
      const { place } = await store.append({ tag: given });
      const tags: string[] = [];
      for await (const each of store.read()) tags.push(each.ok ? each.row.tag : "bad");
      return { place, asked, content: tags.join() };
    },
    [tag, answer] as const,
  );
}

describe("a picked file", () => {
  test("is asked for once; when the page is open again it goes on with the same file, unless the person forbids it", async () => {
    const { page } = await pageAt(demo.address);
    expect(await save(page, "A")).toEqual({ place: "trees.ndjson", asked: 1, content: "A" });
    expect(await save(page, "B")).toEqual({ place: "trees.ndjson", asked: 0, content: "A,B" });
    await page.reload();
    const { page: again } = { page };
    await again.addScriptTag({
      path: new URL("../../.cache/harness/harness.js", import.meta.url).pathname,
      type: "module",
    });
    await again.waitForFunction(() => "ironwood" in globalThis);
    expect(await save(again, "C", "prompt")).toEqual({ place: "trees.ndjson", asked: 0, content: "A,B,C" });
    expect(await save(again, "D", "denied")).toEqual({ place: "trees.ndjson", asked: 1, content: "A,B,C,D" });
  });

  test("that is gone is told, and asked for the next time; it can be forgotten", async () => {
    const { page } = await pageAt(demo.address);
    await save(page, "A");
    const came = await page.evaluate(async () => {
      const { model, pickedFile, text } = ironwood;
      let asked = 0;
      const folder = await navigator.storage.getDirectory();
      const before = (globalThis as unknown as { showSaveFilePicker: (options: object) => unknown }).showSaveFilePicker;
      Object.assign(globalThis, { showSaveFilePicker: (options: object) => (asked++, before(options)) });
      const store = pickedFile(model({ tag: text() }, { key: "tag" }), "trees.ndjson");
      await store.append({ tag: "B" });
      await folder.removeEntry("trees.ndjson");
      const told = await store.append({ tag: "C" }).then(
        () => "saved",
        (error: unknown) => (error as Error).message,
      );
      const first = asked;
      await store.append({ tag: "D" });
      const second = asked;
      await store.forget();
      await store.append({ tag: "E" });
      return { told, first, second, third: asked };
    });
    expect(came).toEqual({
      told: "The file trees.ndjson can't be written: it is not there any more. The next time you are asked where.",
      first: 0,
      second: 1,
      third: 2,
    });
  });

  test("where the browser remembers nothing, it is asked for each time the page is open, and saving works", async () => {
    const { page } = await pageAt(demo.address);
    await page.evaluate(() => {
      IDBFactory.prototype.open = () => {
        throw new DOMException("No.", "SecurityError");
      };
    });
    expect((await save(page, "A")).asked).toBe(1);
    expect(await save(page, "B")).toEqual({ place: "trees.ndjson", asked: 1, content: "A,B" });
  });
});
