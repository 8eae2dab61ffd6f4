/** Rows of a grid that people put in an order of their own. */
import { afterAll, describe, expect, test } from "@jest/globals";
import type { Page } from "playwright-core";
import { closeBrowser, pageWith } from "./support.ts";

afterAll(closeBrowser);

async function withGrid(count = 6, reorder = "place") {
  const watched = await pageWith(
    `<div id="room" style="block-size: 16rem; overflow: auto"><table id="tasks" aria-label="Tasks"></table></div><p role="status"></p>`,
  );
  const { page } = watched;
  await page.evaluate(
    ({ count, reorder }) => {
      const { bindGrid, bindPage, integer, model, newHistory, table, text, view } = ironwood;
      const task = model(
        { name: text({ title: "Name", required: true }), place: integer({ title: "Place", required: true }) },
        { title: "Task", key: "name" },
      );
      const rows = Array.from({ length: count }, (_, at) => ({ name: `t${at + 1}`, place: at + 1 }));
      const all = table(task, rows, { locale: "en", history: newHistory() });
      const shown = view(all, { orderBy: "place" });
      let locked: string | false = false;
      Object.assign(kept, { all, shown, lock: (why: string) => (locked = why), page: bindPage(document, {}) });
      kept["grid"] = bindGrid(document.querySelector("#tasks")!, shown, {
        edit: "row",
        columns: ["name", "place"],
        reorder: reorder === "" ? undefined : (reorder as never),
        readOnly: () => locked,
      });
    },
    { count, reorder },
  );
  const names = (): Promise<string> =>
    page.evaluate(() => (kept["shown"] as { keys(): string[] }).keys().slice(0, 8).join(" "));
  return { ...watched, names };
}
const status = (page: Page): Promise<string> => page.locator("[role=status]").innerText();
const at = async (page: Page, row: number, part = 0.5): Promise<readonly [number, number]> => {
  const box = (await page.locator(`#tasks tr[aria-rowindex='${row + 1}'] td[data-mark]`).boundingBox())!;
  return [box.x + box.width / 2, box.y + box.height * part];
};

describe("the order of rows", () => {
  test("Alt with arrows moves the row, and what is selected with it; the focus goes along, Ctrl+Z takes it back", async () => {
    const { page, names, errors } = await withGrid();
    await page.click("#tasks tr[aria-rowindex='3'] td >> nth=1");
    await page.keyboard.press("Alt+ArrowDown");
    expect(await names()).toBe("t1 t3 t2 t4 t5 t6");
    expect(await status(page)).toBe("t2 is in row 3 now.");
    expect(await page.evaluate(() => document.activeElement?.textContent)).toBe("t2");
    await page.keyboard.press("Shift+ArrowDown");
    await page.keyboard.press("Alt+ArrowUp");
    expect(await names()).toBe("t1 t2 t4 t3 t5 t6");
    await page.keyboard.press("Control+z");
    await page.keyboard.press("Control+z");
    expect(await names()).toBe("t1 t2 t3 t4 t5 t6");
    await page.keyboard.press("Control+Home");
    await page.keyboard.press("Alt+ArrowUp");
    expect(await names()).toBe("t1 t2 t3 t4 t5 t6");
    expect(await page.getAttribute("#tasks", "aria-keyshortcuts")).toBe("Alt+ArrowUp Alt+ArrowDown");
    expect(errors).toEqual([]);
  });

  test("by pointer: a row is moved at its mark, where it would go is shown, and Escape leaves it where it was", async () => {
    const { page, names } = await withGrid();
    await page.mouse.move(...(await at(page, 1)));
    await page.mouse.down();
    await page.mouse.move(...(await at(page, 3, 0.8)), { steps: 5 });
    expect(await page.locator("tr[data-drop=before]").count()).toBe(1);
    await page.mouse.up();
    expect(await names()).toBe("t2 t3 t1 t4 t5 t6");
    expect(await page.locator("tr[data-drop], [data-moving]").count()).toBe(0);
    // The press that moved it has not selected it.
    expect(await page.locator("tr[aria-selected=true]").count()).toBe(0);
    await page.mouse.move(...(await at(page, 6)));
    await page.mouse.down();
    await page.mouse.move(...(await at(page, 1, 0.2)), { steps: 5 });
    await page.keyboard.press("Escape");
    await page.mouse.up();
    expect(await names()).toBe("t2 t3 t1 t4 t5 t6");
    // A press without a movement selects, as ever.
    await page.mouse.click(...(await at(page, 2)));
    expect(await page.locator("tr[aria-selected=true]").count()).toBe(1);
  });

  test("near the edge the rows scroll on while one is moved", async () => {
    const { page } = await withGrid(300);
    await page.mouse.move(...(await at(page, 2)));
    await page.mouse.down();
    const room = (await page.locator("#room").boundingBox())!;
    await page.mouse.move(room.x + 10, room.y + room.height - 5, { steps: 4 });
    await page.waitForFunction(() => document.querySelector("#room")!.scrollTop > 400);
    await page.mouse.up();
    const place = await page.evaluate(() => (kept["shown"] as { placeOf(key: string): number }).placeOf("t2"));
    expect(place).toBeGreaterThan(8);
    await page.waitForTimeout(80);
    const scrolled = await page.evaluate(() => document.querySelector("#room")!.scrollTop);
    await page.waitForTimeout(80);
    expect(await page.evaluate(() => document.querySelector("#room")!.scrollTop)).toBe(scrolled);
  });

  test("sorted by something else, or only to look at, the reason is said and nothing moves", async () => {
    const { page, names } = await withGrid();
    await page.click("#tasks tr[aria-rowindex='3'] td >> nth=1");
    await page.evaluate(() => ((kept["shown"] as { orderBy: string }).orderBy = "name"));
    await page.keyboard.press("Alt+ArrowDown");
    expect(await status(page)).toBe("To change the order of the rows, sort them by Place first.");
    await page.evaluate(() => {
      (kept["shown"] as { orderBy: string }).orderBy = "place";
      (kept["lock"] as (why: string) => void)("The day is over.");
    });
    await page.keyboard.press("Alt+ArrowDown");
    expect(await status(page)).toBe("The day is over.");
    expect(await names()).toBe("t1 t2 t3 t4 t5 t6");
  });

  test("in a grid with no rows nothing happens", async () => {
    const { page, errors } = await withGrid(0);
    await page.focus("#tasks");
    await page.keyboard.press("Alt+ArrowDown");
    await page.keyboard.press("Alt+ArrowUp");
    expect(errors).toEqual([]);
  });

  test("a field that is none, or no number, is refused with what would be right; without one Alt does nothing", async () => {
    const { page, names, errors } = await withGrid(3, "");
    await page.click("#tasks tr[aria-rowindex='3'] td >> nth=1");
    await page.keyboard.press("Alt+ArrowDown");
    expect(await names()).toBe("t1 t2 t3");
    expect(errors).toEqual([]);
    const failed = await page.evaluate(() =>
      ["plase", "name"].map((reorder) => {
        try {
          ironwood.bindGrid(document.querySelector("#tasks")!, kept["shown"] as never, { reorder });
          return "bound";
        } catch (error) {
          return (error as Error).message;
        }
      }),
    );
    expect(failed[0]).toMatch(/"plase".*reorder of <table id="tasks">.*"place"/s);
    expect(failed[1]).toMatch(/reorder was given the field "name".*number or integer/s);
  });
});

test.each([
  ["at the end", 299, 120],
  ["in the middle", 150, 100],
  ["near the start, where as much goes as there is", 8, 6],
])("rows above the one in which a person is go, and it stays where it is: %s", async (_where, row, gone) => {
  const { page } = await withGrid(300);
  await page.click("#tasks tr[aria-rowindex='2'] td >> nth=1");
  await page.keyboard.press("Control+End");
  for (let back = 299; back > row; back -= 1) await page.keyboard.press("ArrowUp");
  const cell = page.locator("#tasks tr:has(:focus)");
  const name = await cell.innerText();
  const before = (await cell.boundingBox())!.y;
  await page.evaluate(
    ([count]) => {
      const shown = kept["shown"] as { keys(): string[] };
      const all = kept["all"] as { delete(key: string): void };
      ironwood.transaction(() => {
        for (const key of shown.keys().slice(0, count)) all.delete(key);
      });
    },
    [gone],
  );
  await page.waitForFunction(() => document.querySelector("#tasks tr :focus, #tasks tr:focus") !== null);
  expect(await cell.innerText()).toBe(name);
  const room = (await page.locator("#room").boundingBox())!;
  const after = (await cell.boundingBox())!.y;
  expect([after >= room.y, after < room.y + room.height]).toEqual([true, true]);
  if (row - gone > 20) expect(Math.abs(after - before)).toBeLessThan(3);
});

test("what was entered in a cell is in the table before a button that is pressed hears of it", async () => {
  const { page } = await withGrid();
  await page.evaluate(() => {
    const { bindCommand, command } = ironwood;
    const button = document.createElement("button");
    button.id = "report";
    button.style.blockSize = "2rem";
    document.body.append(button);
    const shown = kept["shown"] as { rows(): { name: string }[] };
    bindCommand(button, command({ title: "Report", run: () => shown.rows()[0]!.name }));
  });
  await page.dblclick("#tasks tr[aria-rowindex='2'] td >> nth=1");
  await page.keyboard.press("Control+a");
  await page.keyboard.type("first");
  await page.click("#report");
  await page.waitForFunction(() => document.querySelector("[role=status]")?.textContent === "first");
});
