/** What happens at a control whose field is changed elsewhere while a person changes it. */
import { afterAll, describe, expect, test } from "@jest/globals";
import type { Page } from "playwright-core";
import { accessibilityViolations, closeBrowser, pageWith } from "./support.ts";

afterAll(closeBrowser);

const form = `<main><h1>Tree card</h1><form name="card">
  <p><label>Girth <input name="girth"></label></p>
  <p><label>Notes <textarea name="notes"></textarea></label></p>
  <button type="submit">Save</button> <p role="status"></p>
</form><table id="grid"></table></main>`;

async function withCard(): Promise<{ page: Page; errors: string[] }> {
  const watched = await pageWith(form);
  await watched.page.evaluate(() => {
    const { bindPage, editEntry, model, newHistory, number, table, text } = ironwood;
    const tree = model(
      {
        tag: text({ required: true, readOnly: true }),
        girth: number({ title: "Girth", unit: "centimeter", maximum: 500 }),
        notes: text({ title: "Notes" }),
      },
      { title: "Tree card", key: "tag" },
    );
    const rows = [
      { tag: "AB-0001", girth: 30, notes: "leans" },
      { tag: "AB-0002", girth: 40, notes: "" },
    ];
    const trees = table(tree, rows, { locale: "en", history: newHistory() });
    const card = editEntry(trees, "AB-0001");
    Object.assign(kept, { trees, card, bound: bindPage(document, { card }) });
  });
  return watched;
}

const elsewhere = (page: Page, changes: object): Promise<void> =>
  page.evaluate((given) => {
    const { trees } = kept as { trees: { update(key: string, changes: object): unknown } };
    trees.update("AB-0001", given);
  }, changes);
const girthOf = (page: Page): Promise<unknown> =>
  page.evaluate(() => (kept as { trees: { get(key: string): { girth: number } } }).trees.get("AB-0001").girth);

describe("a control whose field is changed elsewhere", () => {
  test("keeps what is typed, says at once what it is elsewhere, and offers both by buttons that the keyboard reaches", async () => {
    const { page, errors } = await withCard();
    const girth = page.getByLabel("Girth");
    await girth.click();
    await page.keyboard.press("Control+A");
    await page.keyboard.type("31.5");
    await elsewhere(page, { girth: 33.2 });
    const mine = page.getByRole("button", { name: "Keep mine: 31.5 cm" });
    const theirs = page.getByRole("button", { name: "Take the other: 33.2 cm" });
    await mine.waitFor();
    expect([await girth.inputValue(), await girth.getAttribute("aria-invalid")]).toEqual(["31.5", "true"]);
    const said = "Changed elsewhere too. There: 33.2 cm. Here: 31.5 cm.";
    expect(await page.locator("[data-problem=changedElsewhere]").textContent()).toBe(said);
    expect(await page.getByRole("status").textContent()).toBe(`Girth: ${said}`);
    expect(
      await mine.evaluate((button) => document.getElementById(button.getAttribute("aria-describedby")!)?.textContent),
    ).toBe(said);
    // Typing goes on, and the caret stays.
    await page.keyboard.type("5");
    await page.getByRole("button", { name: "Keep mine: 31.55 cm" }).waitFor();
    expect(await girth.inputValue()).toBe("31.55");
    expect(await accessibilityViolations(page)).toEqual([]);
    // It can't be saved unseen.
    await page.keyboard.press("Enter");
    expect([await girthOf(page), await girth.evaluate((element) => element === document.activeElement)]).toEqual([
      33.2,
      true,
    ]);
    await page.keyboard.press("Tab");
    await page.keyboard.press("Tab");
    expect(await theirs.evaluate((element) => element === document.activeElement)).toBe(true);
    await page.keyboard.press("Enter");
    expect(
      await girth.evaluate((element: HTMLInputElement) => [element === document.activeElement, element.value]),
    ).toEqual([true, "33.2"]);
    expect([await girth.getAttribute("aria-invalid"), await page.locator("[data-conflict]").count()]).toEqual([
      null,
      0,
    ]);
    expect(errors).toEqual([]);
  });

  test("is saved with what was kept; the choice is undone like any change", async () => {
    const { page } = await withCard();
    const girth = page.getByLabel("Girth");
    await girth.fill("31.5");
    await page.getByLabel("Notes").focus();
    await elsewhere(page, { girth: 33.2 });
    await page.getByRole("button", { name: /^Take the other/ }).click();
    await page.waitForFunction(() => document.querySelector<HTMLInputElement>("[name=girth]")!.value === "33.2");
    await page.keyboard.press("Control+Z");
    expect(await girth.inputValue()).toBe("31.5");
    await page.getByRole("button", { name: "Save" }).click();
    await page.getByText("Saved AB-0001.").waitFor();
    expect(await girthOf(page)).toBe(31.5);
  });

  test("keeps long texts whole in the message and short on the buttons; what is released leaves neither", async () => {
    const { page, errors } = await withCard();
    const hostile = `<b>${"leans towards the road ".repeat(4)}</b>`;
    await page.getByLabel("Notes").fill(hostile);
    await elsewhere(page, { notes: "was felled\nin March" });
    const button = page.getByRole("button", { name: /^Keep mine/ });
    await button.waitFor();
    expect((await button.textContent())!.length).toBeLessThan(60);
    const message = page.locator("[data-problem=changedElsewhere]");
    expect(
      await message.evaluate((element) => [
        element.querySelectorAll("b").length,
        element.querySelectorAll("br").length,
      ]),
    ).toEqual([0, 1]);
    expect(await message.textContent()).toContain(hostile);
    await page.evaluate(() => (kept["bound"] as { stop(): void }).stop());
    expect(await page.locator("[data-conflict], [data-problem]").count()).toBe(0);
    expect(errors).toEqual([]);
  });

  test("in a cell of a grid Escape takes the other, and entering it again keeps what was entered", async () => {
    const { page, errors } = await withCard();
    await page.evaluate(() => {
      const { bindGrid, bindPage, view } = ironwood;
      const { trees, bound } = kept as { trees: never; bound: { stop(): void } };
      bound.stop();
      document.querySelector("form")!.replaceWith(document.querySelector("[role=status]")!);
      bindPage(document, {});
      const options = { edit: "row", columns: ["tag", "girth", "notes"] } as const;
      bindGrid(document.querySelector("#grid")!, view(trees, { orderBy: "tag" }), options as never);
    });
    const cell = page.locator("#grid tbody td", { hasText: "30 cm" });
    const wrong = page.locator("#grid tbody td[aria-invalid]");
    await cell.dblclick();
    await page.keyboard.press("Control+A");
    await page.keyboard.type("31.5");
    await elsewhere(page, { girth: 33.2 });
    const said = "Changed elsewhere too. There: 33.2 cm. Here: 31.5 cm.";
    const how = "Enter yours again to keep it; Escape takes the other.";
    await page.getByText(`Girth: ${said} ${how}`).waitFor();
    expect(await page.locator("[data-cell-message]").textContent()).toBe(said);
    expect(await page.locator("[data-conflict]").count()).toBe(0);
    await page.keyboard.press("Escape");
    const taken = page.locator("#grid tbody td", { hasText: "33.2 cm" });
    expect([await taken.count(), await wrong.count()]).toEqual([1, 0]);
    await taken.dblclick();
    await page.keyboard.press("Control+A");
    await page.keyboard.type("34");
    await elsewhere(page, { girth: 35 });
    await page.keyboard.press("Enter");
    expect([await wrong.textContent(), await girthOf(page)]).toEqual(["34 cm", 35]);
    await wrong.click();
    await page.keyboard.type("36");
    await page.keyboard.press("Enter");
    await page.keyboard.press("ArrowDown");
    await page.waitForFunction(() => document.querySelectorAll("#grid [aria-invalid]").length === 0);
    expect(await girthOf(page)).toBe(36);
    expect(errors).toEqual([]);
  });
});
