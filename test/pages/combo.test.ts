import { afterAll, beforeEach, describe, expect, test } from "@jest/globals";
import type { Page } from "playwright-core";
import { accessibilityViolations, closeBrowser, pageWith } from "./support.ts";

afterAll(closeBrowser);

let page: Page;
let errors: string[];
const input = "[name=species]";

/** A form with one combo box; what its choices are is JavaScript over `ironwood`. */
async function combo(choices: string, options = "{}"): Promise<void> {
  ({ page, errors } = await pageWith(
    `<main><h1>Tree</h1><form name="tree"><label>Species <input name="species"></label> <button>Save</button></form><p role="status"></p></main>`,
  ));
  await page.evaluate(`(() => {
    const { bindPage, choiceList, choiceSearch, model, newEntry, oneOf } = ironwood;
    kept.source = ${choices};
    kept.saved = [];
    kept.entry = newEntry(model({ species: oneOf(kept.source, ${options}) }), { locale: "en", save: (row) => void kept.saved.push(row) });
    kept.binding = bindPage(document, { tree: kept.entry });
  })()`);
}

const value = (): Promise<unknown> =>
  page.evaluate(() => (kept["entry"] as { values: { species?: string } }).values.species);
const shownOptions = (): Promise<string[]> => page.locator("[role=option]:visible").allInnerTexts();
const active = (): Promise<string | null | undefined> =>
  page.evaluate(
    () =>
      document.getElementById(document.querySelector("[role=combobox]")!.getAttribute("aria-activedescendant") ?? "")
        ?.textContent,
  );

const nursery = `["Acer campestre", "Alnus glutinosa", "Quercus petraea", "Quercus robur", "Tilia cordata"]`;

test("a combo box that has the focus when it is bound has its list ready: typing opens it", async () => {
  const { page: own } = await pageWith('<form name="tree"><label>Species <input name="species"></label></form>');
  await own.focus(input);
  await own.evaluate(() => {
    const { bindPage, model, newEntry, oneOf } = ironwood;
    bindPage(document, { tree: newEntry(model({ species: oneOf(["Acer campestre", "Tilia cordata"]) })) });
  });
  await own.keyboard.type("ti");
  await own.locator("[role=option]:visible").waitFor();
  expect(await own.locator("[role=option]:visible").allInnerTexts()).toEqual(["Tilia cordata"]);
});

describe("a combo box", () => {
  beforeEach(() => combo(nursery));

  test("filters as one types: first what begins with the text, then what holds it", async () => {
    await page.locator(input).pressSequentially("a");
    expect(await shownOptions()).toEqual(["Acer campestre", "Alnus glutinosa", "Quercus petraea", "Tilia cordata"]);
    await page.locator(input).pressSequentially("ln");
    expect(await shownOptions()).toEqual(["Alnus glutinosa"]);
    await page.keyboard.press("Backspace");
    await page.keyboard.press("Backspace");
    await page.keyboard.press("Backspace");
    expect(await shownOptions()).toHaveLength(5);
    await page.locator(input).fill("xyz");
    expect(await shownOptions()).toEqual(["No choices"]);
  });

  test("is walked by keys; Enter takes one and does not save, the next Enter saves", async () => {
    await page.locator(input).focus();
    await page.keyboard.press("ArrowDown");
    expect(await active()).toBe("Acer campestre");
    await page.keyboard.press("ArrowUp");
    expect(await active()).toBe("Tilia cordata");
    await page.keyboard.press("PageUp");
    await page.keyboard.press("ArrowDown");
    expect(await active()).toBe("Alnus glutinosa");
    expect(await value()).toBeUndefined();
    await page.keyboard.press("Enter");
    expect([await value(), await page.locator(input).inputValue()]).toEqual(["Alnus glutinosa", "Alnus glutinosa"]);
    expect(await page.locator("[role=listbox]").isVisible()).toBe(false);
    expect(await page.evaluate(() => kept["saved"])).toEqual([]);
    await page.keyboard.press("Enter");
    await page.waitForFunction(() => (kept["saved"] as unknown[]).length === 1);
  });

  test("Escape closes the list and keeps what was typed; leaving marks it, and nothing was chosen for anybody", async () => {
    await page.locator(input).pressSequentially("quercus");
    await page.keyboard.press("Escape");
    expect(await page.locator("[role=listbox]").isVisible()).toBe(false);
    expect(await page.locator(input).getAttribute("aria-expanded")).toBe("false");
    await page.keyboard.press("Tab");
    expect([await value(), await page.locator(input).inputValue()]).toEqual([undefined, "quercus"]);
    expect(await page.locator("[data-problem=badInput]").innerText()).toBe("quercus is not one of the choices.");
  });

  test("a caption that was typed whole is chosen, whatever its case", async () => {
    await page.locator(input).pressSequentially("quercus robur");
    await page.keyboard.press("Tab");
    expect([await value(), await page.locator(input).inputValue()]).toEqual(["Quercus robur", "Quercus robur"]);
  });

  test("a click opens the list, with the chosen one told, and a click takes another", async () => {
    await page.locator(input).fill("Quercus robur");
    await page.locator("button:not([data-opens])").focus();
    await page.locator(input).click();
    expect(await page.locator("[aria-selected=true]").innerText()).toBe("Quercus robur");
    await page.locator("[role=option]", { hasText: "Tilia" }).click();
    expect(await value()).toBe("Tilia cordata");
    expect(await page.evaluate(() => document.activeElement?.getAttribute("name"))).toBe("species");
  });

  test("a button with an arrow shows that there is a list, opens and closes it, and is in nobody's way", async () => {
    const opener = page.locator("label > [data-opens]");
    expect(await opener.evaluate((button) => [button.tabIndex, button.ariaHidden, button.textContent])).toEqual([
      -1,
      "true",
      "",
    ]);
    const [field, arrow] = [(await page.locator(input).boundingBox())!, (await opener.boundingBox())!];
    expect([arrow.x > field.x, arrow.x + arrow.width <= field.x + field.width + 1]).toEqual([true, true]);
    await opener.click();
    await page.locator("[role=option]:visible").first().waitFor();
    expect(await page.evaluate(() => document.activeElement?.getAttribute("name"))).toBe("species");
    // On a page with no styles of its own too.
    const colour = await page.locator("[role=listbox]").evaluate((list) => getComputedStyle(list).backgroundColor);
    expect(colour).toBe("rgb(255, 255, 255)");
    await opener.click();
    expect(await shownOptions()).toEqual([]);
    await page.evaluate(() => (kept["binding"] as { stop(): void }).stop());
    expect(await page.locator("[data-opens], [role=listbox]").count()).toBe(0);
    expect(await page.evaluate(() => document.adoptedStyleSheets.length)).toBe(0);
  });

  test("where nothing is found there is nothing to walk, to take or to press", async () => {
    await page.locator(input).pressSequentially("xyz");
    await page.keyboard.press("ArrowDown");
    expect(await page.locator(input).getAttribute("aria-activedescendant")).toBeNull();
    await page.locator("[role=option]:visible").click({ force: true });
    await page.keyboard.press("ArrowDown");
    await page.keyboard.press("Enter");
    expect([await value(), await page.locator(input).inputValue(), errors]).toEqual([undefined, "xyz", []]);
  });

  test("has the roles and states of the pattern, and the accessibility engine finds nothing", async () => {
    await page.locator(input).focus();
    await page.keyboard.press("ArrowDown");
    const told = await page.evaluate(() => {
      const box = document.querySelector("[role=combobox]")!;
      const list = document.getElementById(box.getAttribute("aria-controls")!)!;
      const option = document.getElementById(box.getAttribute("aria-activedescendant")!)!;
      return [box.ariaExpanded, list.role, list.ariaLabel, option.role, option.ariaPosInSet, option.ariaSetSize];
    });
    expect(told).toEqual(["true", "listbox", "Species", "option", "1", "5"]);
    expect(await accessibilityViolations(page)).toEqual([]);
    expect(errors).toEqual([]);
  });

  test("leaves nothing behind", async () => {
    await page.locator(input).click();
    await page.evaluate(() => (kept["binding"] as { stop(): void }).stop());
    expect(await page.locator("[role=listbox], [role=combobox]").count()).toBe(0);
  });
});

describe("choices that grow", () => {
  test("what was typed is added, chosen, and kept; the same again is no new choice", async () => {
    await combo(`choiceList(${nursery}, { save: (title) => { (kept.added ??= []).push(title); } })`);
    await page.locator(input).pressSequentially(" Salix alba ");
    expect(await shownOptions()).toEqual(["Add “Salix alba”"]);
    await page.keyboard.press("ArrowDown");
    await page.keyboard.press("Enter");
    await page.waitForFunction(
      () => (kept["entry"] as { values: { species?: string } }).values.species === "Salix alba",
    );
    expect(await page.evaluate(() => kept["added"])).toEqual(["Salix alba"]);
    await page.locator(input).fill("salix alba");
    expect(await shownOptions()).toEqual(["Salix alba"]);
  });

  test("what can't be kept is told, and what was typed stays", async () => {
    await combo(`choiceList([], { save: () => { throw new Error("The service can't be reached."); } })`);
    await page.locator(input).pressSequentially("Salix alba");
    await page.locator("[role=option]").click();
    await page.waitForFunction(() => document.querySelector("[role=status]")!.textContent !== "");
    expect(await page.locator("[role=status]").innerText()).toMatch(/The service can't be reached\./);
    expect(await page.locator(input).inputValue()).toBe("Salix alba");
  });
});

describe("choices that are asked for", () => {
  const service = `choiceSearch((text, { signal }) => new Promise((resolve, reject) => {
    (kept.asked ??= []).push(text);
    signal.addEventListener("abort", () => (kept.aborted ??= []).push(text));
    if (text === "broken") reject(new Error("The service has no species today."));
    const found = ${nursery}.filter((name) => name.toLowerCase().includes(text.toLowerCase()));
    setTimeout(() => resolve(found.map((title) => ({ const: title.slice(0, 4), title }))), kept.takes ?? 30);
  }))`;

  test("once typing pauses; an answer that comes too late is dropped", async () => {
    await combo(service);
    // Slow enough for what is shown meanwhile to be seen on any machine.
    await page.evaluate(() => (kept["takes"] = 1000));
    await page.locator(input).fill("quer");
    expect(await shownOptions()).toEqual(["Searching…"]);
    await page.waitForSelector("[role=option] >> text=robur");
    expect(await page.evaluate(() => kept["asked"])).toEqual(["quer"]);
    await page.keyboard.insertText("cus r");
    await page.waitForFunction(() => (kept["asked"] as string[]).includes("quercus r"));
    await page.keyboard.insertText("o");
    await page.waitForFunction(
      () =>
        [...document.querySelectorAll("[role=option]:not([hidden])")].map((each) => each.textContent).join() ===
        "Quercus robur",
    );
    await page.keyboard.press("ArrowDown");
    await page.keyboard.press("Enter");
    expect([await value(), await page.locator(input).inputValue()]).toEqual(["Quer", "Quercus robur"]);
    expect(await page.evaluate(() => kept["aborted"])).toContain("quercus r");
  });

  test("a service that fails is told, and the field goes on", async () => {
    await combo(service);
    await page.locator(input).fill("broken");
    await page.waitForFunction(() => document.querySelector("[role=status]")!.textContent !== "");
    expect(await page.locator("[role=status]").innerText()).toBe("The service has no species today.");
    expect(await page.locator(input).inputValue()).toBe("broken");
  });
});

test("with 100,000 choices, a key press to the shown list takes at most 16 ms of script, in the middle of many", async () => {
  await combo(
    "Array.from({ length: 100_000 }, (_, place) => `${['Quercus', 'Alnus', 'Tilia', 'Acer'][place % 4]} ${(place * 7919 % 100_000).toString(36)} ${place}`)",
  );
  await page.locator(input).focus();
  await page.keyboard.press("ArrowDown");
  await page.waitForSelector("[role=option]:visible");
  const times = await page.evaluate(async () => {
    const box = document.querySelector<HTMLInputElement>("[role=combobox]")!;
    const took: number[] = [];
    for (const text of [
      "q",
      "qu",
      "que",
      "quer",
      "que",
      "a",
      "al",
      "aln",
      "7",
      "77",
      "777",
      "77",
      "t",
      "ti",
      "1",
      "12",
      "123",
    ])
      for (let again = 0; again < 3; again++) {
        box.value = text;
        const start = performance.now();
        box.dispatchEvent(new InputEvent("input", { bubbles: true }));
        took.push(performance.now() - start);
        await new Promise((resolve) => setTimeout(resolve));
        box.value = "";
        box.dispatchEvent(new InputEvent("input", { bubbles: true }));
      }
    return took.sort((a, b) => a - b);
  });
  const median = times[times.length >> 1]!;
  console.info(
    `a key press among 100,000 choices: median ${median.toFixed(1)} ms, slowest ${times.at(-1)!.toFixed(1)} ms`,
  );
  expect(await page.locator("[role=option]").count()).toBeLessThan(60);
  expect(median).toBeLessThanOrEqual(16);
});
