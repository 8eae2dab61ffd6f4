/** What is typed and not saved comes back: after a closed window, after the browser was killed, and where nothing may be kept it is said. */
import { execFileSync } from "node:child_process";
import { mkdtempSync, readdirSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, afterEach, describe, expect, test } from "@jest/globals";
import type { BrowserContext, Page } from "playwright-core";
import { launchProfile } from "../../scripts/browser.mjs";
import { accessibilityViolations, closeBrowser, newDemo, newPage } from "./support.ts";

type Demo = Awaited<ReturnType<typeof newDemo>>;
let demos: Demo[] = [];
afterEach(async () => {
  for (const each of demos) await each.stop();
  demos = [];
});
afterAll(closeBrowser);

async function newNotes(): Promise<Demo> {
  const demo = await newDemo();
  demos.push(demo);
  return demo;
}

async function open(page: Page, { address }: Demo): Promise<Page> {
  await page.goto(`${address}/field-notes/`);
  await page.waitForFunction(() => document.querySelector("form")?.noValidate === true);
  return page;
}

const bar = (page: Page) => page.locator("[data-name=draft]");
const status = (page: Page, text: RegExp) => page.locator("[role=status]", { hasText: text }).waitFor();
/** Longer than it takes until what was typed is kept. */
const kept = (page: Page): Promise<void> => page.waitForTimeout(450);

async function fill(page: Page, subject: string): Promise<void> {
  await page.fill("#written-on", "2026-11-28");
  await page.selectOption("#category", { label: "Pruning" });
  await page.fill("#subject", subject);
  await page.fill("#text", "Two dead limbs.\nTo be taken off.");
}

describe("a draft", () => {
  test("comes back when the browser was killed in the middle of a long note", async () => {
    const demo = await newNotes();
    const profile = mkdtempSync(join(tmpdir(), "ironwood-profile-"));
    const long = "The oak at the gate has lost a limb. ".repeat(200);
    const first: BrowserContext = await launchProfile(profile);
    const page = await open(await first.newPage(), demo);
    await page.fill("#subject", "Old oak at the gate");
    await page.fill("#text", long);
    await page.locator("#text").press("End");
    await page.keyboard.type("And 12", { delay: 20 });
    await kept(page);
    // All processes of this browser, at once.
    execFileSync("pkill", ["-9", "-f", profile]);
    await first.close().catch(() => undefined);
    const second = await launchProfile(profile);
    const again = await open(await second.newPage(), demo);
    await bar(again).waitFor();
    expect(await bar(again).innerText()).toMatch(/^What was entered here on .* was not saved\. It is still there\./);
    await again.getByRole("button", { name: "Go on with it" }).click();
    expect([await again.inputValue("#subject"), (await again.inputValue("#text")) === `${long}And 12`]).toEqual([
      "Old oak at the gate",
      true,
    ]);
    expect(await again.evaluate(() => document.activeElement?.id)).toBe("text");
    expect(await bar(again).isVisible()).toBe(false);
    await second.close();
    rmSync(profile, { recursive: true, force: true });
  });

  test("of a window that is open is its own; of one that was closed it is offered, once, and gone when the note is saved", async () => {
    const demo = await newNotes();
    const { page } = await newPage();
    await open(page, demo);
    const { context } = { context: page.context() };
    await page.fill("#subject", "Lime avenue");
    await kept(page);
    const other = await open(await context.newPage(), demo);
    await other.waitForTimeout(300);
    expect(await bar(other).isVisible()).toBe(false);
    await page.close();
    const third = await open(await context.newPage(), demo);
    await bar(third).waitFor();
    await third.getByRole("button", { name: "Go on with it" }).press("Enter");
    await fill(third, await third.inputValue("#subject"));
    await third.click("[type=submit]");
    await status(third, /^Saved Note to 2026-11-28 Pruning Lime avenue\.json\./);
    await kept(third);
    await third.close();
    const fourth = await open(await context.newPage(), demo);
    await fourth.waitForTimeout(300);
    expect(await bar(fourth).isVisible()).toBe(false);
    expect(readdirSync(join(demo.folder, "notes")).filter((name) => !name.startsWith("."))).toEqual([
      "2026-11-28 Pruning Lime avenue.json",
    ]);
  });

  test("is written when the page is left, before its time, and discarded by keyboard alone", async () => {
    const demo = await newNotes();
    const { page } = await newPage();
    await open(page, demo);
    const context = page.context();
    await page.waitForTimeout(200);
    await page.fill("#subject", "Hill side");
    await page.reload();
    await page.close();
    const again = await open(await context.newPage(), demo);
    await bar(again).waitFor();
    await again.locator("[data-draft=drop]").focus();
    await again.keyboard.press("Enter");
    await status(again, /was discarded/);
    expect([await bar(again).isVisible(), await again.inputValue("#subject")]).toEqual([false, ""]);
    expect(await again.evaluate(() => document.activeElement?.closest("form") !== null)).toBe(true);
    await again.reload();
    await open(again, demo);
    await again.waitForTimeout(300);
    expect(await bar(again).isVisible()).toBe(false);
  });

  test.each([
    ["refused", /lets this page keep nothing/],
    ["full", /There is no room left/],
  ] as const)(
    "that can't be kept, since storage is %s, says so, and the note is saved all the same",
    async (fault, text) => {
      const demo = await newNotes();
      const { page } = await newPage();
      await page.addInitScript((kind) => {
        const fail = (name: string) => (): never => {
          throw new DOMException("No.", name);
        };
        if (kind === "refused") IDBFactory.prototype.open = fail("SecurityError");
        else IDBObjectStore.prototype.put = fail("QuotaExceededError");
      }, fault);
      await open(page, demo);
      await fill(page, "River bank");
      await bar(page).filter({ hasText: text }).waitFor();
      expect(await bar(page).innerText()).toMatch(/^What you type is lost if this window closes before you save: /);
      expect(await bar(page).getAttribute("data-draft")).toBe("failed");
      expect(await page.locator("[data-draft=take]").isVisible()).toBe(false);
      await page.click("[type=submit]");
      await status(page, /^Saved Note to/);
    },
  );

  test.each(["light", "dark"] as const)(
    "has nothing that the accessibility engine finds, in %s",
    async (colorScheme) => {
      const demo = await newNotes();
      const { page } = await newPage({ colorScheme });
      await open(page, demo);
      await page.fill("#subject", "Hill side");
      await kept(page);
      const context = page.context();
      await page.close();
      const again = await open(await context.newPage(), demo);
      await bar(again).waitFor();
      expect(await accessibilityViolations(again)).toEqual([]);
    },
  );
});

describe("field notes", () => {
  test("a note is a file of its own; other windows show it; one of the same name is refused with its reason", async () => {
    const demo = await newNotes();
    const { page } = await newPage();
    await open(page, demo);
    const { page: other } = await newPage();
    await open(other, demo);
    await fill(page, "Old oak / gate");
    await page.click("[type=submit]");
    await status(page, /^Saved Note to 2026-11-28 Pruning Old oak _ gate\.json\./);
    await other.locator(".notes strong", { hasText: "Old oak / gate" }).waitFor();
    expect(await page.inputValue("#subject")).toBe("");
    await fill(page, "Old oak : gate");
    await page.click("[type=submit]");
    await status(page, /Old oak _ gate\.json is there already\. Nothing was written over it\./);
    expect(await page.inputValue("#subject")).toBe("Old oak : gate");
    // What is spoiled by hand is no note, and the others are shown.
    writeFileSync(join(demo.folder, "notes", "spoiled.json"), "{");
    await page.reload();
    await page.locator(".notes strong", { hasText: "Old oak / gate" }).waitFor();
    expect(await page.innerText("[data-name='notes.length']")).toBe("1");
  });

  test("categories of the nursery are added; where they can't be read, the usual ones are there, and it is said", async () => {
    const demo = await newNotes();
    const add = await fetch(`${demo.address}/service/categories`, {
      method: "POST",
      headers: { "content-type": "application/json" },
      body: '{"title":"Frost"}',
    });
    expect(add.status).toBe(201);
    const { page } = await newPage();
    await open(page, demo);
    await page.locator("#category option", { hasText: "Frost" }).waitFor({ state: "attached" });
    await page.route("**/service/categories*", (route) => route.abort());
    await page.reload();
    await status(page, /You can choose from the usual categories\./);
    expect(await page.locator("#category option").allInnerTexts()).toContain("Pruning");
  });
});
