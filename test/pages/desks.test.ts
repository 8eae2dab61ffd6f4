/** The measuring desk and the label maker, as a person uses them. */
import { readFileSync } from "node:fs";
import { join } from "node:path";
import { describe, expect, test } from "@jest/globals";
import type { Page } from "playwright-core";
import { accessibilityViolations, demoOfFile, newPage } from "./support.ts";

const demo = demoOfFile();

async function open(path: string, options = {}): Promise<{ page: Page; errors: string[] }> {
  const watched = await newPage(options);
  await watched.page.goto(`${demo.now.address}/${path}`);
  await watched.page.waitForFunction(() => document.querySelector("form")?.noValidate === true);
  return watched;
}

const shown = (page: Page, name: string): Promise<string> => page.locator(`[data-name="${name}"]`).first().innerText();

describe("the measuring desk", () => {
  test("by keyboard alone: the girth makes the inches, the diameter, the age, the meter and the title", async () => {
    const { page, errors } = await open("measuring-desk/");
    await page.locator("#species").focus();
    await page.keyboard.press("Tab");
    await page.keyboard.type("23/11/2026");
    await page.keyboard.press("Tab");
    await page.keyboard.press("ArrowRight");
    await page.keyboard.press("Tab");
    await page.keyboard.press("Space");
    await page.keyboard.press("Tab");
    await page.keyboard.press("Tab");
    await page.keyboard.press("Tab");
    await page.keyboard.type("157");
    expect(await page.locator("#inches").inputValue()).toBe("61.8 in");
    await page.keyboard.press("ArrowUp");
    await page.keyboard.press("Tab");
    expect(await page.locator("#centimetres").inputValue()).toBe("158 cm");
    expect(await page.locator("#measured-on").inputValue()).toBe("23 Nov 2026");
    expect(await page.locator("[name=solitary]").getAttribute("aria-pressed")).toBe("true");
    expect([await shown(page, "desk.diameter"), await shown(page, "desk.ageInYears")]).toEqual(["50.3 cm", "77 years"]);
    expect(await page.title()).toBe("77 years · Measuring desk · Thornbeck");
    expect(
      await page.locator("meter").evaluate((meter: HTMLMeterElement) => [Math.round(meter.value), meter.max]),
    ).toEqual([77, 600]);
    expect(errors).toEqual([]);
  });

  test("the tape that is pressed says which of the two is entered; the one that was entered last stands", async () => {
    const { page } = await open("measuring-desk/");
    await page.fill("#centimetres", "80");
    expect(await page.locator("#inches").evaluate((input: HTMLInputElement) => input.readOnly)).toBe(true);
    await page.getByRole("button", { name: "Inches" }).click();
    await page.fill("#inches", "10");
    expect(await page.locator("#centimetres").inputValue()).toBe("25.4 cm");
    await page.getByRole("button", { name: "Centimetres" }).click();
    await page.locator("#centimetres").focus();
    expect(await page.locator("#centimetres").inputValue()).toBe("25.4");
  });

  test("a spinner steps by its buttons, repeats while one is held, and by the wheel", async () => {
    const { page } = await open("measuring-desk/");
    await page.fill("#centimetres", "80");
    const more = page.locator(".spinner", { has: page.locator("#centimetres") }).locator("[data-step='1']");
    await more.click();
    expect(await page.locator("#centimetres").inputValue()).toBe("81");
    await more.hover();
    await page.mouse.down();
    // However busy the machine is: it goes on while the button is held.
    await page.waitForFunction(() => Number(document.querySelector<HTMLInputElement>("#centimetres")!.value) > 84);
    await page.mouse.up();
    const held = Number(await page.locator("#centimetres").inputValue());
    await page.waitForTimeout(200);
    expect(Number(await page.locator("#centimetres").inputValue())).toBe(held);
    await page.locator("#centimetres").hover();
    await page.mouse.wheel(0, 100);
    await page.waitForFunction(
      (was) => Number(document.querySelector<HTMLInputElement>("#centimetres")!.value) === was - 1,
      held,
    );
  });

  test("an age that was taken down says so once it is out of date, and a refused button says why", async () => {
    const { page } = await open("measuring-desk/");
    const take = page.getByRole("button", { name: "Take the age down" });
    expect(await take.getAttribute("aria-disabled")).toBe("true");
    await take.click({ force: true });
    expect(await page.getByRole("status").innerText()).toBe("There is no age yet: enter the girth.");
    await page.fill("#centimetres", "157");
    await take.click();
    expect(await shown(page, "desk.taken")).toBe("100 years");
    await page.fill("#centimetres", "160");
    expect(await shown(page, "desk.taken")).toBe("100 years (out of date)");
    expect(await page.locator("[data-out-of-date]").count()).toBe(1);
  });

  test("the language changes while it runs: values stand, unreadable text stays, all words and digits follow", async () => {
    const { page } = await open("measuring-desk/");
    await page.fill("#centimetres", "31.5");
    await page.fill("#measured-on", "31.02.2026");
    await page.locator("#language").focus();
    await page.selectOption("#language", "de");
    expect(await page.locator("#centimetres").inputValue()).toBe("31,5 cm");
    expect(await page.locator("#measured-on").inputValue()).toBe("31.02.2026");
    expect(await page.locator("[data-problem=badInput]").innerText()).toMatch(/^Diesen Tag gibt es nicht/);
    expect(await page.locator("h1").innerText()).toBe("Messtisch");
    await page.fill("#measured-on", "28.2.2026");
    await page.selectOption("#language", "ar-EG");
    expect(await page.locator("#centimetres").inputValue()).toBe("٣١٫٥ سم");
    expect(await page.evaluate(() => [document.documentElement.lang, document.documentElement.dir])).toEqual([
      "ar-EG",
      "rtl",
    ]);
    await page.fill("#centimetres", "٤٢٫٥");
    expect(await page.locator("#inches").inputValue()).toBe("١٦٫٧ بوصة");
    expect(await accessibilityViolations(page)).toEqual([]);
  });
});

describe("the label maker", () => {
  test("what is entered goes to the label, its caption, its attributes and the title; nothing flickers in between", async () => {
    const { page, errors } = await open("label-maker/");
    await page.evaluate(() => {
      const titles: string[] = [];
      (globalThis as unknown as { titles: string[] }).titles = titles;
      new MutationObserver(() => titles.push(document.title)).observe(document.querySelector("title")!, {
        childList: true,
        characterData: true,
        subtree: true,
      });
    });
    await page.fill("#tag", " ab-0042 ");
    await page.locator("#species").fill("Quercus robur");
    expect(await page.locator("#tag").inputValue()).toBe("AB-0042");
    await page.fill("#wording", "For the school\nat Thornbeck");
    await page.locator("#size").press("ArrowUp");
    await page.locator("#edge").fill("#8a5a2b");
    await page.locator("[name=punched]").click();
    expect(await page.locator("#card").getAttribute("aria-label")).toBe("AB-0042 · Quercus robur");
    expect(await page.title()).toBe("AB-0042 · Quercus robur · Label maker · Thornbeck");
    expect(await page.evaluate(() => (globalThis as unknown as { titles: string[] }).titles)).toEqual([
      "AB-0042 · Quercus robur · Label maker · Thornbeck",
    ]);
    expect(await page.locator("#card").getAttribute("data-size")).toBe("L");
    expect(await page.locator("#card").getAttribute("data-punched")).toBeNull();
    expect(await page.locator("#edge-mark").getAttribute("fill")).toBe("#8a5a2b");
    expect(await page.locator("[name=punched]").innerText()).toBe("Not punched");
    expect(await page.locator("[name=punched]").getAttribute("aria-pressed")).toBeNull();
    expect(await page.locator("[data-name='label.wording'] br").count()).toBe(1);
    expect(errors).toEqual([]);
  });

  test("a species is added, is there after a reload, and money is exact", async () => {
    const { page } = await open("label-maker/");
    await page.fill("#tag", "AB-0050");
    await page.locator("#species").pressSequentially("Salix alba");
    await page.locator("[role=option]:visible", { hasText: "Add" }).click();
    await page.waitForFunction(
      () => document.querySelector<HTMLElement>("[data-name='label.species']")!.innerText === "Salix alba",
    );
    await page.fill("#copies", "3");
    await page.fill("#price", "0.10");
    expect(await shown(page, "label.total")).toBe("0.30");
    await page.fill("#ask-at", "jr@thornbeck");
    await page.fill("#ask-at", "jr@");
    await page.getByRole("button", { name: "Save label" }).click();
    expect(await page.getByRole("alert").innerText()).toMatch(/Ask at: Enter it like jr@thornbeck\.example\./);
    await page.fill("#ask-at", "jr@thornbeck.example");
    await page.getByRole("button", { name: "Save label" }).click();
    await page.waitForFunction(() => document.querySelector("[role=status]")!.textContent.includes("AB-0050"));
    const [heading, line] = readFileSync(join(demo.now.folder, "labels.csv"), "utf8").trim().split(/\r?\n/);
    expect(heading).toBe("tag,species,wording,plantedOn,size,edge,punched,copies,price,askAt");
    expect(line).toBe("AB-0050,Salix alba,,,M,,true,3,0.1,jr@thornbeck.example");
    await page.reload();
    await page.waitForFunction(() => document.querySelector("form")?.noValidate === true);
    await page.locator("#species").pressSequentially("salix");
    await page.waitForFunction(() =>
      [...document.querySelectorAll("[role=option]")].some((each) => each.textContent === "Salix alba"),
    );
  });

  test("a scanner's text and Enter, as fast as they come, are taken whole", async () => {
    const { page } = await open("label-maker/");
    await page.locator("#species").fill("Quercus robur");
    await page.locator("#tag").focus();
    const client = await page.context().newCDPSession(page);
    await Promise.all([
      ...[..."AB-0077"].map((text) => client.send("Input.dispatchKeyEvent", { type: "char", text })),
      client.send("Input.dispatchKeyEvent", {
        type: "keyDown",
        key: "Enter",
        code: "Enter",
        windowsVirtualKeyCode: 13,
        text: "\r",
      }),
    ]);
    await page.waitForFunction(() => document.querySelector("[role=status]")!.textContent !== "");
    expect(readFileSync(join(demo.now.folder, "labels.csv"), "utf8")).toMatch(/^AB-0077,Quercus robur/m);
  });
});

describe.each(["measuring-desk/", "label-maker/", "site-survey/"])("%s", (path) => {
  test.each(["light", "dark"] as const)("the accessibility engine finds nothing in %s", async (colorScheme) => {
    const { page, errors } = await open(path, { colorScheme });
    expect(errors).toEqual([]);
    expect(await accessibilityViolations(page)).toEqual([]);
  });

  test("every control and button is reached by Tab, in the page's order, and each shows its focus", async () => {
    const { page } = await open(path);
    const all = await page.evaluate(() =>
      [...document.querySelectorAll<HTMLElement>("main :is(input, select, textarea, button):not([tabindex='-1'])")]
        .filter((each) => each.checkVisibility())
        .map((each) => each.id || each.getAttribute("name") || each.textContent),
    );
    // Toggles of one group share their name, and a date control has several stops.
    const wanted = all.filter((name, place) => name !== all[place - 1]);
    await page.locator("nav a").last().focus();
    const reached: unknown[] = [];
    for (let count = 0; count < all.length + 6 && reached.length < wanted.length; count++) {
      await page.keyboard.press("Tab");
      const [name, outline] = await page.evaluate(() => {
        const element = document.activeElement as HTMLElement;
        return [
          element.id || element.getAttribute("name") || element.textContent,
          getComputedStyle(element).outlineStyle,
        ];
      });
      if (reached.at(-1) === name) continue;
      reached.push(name);
      expect([name, outline]).toEqual([name, "solid"]);
    }
    expect(reached).toEqual(wanted);
  });

  test("nothing is cut off or overlaps at 200 % zoom", async () => {
    const { page } = await open(path, { viewport: { width: 640, height: 400 } });
    expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(640);
  });
});
