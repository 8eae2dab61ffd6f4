import { afterAll, describe, expect, test } from "@jest/globals";
import type { Page } from "playwright-core";
import { closeBrowser, pageWith, type WatchedPage } from "./support.ts";

afterAll(closeBrowser);

/** Some plants in `kept.stock`, a view of them in `kept.shown`, and a page with this in it. */
async function withStock(html: string): Promise<WatchedPage> {
  const watched = await pageWith(`${html}<p role="status"></p>`);
  await watched.page.evaluate(() => {
    const { bindPage, integer, model, newHistory, table, text, view } = ironwood;
    const plant = model(
      {
        tag: text({ title: "Tag", required: true }),
        species: text({ title: "Species" }),
        count: integer({ title: "Plants", minimum: 0 }),
      },
      { title: "Plant", key: "tag" },
    );
    const rows = [
      { tag: "A", species: "Acer", count: 1 },
      { tag: "B", species: "Betula", count: 2 },
      { tag: "C", species: "Corylus", count: 3 },
    ];
    const stock = table(plant, rows, { locale: "en", history: newHistory() });
    Object.assign(kept, { stock, shown: view(stock, { orderBy: "species" }), bound: bindPage(document, {}) });
  });
  return watched;
}
const options = (page: Page, id: string): Promise<string> =>
  page.$$eval(`#${id} option`, (all) =>
    all.map((option) => `${(option as HTMLOptionElement).selected ? "*" : ""}${option.textContent}`).join(" "),
  );
interface Stock {
  insert(row: object): unknown;
  update(key: string, row: object): unknown;
  delete(key: string): void;
  get(key: string): { species: string; count: number } | undefined;
}
interface Shown {
  currentKey: string | undefined;
  selectedKeys: readonly string[];
}

describe("lists of rows", () => {
  test("several of one view are in step, whatever each shows, and follow what happens to the rows", async () => {
    const { page, errors } = await withStock(
      `<select id="tags" size="4"></select><select id="species" size="4"></select><select id="drop"></select>`,
    );
    await page.evaluate(() => {
      const { bindList } = ironwood;
      for (const [id, show] of [
        ["tags", undefined],
        ["species", ["species", "count"]],
        ["drop", (row: { tag: string }) => `<${row.tag}>`],
      ] as const)
        bindList(document.querySelector<HTMLSelectElement>(`#${id}`)!, kept["shown"] as never, { show: show as never });
    });
    expect([await options(page, "tags"), await options(page, "species"), await options(page, "drop")]).toEqual([
      "A B C",
      "Acer, 1 Betula, 2 Corylus, 3",
      "* <A> <B> <C>",
    ]);
    await page.selectOption("#species", { label: "Betula, 2" });
    expect([await options(page, "tags"), await options(page, "drop")]).toEqual(["A *B C", " <A> *<B> <C>"]);
    await page.selectOption("#drop", { label: "<C>" });
    expect(await page.evaluate(() => (kept["shown"] as Shown).currentKey)).toBe("C");
    await page.evaluate(() => {
      const stock = kept["stock"] as Stock;
      stock.update("C", { species: "Abies" });
      stock.insert({ tag: "D", species: "<b>Daphne</b>" });
    });
    expect(await options(page, "species")).toBe("<b>Daphne</b> *Abies, 3 Acer, 1 Betula, 2");
    await page.evaluate(() => (kept["stock"] as Stock).delete("C"));
    expect(await options(page, "tags")).toBe("D *A B");
    expect(errors).toEqual([]);
  });

  test("one that takes several shows and sets what is selected; one that is released leaves no option", async () => {
    const { page } = await withStock(`<select id="some" multiple></select>`);
    await page.evaluate(() => {
      const { bindList } = ironwood;
      kept["list"] = bindList(document.querySelector<HTMLSelectElement>("#some")!, kept["shown"] as never);
    });
    await page.selectOption("#some", [{ label: "A" }, { label: "C" }]);
    expect(await page.evaluate(() => (kept["shown"] as Shown).selectedKeys)).toEqual(["A", "C"]);
    await page.evaluate(() => void ((kept["shown"] as Shown).selectedKeys = ["B"]));
    expect(await options(page, "some")).toBe("A *B C");
    await page.evaluate(() => (kept["list"] as { stop(): void }).stop());
    expect(await options(page, "some")).toBe("");
  });

  test("a form over the current row keeps the list where it is while it can't be left, and says why", async () => {
    // The page is bound without the form first, which is reported.
    const { page, errors } = await withStock(
      `<select id="tags" size="4"></select><form name="plant"><input name="tag" aria-label="Tag"><input name="species" aria-label="Species"><input name="count" aria-label="Plants"></form>`,
    );
    await page.evaluate(() => {
      const { bindForm, bindList, editEntry } = ironwood;
      const shown = kept["shown"] as never;
      bindList(document.querySelector<HTMLSelectElement>("#tags")!, shown);
      bindForm(document.querySelector("form")!, editEntry(shown, { locale: "en" }));
    });
    expect(errors).toHaveLength(1);
    expect(await page.getAttribute("[name=count]", "readonly")).toBe("");
    await page.selectOption("#tags", { label: "B" });
    expect(await page.inputValue("[name=count]")).toBe("2");
    await page.fill("[name=count]", "many");
    await page.selectOption("#tags", { label: "C" });
    expect([await options(page, "tags"), await page.inputValue("[name=count]")]).toEqual(["A *B C", "many"]);
    expect(await page.textContent("[role=status]")).toMatch(/^B is not saved: /);
    await page.fill("[name=count]", "20");
    await page.selectOption("#tags", { label: "C" });
    expect([
      await page.inputValue("[name=count]"),
      await page.evaluate(() => (kept["stock"] as Stock).get("B")!.count),
    ]).toEqual(["3", 20]);
  });

  test("a list in which somebody types while its row can't be left shows the row that is current, each time", async () => {
    // The page is bound without the form first, which is reported.
    const { page, errors } = await withStock(
      `<select id="tags" size="4"></select><form name="plant"><input name="tag" aria-label="Tag"><input name="species" aria-label="Species"><input name="count" aria-label="Plants"></form>`,
    );
    await page.evaluate(() => {
      const { bindForm, bindList, editEntry } = ironwood;
      const shown = kept["shown"] as never;
      bindList(document.querySelector<HTMLSelectElement>("#tags")!, shown, { show: "species" });
      bindForm(document.querySelector("form")!, editEntry(shown, { locale: "en" }));
    });
    expect(errors).toHaveLength(1);
    await page.selectOption("#tags", { label: "Betula" });
    await page.fill("[name=count]", "many");
    await page.click("#tags option:nth-child(1)");
    // A key may find the row that was pressed, of which the platform tells nothing any more.
    for (const key of "Ace") {
      await page.keyboard.press(key);
      expect([key, await options(page, "tags")]).toEqual([key, "Acer *Betula Corylus"]);
    }
  });
});

describe("a dialog that edits a row", () => {
  const dialog = `<button id="open">Open</button><dialog id="edit"><form><input name="tag" aria-label="Tag"><input name="species" aria-label="Species"><input name="count" aria-label="Plants"><button>Save</button><button type="button" command="request-close">Close</button></form></dialog>`;
  const open = (page: Page, edit: "copy" | "live") =>
    page.evaluate((how) => {
      const { bindDialog } = ironwood;
      const bound = bindDialog(document.querySelector("dialog")!, kept["stock"] as never, { edit: how });
      kept["outcome"] = "open";
      document.querySelector<HTMLElement>("#open")!.focus();
      void bound.open("B").then((saved) => (kept["outcome"] = saved));
    }, edit);
  const outcome = (page: Page) =>
    page.evaluate(() => [
      kept["outcome"],
      (kept["stock"] as Stock).get("B")!.species,
      document.querySelector("dialog")!.open,
      document.activeElement!.id,
    ]);

  test("edits a copy: nothing is in the table before it is saved, and Escape asks where something would be lost", async () => {
    const { page, errors } = await withStock(dialog);
    await open(page, "copy");
    await page.fill("[name=species]", "Betula nana");
    await page.keyboard.press("Tab");
    expect((await outcome(page)).slice(0, 3)).toEqual(["open", "Betula", true]);
    await page.keyboard.press("Escape");
    await page.click("dialog:not(#edit) button:has-text('Stay')");
    expect((await outcome(page))[2]).toBe(true);
    await page.fill("[name=count]", "-1");
    await page.press("[name=count]", "Enter");
    await page.waitForSelector("dialog [data-problem]");
    await page.fill("[name=count]", "5");
    await page.press("[name=count]", "Enter");
    await page.waitForFunction(() => kept["outcome"] !== "open");
    expect(await outcome(page)).toEqual([true, "Betula nana", false, "open"]);
    await open(page, "copy");
    await page.fill("[name=species]", "Betula lenta");
    await page.click("[command=request-close]");
    await page.click("dialog:not(#edit) button:has-text('Leave')");
    await page.waitForFunction(() => kept["outcome"] !== "open");
    expect(await outcome(page)).toEqual([false, "Betula nana", false, "open"]);
    expect(errors).toEqual([]);
  });

  test("a copy sees what is changed in the table meanwhile, and overwrites nothing unseen; a row that is gone says so", async () => {
    const { page, errors } = await withStock(dialog);
    const update = (changes: object): Promise<void> =>
      page.evaluate(
        (given) => (kept["stock"] as never as { update(...all: unknown[]): void }).update("B", given),
        changes,
      );
    await open(page, "copy");
    await page.fill("[name=count]", "5");
    await update({ species: "Betula lenta" });
    expect(await page.inputValue("[name=species]")).toBe("Betula lenta");
    await update({ count: 7 });
    await page.getByRole("button", { name: "Take the other: 7" }).waitFor();
    await page.press("[name=count]", "Enter");
    expect((await outcome(page))[0]).toBe("open");
    await page.click("text=Keep mine: 5");
    await page.press("[name=count]", "Enter");
    await page.waitForFunction(() => kept["outcome"] !== "open");
    const row = await page.evaluate(() => (kept["stock"] as Stock).get("B"));
    expect(row).toMatchObject({ species: "Betula lenta", count: 5 });
    await open(page, "copy");
    await page.evaluate(() => (kept["stock"] as Stock).delete("B"));
    expect(await page.getAttribute("[name=count]", "title")).toBe("This row is not there any more.");
    expect(errors).toEqual([]);
  });

  test("edits the real thing: what is left and right is in the table at once, what is wrong stays here", async () => {
    const { page, errors } = await withStock(dialog);
    await open(page, "live");
    await page.fill("[name=species]", "Betula nana");
    await page.keyboard.press("Tab");
    await page.waitForFunction(() => (kept["stock"] as Stock).get("B")!.species === "Betula nana");
    await page.fill("[name=count]", "many");
    await page.keyboard.press("Tab");
    expect(await page.evaluate(() => (kept["stock"] as Stock).get("B")!.count)).toBe(2);
    await page.fill("[name=count]", "8");
    await page.click("[command=request-close]");
    await page.waitForFunction(() => kept["outcome"] !== "open");
    expect([await outcome(page), await page.evaluate(() => (kept["stock"] as Stock).get("B")!.count)]).toEqual([
      [true, "Betula nana", false, "open"],
      8,
    ]);
    expect(errors).toEqual([]);
  });

  test("without a form in it, or for a row that is not there, says so", async () => {
    const { page } = await withStock(`<dialog id="none"></dialog>${dialog}`);
    const said = await page.evaluate(async () => {
      const { bindDialog } = ironwood;
      const attempt = (work: () => unknown) =>
        Promise.resolve()
          .then(work)
          .then(
            () => "done",
            (error: unknown) => (error as Error).message,
          );
      const bound = bindDialog(document.querySelector<HTMLDialogElement>("#edit")!, kept["stock"] as never);
      return [
        await attempt(() => bindDialog(document.querySelector<HTMLDialogElement>("#none")!, kept["stock"] as never)),
        await attempt(() => bound.open("Z")),
      ];
    });
    expect(said).toEqual([
      expect.stringMatching(/<dialog id="none"> has no form.*one <form>/s),
      expect.stringMatching(/no row with the key "Z"/),
    ]);
  });
});
