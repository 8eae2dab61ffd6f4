import { afterAll, afterEach, beforeEach, describe, expect, test } from "@jest/globals";
import type { Page } from "playwright-core";
import { accessibilityViolations, closeBrowser, newDemo, newPage } from "./support.ts";

let demo: Awaited<ReturnType<typeof newDemo>>;
beforeEach(async () => {
  demo = await newDemo();
});
afterEach(() => demo.stop());
afterAll(closeBrowser);

async function open(path = "tree-card/"): Promise<{ page: Page; errors: string[] }> {
  const watched = await newPage();
  await watched.page.goto(`${demo.address}/${path}`);
  await watched.page.waitForFunction(() => document.forms[0]!.noValidate);
  return watched;
}

const status = (page: Page): Promise<string> => page.locator("[role=status]").innerText();

/** Types a card as a person does who never touches the mouse. */
async function typeCard(page: Page, tag: string, girth: string): Promise<void> {
  for (let tabs = 0; tabs < 12; tabs++) {
    await page.keyboard.press("Tab");
    if (await page.evaluate(() => document.activeElement?.id === "tag")) break;
  }
  await page.keyboard.type(tag);
  await page.keyboard.press("Tab");
  await page.keyboard.type("Quer");
  await page.keyboard.press("Tab");
  await page.keyboard.press("ArrowDown");
  await page.keyboard.press("Tab");
  await page.keyboard.press("Space");
  for (let tabs = 0; tabs < 3; tabs++) await page.keyboard.press("Tab");
  await page.keyboard.type(girth);
}

describe("Tree card", () => {
  test("by keyboard only: a card is saved to the database, a blank one begins, and a reload and a restart show it", async () => {
    const { page, errors } = await open();
    await typeCard(page, "AB-0042", "31.5");
    expect(await page.locator("#diameter").innerText()).toBe("10 cm");
    await page.keyboard.press("Enter");
    await page.waitForSelector("#saved > li");
    expect(await status(page)).toBe("Saved AB-0042 to nursery.db.");
    expect(await demo.cards()).toMatchObject([
      {
        tag: "AB-0042",
        species: "Quercus robur",
        condition: 2,
        hazards: ["leaning"],
        stems: 1,
        girth: 31.5,
        fenced: false,
      },
    ]);
    expect(await page.locator("#tag").inputValue()).toBe("");
    expect(await page.evaluate(() => document.activeElement!.id)).toBe("tag");
    expect(await page.locator("[aria-invalid]").count()).toBe(0);
    await page.reload();
    await page.waitForSelector("#saved > li");
    expect(await page.locator("#saved > li").innerText()).toMatch(/AB-0042\s+Quercus robur\s+31\.5 cm/);
    await demo.stop();
    demo = await newDemo(demo.folder);
    await page.goto(`${demo.address}/tree-card/`);
    await page.waitForSelector("#saved > li");
    expect(await page.locator("#saved b").innerText()).toBe("AB-0042");
    expect(errors).toEqual([]);
  });

  test("saving a blank card shows every problem, with links, and puts the focus on the first wrong control", async () => {
    const { page } = await open();
    await page.getByRole("button", { name: "Save card" }).click();
    const alert = page.getByRole("alert");
    await alert.waitFor();
    expect(await alert.innerText()).toMatch(
      /^Not saved yet: 3 entries need your attention\.\s+Tag: Enter a value, such as AB-0042\.\s+Species: Choose one\.\s+Girth: Enter a value\.$/,
    );
    expect(await page.evaluate(() => document.activeElement!.id)).toBe("tag");
    await alert.getByRole("link", { name: /^Girth/ }).click();
    expect(await page.evaluate(() => document.activeElement!.id)).toBe("girth");
    const girth = page.getByRole("textbox", { name: "Girth" });
    expect(await girth.getAttribute("aria-invalid")).toBe("true");
    const described = await girth.evaluate((element) =>
      element
        .getAttribute("aria-describedby")!
        .split(" ")
        .map((id) => document.getElementById(id)!.textContent),
    );
    expect(described).toEqual(["Around the trunk at chest height, in centimetres", "Enter a value."]);
    await girth.pressSequentially("40");
    expect(await girth.getAttribute("aria-invalid")).toBeNull();
    expect(await alert.innerText()).not.toMatch(/Girth/);
    expect(await demo.cards()).toEqual([]);
  });

  test.each([
    ["tree-card/", "31.5 cm", "This is not a number. Enter a number, such as 31.5."],
    ["tree-card/de.html", "31,5 cm", "Das ist keine Zahl. Geben Sie eine Zahl ein, zum Beispiel 31,5."],
  ])("%s reads 31,5 and 31.5, and keeps and explains abc", async (path, shown, message) => {
    const { page } = await open(path);
    const girth = page.locator("#girth");
    for (const typed of ["31,5", "31.5"]) {
      await girth.fill(typed);
      expect(await girth.inputValue()).toBe(typed);
      await girth.press("Tab");
      expect(await girth.inputValue()).toBe(shown);
      await girth.focus();
    }
    await girth.fill("abc");
    expect(await page.locator("#diameter").innerText()).toBe("–");
    await girth.press("Enter");
    await page.waitForSelector("[data-problem=badInput]");
    expect(await page.locator("[data-problem=badInput]").innerText()).toContain(message);
    expect(await girth.inputValue()).toBe("abc");
    expect(await demo.cards()).toEqual([]);
  });

  test("a rule across fields speaks the page's language and clears when it holds", async () => {
    const { page } = await open("tree-card/de.html");
    await page.getByLabel("Absterbend").check();
    await page.getByRole("button", { name: "Karte speichern" }).click();
    await page.waitForSelector("[data-problem=failingNeedsNote]");
    expect(await page.getByRole("alert").innerText()).toMatch(
      /Notizen: Schreiben Sie, was dem absterbenden Baum fehlt\./,
    );
    await page.getByLabel("Notizen").fill("Hallimasch");
    expect(await page.locator("[data-problem=failingNeedsNote]").count()).toBe(0);
  });

  test("an irrelevant field is hidden and disabled with its label; what was entered comes back", async () => {
    const { page } = await open();
    const cost = page.locator("#fence-cost");
    expect([await cost.isVisible(), await cost.isDisabled(), await page.getByText("Fence cost").isVisible()]).toEqual([
      false,
      true,
      false,
    ]);
    await page.getByLabel("Fenced").check();
    await cost.fill("48");
    await page.getByLabel("Fenced").uncheck();
    await page.getByLabel("Fenced").check();
    expect(await cost.inputValue()).toBe("48.00");
  });

  test("a service that is gone loses nothing, says what to do, and a retry succeeds", async () => {
    const { page } = await open();
    await page.fill("#tag", "AB-0050");
    await page.selectOption("#species", "Tilia cordata");
    await page.fill("#girth", "80");
    const { port, folder } = demo;
    await demo.stop();
    await page.getByRole("button", { name: "Save card" }).click();
    await page.waitForFunction(() => document.querySelector("[role=status]")!.textContent !== "");
    expect(await status(page)).toBe(
      "Not saved: The service can't be reached. Look whether it runs, and try again. What you entered is still here; try again.",
    );
    expect(await page.locator("#tag").inputValue()).toBe("AB-0050");
    demo = await newDemo(folder, port);
    await page.getByRole("button", { name: "Save card" }).click();
    await page.waitForSelector("#saved > li");
    expect(await demo.cards()).toMatchObject([{ tag: "AB-0050", girth: 80 }]);
  });

  test("a refused command stays reachable and says why; an allowed one works", async () => {
    const { page } = await open();
    const clear = page.getByRole("button", { name: "Clear" });
    expect(await clear.getAttribute("aria-disabled")).toBe("true");
    expect(await clear.evaluate((button: HTMLButtonElement) => button.disabled)).toBe(false);
    const reason = await clear.evaluate(
      (button) => document.getElementById(button.getAttribute("aria-describedby")!)!.textContent,
    );
    expect(reason).toBe("There is nothing to clear: the card is blank.");
    await clear.focus();
    await page.keyboard.press("Enter");
    expect(await status(page)).toBe(reason);
    await page.fill("#notes", "By the gate");
    expect(await clear.getAttribute("aria-disabled")).toBeNull();
    await clear.click();
    expect([await page.locator("#notes").inputValue(), await status(page)]).toEqual(["", "The card is blank again."]);
  });

  test("what was cleared by mistake comes back by Ctrl+Z, wherever it was typed or chosen", async () => {
    const { page } = await open();
    await page.fill("#notes", "By the gate");
    await page.getByLabel("Fenced").check();
    await page.fill("#fence-cost", "about 90");
    await page.getByRole("button", { name: "Clear" }).click();
    expect(await page.locator("#notes").inputValue()).toBe("");
    await page.keyboard.press("Control+z");
    expect([
      await page.locator("#notes").inputValue(),
      await page.getByLabel("Fenced").isChecked(),
      await page.locator("#fence-cost").inputValue(),
    ]).toEqual(["By the gate", true, "about 90"]);
    expect(await status(page)).toBe("Undone: Clear the card.");
    await page.keyboard.press("Control+z");
    expect(await page.locator("#fence-cost").inputValue()).toBe("");
    expect(await page.evaluate(() => document.activeElement?.id)).toBe("fence-cost");
  });

  test("pressing save twice, by pointer or by key, saves once", async () => {
    const { page } = await open();
    await page.fill("#tag", "AB-0060");
    await page.selectOption("#species", "Tilia cordata");
    await page.fill("#girth", "80");
    await page.getByRole("button", { name: "Save card" }).dblclick();
    await page.waitForSelector("#saved > li");
    await page.fill("#tag", "AB-0061");
    await page.selectOption("#species", "Tilia cordata");
    await page.fill("#girth", "80");
    await page.evaluate(() => {
      document.forms[0]!.requestSubmit();
      document.forms[0]!.requestSubmit();
    });
    await page.waitForFunction(() => document.querySelectorAll("#saved > li").length === 2);
    expect(await demo.cards()).toMatchObject([{ tag: "AB-0060" }, { tag: "AB-0061" }]);
  });

  test("a default is there for everything that depends on it before anybody touches it, and comes back where it was blanked", async () => {
    const { page } = await open();
    expect(await page.locator("#stems").inputValue()).toBe("1");
    await page.getByLabel("Failing").check();
    await page.getByRole("button", { name: "Save card" }).click();
    await page.waitForSelector("[data-problem=failingNeedsNote]");
    await page.getByLabel("Thriving").check();
    await page.waitForFunction(() => document.querySelector("[data-problem=failingNeedsNote]") === null);
    await page.fill("#stems", "");
    await page.locator("#stems").blur();
    expect(await page.locator("#stems").inputValue()).toBe("1");
  });

  test("what was typed and not saved is asked about before the page is left", async () => {
    const { page } = await open();
    const asked: string[] = [];
    page.on("dialog", (dialog) => {
      asked.push(dialog.type());
      void dialog.accept();
    });
    await page.locator("#notes").focus();
    await page.keyboard.type("By the gate");
    await page.goto(`${demo.address}/label-maker/`);
    expect(asked).toEqual(["beforeunload"]);
  });

  test("a copy goes into a download where the browser has no file picker", async () => {
    const { page } = await open();
    await page.evaluate(() => delete (globalThis as { showSaveFilePicker?: unknown }).showSaveFilePicker);
    await page.fill("#tag", "AB-0051");
    await page.selectOption("#species", "Tilia cordata");
    await page.fill("#girth", "80");
    await page.press("#girth", "Enter");
    await page.waitForSelector("#saved > li");
    const coming = page.waitForEvent("download");
    await page.getByRole("button", { name: "Keep a copy" }).click();
    const download = await coming;
    const called = download.suggestedFilename();
    expect(called).toMatch(/^tree-cards-2\d{7}T\d{6}-1\.ndjson$/);
    await page.getByText(`A copy of AB-0051 is in ${called}.`).waitFor();
    // The next has a name of its own: a browser would else call it otherwise, and the page would not know.
    const next = page.waitForEvent("download");
    await page.getByRole("button", { name: "Keep a copy" }).click();
    expect((await next).suggestedFilename()).toMatch(/-2\.ndjson$/);
    const { readFileSync } = await import("node:fs");
    expect(JSON.parse(readFileSync(await download.path(), "utf8"))).toMatchObject({ tag: "AB-0051" });
  });

  test("hostile text is text everywhere", async () => {
    const { page, errors } = await open();
    const hostile = `<img src=x onerror="document.title='broken'">`;
    await page.fill("#tag", hostile);
    await page.fill("#girth", hostile);
    await page.fill("#notes", hostile);
    await page.press("#girth", "Enter");
    await page.getByRole("alert").waitFor();
    expect(await page.locator("main img").count()).toBe(0);
    expect(await page.title()).toContain("<img");
    expect(errors).toEqual([]);
    // The page really is under a strict policy: markup from text is refused by the browser itself.
    const refused = await page.evaluate(() => {
      try {
        document.createElement("div").innerHTML = "<b>markup</b>";
        return "not refused";
      } catch (error) {
        return String(error);
      }
    });
    expect(refused).toMatch(/TrustedHTML/);
  });

  test.each(["light", "dark"] as const)(
    "no accessibility violation in %s: blank, with problems, after saving, in both languages",
    async (colorScheme) => {
      for (const path of ["tree-card/", "tree-card/de.html"]) {
        const { page } = await open(path);
        await page.emulateMedia({ colorScheme, reducedMotion: "reduce" });
        expect(await accessibilityViolations(page)).toEqual([]);
        await page.fill("#girth", "abc");
        await page.press("#girth", "Enter");
        await page.getByRole("alert").waitFor();
        expect(await accessibilityViolations(page)).toEqual([]);
      }
    },
  );
});
