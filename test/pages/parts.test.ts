/** Rows that a page shows by their names: what a builder writes is the page and one call. */
import { afterAll, describe, expect, test } from "@jest/globals";
import { type Page } from "playwright-core";
import { closeBrowser, pageWith } from "./support.ts";

afterAll(closeBrowser);

const html = `
  <label>Search <input type="search" data-name="stock.search"></label>
  <p><output data-name="stock.length"></output> of <output data-name="all.length"></output>,
     <output data-name="stock.selectedCount"></output> selected, <output data-name="stock.total.price"></output></p>
  <div style="height: 300px"><table data-name="stock" aria-label="Stock"></table></div>
  <select data-name="beds" size="4" aria-label="Beds"></select>
  <ul data-name="all"><template><li><output data-name="tag"></output></li></template></ul>`;

const setUp = `
  const { model, text, decimal, Decimal, table, view } = ironwood;
  const plant = model({ tag: text({ required: true }), species: text(), price: decimal({ display: { minimumFractionDigits: 2 } }) }, { key: "tag" });
  const rows = ["Acer", "Tilia", "Quercus", "Tilia"].map((species, n) => ({ tag: "T" + n, species, price: Decimal.of(n + ".10") }));
  kept.stock = table(plant, rows, { locale: "en" });
  kept.shown = view(kept.stock, { searchIn: ["species"] });
  const bed = model({ name: text() }, { key: "name" });
  kept.beds = view(table(bed, [{ name: "North" }, { name: "South" }]));
  const { asGrid, asList, asRows, bindPage } = ironwood;`;

async function open(call: string, body = html): Promise<{ page: Page; errors: string[] }> {
  const { page, errors } = await pageWith(body);
  await page.evaluate(`(() => { ${setUp} ${call} })()`);
  return { page, errors };
}
const outputs = (page: Page): Promise<string[]> => page.locator("p output").allInnerTexts();

describe("rows under a name", () => {
  test("are a grid, a list and copies of a template; what there is of them beside is shown, and a field searches", async () => {
    const { page, errors } = await open(
      `kept.bound = bindPage(document, { stock: asGrid(kept.shown), beds: asList(kept.beds, { show: "name" }), all: asRows(kept.stock) });`,
    );
    expect(errors).toEqual([]);
    expect(await outputs(page)).toEqual(["4", "4", "0", "6.40"]);
    expect(await page.locator("table tbody tr").count()).toBeGreaterThanOrEqual(4);
    expect(await page.locator("select option").allInnerTexts()).toEqual(["North", "South"]);
    expect(await page.locator("li").allInnerTexts()).toEqual(["T0", "T1", "T2", "T3"]);
    await page.fill("[type=search]", "tilia");
    await page.waitForFunction(() => document.querySelector("p output")!.textContent === "2");
    expect(await outputs(page)).toEqual(["2", "4", "0", "4.20"]);
    await page.evaluate("kept.shown.search = 'acer'; kept.shown.selectAll()");
    expect(await page.inputValue("[type=search]")).toBe("acer");
    expect(await outputs(page)).toEqual(["1", "4", "1", "0.10"]);
    await page.evaluate("kept.bound.stop()");
    await page.evaluate("kept.shown.search = ''");
    expect([await outputs(page), await page.locator("li").count()]).toEqual([["", "", "", ""], 0]);
  });

  test("what does not agree is told: bare rows, an element that can't show them, a name that they do not have, one that is nowhere", async () => {
    const bare = await open(
      `try { bindPage(document, { stock: kept.shown }); } catch (error) { kept.error = String(error.message); }`,
    );
    expect(await bare.page.evaluate("kept.error")).toMatch(
      /under the name "stock".*asGrid\(\), asList\(\) or asRows\(\)/s,
    );
    const { page, errors } = await open(
      `kept.bound = bindPage(document, { stock: asGrid(kept.shown), beds: asList(kept.beds), other: asRows(kept.stock) });`,
      `<select data-name="stock"></select><output data-name="stock.lenght"></output><select data-name="beds"></select>`,
    );
    expect(errors).toHaveLength(1);
    for (const part of [
      'The rows "stock" can\'t be shown in <select>. Right would be <table>.',
      'The rows "stock" have no "lenght". Did you mean "length"?',
      'The page has no element for the rows "other". It would have data-name="other".',
    ])
      expect(errors[0]).toContain(part);
    expect(await page.locator("select[data-name=beds] option").count()).toBe(3);
  });
});
