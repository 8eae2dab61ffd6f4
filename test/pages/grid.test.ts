import { afterAll, describe, expect, test } from "@jest/globals";
import type { Page } from "playwright-core";
import { accessibilityViolations, closeBrowser, pageWith, type WatchedPage } from "./support.ts";

afterAll(closeBrowser);

const markup = `<main><h1>Stock</h1><p><button id="before">Before</button></p>
  <div id="window" style="block-size: 320px"><table id="stock" aria-label="Stock"></table></div>
  <p><button id="after">After</button></p><p role="status"></p></main>`;

/** A grid over so many plants. */
async function withGrid(count: number, options = "{}"): Promise<WatchedPage> {
  const watched = await pageWith(markup);
  await watched.page.evaluate(
    ([rows, given]) => {
      const { bindGrid, bindPage, boolean, command, integer, model, newHistory, number, oneOf, table, text, view } =
        ironwood;
      const plant = model(
        {
          tag: text({ title: "Tag", required: true }),
          species: oneOf(["Acer campestre", "Betula pendula", "Tilia cordata"], { title: "Species" }),
          height: number({ title: "Height", minimum: 0 }),
          count: integer({ title: "Plants", minimum: 0, maximum: 1000 }),
          potted: boolean({ title: "Potted" }),
          notes: text({ title: "Notes" }),
          worth: number({ title: "Worth" }),
        },
        { title: "Plant", key: "tag" },
      ).calculated({ worth: (p) => (p.count ?? 0) * 2 });
      const all = Array.from({ length: Number(rows) }, (_, place) => ({
        tag: `T${String(place + 1).padStart(4, "0")}`,
        species: (["Acer campestre", "Betula pendula", "Tilia cordata"] as const)[place % 3],
        height: (place * 37) % 400,
        count: (place * 7) % 50,
        potted: place % 4 === 0,
        notes: "",
        worth: undefined,
      }));
      const stock = table(plant, all as never, { locale: "en", history: newHistory() });
      const rowsShown = view(stock);
      const sell = command(plant, {
        title: "Sell",
        allowed: (p) => (p.count ?? 0) > 0 || "There is none left.",
        run: ({ row }) => {
          stock.update(row.tag, { count: row.count! - 1 });
          return `Sold one of ${row.tag}.`;
        },
      });
      // eslint-disable-next-line @typescript-eslint/no-implied-eval, @typescript-eslint/no-unsafe-call
      const more = new Function("sell", `return ${given}`)(sell) as object;
      bindPage(document, {});
      const grid = bindGrid(document.querySelector<HTMLTableElement>("#stock")!, rowsShown, {
        edit: "row",
        columns: [
          "tag",
          "species",
          { name: "height", width: "7rem" },
          "count",
          "potted",
          { name: "notes", width: "stretch" },
          "worth",
          { command: sell },
        ],
        totals: ["count"],
        ...more,
      });
      Object.assign(kept, { stock, view: rowsShown, grid });
    },
    [String(count), options],
  );
  return watched;
}

/** The texts of the rows that are in the page. */
const shown = (page: Page): Promise<string[]> =>
  page.evaluate(() =>
    [...document.querySelectorAll("#stock > tbody > tr[aria-rowindex]")].map((row) =>
      [...(row as HTMLTableRowElement).cells].map((cell) => cell.textContent).join("|"),
    ),
  );
/** Where the focus is: row and column as people count them, and what is there. */
const focus = (page: Page): Promise<string> =>
  page.evaluate(() => {
    const active = document.activeElement!;
    const cell = active.closest("td, th");
    if (cell === null) return `${active.localName}#${active.id}`;
    const row = cell.closest("tr")!.getAttribute("aria-rowindex")!;
    return `${row}/${cell.getAttribute("aria-colindex")} ${active.localName}: ${"value" in active && active.localName !== "button" ? (active as HTMLInputElement).value : cell.textContent}`;
  });
const said = (page: Page): Promise<string> => page.evaluate(() => document.querySelector("[role=status]")!.textContent);

describe("a grid", () => {
  test("shows the rows that fit, headings, totals and states, and is right for assistive technology", async () => {
    const { page, errors } = await withGrid(500);
    expect((await shown(page))[1]).toBe("|T0002|Betula pendula|37|7|no||14|Sell");
    expect((await shown(page)).length).toBeLessThan(30);
    const facts = await page.evaluate(() => {
      const table = document.querySelector("#stock")!;
      return [
        ...["role", "aria-rowcount", "aria-colcount", "aria-multiselectable"].map((name) => table.getAttribute(name)),
        [...table.querySelectorAll("th")].map((th) => th.getAttribute("aria-label") ?? th.textContent).join("|"),
        [...table.querySelectorAll("tfoot td")].map((td) => td.textContent).join("|"),
      ];
    });
    expect(facts).toEqual([
      "grid",
      "502",
      "9",
      "true",
      "State|Tag|Species|Height|Plants|Potted|Notes|Worth|Sell",
      "|Total|||12,250||||",
    ]);
    expect(errors).toEqual([]);
    expect(await accessibilityViolations(page)).toEqual([]);
  });

  test("is one stop for Tab, and is walked by the keys of the grid pattern", async () => {
    const { page } = await withGrid(500);
    await page.focus("#before");
    await page.keyboard.press("Tab");
    expect(await focus(page)).toBe("2/2 td: T0001");
    const walked: string[] = [];
    for (const key of [
      "ArrowDown",
      "ArrowRight",
      "End",
      "Home",
      "PageDown",
      "Control+End",
      "ArrowDown",
      "Control+Home",
      "ArrowUp",
      "ArrowRight",
      "ArrowDown",
    ]) {
      await page.keyboard.press(key);
      walked.push(await focus(page));
    }
    expect(walked).toEqual([
      "3/2 td: T0002",
      "3/3 td: Betula pendula",
      "3/9 button: Sell",
      "3/2 td: T0002",
      expect.stringMatching(/^1\d\/2 td: T00/),
      "501/9 button: Sell",
      "501/9 button: Sell",
      "2/2 td: T0001",
      "1/2 th: Tag",
      "1/3 th: Species",
      "2/3 td: Acer campestre",
    ]);
    await page.keyboard.press("Tab");
    expect(await focus(page)).toBe("button#after");
    await page.keyboard.press("Shift+Tab");
    expect(await focus(page)).toBe("2/3 td: Acer campestre");
  });

  test("a cell is edited by the control of its kind; Enter goes down, Tab to the next that can be edited, Escape gives up", async () => {
    const { page, errors } = await withGrid(50);
    await page.click("text=T0003");
    await page.keyboard.press("ArrowRight");
    await page.keyboard.press("ArrowRight");
    await page.keyboard.type("12.5");
    expect(await focus(page)).toBe("4/4 input: 12.5");
    await page.keyboard.press("Tab");
    expect(await focus(page)).toBe("4/5 input: 14");
    await page.keyboard.type("7");
    await page.keyboard.press("Escape");
    expect([await focus(page), (await shown(page))[2]]).toEqual([
      "4/5 td: 14",
      "●|T0003|Tilia cordata|12.5|14|no||28|Sell",
    ]);
    await page.keyboard.press("F2");
    await page.keyboard.type("9");
    await page.keyboard.press("Shift+Tab");
    expect(await focus(page)).toBe("4/4 input: 12.5");
    await page.keyboard.press("Enter");
    expect(await focus(page)).toBe("5/4 td: 111");
    expect(await page.evaluate(() => (kept["stock"] as { get(key: string): unknown }).get("T0003"))).toMatchObject({
      height: 12.5,
      count: 9,
    });
    await page.keyboard.press("Control+z");
    expect((await shown(page))[2]).toBe("|T0003|Tilia cordata|74|14|no||28|Sell");
    expect(await said(page)).toMatch(/Undone.*T0003/);
    expect(errors).toEqual([]);
  });

  test("a wrong row stays open and marked with its reason at the cell; Escape gives the row up", async () => {
    const { page } = await withGrid(50);
    await page.click("text=T0003");
    await page.keyboard.press("End");
    await page.keyboard.press("Home");
    for (let step = 0; step < 3; step++) await page.keyboard.press("ArrowRight");
    await page.keyboard.type("many");
    await page.keyboard.press("Enter");
    expect(await said(page)).toMatch(/^T0003 is not saved: .*whole number/);
    expect((await shown(page))[2]).toBe("▲|T0003|Tilia cordata|74|many|no|||Sell");
    await page.keyboard.press("ArrowUp");
    const message = await page.evaluate(() => {
      const cell = document.activeElement!;
      const text = document.getElementById(cell.getAttribute("aria-describedby")!)!;
      return [
        cell.getAttribute("aria-invalid"),
        text.textContent,
        text.getBoundingClientRect().top >= cell.getBoundingClientRect().bottom - 1,
      ];
    });
    expect(message).toEqual(["true", expect.stringMatching(/whole number/), true]);
    expect(await accessibilityViolations(page)).toEqual([]);
    await page.keyboard.press("Escape");
    expect((await shown(page))[2]).toBe("|T0003|Tilia cordata|74|14|no||28|Sell");
  });

  test("what can't be edited says why: calculated, by one condition for all, and by the model", async () => {
    const { page } = await withGrid(5, "{ readOnly: () => kept.why ?? false }");
    await page.click("text=T0002");
    for (let step = 0; step < 6; step++) await page.keyboard.press("ArrowRight");
    await page.keyboard.press("F2");
    expect(await said(page)).toBe("This can't be changed here.");
    expect(await focus(page)).toBe("3/8 td: 14");
    expect(await page.evaluate(() => document.activeElement!.getAttribute("aria-readonly"))).toBe("true");
    await page.evaluate(() => void (kept["why"] = "The book is closed."));
    await page.keyboard.press("Home");
    await page.keyboard.press("Enter");
    expect([await said(page), await focus(page)]).toEqual(["The book is closed.", "3/2 td: T0002"]);
    await page.keyboard.press("Delete");
    await page.keyboard.type("X");
    expect((await shown(page))[1]).toBe("|T0002|Betula pendula|37|7|no||14|Sell");
  });

  test("a tick is toggled by Space, a cell blanked by Delete, a choice chosen in a list, and a button acts on its own row", async () => {
    const { page, errors } = await withGrid(9, "{ edit: 'cell' }");
    const row = (key: string) =>
      page.evaluate((of) => {
        const { species, height, potted, count } = (kept["stock"] as { get(of: string): Record<string, unknown> }).get(
          of,
        );
        return [species, height, potted, count];
      }, key);
    await page.click("text=T0002");
    await page.keyboard.press("ArrowRight");
    await page.keyboard.press("Enter");
    expect(await focus(page)).toBe("3/3 select: Betula pendula");
    await page.selectOption("#stock select", "Tilia cordata");
    await page.keyboard.press("Tab");
    await page.keyboard.press("Escape");
    await page.keyboard.press("Delete");
    await page.keyboard.press("ArrowRight");
    await page.keyboard.press("ArrowRight");
    await page.keyboard.press("Space");
    expect(await row("T0002")).toEqual(["Tilia cordata", undefined, true, 7]);
    await page.keyboard.press("End");
    await page.keyboard.press("Enter");
    expect(await said(page)).toBe("Sold one of T0002.");
    await page.click("[aria-label='Sell T0003']");
    expect([(await row("T0002"))[3], (await row("T0003"))[3]]).toEqual([6, 13]);
    await page.click("[aria-label='Sell T0001']", { force: true });
    expect(await said(page)).toBe("There is none left.");
    expect(errors).toEqual([]);
  });

  test("rows are selected by keys and by pointer, one, some, from here to there, and all", async () => {
    const { page } = await withGrid(200);
    const selected = () =>
      page.evaluate(() => (kept["view"] as { selectedKeys: string[] }).selectedKeys.map((key) => Number(key.slice(1))));
    await page.click("text=T0002");
    await page.keyboard.press("Space");
    await page.keyboard.press("ArrowDown");
    await page.keyboard.press("ArrowDown");
    await page.keyboard.press("Control+Space");
    expect(await selected()).toEqual([2, 4]);
    await page.keyboard.press("Shift+ArrowDown");
    await page.keyboard.press("Shift+ArrowDown");
    expect(await selected()).toEqual([4, 5, 6]);
    await page.keyboard.press("Shift+ArrowUp");
    await page.keyboard.press("Shift+ArrowUp");
    await page.keyboard.press("Shift+ArrowUp");
    expect(await selected()).toEqual([3, 4]);
    await page.keyboard.press("Control+a");
    expect((await selected()).length).toBe(200);
    await page.keyboard.press("Escape");
    expect(await selected()).toEqual([]);
    await page.click("text=T0003");
    await page.click("text=T0005", { modifiers: ["Shift"] });
    await page.click("text=T0007", { modifiers: ["Control"] });
    expect(await selected()).toEqual([3, 4, 5, 7]);
    await page.click("tr:has-text('T0004') td[data-mark]");
    expect(await selected()).toEqual([3, 5, 7]);
    expect((await shown(page))[2]!.startsWith("✓|T0003")).toBe(true);
    expect(await page.getAttribute("tr:has-text('T0003')", "aria-selected")).toBe("true");
  });

  test("headings sort, by several columns too, are made wider, moved, hidden and shown, and what was done is said and kept", async () => {
    const { page } = await withGrid(60);
    const headings = () =>
      page.evaluate(() =>
        [...document.querySelectorAll("#stock th[data-heading]")]
          .map((th) => `${th.textContent}${th.getAttribute("aria-sort") ?? ""}`)
          .join(" "),
      );
    await page.click("th:has-text('Species')");
    expect(await said(page)).toBe("Sorted by Species, ascending.");
    await page.keyboard.press("ArrowRight");
    await page.keyboard.press("Shift+Enter");
    await page.keyboard.press("Shift+Enter");
    expect(await headings()).toBe("Tag Speciesascending Heightdescending Plants Potted Notes Worth Sell");
    expect((await shown(page)).slice(0, 2).map((row) => row.split("|").slice(2, 4).join(" "))).toEqual([
      "Acer campestre 398",
      "Acer campestre 377",
    ]);
    const width = () =>
      page.evaluate(() => Math.round(document.querySelector("[data-heading=height]")!.getBoundingClientRect().width));
    const before = await width();
    await page.keyboard.press("Shift+ArrowRight");
    expect([await width(), await said(page)]).toEqual([before + 16, `Height: ${before + 16} pixels wide.`]);
    await page.keyboard.press("Control+ArrowLeft");
    expect([await said(page), await focus(page)]).toEqual(["Height is column 2 now.", "1/3 th: Height"]);
    await page.keyboard.press("Delete");
    expect(await headings()).toBe("Tag Speciesascending Plants Potted Notes Worth Sell");
    expect(await page.evaluate(() => (kept["grid"] as { layout: unknown }).layout)).toEqual({
      order: ["tag", "height", "species", "count", "potted", "notes", "worth", "command 1"],
      hidden: ["height"],
      widths: { height: before + 16 },
    });
    await page.evaluate(() => (kept["grid"] as { hide(name: string, hide: boolean): void }).hide("height", false));
    const box = (await page.locator("[data-heading=height] [data-grip]").boundingBox())!;
    await page.mouse.move(box.x + 4, box.y + 5);
    await page.mouse.down();
    await page.mouse.move(box.x + 44, box.y + 5, { steps: 4 });
    await page.mouse.up();
    expect(await width()).toBe(before + 56);
    const from = (await page.locator("[data-heading=height]").boundingBox())!;
    const to = (await page.locator("[data-heading=potted]").boundingBox())!;
    await page.mouse.move(from.x + 20, from.y + 10);
    await page.mouse.down();
    await page.mouse.move(to.x + 20, to.y + 10, { steps: 5 });
    await page.mouse.up();
    expect(await headings()).toBe("Tag Speciesascending Plants Potted Heightdescending Notes Worth Sell");
  });

  test("what is copied can be pasted, here and in a spreadsheet; one row goes into all that are selected", async () => {
    const { page } = await withGrid(20);
    const clip = await page.evaluate(() => {
      const at = document.querySelector<HTMLElement>("#stock")!;
      const rows = kept["view"] as { selectedKeys: string[]; currentKey: string };
      rows.currentKey = "T0002";
      rows.selectedKeys = ["T0002", "T0003"];
      const data = new DataTransfer();
      at.dispatchEvent(new ClipboardEvent("copy", { clipboardData: data, bubbles: true, cancelable: true }));
      return [data.getData("text/plain"), data.getData("text/html")];
    });
    expect(clip[0]).toBe("T0002\tBetula pendula\t37\t7\tno\t\t14\nT0003\tTilia cordata\t74\t14\tno\t\t28");
    expect(clip[1]).toMatch(/^<table><tbody>?<tr><td>T0002|^<table><tr><td>T0002/);
    await page.click("tr:has-text('T0002') td[aria-colindex='4']");
    await paste(page, "1.5");
    expect((await shown(page)).slice(0, 4).map((row) => row.split("|")[3])).toEqual(["0", "1.5", "1.5", "111"]);
    expect(await said(page)).toBe("Cells changed by pasting: 2.");
  });

  test("a block with bad cells is not pasted at all: each is told with row and column, leads to its cell, and corrected it goes", async () => {
    const { page } = await withGrid(300);
    const heights = () =>
      page.evaluate(() => [...(kept["stock"] as Iterable<{ height: number }>)].map(({ height }) => height).join());
    const before = await heights();
    const block = Array.from({ length: 200 }, (_, row) => [
      `N${row}`,
      "Acer campestre",
      String(row),
      String(row % 100),
      "yes",
      `note ${row}`,
    ]);
    const bad = block.map((row) => [...row]);
    bad[3]![2] = "tall";
    bad[10]![3] = "2000";
    bad[50]![1] = "Oak";
    bad[120]![4] = "perhaps";
    bad[199]![0] = "";
    await page.click("text=T0002");
    await paste(page, bad.map((row) => row.join("\t")).join("\r\n"));
    expect(await said(page)).toBe("Nothing was pasted. Cells that can’t be taken: 5.");
    expect(await heights()).toBe(before);
    const listed = await page.$$eval("[data-grid] + [role=alert] li", (items) => items.map((item) => item.textContent));
    expect(listed).toEqual([
      expect.stringMatching(/^Row 5, Height: This is not a number/),
      "Row 12, Plants: Enter 1,000 or less.",
      expect.stringMatching(/^Row 52, Species: .*Oak/),
      expect.stringMatching(/^Row 122, Potted: .*perhaps/),
      "Row 201, Tag: Enter a value.",
    ]);
    await page.click("[data-grid] + [role=alert] li:nth-child(3) button");
    expect(await focus(page)).toMatch(/^53\/3 td/);
    expect(await page.evaluate(() => document.activeElement!.getAttribute("aria-invalid"))).toBe("true");
    await page.evaluate(() => (kept["grid"] as { goTo(key: string, name: string): void }).goTo("T0002", "tag"));
    await paste(page, block.map((row) => row.join("\t")).join("\r\n"));
    expect(await said(page)).toBe("Cells changed by pasting: 1084.");
    expect((await shown(page))[2]!.split("|").slice(1, 7)).toEqual(["N1", "Acer campestre", "1", "1", "yes", "note 1"]);
    expect(await page.isHidden("[data-grid] + [role=alert]")).toBe(true);
    await page.keyboard.press("Control+z");
    expect(await heights()).toBe(before);
  });

  test("sorted while a cell is edited or a row is changed, the row stays; when it is left it goes to its place and that is said", async () => {
    const { page } = await withGrid(40);
    await page.click("th:has-text('Height')");
    await page.click("tr:has-text('T0023') td[aria-colindex='4']");
    const placed = (await shown(page)).findIndex((row) => row.includes("T0023"));
    await page.keyboard.type("399.5");
    await page.keyboard.press("Enter");
    expect([(await shown(page)).findIndex((row) => row.includes("T0023")), await said(page)]).toEqual([
      -1,
      "T0023 is in row 40 now.",
    ]);
    expect(await focus(page)).toMatch(new RegExp(`^${placed + 2}/4 td`));
    expect(placed).toBeGreaterThanOrEqual(0);
  });

  test("empty, loading and failed are said; a view that changes keeps the focus where it makes sense", async () => {
    const { page } = await withGrid(
      30,
      "{ empty: 'Nothing grows here.', loading: () => kept.stock === undefined ? false : false }",
    );
    await page.click("text=T0003");
    await page.evaluate(() => (kept["stock"] as { delete(key: string): void }).delete("T0003"));
    expect(await focus(page)).toBe("4/2 td: T0004");
    await page.evaluate(() => (kept["stock"] as { clear(): void }).clear());
    expect(await page.textContent("tbody[data-rows]")).toBe("Nothing grows here.");
    expect(await page.getAttribute("#stock", "aria-rowcount")).toBe("2");
    await page.evaluate(() => (kept["stock"] as { history: { undo(): void } }).history.undo());
    expect((await shown(page))[2]).toMatch(/T0004/);
  });

  test("a text may have line breaks: Alt and Enter puts one in, and one that is there is not lost", async () => {
    const { page } = await withGrid(5);
    await page.click("tr:has-text('T0002') td[aria-colindex='7']");
    await page.keyboard.type("dry");
    await page.keyboard.press("Alt+Enter");
    await page.keyboard.type("north wall");
    await page.keyboard.press("Enter");
    const notes = () =>
      page.evaluate(() => (kept["stock"] as { get(key: string): { notes: string } }).get("T0002").notes);
    expect(await notes()).toBe("dry\nnorth wall");
    await page.keyboard.press("ArrowUp");
    await page.keyboard.press("F2");
    await page.keyboard.press("Control+End");
    await page.keyboard.type("!");
    await page.keyboard.press("Enter");
    expect(await notes()).toBe("dry\nnorth wall!");
  });

  test("rows that are being loaded, or could not be, are said in their place; for printing all rows are there", async () => {
    const { page, errors } = await withGrid(
      300,
      `(() => {
        const { newEntry, model, boolean, text } = ironwood;
        kept.flags = newEntry(model({ loading: boolean(), failed: text() }));
        const { values } = kept.flags;
        return { loading: () => values.loading, failed: () => (values.failed === "" ? undefined : values.failed) };
      })()`,
    );
    const set = (name: string, value: unknown) =>
      page.evaluate(
        ([of, to]) => void ((kept["flags"] as { values: Record<string, unknown> }).values[of as string] = to),
        [name, value],
      );
    const state = () =>
      page.evaluate(() => {
        const section = document.querySelector<HTMLElement>("tbody[data-rows]");
        return [
          section === null || section.hidden
            ? ""
            : `${section.ariaBusy === "true" ? "busy" : section.dataset["rows"]}: ${section.textContent}`,
          document.querySelector("#stock")!.getAttribute("aria-busy"),
        ];
      });
    expect(await state()).toEqual(["", null]);
    await set("loading", true);
    expect(await state()).toEqual(["busy: Loading rows …", "true"]);
    await set("loading", false);
    await set("failed", "The store is gone. Try again.");
    expect(await state()).toEqual(["failed: The store is gone. Try again.", null]);
    await set("failed", "");
    expect(await state()).toEqual(["", null]);
    const printed = await page.evaluate(() => {
      const count = () => document.querySelectorAll("#stock > tbody > tr[aria-rowindex]").length;
      const before = count();
      dispatchEvent(new Event("beforeprint"));
      const during = count();
      dispatchEvent(new Event("afterprint"));
      return [before < 40, during, count() < 40];
    });
    expect([printed, errors]).toEqual([[true, 300, true], []]);
  });

  test("scrolled away while a cell is edited, what was typed is kept, the table has the keys, and any of them leads back", async () => {
    const { page, errors } = await withGrid(5000);
    await page.click("text=T0003");
    await page.keyboard.press("ArrowRight");
    await page.keyboard.press("ArrowRight");
    await page.keyboard.type("77");
    await page.evaluate(() => (document.querySelector("[data-grid]")!.scrollTop = 90_000));
    await page.waitForFunction(() => document.activeElement!.id === "stock");
    expect((await shown(page)).some((row) => row.includes("T0003"))).toBe(false);
    expect(
      await page.evaluate(() => (kept["stock"] as { get(key: string): { height: number } }).get("T0003").height),
    ).toBe(74);
    await page.keyboard.press("ArrowUp");
    expect([await focus(page), (await shown(page))[2]]).toEqual([
      "3/4 td: 37",
      "|T0003|Tilia cordata|77|14|no||28|Sell",
    ]);
    await page.keyboard.press("ArrowDown");
    await page.evaluate(() => (document.querySelector("[data-grid]")!.scrollTop = 90_000));
    await page.waitForFunction(() => document.activeElement!.id === "stock");
    await page.evaluate(() => (document.querySelector("[data-grid]")!.scrollTop = 0));
    await page.waitForFunction(() => document.activeElement!.localName === "td");
    expect([await focus(page), errors]).toEqual(["4/4 td: 77", []]);
  });

  test("right to left: arrows go where they point, the first column stays at its side, and the message stands at its cell", async () => {
    const { page } = await withGrid(60, "{ sticky: 1 }");
    await page.evaluate(() => {
      document.documentElement.dir = "rtl";
      (document.querySelector("#window") as HTMLElement).style.inlineSize = "420px";
    });
    await page.click("text=T0002");
    await page.keyboard.press("ArrowLeft");
    expect(await focus(page)).toBe("3/3 td: Betula pendula");
    await page.keyboard.press("ArrowLeft");
    await page.keyboard.press("ArrowLeft");
    await page.keyboard.type("-1");
    await page.keyboard.press("Enter");
    await page.keyboard.press("ArrowUp");
    const places = await page.evaluate(() => {
      const cell = document.activeElement!.getBoundingClientRect();
      const text = document.querySelector("[data-cell-message]")!.getBoundingClientRect();
      const window = document.querySelector("[data-grid]")!.getBoundingClientRect();
      const tag = document.querySelector("#stock tbody tr[aria-rowindex] td:nth-child(2)")!.getBoundingClientRect();
      return [
        Math.abs(text.top - cell.bottom) < 3,
        text.left < cell.right && text.right > cell.left,
        cell.left >= window.left - 1 && cell.right <= tag.left + 1,
        window.right - tag.right < 40,
      ];
    });
    expect(places).toEqual([true, true, true, true]);
  });

  test("is released without a trace, and the table is as it was", async () => {
    const { page } = await withGrid(30);
    await page.click("text=T0003");
    await page.keyboard.press("ArrowRight");
    await page.keyboard.press("F2");
    const left = await page.evaluate(() => {
      (kept["grid"] as { stop(): void }).stop();
      const { outerHTML } = document.querySelector("#stock")!;
      return [
        outerHTML,
        document.adoptedStyleSheets.length,
        document.querySelectorAll("[data-grid], [data-cell-message]").length,
      ];
    });
    expect(left).toEqual([
      expect.stringMatching(/^<table id="stock" aria-label="Stock"[^>]*>(<(thead|tbody|tfoot)><\/\2>)*<\/table>$/),
      0,
      0,
    ]);
  });

  test("a mistake of the builder is named with the nearest name", async () => {
    const { page } = await withGrid(3);
    const failed = await page.evaluate(() => {
      const { bindGrid, command } = ironwood;
      const table = document.querySelector<HTMLTableElement>("#stock")!;
      const rows = kept["view"] as never;
      const attempt = (options: object): string => {
        try {
          bindGrid(table, rows, options);
          return "bound";
        } catch (error) {
          return (error as Error).message;
        }
      };
      return [
        attempt({ columns: ["hieght"] }),
        attempt({ columns: ["tag", "tag"] }),
        attempt({ columns: [{ name: "tag", width: "wide" }] }),
        attempt({ columns: [{ command: command({ run: () => {} }) }] }),
        attempt({ totals: ["cuont"] }),
        (() => {
          try {
            bindGrid(document.querySelector<HTMLTableElement>("#stokc")!, rows);
            return "bound";
          } catch (error) {
            return (error as Error).message;
          }
        })(),
      ];
    });
    expect(failed[0]).toMatch(/"hieght".*<table id="stock">.*height/s);
    expect(failed[1]).toMatch(/"tag" was given two columns/);
    expect(failed[2]).toMatch(/width.*"wide".*fit-content/s);
    expect(failed[3]).toMatch(/command.*does not act on rows.*command\(model, …\).*"Plant"/s);
    expect(failed[5]).toMatch(/bindGrid was given something else.*null.*<table>/s);
    expect(failed[4]).toMatch(/"cuont".*totals of <table id="stock">.*count/s);
  });
});

/** What a spreadsheet does when a person pastes. */
async function paste(page: Page, text: string): Promise<void> {
  await page.evaluate((given) => {
    const data = new DataTransfer();
    data.setData("text/plain", given);
    document.activeElement!.dispatchEvent(
      new ClipboardEvent("paste", { clipboardData: data, bubbles: true, cancelable: true }),
    );
  }, text);
}

test("what of a row is not saved yet is marked, in words too, beside what is wrong or selected, and follows", async () => {
  const { page } = await withGrid(6);
  await page.evaluate(() => {
    const { bindGrid, integer, model, newEntry } = ironwood;
    const state = newEntry(model({ saves: integer({ default: 0, saved: false }) }));
    const table = document.createElement("table");
    table.id = "second";
    document.querySelector("main")!.append(table);
    bindGrid(table, kept["view"] as never, {
      columns: ["tag"],
      unsaved: (key) =>
        (state.values.saves ?? 0) > 0 ? undefined : key === "T0002" ? "new" : key === "T0003" ? "changed" : undefined,
    });
    kept["state"] = state;
  });
  const marks = () =>
    page.$$eval("#second tbody tr[aria-rowindex]", (rows) =>
      rows.map((row) => [
        (row as HTMLElement).dataset["unsaved"] ?? "",
        row.querySelector("[data-mark]")!.textContent,
        row.querySelector("[data-mark]")!.getAttribute("aria-label"),
      ]),
    );
  expect((await marks()).slice(0, 3)).toEqual([
    ["", "", null],
    ["new", "+", "new"],
    ["changed", "○", "not saved yet"],
  ]);
  await page.click("#second tr:has-text('T0002') td[data-mark]");
  expect((await marks())[1]).toEqual(["new", "+✓", "new, selected"]);
  await page.evaluate(() => ((kept["state"] as { values: { saves: number } }).values.saves = 1));
  expect((await marks())[1]).toEqual(["", "✓", "selected"]);
});
