/** What is said of the field that holds rows inside a row stands where its rows are shown: by a grid, by a template, in a dialog. */
import { afterAll, describe, expect, test } from "@jest/globals";
import type { Page } from "playwright-core";
import { accessibilityViolations, closeBrowser, eventually, pageWith } from "./support.ts";

afterAll(closeBrowser);

const parts = {
  "a grid": `<table data-name="lines" aria-label="Lines"></table>`,
  "a template": `<ul data-name="lines"><template><li><input name="species" aria-label="Species"><input name="count" aria-label="Count"></li></template></ul>`,
};

/** @param inside - whether the rows stand inside the form of their order */
async function withOrder(part: keyof typeof parts, inside = true) {
  const form = `<form name="order"><output name="number"></output><label>Site <input name="site"></label><label><input type="checkbox" name="planned"> Planned</label>
    ${inside ? `<div>${parts[part]}</div>` : ""}<button>Save</button><button type="reset">Reset</button></form>`;
  const watched = await pageWith(
    `<main><h1>Orders</h1>${form}${inside ? "" : `<div>${parts[part]}</div>`}<p role="status"></p></main>`,
  );
  await watched.page.evaluate((isGrid) => {
    const { asGrid, asRows, bindPage, boolean, editEntry, integer, model, rows, rowsOf, table, text, view } = ironwood;
    const line = model({ species: text({ required: true }), count: integer({ minimum: 1 }) });
    const order = model(
      { number: integer(), site: text(), planned: boolean(), lines: rows(line, { required: true, title: "Plants" }) },
      { key: "number", title: "Order" },
    )
      .relevant({ lines: (row) => row.planned })
      .readOnly({ lines: (row) => row.site === "Bog" && "Nothing more is planted in the bog." });
    const orders = table(order, [
      { number: 1, site: "Hill path", planned: true, lines: [{ species: "Acer", count: 4 }] },
    ] as never);
    const card = editEntry(orders, 1);
    const lines = rowsOf(card, "lines");
    const shown = view(lines);
    const part = isGrid ? asGrid(shown, { edit: "row" }) : asRows(shown);
    Object.assign(kept, { orders, card, lines, binding: bindPage(document, { order: card, lines: part }) });
  }, part === "a grid");
  const { page } = watched;
  const run = (work: string): Promise<unknown> => page.evaluate(`{ const { orders, card, lines } = kept; ${work} }`);
  return { ...watched, run };
}

const told = (page: Page) => (): Promise<string> =>
  page
    .locator("[data-problem]:visible")
    .allInnerTexts()
    .then((texts) => texts.join("; "));

describe.each(Object.keys(parts) as (keyof typeof parts)[])("in %s", (part) => {
  test("too few rows are told behind them once a save was tried, the focus goes there, and it is gone with the first row", async () => {
    const { page, errors, run } = await withOrder(part);
    await run(`lines.delete(lines.keyOf([...lines][0])); card.fields.site.enter("Mill")`);
    expect(await told(page)()).toBe("");
    await page.click("text=Save");
    expect(await eventually(told(page), "Add a row.")).toBe("Add a row.");
    const description = await page.evaluate(() => {
      const part = document.querySelector("[data-name=lines]")!;
      return part
        .getAttribute("aria-describedby")
        ?.split(" ")
        .map((id) => document.getElementById(id)?.textContent);
    });
    expect(description).toContain(await told(page)());
    await run(`lines.insert({ species: "Tilia", count: 2 })`);
    expect(await eventually(told(page), "")).toBe("");
    expect(await accessibilityViolations(page)).toEqual([]);
    expect(errors).toEqual([]);
  });

  test("rows that were changed here and elsewhere are told, and one of the two is chosen by a button", async () => {
    for (const choice of ["mine", "theirs"]) {
      const { page, run } = await withOrder(part);
      await run(
        `lines.insert({ species: "Tilia", count: 2 }); orders.update(1, { lines: [{ species: "Betula", count: 9 }] })`,
      );
      await page.locator("[data-conflict] button").first().waitFor();
      expect(await told(page)()).toMatch(/^Changed elsewhere too\. There: Betula 9\. Here: Acer 4; Tilia 2\./);
      expect(await page.locator("[role=status]").innerText()).toMatch(/^Plants: Changed elsewhere too/);
      await page
        .locator("[data-conflict] button")
        .nth(choice === "mine" ? 0 : 1)
        .click();
      expect(await eventually(told(page), "")).toBe("");
      expect(await page.locator("[data-conflict]").count()).toBe(0);
      expect(await page.evaluate(() => [...(kept["lines"] as Iterable<object>)].length)).toBe(
        choice === "mine" ? 2 : 1,
      );
      await page.context().close();
    }
  });

  test("they are there while their field is relevant, and can't be changed while it is read-only", async () => {
    const { page, run } = await withOrder(part);
    const isThere = () => page.locator("[data-name=lines]").isVisible();
    const readOnly = () =>
      page.evaluate(() => {
        const part = document.querySelector("[data-name=lines]")!;
        return part.localName === "table" ? part.ariaReadOnly === "true" : part.querySelector("input")!.readOnly;
      });
    expect([await isThere(), await readOnly()]).toEqual([true, false]);
    await run(`card.values.planned = false`);
    expect(await eventually(isThere, false)).toBe(false);
    await run(`card.values.planned = true; card.values.site = "Bog"`);
    expect(await eventually(isThere, true)).toBe(true);
    expect(await eventually(readOnly, true)).toBe(true);
    // Code may still do it.
    await run(`lines.insert({ species: "Betula", count: 1 })`);
    await run(`kept.binding.stop(); card.values.planned = false`);
    expect(
      await page.evaluate(
        () => [...document.querySelectorAll("[data-problem], [data-conflict], [id], [hidden]")].length,
      ),
    ).toBe(0);
  });

  test("a row inside that is wrong takes the focus when a save is refused", async () => {
    const { page, run } = await withOrder(part, false);
    await run(`card.values.lines = [{ species: "Acer", count: 4 }, { species: "", count: 3 }]`);
    await page.click("text=Save");
    const isIn = (): Promise<boolean> =>
      page.evaluate(() => document.querySelector("[data-name=lines]")!.contains(document.activeElement));
    expect(await eventually(isIn, true)).toBe(true);
  });
});
