/** The pages of the examples in windows of any width: nothing scrolls sideways but what is wide itself, and what is pressed is large enough. */
import { readFileSync } from "node:fs";
import { describe, expect, test } from "@jest/globals";
import { demoOfFile, newPage } from "./support.ts";

const demo = demoOfFile();

const pages = [
  "tree-card/index",
  "tree-card/de",
  "stock-book/index",
  "planting-orders/index",
  "site-survey/index",
  "measuring-desk/index",
  "label-maker/index",
];

describe("a page of the examples", () => {
  for (const name of pages)
    for (const width of [400, 800, 1280, 1920])
      test(`${name} in a window of ${width} pixels, and what is pressed is large enough`, async () => {
        const { page } = await newPage({ viewport: { width, height: 800 } });
        await page.goto(new URL(`/${name}.html`, demo.now.address).href);
        await page.locator("h1").waitFor();
        const [seen, whole] = await page.evaluate(() => [
          document.documentElement.clientWidth,
          document.scrollingElement!.scrollWidth,
        ]);
        expect(whole).toBeLessThanOrEqual(seen);
        await page.evaluate(readFileSync(new URL("../../node_modules/axe-core/axe.min.js", import.meta.url), "utf8"));
        const small = await page.evaluate(async () => {
          const { axe } = globalThis as unknown as {
            axe: { run(root: Document, options: object): Promise<{ violations: { nodes: { html: string }[] }[] }> };
          };
          const options = { runOnly: ["target-size"], rules: { "target-size": { enabled: true } } };
          const { violations } = await axe.run(document, options);
          return violations.flatMap(({ nodes }) => nodes.map(({ html }) => html));
        });
        expect(small).toEqual([]);
      });
});
