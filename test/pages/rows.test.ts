/** Rows of a table on a page. */
import { afterAll, describe, expect, test } from "@jest/globals";
import type { Page } from "playwright-core";
import { closeBrowser, pageWith } from "./support.ts";

afterAll(closeBrowser);

const list = `<ul id="beds"><template><li><b data-name="code">no code</b> <span data-name="plants">none</span> <i data-name="each"></i> <button>Dig</button></li></template></ul>`;
const lines = (page: Page): Promise<string[]> => page.locator("#beds > li").allInnerTexts();

async function withBeds(): Promise<{ page: Page; errors: string[] }> {
  const watched = await pageWith(list);
  await watched.page.evaluate(() => {
    const { bindRows, model, number, oneOf, table, text, view } = ironwood;
    const bed = model(
      {
        code: text({ required: true }),
        plants: number({ unit: "liter" }),
        soil: oneOf([{ const: "c", title: "Clay" }]),
        each: number({ display: { maximumFractionDigits: 1 } }),
      },
      { key: "code", title: "Bed" },
    ).calculated({ each: (b) => (b.plants ?? 0) / 3 });
    const beds = table(
      bed,
      [
        { code: "B", plants: 10, soil: undefined, each: 0 },
        { code: "A", plants: undefined, soil: "c", each: 0 },
      ] as never,
      {
        locale: "de",
      },
    );
    const sorted = view(beds, { orderBy: "code" });
    kept["beds"] = beds;
    kept["sorted"] = sorted;
    kept["bound"] = bindRows(document.querySelector("#beds")!, sorted);
  });
  return watched;
}

describe("rows by a template", () => {
  test("each is shown in the table's language, in the order of the view, with the stand-in of the page where it is blank", async () => {
    const { page, errors } = await withBeds();
    expect(await lines(page)).toEqual(["A none 0 Dig", "B 10 l 3,3 Dig"]);
    expect(errors).toEqual([]);
  });

  test("a change moves and fills only what it concerns: copies stay with their rows, and so does the focus", async () => {
    const { page } = await withBeds();
    const outcome = await page.evaluate(() => {
      const beds = kept["beds"] as {
        insert(row: object): unknown;
        update(key: string, row: object): unknown;
        delete(key: string): void;
      };
      const items = () => [...document.querySelectorAll("#beds > li")];
      const [a, b] = items();
      a!.querySelector("button")!.focus();
      beds.insert({ code: "AB" });
      beds.update("B", { code: "0", plants: 7 });
      const after = items();
      return [
        after.map((item) => item.textContent.replace(/\s+/g, " ").trim()),
        after[1] === a,
        after.includes(b!),
        document.activeElement === a!.querySelector("button"),
      ];
    });
    expect(outcome).toEqual([["0 7 l 2,3 Dig", "A none 0 Dig", "AB none 0 Dig"], true, false, true]);
  });

  test("a transaction is shown once, what is released is gone, and nothing follows any more", async () => {
    const { page } = await withBeds();
    const outcome = await page.evaluate(async () => {
      const { transaction } = ironwood;
      const beds = kept["beds"] as { insert(row: object): unknown; delete(key: string): void };
      let changes = 0;
      const watching = new MutationObserver((records) => (changes += records.length));
      watching.observe(document.querySelector("#beds")!, { childList: true });
      transaction(() => {
        beds.insert({ code: "C" });
        beds.delete("C");
        beds.insert({ code: "D" });
      });
      await new Promise((done) => setTimeout(done));
      const shown = changes;
      (kept["bound"] as { stop(): void }).stop();
      beds.insert({ code: "E" });
      return [shown, document.querySelectorAll("#beds > li").length];
    });
    expect(outcome).toEqual([1, 0]);
  });

  test("hostile text is text; a mistake in the template is named with its place and the nearest name", async () => {
    const { page } = await withBeds();
    const outcome = await page.evaluate(() => {
      const { bindRows } = ironwood;
      (kept["beds"] as { insert(row: object): unknown }).insert({ code: "<img src=x onerror=alert(1)>" });
      const beds = document.querySelector("#beds")!;
      const failed = (html: string): string => {
        const other = document.createElement("ul");
        other.id = "other";
        other.innerHTML = html;
        try {
          bindRows(other, kept["sorted"] as never);
          return "bound";
        } catch (error) {
          return (error as Error).message;
        }
      };
      return [
        beds.querySelectorAll("img").length,
        failed("<template><li data-name='cod'></li></template>"),
        failed("<li></li>"),
      ];
    });
    expect(outcome[0]).toBe(0);
    expect(outcome[1]).toMatch(/"cod".*<ul id="other">.*code/s);
    expect(outcome[2]).toMatch(/<ul id="other"> has no template.*<template> right inside it, with one element/s);
  });
});
