/**
 * The controls table and the example pages in the engine that `ENGINE` names. `npm run engines` runs it for each engine that is
 * installed, and writes the outcome into docs/engines.md.
 */
import { mkdirSync, readFileSync, writeFileSync } from "node:fs";
import { createServer, type Server } from "node:http";
import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import { controlColumns } from "../pages/controlColumns.ts";
import { controlList, definePlainField } from "../pages/controlList.ts";
import { newDemo } from "../pages/support.ts";
import { drivenPage } from "./DrivenPage.ts";
import { openFirefox } from "./firefox.ts";
import type { Transport } from "./Transport.ts";
import { openWebKit } from "./webKit.ts";

const { ENGINE: engine = "", ENGINE_PROGRAM: program = "", ENGINE_BROWSER: browser = "" } = process.env;

let transport: Transport;
let server: Server;
const page = () => drivenPage(transport);
const noFocus = "the engine gives this control no focus by Tab while it is read-only";
const noKeys = "the engine has no entry by keys for this control, only its picker";
/** What an engine itself does not do. Each is tried all the same: one that holds by now is to be taken out of the list. */
const limits: Readonly<Record<string, Readonly<Record<string, string>>>> = {
  firefox: {
    "date control: read-only": noFocus,
    "time control: read-only": noFocus,
    "datetime-local control: read-only": noFocus,
  },
  webkit: {
    "date control: keyboard": noKeys,
    "time control: keyboard": noKeys,
    "datetime-local control: keyboard": noKeys,
    "week control: keyboard": noKeys,
    "week control: read-only": noFocus,
    "colour control: read-only": noFocus,
  },
};
/** For each control and page: how many of its tests hold, and which do not. */
const outcome = new Map<string, { passed: number; failed: string[]; limits: string[] }>();

async function noted(of: string, name: string, work: () => Promise<void>): Promise<void> {
  const own = outcome.get(of) ?? { passed: 0, failed: [], limits: [] };
  outcome.set(of, own);
  const limit = limits[engine]?.[`${of}: ${name}`];
  try {
    await work();
  } catch (error) {
    if (limit === undefined) {
      own.failed.push(name);
      throw error;
    }
    own.limits.push(`${name}: ${limit}`);
    return;
  }
  own.passed++;
  if (limit !== undefined) throw new Error("This holds by now, so it is no limit of the engine any more.");
}

beforeAll(async () => {
  transport = engine === "webkit" ? await openWebKit(program, browser) : await openFirefox(program);
  const script = readFileSync(new URL("../../.cache/harness/harness.iife.js", import.meta.url));
  server = createServer(({ url }, answer) => {
    const isScript = url === "/harness.js";
    answer.setHeader("content-type", isScript ? "text/javascript" : "text/html; charset=utf-8");
    answer.end(
      isScript ? script : '<!doctype html><html lang="en"><title>test</title><script src="harness.js"></script><body>',
    );
  });
  await new Promise<void>((listening) => server.listen(0, "127.0.0.1", listening));
});

afterAll(async () => {
  const folder = new URL("../../.cache/engines/", import.meta.url);
  mkdirSync(folder, { recursive: true });
  const found = { browser: transport.browser, outcome: Object.fromEntries(outcome) };
  writeFileSync(new URL(`${engine}.json`, folder), JSON.stringify(found));
  await transport.close();
  server.closeAllConnections();
  server.close();
});

describe("controls", () => {
  beforeAll(async () => {
    const { port } = server.address() as { port: number };
    await transport.navigate(`http://127.0.0.1:${port}/`);
    await page().evaluate(definePlainField);
  });

  const columns = controlColumns(page);
  const all = controlList.flatMap((spec) =>
    columns
      .filter(([, , has]) => has?.(spec) !== false)
      .map(([name, check]) => [spec.control, name, spec, check] as const),
  );
  test.each(all)("%s: %s", (control, name, spec, check) => noted(control, name, () => check(spec)));
});

describe("pages", () => {
  let demo: Awaited<ReturnType<typeof newDemo>>;
  beforeAll(async () => {
    demo = await newDemo();
  });
  afterAll(() => demo.stop());

  async function open(path: string): Promise<void> {
    await transport.navigate(`${demo.address}/${path}/`);
    await transport.evaluate(
      `(globalThis.wrong = [], addEventListener("error", ({ message }) => wrong.push(message)), addEventListener("unhandledrejection", ({ reason }) => wrong.push(String(reason))), 0)`,
    );
  }
  const until = async (expression: string): Promise<void> => {
    const end = Date.now() + 15_000;
    while ((await transport.evaluate(expression)) !== true) {
      if (Date.now() > end) throw new Error(`It never came to this: ${expression}`);
      await new Promise((go) => setTimeout(go, 50));
    }
  };
  const text = (selector: string) =>
    transport.evaluate(`document.querySelector(${JSON.stringify(selector)})?.innerText`);

  const pages: readonly (readonly [path: string, does: string, work: () => Promise<void>])[] = [
    [
      "tree-card",
      "a card is filled in by keys, and saved",
      async () => {
        await page().locator("#tag").fill("AB-0051");
        await page().locator("#species").selectOption("Tilia cordata");
        await page().locator("#girth").fill("80");
        await page().keyboard.press("Enter");
        await until(`document.querySelector("#saved > li")?.innerText.includes("AB-0051") === true`);
        expect((await demo.cards()).length).toBe(1);
      },
    ],
    [
      "measuring-desk",
      "the girth makes the diameter",
      async () => {
        const before = await transport.evaluate("document.body.innerText");
        await page().locator("input:not([type])").fill("157");
        await page().keyboard.press("Tab");
        expect(await transport.evaluate("document.body.innerText")).not.toBe(before);
      },
    ],
    [
      "label-maker",
      "what is typed is on the label",
      async () => {
        await page().locator("input:not([type]), input[type=text]").fill("AB-0077");
        await until(
          `[...document.querySelectorAll("output, figure, svg")].some((each) => each.textContent.includes("AB-0077"))`,
        );
      },
    ],
    [
      "site-survey",
      "the first step is there, and says what is missing",
      async () => {
        await until(`document.querySelectorAll("form [name]").length > 0`);
        expect(await text("h1")).not.toBe("");
      },
    ],
    [
      "stock-book",
      "keys move in the grid, F2 edits a cell, Escape leaves it as it was",
      async () => {
        await until(`document.querySelectorAll("[role=grid] tbody tr[aria-rowindex]").length > 3`);
        await page().locator("tbody tr[aria-rowindex='2'] td").nth(1).click();
        await page().keyboard.press("ArrowDown");
        await until(
          `document.activeElement.closest("tr").ariaRowIndex === "3" || document.activeElement.closest("tr").getAttribute("aria-rowindex") === "3"`,
        );
        const before = await text("tbody tr[aria-rowindex='3']");
        await page().keyboard.press("F2");
        await page().keyboard.press("Escape");
        expect(await text("tbody tr[aria-rowindex='3']")).toBe(before);
      },
    ],
    [
      "planting-orders",
      "order 1 is opened, then order 2: each shows its own",
      async () => {
        await until(`document.querySelectorAll("#orders option").length > 1`);
        const shown: unknown[] = [];
        for (const place of [0, 1]) {
          await transport.evaluate(
            `(() => { const list = document.querySelector("#orders"); list.selectedIndex = ${place}; list.dispatchEvent(new Event("change", { bubbles: true })); })()`,
          );
          await page().locator("[command='--change-order']").click();
          await until(`document.querySelector("dialog[open]") !== null`);
          shown.push(
            await transport.evaluate(
              `[...document.querySelectorAll("dialog[open] [name]")].map((each) => each.value).join()`,
            ),
          );
          await page().keyboard.press("Escape");
          await until(`document.querySelector("dialog[open]") === null`);
        }
        expect(shown[0]).not.toBe(shown[1]);
      },
    ],
  ];

  test.each(pages)("%s: %s", (path, does, work) =>
    noted(path, does, async () => {
      await open(path);
      await work();
      expect(await transport.evaluate("wrong")).toEqual([]);
    }),
  );
});
