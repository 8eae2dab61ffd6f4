/** A page is judged by the same facts wherever it is judged; in a bundle for production by whoever it is given to. */
import { execFile } from "node:child_process";
import { mkdtempSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { fileURLToPath } from "node:url";
import { afterAll, describe, expect, test } from "@jest/globals";
import type { Page } from "playwright-core";
import { makeThings } from "../fixtures/plantCard.mjs";
import { seeded, times } from "../seeded.ts";
import { generatedPage } from "./generatedPage.ts";
import { closeBrowser, newPage, pageWith } from "./support.ts";

afterAll(closeBrowser);

async function production(html: string): Promise<{ page: Page; errors: string[] }> {
  const watched = await newPage();
  await watched.page.setContent(`<!doctype html><html lang="en"><title>test</title><body>${html}</body></html>`);
  await watched.page.addScriptTag({
    path: fileURLToPath(new URL("../../.cache/harness/judging.js", import.meta.url)),
    type: "module",
  });
  await watched.page.waitForFunction(() => "judge" in globalThis);
  return watched;
}

describe("in a bundle for production", () => {
  const bind = (page: Page, given: { strict?: boolean; judged?: boolean }): Promise<string> =>
    page.evaluate(({ strict, judged }) => {
      const { bindPage, model, newEntry, text } = ironwood;
      const { judge } = globalThis as unknown as { judge: never };
      const card = newEntry(model({ tag: text(), notes: text() }), { values: { tag: "AB-0042" } });
      try {
        const binding = bindPage(document, { card }, { strict, judge: judged === true ? judge : undefined });
        Object.assign(kept, { card, binding });
        return binding.verdicts.map(({ message }) => message).join();
      } catch (error) {
        return String(error);
      }
    }, given);
  const wrong = '<form name="card"><input name="tag"><input name="ntoes"></form>';

  test("nobody judges: what agrees is bound, and nothing is loaded or reported", async () => {
    const { page, errors } = await production(wrong);
    expect(await bind(page, {})).toBe("");
    expect([await page.inputValue("[name=tag]"), errors]).toEqual(["AB-0042", []]);
  });

  test("to be strict with nobody to judge is an error that says what to give", async () => {
    const { page } = await production(wrong);
    expect(await bind(page, { strict: true })).toMatch(/nobody is there to judge the page.*"ironwood\/judge"/s);
    expect(await page.inputValue("[name=tag]")).toBe("");
  });

  test("with the judge a page is reported, or refused, as in development", async () => {
    const { page, errors } = await production(wrong);
    expect(await bind(page, { judged: true })).toMatch(/has no field "ntoes"\. Did you mean "notes"\?/);
    expect([await page.inputValue("[name=tag]"), errors.length]).toEqual(["AB-0042", 1]);
    const second = await production(wrong);
    expect(await bind(second.page, { judged: true, strict: true })).toMatch(/does not agree.*"ntoes"/s);
    expect(await second.page.inputValue("[name=tag]")).toBe("");
  });
});

describe("the page and the command line judge by the same facts", () => {
  interface Judged {
    readonly code: string;
    readonly message: string;
    readonly element: string;
  }
  const folder = mkdtempSync(join(tmpdir(), "ironwood-pages-"));
  const fixture = (name: string): string => fileURLToPath(new URL(`../fixtures/${name}`, import.meta.url));
  const random = seeded(2225);
  const pages = Array.from({ length: times(4_000) }, () => generatedPage(random));

  function byCommandLine(): Promise<readonly (readonly Judged[])[]> {
    const files = pages.map((html, place) => {
      const file = join(folder, `${place}.html`);
      writeFileSync(file, html);
      return file;
    });
    return new Promise((done, fail) => {
      const call = [fixture("checkPages.mjs"), fixture("plantCardThings.mjs"), ...files];
      const options = { maxBuffer: 2 ** 26, env: { ...process.env, NODE_OPTIONS: "" } };
      execFile(process.execPath, call, options, (error, out, err) => {
        if (error !== null) return fail(new Error(err));
        const documents = out.split(/^(?=\{)/m).map((text) => JSON.parse(text) as { verdicts: Judged[] });
        done(documents.map(({ verdicts }) => verdicts));
      });
    });
  }

  test("word for word, over generated pages", async () => {
    console.info(`${pages.length} pages, seed ${random.seed}`);
    const wanted = await byCommandLine();
    const said = new Set<string>();
    const { page, errors } = await pageWith("");
    await page.evaluate(`globalThis.makeThings = ${makeThings.toString()}`);
    for (const [number, html] of pages.entries()) {
      await page.evaluate((text) => {
        const page = new DOMParser().parseFromString(text, "text/html");
        document.documentElement.replaceWith(document.adoptNode(page.documentElement));
      }, html);
      const found = await page.evaluate(() => {
        const { asRows, bindPage, integer, model, table } = ironwood;
        const { makeThings } = globalThis as unknown as { makeThings(library: unknown): Record<string, never> };
        const stock = table(model({ height: integer() }), []);
        const binding = bindPage(document, { ...makeThings(ironwood), stock: asRows(stock) });
        const verdicts = binding.verdicts.map(({ code, message, place }) => ({ code, message, element: place }));
        binding.stop();
        return verdicts;
      });
      const asLines = (judged: readonly Judged[]): string[] =>
        judged.map(({ code, message, element }) => `${element}: ${message} [${code}]`).sort();
      expect([number, html, asLines(found)]).toEqual([number, html, asLines(wanted[number]!)]);
      for (const { code } of found) said.add(code);
    }
    expect(errors.length).toBeGreaterThan(100);
    // What no page has can't be compared.
    expect([...said].sort()).toEqual([
      "contradiction",
      "initialDiffers",
      "missingChoice",
      "noControl",
      "noName",
      "repeatedName",
      "twoOptionsOneValue",
      "unknownChoice",
      "unknownCommand",
      "unknownField",
      "unknownName",
      "unsuitedControl",
      "unusedCommand",
    ]);
  }, 400_000);
});
