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
import { closeBrowser, eventually, newPage, pageWith } from "./support.ts";

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

describe("what comes into a page later", () => {
  /** What was reported of places of the page, each by itself. */
  const told = (errors: readonly string[]): string[] =>
    errors.flatMap((error) =>
      [...error.matchAll(/^ {2}\d+\. (.*)\n {5}(.*) \[(\w+)\]\.?$/gm)].map((all) => all.slice(1).join(" ")),
    );
  const bindThings = (): void => {
    const { bindPage, command, model, newEntry, oneOf, text } = ironwood;
    const card = newEntry(model({ tag: text(), light: oneOf(["sun", "shade"]) }), { values: { tag: "AB-0042" } });
    const binding = bindPage(document, { card, clearCard: command({ run: () => undefined }) });
    Object.assign(kept, { card, binding });
  };

  test("is judged before it is bound, and told once; the rest of it is bound", async () => {
    const { page, errors } = await pageWith(
      '<form name="card"><input name="tag"><div id="more"></div></form><button command="--clear-card">Clear</button>',
    );
    await page.evaluate(bindThings);
    errors.splice(0);
    const put = (html: string, into = "#more"): Promise<void> =>
      page.evaluate(
        ([text, selector]) => document.querySelector(selector!)!.insertAdjacentHTML("beforeend", text!),
        [html, into],
      );
    await put(
      '<select name="light"><option>sun</option><option>shade</option></select><input type="hidden" name="token">',
    );
    expect([await page.inputValue("select"), errors]).toEqual(["", []]);
    await put('<input name="tga"><output name="tag"></output>');
    expect(told(errors)).toEqual([
      expect.stringMatching(/^<input name="tga"> .*no field "tga"\. Did you mean "tag"\?.*unknownField$/),
    ]);
    expect(await page.textContent("output")).toBe("AB-0042");
    // A copy that the page itself makes of a template is its own affair.
    await put('<ol><template><li data-name="note"></li></template><li data-name="note">Windy</li></ol>', "body");
    // What is said already is not said again, and what stands there is not judged anew.
    await put('<input name="tga">');
    await page.evaluate(() => ((kept["card"] as { values: { light: string } }).values.light = "sun"));
    await put(
      '<p data-name="crad.tag"></p><button command="--clear-crad">Clear</button><form name="crad"></form>',
      "body",
    );
    expect(told(errors).slice(1)).toEqual([
      expect.stringMatching(/^<form name="crad"> .*unknownName$/),
      expect.stringMatching(/^<p data-name="crad.tag"> .*Did you mean "card"\?.*unknownName$/),
      expect.stringMatching(/^<button command="--clear-crad"> .*Did you mean "clearCard"\?.*unknownCommand$/),
    ]);
    const explained = await page.evaluate(() => ironwood.explain(document).toString());
    for (const wrong of ["tga", "crad", "--clear-crad"]) expect(explained).toContain(wrong);
    await page.evaluate(() => (kept["binding"] as { stop(): void }).stop());
    await put('<input name="lihgt">');
    expect(told(errors)).toHaveLength(4);
  });

  test("what gets another name is judged by that name, and bound to what it is called then", async () => {
    const { page, errors } = await pageWith(
      '<form name="card"><input name="tag"><select name="light"></select></form><output data-name="card.tag"></output><button command="--clear-card">Clear</button>',
    );
    await page.evaluate(bindThings);
    errors.splice(0);
    const rename = (selector: string, attribute: string, name: string): Promise<void> =>
      page.evaluate(([at, which, to]) => document.querySelector(at)!.setAttribute(which, to), [
        selector,
        attribute,
        name,
      ] as const);
    await rename("input", "name", "tga");
    await rename("output", "data-name", "crad.tag");
    await rename("button", "command", "--claer-card");
    expect(told(errors)).toEqual([
      expect.stringMatching(/^<input name="tga">.*Did you mean "tag"\?.*unknownField$/),
      expect.stringMatching(/^<output data-name="crad.tag"> .*Did you mean "card"\?.*unknownName$/),
      expect.stringMatching(/^<button.* command="--claer-card"> .*Did you mean "clearCard"\?.*unknownCommand$/),
    ]);
    await rename("input", "name", "tag");
    await rename("output", "data-name", "card.light");
    await rename("button", "command", "--clear-card");
    expect([await page.inputValue("input"), told(errors).length]).toEqual(["AB-0042", 3]);
  });

  test("a page that is bound again over what is bound has no contradiction by what binding has written", async () => {
    const { page, errors } = await pageWith('<form name="card"><input name="tag"><input name="stems"></form>');
    await page.evaluate(() => {
      const { bindPage, integer, model, newEntry, text } = ironwood;
      const card = newEntry(model({ tag: text(), stems: integer() }).required({ tag: (row) => row.stems === 3 }));
      card.values.stems = 3;
      for (let times = 0; times < 2; times++) bindPage(document, { card });
    });
    expect(await page.getAttribute("[name=tag]", "required")).toBe("");
    expect(errors).toEqual([expect.stringContaining("was bound already as a form")]);
  });

  test("is judged where one form is bound, and only in that form", async () => {
    const { page, errors } = await pageWith('<form id="a"><input name="tag"></form><form id="b"></form>');
    await page.evaluate(() => {
      const { bindForm, model, newEntry, text } = ironwood;
      bindForm(document.querySelector<HTMLFormElement>("#a")!, newEntry(model({ tag: text() })));
      for (const id of ["a", "b"])
        document.querySelector(`#${id}`)!.insertAdjacentHTML("beforeend", `<input name="tag-${id}">`);
      // In the form by its `form=`.
      document.body.insertAdjacentHTML("beforeend", '<input name="tga" form="a">');
    });
    await eventually(() => told(errors).length, 2);
    expect(told(errors).map((each) => each.slice(0, 20))).toEqual(['<input name="tag-a">', '<input name="tga"> T']);
  });

  test("property: is judged like a page that was so from the start", async () => {
    const random = seeded(2226);
    const pages = Array.from({ length: times(800) }, () => generatedPage(random));
    const { page, errors } = await pageWith("");
    await page.evaluate(`globalThis.makeThings = ${makeThings.toString()}`);
    let compared = 0;
    for (const [number, html] of pages.entries()) {
      const { atOnce, later } = await page.evaluate(async (text) => {
        const { asRows, bindPage, integer, model, table } = ironwood;
        const { makeThings } = globalThis as unknown as { makeThings(library: unknown): Record<string, never> };
        const verdictsIn = async (isLater: boolean): Promise<string[]> => {
          const parsed = new DOMParser().parseFromString(text, "text/html");
          const content = document.createElement("div");
          content.append(...document.adoptNode(parsed.body).childNodes);
          document.body.replaceChildren(...(isLater ? [] : [content]));
          const stock = table(model({ height: integer() }), []);
          const binding = bindPage(document, { ...makeThings(ironwood), stock: asRows(stock) });
          if (isLater) document.body.append(content);
          await new Promise((go) => setTimeout(go));
          const lines = binding.verdicts.map(({ code, message, place }) => `${place}: ${message} [${code}]`);
          binding.stop();
          return [...new Set(lines)].filter((line) => !line.startsWith("the page: ")).sort();
        };
        return { atOnce: await verdictsIn(false), later: await verdictsIn(true) };
      }, html);
      compared += atOnce.length;
      expect([number, html, later]).toEqual([number, html, atOnce]);
    }
    console.info(`${pages.length} pages, ${compared} verdicts, seed ${random.seed}`);
    expect(compared).toBeGreaterThan(pages.length);
    expect(errors.length).toBeGreaterThan(pages.length);
  });
});
