/** The site survey, as a person uses it: steps, a registry that is asked, undo, questions, and what goes wrong every day. */
import { existsSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { afterAll, beforeAll, beforeEach, describe, expect, test } from "@jest/globals";
import type { Page } from "playwright-core";
import { accessibilityViolations, closeBrowser, eventually, newDemo, newPage } from "./support.ts";

let demo: Awaited<ReturnType<typeof newDemo>>;
beforeAll(async () => {
  demo = await newDemo();
});
beforeEach(() => {
  (demo.registry.asked as unknown[]).length = 0;
});
afterAll(async () => {
  await demo.stop();
  await closeBrowser();
});

let before: Page | undefined;

/** Opens the page. The one before is closed: what it still asks of the registry is not counted here. */
async function open(options = {}): Promise<{ page: Page; errors: string[] }> {
  await before?.close();
  const watched = await newPage(options);
  before = watched.page;
  await watched.page.goto(`${demo.address}/site-survey/`);
  await watched.page.waitForFunction(() => document.querySelector("form")?.noValidate === true);
  return watched;
}

/** Types where the focus is, in one go: how long this machine takes between two keys does not matter then. */
const typeAtOnce = (page: Page, text: string): Promise<void> =>
  page.evaluate((signs) => {
    const input = document.activeElement as HTMLInputElement;
    for (const sign of signs) {
      input.value += sign;
      input.dispatchEvent(new InputEvent("input", { inputType: "insertText", data: sign, bubbles: true }));
    }
  }, text);

const status = (page: Page) => page.locator("[role=status]");
const said = async (page: Page, text: string): Promise<void> => {
  await page.waitForFunction((wanted) => document.querySelector("[role=status]")?.textContent === wanted, text);
};
const press = (page: Page, name: string) => page.getByRole("button", { name, exact: true }).click();
const step = (page: Page): Promise<string> => page.locator("p[data-name=route]").innerText();
const problemAt = (page: Page, control: string) =>
  page.locator(control).evaluate((element) => {
    const ids = (element.getAttribute("aria-describedby") ?? "").split(" ");
    return ids.map((id) => document.getElementById(id)).find((each) => each?.dataset["problem"] !== undefined)
      ?.textContent;
  });
const surveys = (): Record<string, unknown>[] => {
  const file = join(demo.folder, "surveys.ndjson");
  if (!existsSync(file)) return [];
  return readFileSync(file, "utf8")
    .trimEnd()
    .split("\n")
    .map((line) => JSON.parse(line) as Record<string, unknown>);
};

/** Gives the service a survey, with no page. */
const post = (plot: string): Promise<Response> =>
  fetch(`${demo.address}/service/surveys`, {
    method: "POST",
    headers: { "content-type": "application/json" },
    body: JSON.stringify({
      plot,
      district: "Hill side",
      surveyor: "CB",
      surveyedOn: "2026-11-23",
      soil: "loam",
      area: 900,
      purpose: "wood",
      species: "Tilia cordata",
      trees: 3,
      spacing: 4,
      access: {},
    }),
  });

async function fillPlace(page: Page, plot = "P-17"): Promise<void> {
  await page.fill("#plot", plot);
  await page.fill("#surveyor", "CB");
  await page.check("[name=district][value='Hill side']");
  await page.fill("#surveyed-on", "23/11/2026");
}

async function toGround(page: Page, plot?: string): Promise<void> {
  await fillPlace(page, plot);
  await press(page, "Next");
  await said(page, "Step 2 of 5: The ground");
}

async function toPlanting(page: Page, soil = "loam", plot?: string): Promise<void> {
  await toGround(page, plot);
  await page.check(`[name=soil][value=${soil}]`);
  await press(page, "Next");
  await said(page, "Step 3 of 5: Planting");
}

async function toEnd(page: Page, plot?: string): Promise<void> {
  await toPlanting(page, "loam", plot);
  await page.fill("#area", "900");
  await page.selectOption("#purpose", "avenue");
  await page.selectOption("#species", "Tilia cordata");
  await page.fill("#trees", "40");
  await press(page, "Next");
  await said(page, "Step 4 of 5: Access");
  await page.selectOption("#carry", "barrow");
  await press(page, "Next");
  await said(page, "Step 5 of 5: Look over");
}

describe("the whole survey", () => {
  test("by keyboard alone, from the first field to the file", async () => {
    const { page, errors } = await open();
    const tab = (times = 1) =>
      Array.from({ length: times }).reduce<Promise<void>>(
        (before) => before.then(() => page.keyboard.press("Tab")),
        Promise.resolve(),
      );
    await page.locator("#plot").focus();
    await page.keyboard.type("p-17");
    await tab();
    await page.keyboard.type("CB");
    await tab();
    await page.keyboard.press("Space");
    await tab();
    await page.keyboard.type("23/11/2026");
    await page.keyboard.press("Enter");
    await said(page, "Step 2 of 5: The ground");
    expect(await page.evaluate(() => (document.activeElement as HTMLInputElement).value)).toBe("clay");
    await page.keyboard.press("ArrowDown");
    await tab(2);
    await page.keyboard.press("Space");
    await tab();
    await page.keyboard.press("Space");
    await page.keyboard.press("Enter");
    await said(page, "Step 3 of 5: Planting");
    await page.keyboard.type("900");
    await tab();
    await page.keyboard.type("avenue");
    await tab();
    await page.keyboard.type("Tilia");
    await tab();
    await page.keyboard.type("40");
    await page.keyboard.press("Enter");
    await said(page, "Step 4 of 5: Access");
    await tab();
    await page.keyboard.type("barrow");
    await page.locator("[command='--route-next']").focus();
    await page.keyboard.press("Enter");
    await said(page, "Step 5 of 5: Look over");
    expect(await page.evaluate(() => document.activeElement?.textContent)).toBe("Look over");
    expect(await page.locator("dl > div").allInnerTexts()).toEqual([
      "Plot\nP-17",
      "District\nHill side",
      "Surveyor\nCB",
      "Surveyed on\n23 Nov 2026",
      "Soil\nLoam",
      "Slope\nnothing entered",
      "Stands wet in winter\nyes",
      "Drains\nditch",
      "Area in square metres\n900",
      "Purpose\navenue",
      "Main species\nTilia cordata",
      "Trees\n40",
      "Spacing\n4 m",
      "Room they need, in square metres\n640",
      "A lorry can come up to the plot\nno",
      "How the trees get there\nbarrow",
    ]);
    await tab();
    await page.keyboard.type("Deer.");
    await page.locator("[command='--route-finish']").focus();
    await page.keyboard.press("Enter");
    await said(page, "Saved P-17 to surveys.ndjson.");
    expect(surveys().at(-1)).toMatchObject({
      plot: "P-17",
      soil: "loam",
      drains: ["ditch"],
      access: { lorry: false, carry: "barrow" },
      remarks: "Deer.",
    });
    expect([await step(page), await page.inputValue("#plot")]).toEqual(["Step 1 of 5: Place", ""]);
    expect(errors).toEqual([]);
  });

  test("next is refused with the reason, the first wrong control has the focus, and the list of steps says where one is", async () => {
    const { page } = await open();
    await press(page, "Next");
    await said(page, "4 entries here need your attention first.");
    expect(await page.evaluate(() => document.activeElement?.id)).toBe("plot");
    expect(await problemAt(page, "#plot")).toBe("Give the number on the stake at the entrance, such as P-17.");
    expect(await problemAt(page, "#surveyor")).toBe("Enter a value, such as CB.");
    await toGround(page);
    expect(
      await page
        .locator("ol[data-name=route] li")
        .evaluateAll((items) =>
          items.map((item) => `${(item as HTMLElement).dataset["stage"]} ${item.textContent.trim()}`),
        ),
    ).toEqual(["done Place done", "current The ground", "open Planting", "open Access", "open Look over"]);
    await press(page, "Access");
    await said(page, "First finish the step The ground.");
    expect(await page.evaluate(() => (document.activeElement as HTMLInputElement).name)).toBe("soil");
    expect(
      await page.locator("progress[data-name=route]").evaluate((bar: HTMLProgressElement) => [bar.value, bar.max]),
    ).toEqual([2, 5]);
  });

  test("a step that lies behind and is wrong again says so, in words", async () => {
    const { page } = await open();
    await toGround(page);
    await page.evaluate(() => history.back());
    await said(page, "Step 1 of 5: Place");
    await page.fill("#surveyor", "");
    await page.locator("ol[data-name=route] button").nth(1).click();
    await said(page, "First finish the step Place.");
    expect(await page.evaluate(() => document.activeElement?.id)).toBe("surveyor");
  });

  test("the browser's back and forward lead through the steps, and keep everything", async () => {
    const { page } = await open();
    await toPlanting(page);
    await page.fill("#area", "abc");
    await page.goBack();
    await said(page, "Step 2 of 5: The ground");
    await page.goBack();
    await said(page, "Step 1 of 5: Place");
    expect(await page.inputValue("#plot")).toBe("P-17");
    await page.goForward();
    await page.goForward();
    await said(page, "Step 3 of 5: Planting");
    expect(await page.inputValue("#area")).toBe("abc");
    await page.goBack();
    await page.goBack();
    await page.fill("#plot", "");
    await page.goForward();
    await said(page, "First finish the step Place.");
    expect(await step(page)).toBe("Step 1 of 5: Place");
  });

  test("the title of the window follows the plot and the step", async () => {
    const { page } = await open();
    expect(await page.title()).toBe("Place · Site survey · Thornbeck");
    await toGround(page);
    expect(await page.title()).toBe("P-17 · The ground · Site survey · Thornbeck");
  });
});

describe("the registry of plots", () => {
  test("a plot that somebody else surveys is refused by name; one's own is not", async () => {
    const { page } = await open();
    await page.fill("#plot", "P-13");
    await page.fill("#surveyor", "CB");
    await page.press("#surveyor", "Tab");
    await page.waitForSelector("[data-problem=plotIsFree]");
    expect(await problemAt(page, "#plot")).toBe("DW is surveying P-13. Ask them, or take another plot.");
    expect(await page.getAttribute("#plot", "aria-invalid")).toBe("true");
    await page.fill("#surveyor", "DW");
    await page.waitForFunction(() => document.querySelector("#plot")!.getAttribute("aria-invalid") === null);
  });

  test("slow: 100 quick changes are one question, one verdict; until then it says that it is checking", async () => {
    const { page } = await open();
    await page.selectOption("#behaviour", "slow");
    await page.fill("#surveyor", "CB");
    await page.fill("#plot", "P-10");
    await page.press("#plot", "Tab");
    (demo.registry.asked as unknown[]).length = 0;
    const messages = await page.evaluate(async () => {
      const seen: string[] = [];
      const input = document.querySelector<HTMLInputElement>("#plot")!;
      const watching = new MutationObserver(() => {
        const text = document.querySelector("[data-problem]")?.textContent ?? "";
        if (text !== seen.at(-1)) seen.push(text);
      });
      watching.observe(document.querySelector("form")!, {
        subtree: true,
        childList: true,
        characterData: true,
        attributes: true,
      });
      for (let number = 0; number < 100; number++) {
        input.value = `P-${number === 99 ? 13 : 100 + number}`;
        input.dispatchEvent(new InputEvent("input", { bubbles: true }));
        await new Promise((done) => setTimeout(done, 5));
      }
      await new Promise((done) => setTimeout(done, 2_700));
      watching.disconnect();
      return seen.filter((text) => text !== "");
    });
    expect(messages).toEqual(["Checking…", "DW is surveying P-13. Ask them, or take another plot."]);
    expect(demo.registry.asked.map(({ plot }) => plot)).toEqual(["P-13"]);
  });

  test("slow: a question about an old value is aborted, all the way to the registry", async () => {
    const { page } = await open();
    await page.selectOption("#behaviour", "slow");
    await page.fill("#surveyor", "CB");
    const asked = () => demo.registry.asked.map(({ plot, aborted }) => [plot, aborted]);
    await page.fill("#plot", "P-13");
    expect(await eventually(asked, [["P-13", false]])).toEqual([["P-13", false]]);
    await page.fill("#plot", "P-20");
    const both = [
      ["P-13", true],
      ["P-20", false],
    ];
    expect(await eventually(asked, both)).toEqual(both);
  });

  test("slow: next waits for the answer, is busy meanwhile, and a second press is none", async () => {
    const { page } = await open();
    await page.selectOption("#behaviour", "slow");
    await fillPlace(page, "");
    await page.fill("#plot", "P-17");
    const next = page.locator("[command='--route-next']");
    await next.click();
    expect(await next.getAttribute("aria-busy")).toBe("true");
    await next.click();
    await said(page, "Step 2 of 5: The ground");
    expect(await next.getAttribute("aria-busy")).toBeNull();
    expect(demo.registry.asked.length).toBe(1);
  });

  test.each([
    ["failing", "the registry of plots is out of order."],
    ["gone", "there was no answer within 10 seconds."],
  ])("%s: the press that reveals it stops once and says so; the next goes on", async (behaviour, reason) => {
    const { page } = await open();
    await page.selectOption("#behaviour", behaviour);
    await fillPlace(page, "");
    // In one moment: on a slow machine the answer would come before the press, which would then not be the one that reveals it.
    await page.evaluate(() => {
      const plot = document.querySelector<HTMLInputElement>("#plot")!;
      plot.value = "P-17";
      plot.dispatchEvent(new InputEvent("input", { bubbles: true }));
      document.querySelector<HTMLElement>("[command='--route-next']")!.click();
    });
    await page.waitForSelector("[data-problem=checkFailed]", { timeout: 15_000 });
    expect(await problemAt(page, "#plot")).toBe(
      `This could not be checked: ${reason} It can be saved as it is, or try again later.`,
    );
    await said(page, "Look at 1 warning. To go on all the same, press again.");
    expect([await page.getAttribute("#plot", "aria-invalid"), await step(page)]).toEqual([null, "Step 1 of 5: Place"]);
    if (behaviour === "gone") return;
    await press(page, "Next");
    await said(page, "Step 2 of 5: The ground");
  });

  test("what the service checks is checked by the same rules, whatever the page says", async () => {
    const refused = await post("P-99");
    expect([refused.status, await refused.json()]).toMatchObject([
      422,
      { problems: [{ code: "plotIsFree", message: "MK is surveying P-99. Ask them, or take another plot." }] },
    ]);
    expect((await post("P-98")).status).toBe(201);
  });
});

describe("what goes wrong every day, and not here", () => {
  test("a button that can't be used yet says why, from the first moment, and is right as soon as it can", async () => {
    const { page } = await open();
    const anew = page.locator("[command='--start-anew']");
    const reason = "There is nothing to clear: the survey is blank.";
    expect([await anew.getAttribute("aria-disabled"), await anew.getAttribute("title")]).toEqual(["true", reason]);
    await anew.click({ force: true });
    await said(page, reason);
    expect(await page.locator("dialog").count()).toBe(0);
    await page.fill("#plot", "P");
    expect([await anew.getAttribute("aria-disabled"), await anew.getAttribute("title")]).toEqual([null, null]);
    await page.fill("#plot", "");
    expect(await anew.getAttribute("aria-disabled")).toBe("true");
  });

  test("a default is known to the rest of the window before anybody touches it", async () => {
    const { page } = await open();
    await toPlanting(page);
    expect(await page.inputValue("#spacing")).toBe("4 m");
    await page.fill("#trees", "10");
    expect(await page.locator("#needed").innerText()).toBe("160");
    await page.fill("#spacing", "");
    expect(await page.locator("#needed").innerText()).toBe("–");
    await page.press("#spacing", "Tab");
    expect([await page.inputValue("#spacing"), await page.locator("#needed").innerText()]).toEqual(["4 m", "160"]);
  });

  test("a check looks at what it is about: typing elsewhere neither starts nor ends it", async () => {
    const { page } = await open();
    await toPlanting(page);
    await page.fill("#area", "100");
    await page.fill("#trees", "40");
    await page.press("#trees", "Tab");
    const message = "So many trees at this spacing need more room than the plot has.";
    expect(await problemAt(page, "#trees")).toBe(message);
    await page.selectOption("#purpose", "wood");
    expect(await problemAt(page, "#trees")).toBe(message);
    await page.fill("#area", "640");
    expect(await problemAt(page, "#trees")).toBeUndefined();
    expect(demo.registry.asked.length).toBe(1);
  });

  test("pressing finish twice saves once", async () => {
    const { page } = await open();
    await toEnd(page, "P-30");
    const finish = page.locator("[command='--route-finish']");
    await finish.dblclick();
    await said(page, "Saved P-30 to surveys.ndjson.");
    expect(surveys().filter(({ plot }) => plot === "P-30").length).toBe(1);
  });

  test("going back keeps what was typed, also what can't be read, and what is not relevant for now", async () => {
    const { page } = await open();
    await toGround(page);
    await page.check("[name=wet]");
    await page.check("[name=drains][value=pipes]");
    await page.uncheck("[name=wet]");
    expect(await page.locator("fieldset", { hasText: "Drains" }).isVisible()).toBe(false);
    await page.fill("#slope", "rather steep");
    await press(page, "Back");
    await press(page, "Next");
    await said(page, "Step 2 of 5: The ground");
    expect(await page.inputValue("#slope")).toBe("rather steep");
    await page.check("[name=wet]");
    expect(await page.isChecked("[name=drains][value=pipes]")).toBe(true);
  });

  test("a choice that depends on another stays when that changes, is marked and explained", async () => {
    const { page } = await open();
    await toPlanting(page, "sand");
    await page.selectOption("#species", "Pinus sylvestris");
    await press(page, "Back");
    await page.check("[name=soil][value=clay]");
    await press(page, "Next");
    await said(page, "Step 3 of 5: Planting");
    expect(await page.locator("#species option").allInnerTexts()).toEqual([
      "",
      "Alnus glutinosa",
      "Carpinus betulus",
      "Quercus robur",
      "Salix alba",
      "Pinus sylvestris",
    ]);
    await press(page, "Next");
    expect(await problemAt(page, "#species")).toBe("Pinus sylvestris is not one of the choices.");
  });

  test("a part that depends on another says what it needs in its own words", async () => {
    const { page } = await open();
    await toEnd(page, "P-31");
    await press(page, "Access done");
    await page.check("[name=lorry]");
    expect([await page.isVisible("#gate"), await page.isVisible("#gate-hint"), await page.isVisible("#carry")]).toEqual(
      [true, true, false],
    );
    await press(page, "Next");
    expect(await problemAt(page, "#gate")).toBe("Measure the gate: the lorry has to get through it.");
  });
});

describe("undo", () => {
  test("Ctrl+Z takes back typing, choices and whole commands, and leads the focus there; Ctrl+Y brings them again", async () => {
    const { page } = await open();
    await page.locator("#plot").focus();
    await typeAtOnce(page, "P-17");
    await page.check("[name=district][value='River bank']");
    await page.locator("#surveyor").focus();
    await typeAtOnce(page, "CB");
    const values = () =>
      page.evaluate(() => [
        document.querySelector<HTMLInputElement>("#plot")!.value,
        document.querySelector<HTMLInputElement>("[name=district]:checked")?.value,
        document.querySelector<HTMLInputElement>("#surveyor")!.value,
      ]);
    await page.keyboard.press("Control+z");
    await said(page, "Undone: change of Surveyor.");
    expect(await values()).toEqual(["P-17", "River bank", ""]);
    await page.keyboard.press("Control+z");
    expect(await values()).toEqual(["P-17", undefined, ""]);
    expect(await page.evaluate(() => (document.activeElement as HTMLInputElement).name)).toBe("district");
    expect(await page.locator("[command='--undo']").innerText()).toBe("Undo change of Plot");
    await page.keyboard.press("Control+z");
    expect([await values(), await page.evaluate(() => document.activeElement?.id)]).toEqual([
      ["", undefined, ""],
      "plot",
    ]);
    await page.keyboard.press("Control+z");
    await said(page, "There is nothing to undo.");
    await page.keyboard.press("Control+Shift+z");
    await page.keyboard.press("Control+y");
    expect(await values()).toEqual(["P-17", "River bank", ""]);
    await press(page, "Redo change of Surveyor");
    expect(await values()).toEqual(["P-17", "River bank", "CB"]);
  });

  test("Ctrl+Z in a later step leads back to the step of what is undone, and says what that was", async () => {
    const { page } = await open();
    await toGround(page);
    await page.keyboard.press("Control+z");
    expect(await step(page)).toBe("Step 1 of 5: Place");
    await said(page, "Undone: change of Surveyed on.");
    expect(await page.evaluate(() => document.activeElement?.id)).toBe("surveyed-on");
    await page.keyboard.press("Control+y");
    expect(await page.locator("#surveyed-on").inputValue()).toBe("23/11/2026");
  });

  test("the platform's own menu does the same, and a key while text is composed nothing", async () => {
    const { page } = await open();
    await page.fill("#plot", "P-17");
    await page.evaluate(() =>
      document
        .querySelector("#plot")!
        .dispatchEvent(new InputEvent("beforeinput", { inputType: "historyUndo", bubbles: true, cancelable: true })),
    );
    expect(await page.inputValue("#plot")).toBe("");
    await page.evaluate(() =>
      document
        .querySelector("#plot")!
        .dispatchEvent(new KeyboardEvent("keydown", { key: "y", ctrlKey: true, isComposing: true, bubbles: true })),
    );
    expect(await page.inputValue("#plot")).toBe("");
  });

  test("starting anew is asked about, by its keys too, and can be undone as a whole", async () => {
    const { page } = await open();
    // While it runs, its keys do nothing: faster than any person this waits for the end of the last time.
    const pressKeys = async (): Promise<void> => {
      await page.waitForSelector('[command="--start-anew"]:not([aria-busy]):not([aria-disabled])');
      await page.keyboard.press("Alt+Shift+N");
    };
    await toGround(page);
    await page.locator("[name=soil][value=clay]").focus();
    await pressKeys();
    const dialog = page.getByRole("alertdialog");
    await dialog.waitFor();
    expect(await dialog.innerText()).toContain("Take away all that was entered for P-17?");
    expect(await page.evaluate(() => document.activeElement?.textContent)).toBe("Start anew");
    await page.keyboard.press("Alt+Shift+N");
    expect(await page.getByRole("alertdialog").count()).toBe(1);
    await page.keyboard.press("Escape");
    await dialog.waitFor({ state: "detached" });
    expect(await page.evaluate(() => (document.activeElement as HTMLInputElement).value)).toBe("clay");
    expect(await page.inputValue("#plot")).toBe("P-17");
    await pressKeys();
    await dialog.waitFor();
    await page.keyboard.press("Enter");
    await said(page, "The survey is blank again. Undo brings it back.");
    expect([await step(page), await page.inputValue("#plot")]).toEqual(["Step 1 of 5: Place", ""]);
    await press(page, "Undo Start anew");
    expect(await page.inputValue("#plot")).toBe("P-17");
  });
});

describe("leaving", () => {
  test("the page asks only while something that was entered is not saved", async () => {
    const { page } = await open();
    const asked: string[] = [];
    page.on("dialog", (dialog) => {
      asked.push(dialog.type());
      void dialog.accept();
    });
    await page.locator("#plot").focus();
    await page.keyboard.type("P");
    await page.keyboard.press("Backspace");
    await page.goto(`${demo.address}/measuring-desk/`);
    expect(asked).toEqual([]);
    await page.goto(`${demo.address}/site-survey/`);
    await page.waitForFunction(() => document.querySelector("form")?.noValidate === true);
    await page.locator("#plot").focus();
    await page.keyboard.type("P");
    await page.goto(`${demo.address}/measuring-desk/`);
    expect(asked).toEqual(["beforeunload"]);
  });
});

describe("a long command", () => {
  test("tells how far it is, can be stopped, and is gone from the page when it is done", async () => {
    const { page } = await open();
    for (let number = 40; number < 52; number++) await post(`P-${number}`);
    const bar = page.locator("progress[data-name=countTrees]");
    expect([await bar.isVisible(), await page.locator("[command='--stop-counting']").isVisible()]).toEqual([
      false,
      false,
    ]);
    await press(page, "Count all trees");
    await bar.waitFor();
    expect(await page.locator("[command='--count-trees']").getAttribute("aria-busy")).toBe("true");
    await page.waitForFunction(() =>
      /surveys read/.test(document.querySelector("progress[data-name=countTrees]")!.ariaValueText ?? ""),
    );
    await press(page, "Stop");
    await page.waitForFunction(() =>
      /^Stopped after \d+ surveys: \d+ trees\.$/.test(document.querySelector("[role=status]")!.textContent),
    );
    expect([await bar.isVisible(), await page.locator("[command='--stop-counting']").isVisible()]).toEqual([
      false,
      false,
    ]);
  });
});

describe("for everybody", () => {
  test.each(["light", "dark"] as const)(
    "the accessibility engine finds nothing in any step or question in %s",
    async (colorScheme) => {
      const { page, errors } = await open({ colorScheme });
      await press(page, "Next");
      expect(await accessibilityViolations(page)).toEqual([]);
      await toGround(page);
      expect(await accessibilityViolations(page)).toEqual([]);
      await page.check("[name=soil][value=sand]");
      await page.fill("#slope", "25");
      await page.press("#slope", "Tab");
      await press(page, "Next");
      await said(page, "Step 3 of 5: Planting");
      await press(page, "Next");
      expect(await accessibilityViolations(page)).toEqual([]);
      await press(page, "Start anew");
      await page.getByRole("alertdialog").waitFor();
      expect(await accessibilityViolations(page)).toEqual([]);
      // What the engine itself does is against the page's policy, and is not the page's fault.
      expect(errors.filter((error) => !error.includes("TrustedScript"))).toEqual([]);
    },
  );

  test("the accessibility tree: untouched, wrong, corrected, busy, refused", async () => {
    const { page } = await open();
    const tree = () => page.locator("section[data-name='route.place'], .actions").first().ariaSnapshot();
    const actions = () => page.locator(".actions").ariaSnapshot();
    const described = async (selector: string) => {
      const session = await page.context().newCDPSession(page);
      const { root } = await session.send("DOM.getDocument");
      const { nodeId } = await session.send("DOM.querySelector", { nodeId: root.nodeId, selector });
      const { nodes } = await session.send("Accessibility.getPartialAXTree", { nodeId, fetchRelatives: false });
      const node = nodes[0]!;
      const state = (name: string) =>
        node.properties?.find((each) => (each.name as string) === name)?.value.value as unknown;
      return [
        node.role?.value,
        node.name?.value,
        node.description?.value,
        state("invalid") ?? "false",
        state("required") ?? false,
        state("busy") ?? false,
      ].join(" | ");
    };
    expect(await tree()).toBe(
      `- region "Place":
  - heading "Place" [level=2]
  - text: Plot
  - textbox "Plot"
  - paragraph: "As on the stake: P-17. P-13 and P-99 are being surveyed."
  - text: Surveyor
  - textbox "Surveyor"
  - paragraph: "Your initials: CB"
  - group "District":
    - text: District
    - radio "Hill side"
    - text: Hill side
    - radio "Lower fields"
    - text: Lower fields
    - radio "River bank"
    - text: River bank
  - text: Surveyed on
  - textbox "Surveyed on"
  - paragraph: Day, month, year, as you write them`,
    );
    const hint = "As on the stake: P-17. P-13 and P-99 are being surveyed.";
    expect(await described("#plot")).toBe(`textbox | Plot | ${hint} | false | true | false`);
    await press(page, "Next");
    await said(page, "4 entries here need your attention first.");
    expect(await described("#plot")).toBe(
      `textbox | Plot | ${hint} Give the number on the stake at the entrance, such as P-17. | true | true | false`,
    );
    await page.fill("#plot", "P-17");
    await page.waitForFunction(
      () => !document.querySelector("#plot")!.getAttribute("aria-describedby")!.includes("problem"),
    );
    expect(await described("#plot")).toBe(`textbox | Plot | ${hint} | false | true | false`);
    expect(await actions()).toBe(
      `- button "Back" [disabled]
- button "Next"
- button "Start anew"
- status: 4 entries here need your attention first.`,
    );
    expect(await described("[command='--route-back']")).toBe(
      "button | Back | This is the first step. | false | false | false",
    );
    await page.selectOption("#behaviour", "slow");
    await fillPlace(page, "P-13");
    await page.click("[command='--route-next']");
    expect(await described("[command='--route-next']")).toBe("button | Next |  | false | false | 1");
    await page.waitForSelector("[data-problem=plotIsFree]");
    expect(await described("#plot")).toBe(
      `textbox | Plot | ${hint} DW is surveying P-13. Ask them, or take another plot. | true | true | false`,
    );
    expect(await actions()).toBe(
      `- button "Back" [disabled]
- button "Next"
- button "Start anew"
- status: 1 entry here needs your attention first.`,
    );
  });
});

test("the page agrees with its model, commands and steps on the command line too", async () => {
  const { execFileSync } = await import("node:child_process");
  const output = execFileSync(
    process.execPath,
    [
      "dist/cli/main.js",
      "check",
      "page",
      "examples/site-survey/index.html",
      "--model",
      "examples/site-survey/route.ts",
      "--json",
    ],
    { encoding: "utf8" },
  );
  expect(JSON.parse(output)).toMatchObject({ verdicts: [] });
  expect(await status((await open()).page).count()).toBe(1);
});
