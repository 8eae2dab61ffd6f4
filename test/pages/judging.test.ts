/** A bundle for production loads the judge of pages only where a page may not agree: nothing may slip through that. */
import { fileURLToPath } from "node:url";
import { afterAll, describe, expect, test } from "@jest/globals";
import fc from "fast-check";
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
  await watched.page.waitForFunction(() => "judging" in globalThis);
  return watched;
}

/** Ways to write the control of each field, right and wrong. */
const ways: Readonly<Record<string, readonly string[]>> = {
  tag: [
    '<input name="tag">',
    '<input name="tag" type="email">',
    '<input name="tag" maxlength="9">',
    '<input name="tag" value="AB">',
    '<input name="tga">',
    '<input id="tag">',
    '<input name="tag" type="checkbox">',
    '<input name="tag"><input name="tag">',
    '<textarea name="tag"></textarea>',
    '<input name="tag" required>',
    "",
  ],
  girth: [
    '<input name="girth" type="number">',
    '<input name="girth" type="range">',
    '<input name="girth" min="0">',
    '<input name="girth" min="5">',
    '<select name="girth"></select>',
    '<input name="girth"><output name="girth"></output>',
    '<input name="girth" type="number"><input name="girth" type="range">',
  ],
  condition: [
    '<select name="condition"></select>',
    '<select name="condition"><option value=""></option><option value="1">a</option><option value="2">b</option></select>',
    '<select name="condition"><option value="1">a</option></select>',
    '<select name="condition"><option value="1">a</option><option value="1">b</option></select>',
    '<input type="radio" name="condition" value="1"><input type="radio" name="condition" value="2">',
    '<input type="radio" name="condition" value="1"><input type="radio" name="condition" value="3">',
    '<input type="radio" name="condition" value="1" checked><input type="radio" name="condition" value="2">',
    '<button type="button" name="condition" value="1">1</button><button type="button" name="condition" value="2">2</button>',
    '<input name="condition">',
  ],
  hazards: [
    '<input type="checkbox" name="hazards" value="cavity"><input type="checkbox" name="hazards" value="leaning">',
    '<input type="checkbox" name="hazards" value="cavity">',
    '<select name="hazards" multiple></select>',
    '<select name="hazards"></select>',
  ],
  fenced: [
    '<input type="checkbox" name="fenced">',
    '<input type="checkbox" name="fenced" required>',
    '<button type="button" name="fenced">Fenced</button>',
    '<input name="fenced">',
    '<input type="checkbox" name="fenced"><input type="checkbox" name="fenced">',
  ],
  diameter: ['<output name="diameter"></output>', '<output name="diametre"></output>', '<input name="diameter">', ""],
};

test("property: where the quick look finds a form plain, the judge has nothing to say", async () => {
  const seed = 1_405;
  const runs = 1_500;
  const { page } = await production("");
  const forms = fc.sample(
    fc
      .tuple(
        ...Object.values(ways).map((each) =>
          fc.oneof({ weight: 3, arbitrary: fc.constant(each[0]!) }, fc.constantFrom(...each)),
        ),
      )
      .map((parts) => parts.join("\n")),
    { seed, numRuns: runs },
  );
  const looks = await page.evaluate((all) => {
    const { boolean, integer, model, number, oneOf, someOf, text } = ironwood;
    const tree = model({
      tag: text({ required: true }),
      girth: number({ minimum: 0 }),
      condition: oneOf([1, 2]),
      hazards: someOf(["cavity", "leaning"]),
      fenced: boolean(),
      diameter: number(),
      count: integer({ readOnly: true }),
    }).calculated({ diameter: (t) => (t.girth ?? 0) / Math.PI });
    const { formFacts, isPlainForm, judgeForm, surveyed } = (globalThis as unknown as { judging: Judging }).judging;
    return all.map((html) => {
      document.body.innerHTML = `<form name="tree">${html}</form>`;
      const survey = surveyed(document.forms[0]!, tree);
      return [isPlainForm(survey, tree), judgeForm(formFacts(survey), tree).map(({ message }) => message)] as const;
    });
  }, forms);
  const slipped = looks.flatMap(([plain, verdicts], place) =>
    plain && verdicts.length > 0 ? [[forms[place], verdicts]] : [],
  );
  expect(slipped.slice(0, 3)).toEqual([]);
  const plain = looks.filter(([each]) => each).length;
  const missed = looks.filter(([each, verdicts]) => !each && verdicts.length === 0).length;
  // Both sides have to come up often, or the property says nothing.
  expect(plain).toBeGreaterThan(30);
  expect(looks.length - plain).toBeGreaterThan(300);
  console.info(`${runs} forms, seed ${seed}: ${plain} plain, ${missed} given to the judge for nothing`);
});

interface Judging {
  formFacts(survey: unknown): never;
  isPlainForm(survey: unknown, model: unknown): boolean;
  judgeForm(facts: never, model: unknown): { message: string }[];
  surveyed(form: HTMLFormElement, model: unknown): unknown;
}

describe("in a bundle for production", () => {
  const bind = (page: Page, strict: boolean): Promise<void> =>
    page.evaluate((refuses) => {
      const { bindPage, model, newEntry, text } = ironwood;
      const card = newEntry(model({ tag: text(), notes: text() }), { values: { tag: "AB-0042" } });
      Object.assign(kept, { card, binding: bindPage(document, { card }, { strict: refuses }) });
    }, strict);
  const wrong = '<form name="card"><input name="tag"><input name="ntoes"></form>';

  test("the report comes a moment later, with the same words, and the rest works", async () => {
    const { page, errors } = await production(wrong);
    await bind(page, false);
    expect(await page.inputValue("[name=tag]")).toBe("AB-0042");
    for (let wait = 0; wait < 50 && errors.length === 0; wait++) await page.waitForTimeout(20);
    expect(errors.join()).toMatch(/has no field "ntoes"\. Did you mean "notes"\?/);
    expect(await page.evaluate(() => (kept["binding"] as { verdicts: unknown[] }).verdicts.length)).toBe(1);
  });

  test("with strict, what was bound is released again", async () => {
    const { page, errors } = await production(wrong);
    await bind(page, true);
    for (let wait = 0; wait < 50 && errors.length === 0; wait++) await page.waitForTimeout(20);
    await page.fill("[name=tag]", "XX");
    expect(await page.evaluate(() => (kept["card"] as { values: { tag: string } }).values.tag)).toBe("AB-0042");
  });

  test("a page that agrees is bound and never judged", async () => {
    const { page, errors } = await production('<form name="card"><input name="tag"><input name="notes"></form>');
    await bind(page, true);
    await page.fill("[name=tag]", "XX");
    expect(await page.evaluate(() => (kept["card"] as { values: { tag: string } }).values.tag)).toBe("XX");
    expect(errors).toEqual([]);
  });
});
