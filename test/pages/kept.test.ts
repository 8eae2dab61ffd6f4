/** The stock book as a person uses it: saved, taken back, changed by others, out of reach, and there again after a restart. */
import { afterAll, afterEach, describe, expect, test } from "@jest/globals";
import type { Page } from "playwright-core";
import { accessibilityViolations, closeBrowser, newDemo, newPage } from "./support.ts";

type Demo = Awaited<ReturnType<typeof newDemo>>;
let demos: Demo[] = [];
afterEach(async () => {
  for (const each of demos) await each.stop();
  demos = [];
});
afterAll(closeBrowser);

async function newBook(folder?: string, port?: number): Promise<Demo> {
  const demo = await newDemo(folder, port);
  demos.push(demo);
  return demo;
}

async function openBook({ address }: Demo): Promise<{ page: Page; errors: string[] }> {
  const watched = await newPage({ locale: "en-GB" });
  watched.page.setDefaultTimeout(10_000);
  await watched.page.goto(`${address}/stock-book/`);
  await watched.page.waitForFunction(() => document.querySelector("#stock > tbody > tr[aria-rowindex='2']") !== null);
  return watched;
}

const kept = (page: Page): Promise<string> => page.innerText("[data-name=kept]");
/** Waits until the line says it. */
const says = (page: Page, text: string): Promise<unknown> =>
  page.waitForFunction((wanted) => document.querySelector("[data-name=kept]")!.textContent === wanted, text);
const status = (page: Page): Promise<string> => page.innerText("main > [role=status]");
/** What a row shows, by its tag, without its mark: `tag, species, bed, height, plants …` */
const row = (page: Page, tag: string): Promise<string[] | undefined> =>
  page.$$eval(
    "#stock > tbody > tr[aria-rowindex]",
    (rows, wanted) =>
      rows
        .map((each) => [...each.querySelectorAll("td")].slice(1).map((cell) => cell.textContent))
        .find((cells) => cells[0] === wanted),
    tag,
  );

/** Enters a value in the details of a plant, and saves that row. */
async function enter(page: Page, tag: string, field: string, text: string): Promise<void> {
  await page.click(`#stock td:has-text('${tag}')`);
  await page.waitForFunction((wanted) => document.querySelector<HTMLInputElement>("#d-tag")!.value === wanted, tag);
  await page.fill(`#plant [name=${field}]`, text);
  await page.click("#plant [type=submit]");
}
const saveBook = (page: Page): Promise<void> => page.click("[command='--save']");

describe("the stock book", () => {
  test("says what is not saved, marks it, saves it by its key, and has it after a restart", async () => {
    const demo = await newBook();
    const { page } = await openBook(demo);
    expect(await kept(page)).toBe("Everything is saved in the stock book.");
    expect(await page.getAttribute("[command='--save']", "aria-disabled")).toBe("true");
    await enter(page, "AA-0001", "notes", "moved to the wall");
    await page.click("[command='--add-plant']");
    expect([await kept(page), await page.getAttribute("[data-name=kept]", "data-kept")]).toEqual([
      "2 rows not saved yet.",
      "unsaved",
    ]);
    expect(
      await page.$$eval("tr[data-unsaved]", (rows) => rows.map((each) => (each as HTMLElement).dataset["unsaved"])),
    ).toContain("changed");
    expect(await accessibilityViolations(page)).toEqual([]);
    await page.keyboard.press("Control+s");
    await says(page, "2 rows saved in the stock book.");
    expect([await status(page), await page.locator("tr[data-unsaved]").count()]).toEqual([
      "2 rows saved in the stock book.",
      0,
    ]);
    await demo.stop();
    demos = [];
    const again = await openBook(await newBook(demo.folder));
    expect(await kept(again.page)).toBe("Everything is saved in the stock book.");
    expect((await row(again.page, "AA-0001"))?.at(-2)).toBe("moved to the wall");
    expect(await again.page.innerText("#shown")).toBe("301 rows");
  });

  test("what was not saved when its window was closed is offered again, merged with what was saved meanwhile", async () => {
    const demo = await newBook();
    const { page } = await openBook(demo);
    const context = page.context();
    // The service can't be reached when the window is left.
    await demo.stop();
    demos = [];
    await enter(page, "BA-0002", "count", "77");
    await page.waitForTimeout(450);
    await page.close({ runBeforeUnload: false });
    const back = await newBook(demo.folder, demo.port);
    const { page: other } = await openBook(back);
    await enter(other, "BA-0002", "notes", "theirs");
    await other.keyboard.press("Control+s");
    await other.waitForFunction(() => /saved/.test(document.querySelector("[data-name=kept]")!.textContent));
    const again = await context.newPage();
    await again.goto(`${back.address}/stock-book/`);
    await again.getByRole("button", { name: "Go on with it" }).click();
    await says(again, "1 row not saved yet.");
    expect(await row(again, "BA-0002")).toEqual(expect.arrayContaining(["77", "theirs"]));
    await again.keyboard.press("Control+s");
    await again.waitForFunction(() => /saved in/.test(document.querySelector("[data-name=kept]")!.textContent));
    expect(await again.locator("[data-name=draft]").isVisible()).toBe(false);
  });

  test("what was typed in a cell when its window was closed is there again, and is not said to be saved", async () => {
    const demo = await newBook();
    const { page } = await openBook(demo);
    const context = page.context();
    await page.click("#stock tr[aria-rowindex='3'] td >> nth=4");
    await page.keyboard.type("12x");
    const editing = "1 row being edited and not saved yet. Everything else is saved in the stock book.";
    await says(page, editing);
    expect(await page.getAttribute("[data-name=kept]", "data-kept")).toBe("unsaved");
    await page.waitForTimeout(450);
    await page.close({ runBeforeUnload: false });
    const again = await context.newPage();
    await again.goto(`${demo.address}/stock-book/`);
    await again.getByRole("button", { name: "Go on with it" }).click();
    await says(again, editing);
    expect(await row(again, "BA-0002")).toContain("12x");
    expect(await again.locator("#stock td[aria-invalid=true]").innerText()).toBe("12x");
    await again.click("#stock tr[aria-rowindex='3'] td >> nth=4");
    await again.keyboard.type("120");
    await again.keyboard.press("Enter");
    await again.keyboard.press("Control+s");
    await again.waitForFunction(() => /saved in/.test(document.querySelector("[data-name=kept]")!.textContent));
    expect(await row(again, "BA-0002")).toContain("120 cm");
  });

  test("is not changed by a page of another place", async () => {
    const { address } = await newBook();
    const send = (headers: Record<string, string>): Promise<Response> =>
      fetch(`${address}/service/stock/changes`, { method: "POST", headers, body: '{"id":"x","parts":[]}' });
    expect((await send({ origin: "http://elsewhere.example" })).status).toBe(403);
    expect((await send({ origin: address })).status).toBe(200);
  });

  test("is taken back, and that can be undone", async () => {
    const { page } = await openBook(await newBook());
    await enter(page, "BA-0002", "count", "7");
    await page.click("[command='--take-back']");
    expect(await page.innerText("dialog p")).toBe("Take back what is not saved?");
    await page.click("dialog button >> nth=0");
    await says(page, "Everything is saved in the stock book.");
    expect((await row(page, "BA-0002"))?.[4]).toBe("58");
    await page.click("[command='--undo']");
    await says(page, "1 row not saved yet.");
    expect((await row(page, "BA-0002"))?.[4]).toBe("7");
  });

  test("is written when its window is left", async () => {
    const demo = await newBook();
    const { page } = await openBook(demo);
    await enter(page, "AA-0001", "notes", "left open");
    await page.evaluate(() => {
      Object.defineProperty(document, "visibilityState", { value: "hidden", configurable: true });
      document.dispatchEvent(new Event("visibilitychange"));
    });
    await says(page, "1 row saved in the stock book.");
    expect((await row((await openBook(demo)).page, "AA-0001"))?.at(-2)).toBe("left open");
  });

  test("keeps what is entered while the service is away, and saves it when the service is back", async () => {
    const demo = await newBook();
    const { page } = await openBook(demo);
    await demo.stop();
    demos = [];
    await enter(page, "AA-0001", "notes", "without a line");
    await saveBook(page);
    await says(
      page,
      "1 row not saved yet: the stock book can’t be reached. What you entered is still here, and saving is tried again.",
    );
    expect(await page.getAttribute("[data-name=kept]", "data-kept")).toBe("unreachable");
    const back = await newBook(demo.folder, demo.port);
    await says(page, "1 row saved in the stock book.");
    expect((await row((await openBook(back)).page, "AA-0001"))?.at(-2)).toBe("without a line");
  });

  test("in two windows: fields of one row are merged, and about one field both have changed somebody chooses, by keyboard alone", async () => {
    const demo = await newBook();
    const [{ page: one }, { page: two }] = [await openBook(demo), await openBook(demo)];
    await enter(one, "AA-0001", "notes", "one");
    await enter(two, "AA-0001", "count", "99");
    await saveBook(two);
    await one.waitForFunction(() =>
      [...document.querySelectorAll("#stock td")].some((cell) => cell.textContent === "99"),
    );
    expect(await kept(one)).toBe("1 row not saved yet.");
    await saveBook(one);
    await says(one, "1 row saved in the stock book.");
    await two.waitForFunction(() =>
      [...document.querySelectorAll("#stock td")].some((cell) => cell.textContent === "one"),
    );
    // Both change the plants of one row, and one of them its bed too.
    await enter(one, "BA-0002", "count", "10");
    await enter(two, "BA-0002", "count", "20");
    await enter(two, "BA-0002", "bed", "9");
    await saveBook(two);
    await says(one, "1 row changed here and elsewhere: choose what is right.");
    expect(await one.getAttribute("[data-name=kept]", "data-kept")).toBe("conflict");
    // The mark of the row says it too.
    expect(await one.innerText("tr[data-unsaved=conflict] [data-mark]")).toContain("≠");
    await saveBook(one);
    expect(await kept(one)).toBe("1 row changed here and elsewhere: choose what is right.");
    await one.focus("[command='--choose']");
    await one.keyboard.press("Enter");
    await one.waitForSelector("dialog[open]");
    expect(
      await one.$$eval("dialog tr", (rows) =>
        rows.map((each) => [...each.children].map((cell) => cell.textContent.trim())),
      ),
    ).toEqual([
      ["Field", "Before", "Here", "Elsewhere"],
      ["Plants", "58", "10", "20"],
    ]);
    expect(await one.innerText("dialog legend")).toBe("BA-0002");
    expect(await accessibilityViolations(one)).toEqual([]);
    // Nothing is chosen for anybody.
    await one.keyboard.press("Enter");
    expect(await one.innerText("dialog [role=alert]")).toBe("Choose one in each line: 1 line is left.");
    await one.keyboard.press("Space");
    await one.keyboard.press("ArrowRight");
    expect(await one.evaluate(() => document.querySelector<HTMLInputElement>("dialog input:checked")!.value)).toBe(
      "theirs",
    );
    await one.keyboard.press("ArrowLeft");
    await one.keyboard.press("Enter");
    await one.waitForSelector("dialog", { state: "detached" });
    expect([await status(one), await kept(one)]).toEqual(["1 row decided.", "1 row not saved yet."]);
    await saveBook(one);
    await says(one, "1 row saved in the stock book.");
    await two.waitForFunction(() =>
      [...document.querySelectorAll("#stock td")].some((cell) => cell.textContent === "10"),
    );
    for (const page of [one, two]) expect((await row(page, "BA-0002"))?.slice(2, 5)).toEqual(["9", "73 cm", "10"]);
  });

  test("a row that was deleted in another window and changed here is asked about as a whole", async () => {
    const demo = await newBook();
    const [{ page: one }, { page: two }] = [await openBook(demo), await openBook(demo)];
    await enter(one, "AA-0001", "count", "5");
    await two.click("#stock td[data-mark] >> nth=0");
    await two.click("[command='--remove-selected']");
    await saveBook(two);
    await says(one, "1 row changed here and elsewhere: choose what is right.");
    await one.click("[command='--choose']");
    expect(await one.$$eval("dialog td label", (labels) => labels.map((each) => each.textContent.trim()))).toEqual([
      "there, and changed",
      "deleted",
    ]);
    await one.click("dialog td label >> nth=1");
    await one.click("dialog form > div button >> nth=0");
    await says(one, "Everything is saved in the stock book.");
    expect([await row(one, "AA-0001"), await one.innerText("#shown")]).toEqual([undefined, "299 rows"]);
  });
});

describe("planting orders", () => {
  async function openOrders({ address }: Demo): Promise<Page> {
    const { page } = await newPage({ locale: "en-GB" });
    page.setDefaultTimeout(10_000);
    await page.goto(`${address}/planting-orders/`);
    await page.waitForSelector("#stock > tbody > tr[aria-rowindex='3']");
    return page;
  }
  const foot = (page: Page, grid: string): Promise<string[]> =>
    page.$$eval(`${grid} > tfoot td`, (all) => all.map((cell) => cell.textContent).filter((text) => text !== ""));
  /** Enters the budget of an order in its dialog. */
  async function budget(page: Page, label: string, text: string): Promise<void> {
    await page.selectOption("#orders", { label });
    await page.click("[command='--change-order']");
    await page.fill("#budget", text);
    await page.click("#change [type=submit]");
    await page.waitForSelector("#change[open]", { state: "detached" });
  }

  test("are saved by themselves, in whole steps, and are there after a restart", async () => {
    const demo = await newBook();
    const page = await openOrders(demo);
    expect(await kept(page)).toBe("Everything is saved in the orders.");
    await page.selectOption("#orders", { label: "River bank, lower fields" });
    await page.fill("[name=amount]", "4");
    await page.click("#stock tr[aria-rowindex='2'] td >> nth=2");
    await page.click("[command='--allot-chosen']");
    await says(page, "Everything is saved in the orders.");
    await page.fill("#tasks li:nth-of-type(1) [name=what]", "Cut all willow rods");
    await page.press("#tasks li:nth-of-type(1) [name=what]", "Tab");
    expect(await kept(page)).toBe("1 row not saved yet.");
    await page.keyboard.press("Control+s");
    await says(page, "Everything is saved in the orders.");
    await demo.stop();
    demos = [];
    const again = await openOrders(await newBook(demo.folder));
    await again.selectOption("#orders", { label: "River bank, lower fields" });
    expect([(await foot(again, "#stock"))[1], (await foot(again, "#allotted"))[1]]).toEqual(["7,240", "4"]);
    expect(await again.inputValue("#tasks li:nth-of-type(1) [name=what]")).toBe("Cut all willow rods");
  });

  test("what was allotted and not saved when the window was closed is offered again, as a whole", async () => {
    const demo = await newBook();
    const page = await openOrders(demo);
    const context = page.context();
    await page.selectOption("#orders", { label: "River bank, lower fields" });
    await demo.stop();
    demos = [];
    await page.fill("[name=amount]", "4");
    await page.click("#stock tr[aria-rowindex='2'] td >> nth=2");
    await page.click("[command='--allot-chosen']");
    await page.waitForFunction(() => /not saved yet/.test(document.querySelector("[data-name=kept]")!.textContent));
    await page.waitForTimeout(450);
    await page.close({ runBeforeUnload: false });
    const back = await newBook(demo.folder, demo.port);
    const again = await context.newPage();
    await again.goto(`${back.address}/planting-orders/`);
    await again.waitForSelector("[data-name=draft]:visible");
    expect(await accessibilityViolations(again)).toEqual([]);
    await again.getByRole("button", { name: "Go on with it" }).click();
    await says(again, "Everything is saved in the orders.");
    await again.selectOption("#orders", { label: "River bank, lower fields" });
    expect([(await foot(again, "#stock"))[1], (await foot(again, "#allotted"))[1]]).toEqual(["7,240", "4"]);
    expect(await again.isVisible("[data-name=draft]")).toBe(false);
  });

  test("two windows change one order: the same field is asked about, and what only one changed is there in both", async () => {
    const demo = await newBook();
    const [one, two] = [await openOrders(demo), await openOrders(demo)];
    await budget(one, "Avenue to the mill", "9900");
    await budget(two, "Avenue to the mill", "9700");
    await Promise.race([one, two].map((page) => page.waitForSelector("[command='--choose']:visible")));
    const [asked, other] = (await one.isVisible("[command='--choose']")) ? [one, two] : [two, one];
    await asked.click("[command='--choose']");
    expect(await asked.innerText("dialog[data-conflicts] legend")).toBe("Planting order 3");
    expect(await accessibilityViolations(asked)).toEqual([]);
    await asked.check("dialog[data-conflicts] input[value=mine]");
    await asked.click("dialog[data-conflicts] [type=submit], dialog[data-conflicts] button >> nth=0");
    await says(asked, "Everything is saved in the orders.");
    const wanted = asked === one ? "9,900.00" : "9,700.00";
    await other.waitForFunction((text) => document.querySelector("#cost")!.textContent.endsWith(text), wanted);
    expect(await asked.isVisible("[command='--choose']")).toBe(false);
  });
});
