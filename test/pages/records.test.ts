import { isDeepStrictEqual } from "node:util";
import { afterAll, afterEach, beforeAll, describe, expect, test } from "@jest/globals";
import type { Page } from "playwright-core";
import { accessibilityViolations, closeBrowser, eventually, newDemo, newPage, openBrowser } from "./support.ts";

let demo: Awaited<ReturnType<typeof newDemo>>;
beforeAll(async () => {
  demo = await newDemo();
});
afterAll(async () => {
  await closeBrowser();
  await demo.stop();
});

async function open(path: string, ready: () => boolean, { address } = demo) {
  const watched = await newPage({ locale: "en-GB" });
  await watched.page.goto(`${address}/${path}/`);
  await watched.page.waitForFunction(ready);
  return watched;
}
const hasBook = (): boolean => document.querySelector("#shown")!.textContent.startsWith("300 rows");
/** The demos of the running test: what is entered in a book is there for whoever opens it next. */
let own: (typeof demo)[] = [];
afterEach(async () => {
  for (const each of own) await each.stop();
  own = [];
});
async function stockBook() {
  const its = await newDemo();
  own.push(its);
  return { ...(await open("stock-book", hasBook, its)), demo: its };
}
async function orders() {
  const its = await newDemo();
  own.push(its);
  const hasStock = (): boolean => document.querySelectorAll("#stock > tbody > tr[aria-rowindex]").length > 5;
  return { ...(await open("planting-orders", hasStock, its)), demo: its };
}

const focus = (page: Page): Promise<string> =>
  page.evaluate(() => {
    const active = document.activeElement!;
    const cell = active.closest("td, th");
    if (cell === null) return `${active.localName} ${active.getAttribute("command")?.slice(2) ?? active.id}`;
    const text =
      "value" in active && active.localName !== "button" ? (active as HTMLInputElement).value : cell.textContent;
    return `${cell.closest("tr")!.getAttribute("aria-rowindex")}/${cell.getAttribute("aria-colindex")} ${text}`;
  });
const said = (page: Page): Promise<string> => page.textContent("main > [role=status]").then((text) => text ?? "");
const counts = (page: Page): Promise<string> => page.textContent("#shown").then((text) => text ?? "");
const keptSaid = (page: Page): Promise<string> => page.textContent("[data-name=kept]").then((text) => text ?? "");
const cells = (page: Page, grid: string, row: number): Promise<string[]> =>
  page.$$eval(`${grid} > tbody > tr[aria-rowindex="${row}"] > td`, (all) =>
    all.slice(1).map((cell) => cell.textContent),
  );
const foot = (page: Page, grid: string): Promise<string[]> =>
  page.$$eval(`${grid} > tfoot td`, (all) => all.map((cell) => cell.textContent).filter((text) => text !== ""));
async function press(page: Page, ...keys: string[]): Promise<void> {
  for (const key of keys) await page.keyboard.press(key);
}

/** The pages refuse scripts from elsewhere, and so that of the accessibility engine at its first attempt. */
const ownErrors = (errors: readonly string[]): string[] => errors.filter((text) => !text.includes("'TrustedScript'"));

describe("the stock book", () => {
  test("is worked by keyboard alone: search, sort, change in place, a refused cell, undo, details", async () => {
    const { page, errors } = await stockBook();
    await press(page, "Tab", "Tab", "Tab", "Tab", "Tab", "Tab", "Tab", "Tab", "Tab");
    expect(await focus(page)).toBe("input ");
    await page.keyboard.type("quercus rob");
    await page.waitForFunction(() => document.querySelector("#shown")!.textContent.includes(" of 300 rows"));
    const found = Number((await counts(page)).split(" ")[0]);
    expect(found).toBeGreaterThan(3);
    for (let step = 0; !(await focus(page)).startsWith("2/2 ") && step < 25; step++) await press(page, "Tab");
    const tag = (await focus(page)).split(" ")[1]!;
    expect(tag).toMatch(/^[A-Z]{2}-\d{4}$/);
    // Sorted by plants, downwards.
    await press(page, "ArrowUp", "ArrowRight", "ArrowRight", "ArrowRight", "ArrowRight", "Enter", "Enter");
    expect([await focus(page), await said(page)]).toEqual(["1/6 Plants", "Sorted by Plants, descending."]);
    await press(page, "ArrowDown");
    const most = (await cells(page, "#stock", 2))[0]!;
    expect(Number((await cells(page, "#stock", 2))[4])).toBeGreaterThanOrEqual(
      Number((await cells(page, "#stock", 3))[4]),
    );
    await page.keyboard.type("6000");
    await press(page, "Enter");
    expect(await page.textContent("#details-heading output")).toBe(most);
    expect(await page.textContent("dialog")).toMatch(/Stock has changes that are not saved/);
    await press(page, "Escape");
    expect([await focus(page), await page.inputValue("#d-count")]).toEqual(["2/6 6,000", "6,000"]);
    expect(await accessibilityViolations(page)).toEqual([]);
    await press(page, "Escape");
    await page.keyboard.type("59");
    await press(page, "Tab", "Escape");
    expect(await page.inputValue("#d-count")).toBe("59");
    // What was entered in the grid is in the table once its row is left, with no question.
    await press(page, "ArrowDown");
    expect(await page.locator("dialog").count()).toBe(0);
    expect(await keptSaid(page)).toBe("1 row not saved yet.");
    await press(page, "Control+z");
    expect(await said(page)).toMatch(new RegExp(`^Undone: .*${most}`));
    // What was entered in the form asks.
    await page.fill("#d-notes", "dry");
    await page.click("#stock tbody tr[aria-rowindex='6'] td >> nth=2");
    await page.waitForSelector("dialog");
    await press(page, "Escape");
    expect(await page.inputValue("#d-notes")).toBe("dry");
    expect(ownErrors(errors)).toEqual([]);
  });

  test("by pointer: filter, select, change all that are selected, copy as new, remove, sell one, details follow", async () => {
    const { page, errors } = await stockBook();
    await page.selectOption("[name=filter] select", "3");
    const failing = Number((await counts(page)).split(" ")[0]);
    expect(failing).toBeGreaterThan(2);
    await page.click("#stock td[data-mark] >> nth=0");
    await page.click("#stock td[data-mark] >> nth=2", { modifiers: ["Shift"] });
    expect(await counts(page)).toBe(`${failing} of 300 rows, 3 selected`);
    await page.click("[command='--change-selected']");
    await page.fill("dialog input", "121");
    await press(page, "Enter");
    expect(await page.textContent("dialog [data-problem]")).toBe("Enter 120 or less.");
    await page.fill("dialog input", "7");
    await press(page, "Enter");
    await page.waitForFunction(
      () => document.querySelector("main > [role=status]")!.textContent === "3 rows are in bed 7 now.",
    );
    expect((await Promise.all([2, 3, 4].map((row) => cells(page, "#stock", row)))).map((row) => row[2])).toEqual([
      "7",
      "7",
      "7",
    ]);
    await page.click("[command='--remove-selected']");
    expect([await said(page), await counts(page), await keptSaid(page)]).toEqual([
      "Removed 3 rows.",
      `${failing - 3} of 297 rows`,
      "3 rows not saved yet.",
    ]);
    await page.click("[command='--undo']");
    // They are in another bed than in the book.
    expect([await counts(page), await keptSaid(page)]).toEqual([
      `${failing} of 300 rows, 3 selected`,
      "3 rows not saved yet.",
    ]);
    await page.selectOption("[name=filter] select", "");
    await page.click("#stock td:has-text('AA-0001')");
    expect(await page.inputValue("#d-tag")).toBe("AA-0001");
    const before = Number((await cells(page, "#stock", 2))[4]);
    await page.click("[aria-label='Sell one AA-0001']");
    expect([Number((await cells(page, "#stock", 2))[4]), await page.inputValue("#d-count")]).toEqual([
      before - 1,
      String(before - 1),
    ]);
    await page.click("[command='--copy-as-new']");
    expect([await said(page), await counts(page), await keptSaid(page)]).toEqual([
      "Added ZZ-0301.",
      "301 rows, 3 selected",
      "5 rows not saved yet.",
    ]);
    expect(ownErrors(errors)).toEqual([]);
  });

  test("by clipboard: a column from a spreadsheet, and rows to one", async () => {
    const { page } = await stockBook();
    await page.click("#stock td:has-text('AA-0001')");
    const data = await page.evaluate(() => {
      const cell = document.querySelector<HTMLElement>("#stock tr[aria-rowindex='2'] td[aria-colindex='6']")!;
      cell.click();
      const given = new DataTransfer();
      given.setData("text/plain", "11\r\n12\r\n13\r\n");
      document.activeElement!.dispatchEvent(
        new ClipboardEvent("paste", { clipboardData: given, bubbles: true, cancelable: true }),
      );
      document.querySelector<HTMLElement>("#stock tr[aria-rowindex='3'] [data-mark]")!.click();
      const taken = new DataTransfer();
      document.activeElement!.dispatchEvent(
        new ClipboardEvent("copy", { clipboardData: taken, bubbles: true, cancelable: true }),
      );
      return taken.getData("text/plain");
    });
    expect((await Promise.all([2, 3, 4].map((row) => cells(page, "#stock", row)))).map((row) => row[4])).toEqual([
      "11",
      "12",
      "13",
    ]);
    expect(data.split("\t").slice(0, 5)).toEqual(["BA-0002", "Taxus baccata", "72", "73", "12"]);
  });

  test("widths, order and what is hidden are there again after the page was left", async () => {
    const { page } = await stockBook();
    await page.click("th:has-text('Height')");
    await press(page, "Shift+ArrowRight", "Control+ArrowRight", "ArrowRight", "Delete");
    const headings = () =>
      page.$$eval("#stock th[data-heading]", (all) =>
        all.map((th) => `${th.textContent} ${Math.round(th.getBoundingClientRect().width)}`),
      );
    const before = await headings();
    expect(before.map((each) => each.replace(/ \d+$/, "")).slice(0, 6)).toEqual([
      "Tag",
      "Species",
      "Bed",
      "Plants",
      "Height",
      "Worth",
    ]);
    await page.reload();
    await page.waitForFunction(hasBook);
    expect(await headings()).toEqual(before);
  });

  test("with 1,000,000 rows: made with progress, row 777,777 is what assistive technology is told it is, its end is reached, sorted and searched", async () => {
    const { page, errors } = await stockBook();
    await page.click("[command='--make-rows']");
    await page.waitForSelector("progress[data-name=makeRows]:not([hidden])");
    await page.waitForFunction(
      () => document.querySelector("main > [role=status]")!.textContent === "1,000,000 rows were made.",
      undefined,
      { timeout: 120_000 },
    );
    await page.click("#stock td >> nth=2");
    await press(page, "Control+End");
    expect(await focus(page)).toBe("1000001/13 Sell one");
    // Its tag says where it is: the rows are in the order in which they were made.
    await page.evaluate(() => {
      const window = document.querySelector("[data-grid]")!;
      window.scrollTop = (window.scrollHeight - window.clientHeight) * (777_776 / 999_982);
    });
    const isNear = (): Promise<boolean> =>
      page.$$eval("#stock > tbody > tr[aria-rowindex]", (rows) =>
        rows.some((row) => Math.abs(Number(row.getAttribute("aria-rowindex")) - 777_778) < 40),
      );
    expect(await eventually(isNear, true)).toBe(true);
    await page.evaluate(() =>
      document.querySelector<HTMLElement>("#stock > tbody > tr[aria-rowindex] > td:nth-child(3)")!.click(),
    );
    for (let step = 0; step < 60 && !(await focus(page)).startsWith("777778/"); step++)
      await press(page, Number((await focus(page)).split("/")[0]) < 777_778 ? "ArrowDown" : "ArrowUp");
    const session = await page.context().newCDPSession(page);
    const { nodes } = (await session.send("Accessibility.getFullAXTree")) as unknown as { nodes: AxNode[] };
    const cell = nodes.filter(
      ({ role, properties }) =>
        role?.value === "gridcell" && properties?.some(({ name, value }) => name === "focused" && value.value === true),
    );
    expect(cell.length).toBe(1);
    const row = nodes.find(({ nodeId }) => nodeId === cell[0]!.parentId)!;
    const names = row
      .childIds!.map((id) => nodes.find(({ nodeId }) => nodeId === id)!)
      .map(({ name }) => name?.value ?? "");
    expect([row.role!.value, names[1], cell[0]!.name!.value]).toEqual([
      "row",
      expect.stringMatching(/^[A-Z]{2}-777777$/),
      expect.stringMatching(/^[A-Z][a-z]+ [a-z]+$/),
    ]);
    const grid = nodes.find(({ role }) => role?.value === "grid")!;
    expect(grid.name!.value).toBe("Plants in stock");
    expect(await page.getAttribute("#stock", "aria-rowcount")).toBe("1000002");
    const asked = page.waitForFunction(
      () => document.querySelector("#shown")!.textContent.includes(" of 1,000,000 rows"),
      undefined,
      { timeout: 60_000 },
    );
    await page.fill("[data-name='stock.search']", "999999");
    await asked;
    expect(await counts(page)).toBe("1 of 1,000,000 rows");
    expect(errors).toEqual([]);
  }, 240_000);
});

interface AxNode {
  readonly nodeId: string;
  readonly parentId?: string;
  readonly childIds?: readonly string[];
  readonly role?: { readonly value: string };
  readonly name?: { readonly value: string };
  readonly properties?: readonly { readonly name: string; readonly value: { readonly value: unknown } }[];
}

describe("planting orders", () => {
  test("plants are moved to an order within its budget and its lorry, in part too, and back; totals follow", async () => {
    const { page, errors } = await orders();
    expect(await foot(page, "#stock")).toEqual(["Total", "7,244"]);
    await page.fill("[name=amount]", "3");
    await page.click("#stock tr[aria-rowindex='2'] [data-mark]");
    await page.click("#stock tr[aria-rowindex='4'] [data-mark]", { modifiers: ["Shift"] });
    await page.click("[command='--allot-chosen']");
    expect(await said(page)).toBe("3 of the stock go to School yard, Thornbeck.");
    expect([(await foot(page, "#stock"))[1], (await foot(page, "#allotted"))[1]]).toEqual(["7,235", "9"]);
    await page.fill("[name=amount]", "");
    await page.click("[command='--allot-chosen']");
    expect(await said(page)).toMatch(/^That would cost [\d,.]+, and the budget is 900\.00\.$/);
    expect([(await foot(page, "#stock"))[1], (await foot(page, "#allotted"))[1]]).toEqual(["7,235", "9"]);
    await page.selectOption("#orders", { label: "Arboretum, plot P-17" });
    expect(await page.textContent("tbody[data-rows]:visible")).toMatch(/^Nothing is allotted yet/);
    await page.selectOption("#orders", { label: "School yard, Thornbeck" });
    await page.click("#allotted tr[aria-rowindex='2'] td >> nth=1");
    await page.click("[command='--take-back-chosen']");
    expect([(await foot(page, "#stock"))[1], (await foot(page, "#allotted"))[1]]).toEqual(["7,238", "6"]);
    await page.click("[command='--remove-order']");
    expect(await said(page)).toBe("There are plants in this order: take them back first.");
    await page.click("[command='--undo']");
    await page.click("[command='--undo']");
    expect(await foot(page, "#stock")).toEqual(["Total", "7,244"]);
    expect(errors).toEqual([]);
    expect(await accessibilityViolations(page)).toEqual([]);
  });

  test("are worked by keyboard alone, to the lines inside the dialog and back", async () => {
    const { page, errors } = await orders();
    await page.focus("#orders");
    await press(page, "ArrowDown", "Tab", "Tab", "Enter");
    await page.waitForSelector("#change[open]");
    expect(await page.textContent("#change-heading output")).toBe("2");
    await page.focus("#add-line");
    await press(page, "Enter");
    expect(await focus(page)).toBe("4/2 Acer campestre");
    await press(page, "ArrowRight");
    await page.keyboard.type("900");
    await press(page, "Enter");
    expect(await page.getAttribute("#wanted tr[aria-rowindex='4'] td[aria-colindex='3']", "aria-invalid")).toBe("true");
    await page.focus("#site-name");
    await press(page, "Enter");
    expect(await page.isVisible("#change[open]")).toBe(true);
    await page.click("#wanted tr[aria-rowindex='4'] td[aria-colindex='3']");
    await page.keyboard.type("40");
    await press(page, "Enter");
    expect(await page.textContent("#wanted-heading output")).toBe("140");
    expect(await accessibilityViolations(page)).toEqual([]);
    await page.fill("#site-name", "River bank");
    await press(page, "Enter");
    await page.waitForFunction(() => document.querySelector("dialog[open]") === null);
    expect(await focus(page)).toBe("button change-order");
    expect(await page.textContent("#site")).toBe("2 · River bank");
    await press(page, "Enter");
    await page.waitForSelector("#change[open]");
    await page.fill("#site-name", "Elsewhere");
    await press(page, "Escape");
    await page.waitForSelector("dialog:not(#change)");
    await page.click("dialog:not(#change) button:has-text('Leave')");
    await page.waitForFunction(() => document.querySelector("dialog[open]") === null);
    expect(await page.textContent("#site")).toBe("2 · River bank");
    expect(ownErrors(errors)).toEqual([]);
  });

  test("what is to do is edited in place, put in order and removed, each row by its own controls", async () => {
    const { page, errors } = await orders();
    const item = (place: number) => page.locator("#tasks > li").nth(place);
    const whats = () => page.$$eval("#tasks [name=what]", (all) => all.map((each) => (each as HTMLInputElement).value));
    expect(await whats()).toEqual(["Lift the rowans", "Ask the caretaker for the key", "Load stakes and ties"]);
    // What is done can't be changed, and says why.
    expect(await item(0).locator("[name=what]").getAttribute("title")).toBe("It is done.");
    await page.focus("[command='--add-task']");
    await press(page, "Tab", "Space", "Tab", "Tab", "Tab", "Tab");
    expect(await page.textContent("button:focus")).toBe("Lift the rowans: later");
    await press(page, "Enter");
    expect((await whats())[1]).toBe("Lift the rowans");
    await item(1).locator("[name=what]").fill("Lift all rowans");
    await item(1).getByRole("radio", { name: "pm" }).check();
    expect(await item(0).getByRole("radio", { name: "am" }).isChecked()).toBe(true);
    await page.click("[command='--add-task']");
    expect(await whats()).toContain("Something to do");
    await item(0).getByRole("button", { name: "Remove" }).click();
    expect(await said(page)).toBe("Ask the caretaker for the key is removed.");
    expect(await whats()).toEqual(["Lift all rowans", "Load stakes and ties", "Something to do"]);
    await page.selectOption("#orders", { label: "River bank, lower fields" });
    expect(await whats()).toEqual(["Cut willow rods", "Wet the root balls"]);
    expect(await accessibilityViolations(page)).toEqual([]);
    expect(ownErrors(errors)).toEqual([]);
  });

  test("by clipboard: numbers from a spreadsheet into the lines of an order, and what is allotted to one", async () => {
    const { page, errors } = await orders();
    await page.click("#stock tr[aria-rowindex='2'] [data-mark]");
    await page.fill("[name=amount]", "2");
    await page.click("[command='--allot-chosen']");
    await page.click("#allotted tr[aria-rowindex='2'] [data-mark]");
    const copied = await page.evaluate(() => {
      const taken = new DataTransfer();
      document.activeElement!.dispatchEvent(
        new ClipboardEvent("copy", { clipboardData: taken, bubbles: true, cancelable: true }),
      );
      return taken.getData("text/plain").split("\t");
    });
    expect([copied.length, copied.slice(1, 3)]).toEqual([6, ["RA-0018", "Acer campestre"]]);
    await page.click("[command='--change-order']");
    await page.click("#wanted tr[aria-rowindex='2'] td[aria-colindex='3']");
    const pasted = (text: string) =>
      page.evaluate((given) => {
        const data = new DataTransfer();
        data.setData("text/plain", given);
        document.activeElement!.dispatchEvent(
          new ClipboardEvent("paste", { clipboardData: data, bubbles: true, cancelable: true }),
        );
      }, text);
    await pasted("60\t350\r\n8\t");
    expect(
      await page.$$eval("[data-grid] + [role=alert] li", (items) => items.map((item) => item.textContent)),
    ).toEqual(["Row 1, Plants: No more than 50 of more than three metres."]);
    await pasted("50\t350\r\n8\t");
    expect([await cells(page, "#wanted", 2), await page.textContent("#wanted-heading output")]).toEqual([
      ["Sorbus aucuparia", "50", "350 cm"],
      "58",
    ]);
    expect(ownErrors(errors)).toEqual([]);
  });

  test("two windows have one set of data: after each step the totals in both agree, and a closed one leaves nothing", async () => {
    const context = await (await openBrowser()).newContext({ viewport: { width: 1280, height: 800 } });
    const pages = [await context.newPage(), await context.newPage()] as const;
    const errors: string[] = [];
    for (const page of pages) {
      page.on("pageerror", (error) => errors.push(error.message));
      await page.goto(`${demo.address}/planting-orders/`);
      await page.waitForSelector("#stock > tbody > tr[aria-rowindex='6']");
    }
    const [one, two] = pages;
    const totals = (page: Page) =>
      Promise.all([foot(page, "#stock"), foot(page, "#allotted"), page.textContent("#cost")]);
    const agree = async (): Promise<void> => {
      const both = (): Promise<unknown[]> => Promise.all([totals(one), totals(two)]);
      const isAlike = async (): Promise<boolean> => isDeepStrictEqual(...((await both()) as [unknown, unknown]));
      if (!(await eventually(isAlike, true))) expect((await both())[1]).toEqual((await both())[0]);
    };
    for (const page of pages) await page.selectOption("#orders", { label: "Avenue to the mill" });
    await agree();
    for (let step = 0; step < 6; step++) {
      const page = pages[step % 2]!;
      await page.fill("[name=amount]", String(step + 1));
      await page.click(`#stock tr[aria-rowindex='${step + 2}'] td >> nth=2`);
      await page.click("[command='--allot-chosen']");
      expect(await said(page)).toMatch(/go to Avenue to the mill/);
      await agree();
    }
    expect((await foot(one, "#allotted"))[1]).toBe("21");
    await one.click("[command='--undo']");
    await agree();
    await two.close();
    await one.click("[command='--undo']");
    expect(errors).toEqual([]);
    await context.close();
  });
});

test("no id is in a page twice, in each page of the demo, whatever was pressed in it", async () => {
  const demo = await newDemo();
  try {
    const { page } = await newPage();
    for (const name of ["tree-card", "stock-book", "planting-orders", "site-survey", "measuring-desk", "label-maker"]) {
      await page.goto(`${demo.address}/${name}/`);
      await page.waitForFunction(
        () =>
          [...document.forms].some(({ noValidate }) => noValidate) || document.querySelector("[role=grid]") !== null,
      );
      for (const button of await page.locator("button:visible").all())
        if ((await button.getAttribute("type")) === "submit") await button.click({ force: true, timeout: 2_000 });
      const repeated = await page.evaluate(() => {
        const ids = [...document.querySelectorAll("[id]")].map(({ id }) => id);
        return ids.filter((id, place) => ids.indexOf(id) !== place);
      });
      expect([name, repeated]).toEqual([name, []]);
      const reasons = await page.evaluate(() =>
        [...document.querySelectorAll("[aria-describedby]")].flatMap((each) =>
          each
            .getAttribute("aria-describedby")!
            .split(" ")
            .filter((id) => document.getElementById(id) === null),
        ),
      );
      expect([name, reasons]).toEqual([name, []]);
    }
  } finally {
    await demo.stop();
  }
});
