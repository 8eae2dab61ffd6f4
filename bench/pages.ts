/** The figures that are measured in a browser: the page side is in bench/pages/, built as an application is built. */
import { fileURLToPath } from "node:url";
import { build } from "vite";
import { launchBrowser } from "../scripts/browser.mjs";
import { type Figure, figure, type Measure } from "./harness.ts";

const descriptions = [
  {
    id: "P5",
    work: "bind a page of 10,000 controls (Chromium); by hand: a listener and a lookup for each",
    budget: 1.3,
  },
  {
    id: "P6",
    work: "10,000 input events through converted, checked, calculated controls (Chromium); by hand: a handler for each",
    budget: 1.3,
  },
] as const;

/** Builds the page side once, and has a browser do something with it. */
async function inBrowser(work: (run: <T>(call: string) => Promise<T>) => Promise<void>): Promise<void> {
  const outDir = fileURLToPath(new URL("pages/", import.meta.url));
  await build({
    configFile: false,
    define: { "process.env.NODE_ENV": JSON.stringify("production") },
    logLevel: "warn",
    build: {
      lib: { entry: "bench/pages/main.ts", formats: ["es"], fileName: () => "main.js" },
      outDir,
      target: "es2023",
      minify: true,
      rolldownOptions: { output: { codeSplitting: false } },
    },
  });
  const browser = await launchBrowser(["--js-flags=--expose-gc"]);
  try {
    await work(async (call) => {
      process.stderr.write(`${call.toUpperCase()} …\n`);
      const page = await browser.newPage();
      await page.setContent("<!doctype html><html lang=en><body></body></html>");
      await page.addScriptTag({ path: `${outDir}/main.js`, type: "module" });
      await page.waitForFunction("'p5' in globalThis");
      const result = await page.evaluate<never>(`${call}()`);
      await page.close();
      return result;
    });
  } finally {
    await browser.close();
  }
}

export async function pageFigures(wanted: (id: string) => boolean): Promise<Figure[]> {
  const chosen = descriptions.filter(({ id }) => wanted(id));
  const figures: Figure[] = [];
  if (chosen.length > 0)
    await inBrowser(async (run) => {
      for (const description of chosen) {
        const { byHandMs, ironwoodMs } = await run<{ byHandMs: number; ironwoodMs: number }>(
          description.id.toLowerCase(),
        );
        figures.push(figure(description, byHandMs, ironwoodMs));
      }
    });
  return figures;
}

/** A grid over 1,000,000 rows. */
export async function pageMeasures(wanted: (id: string) => boolean): Promise<Measure[]> {
  const measures: Measure[] = [];
  if (!wanted("P12")) return measures;
  await inBrowser(async (run) => {
    const { open, byHand, scroll, jump, rows } =
      await run<Record<"open" | "byHand" | "scroll" | "jump" | "rows", number>>("p12");
    const add = (id: string, work: string, value: number, unit: string, budget?: number): void =>
      void measures.push({ id, work, value, unit, budget, within: budget === undefined || value <= budget });
    const note = `a fixed table of the rows that are seen, by hand: ${byHand.toFixed(1)} ms`;
    add("P12 open", `open a grid over 1,000,000 rows (Chromium); ${note}`, open, "ms", 100);
    add("P12 scroll", "script time of a scroll frame, 95th percentile", scroll, "ms", 4);
    add("P12 jump", "script time of a jump to the end", jump, "ms");
    add("P12 rows", "rows in the page for each that is seen", rows, "times", 3);
  });
  return measures;
}
