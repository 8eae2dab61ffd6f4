/** In a bundle for production a page is judged by whoever it is given to. */
import { fileURLToPath } from "node:url";
import { afterAll, describe, expect, test } from "@jest/globals";
import type { Page } from "playwright-core";
import { closeBrowser, newPage } from "./support.ts";

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
