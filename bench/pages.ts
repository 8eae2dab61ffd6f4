/** The figures that are measured in a browser: the page side is in bench/pages/, built as an application is built. */
import { build, type Rolldown } from "vite";
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
  {
    id: "P6 draft",
    work: "the same 10,000 input events while a draft is kept; beside: without one",
    budget: 1.1,
  },
] as const;

/** Where the built page is for the browser; nothing is asked of any network. */
const address = "http://bench.test";

/** Builds the page side once, as an application is built, and has a browser do something with it. */
async function inBrowser(work: (run: <T>(call: string) => Promise<T>) => Promise<void>): Promise<void> {
  const files = await built();
  const browser = await launchBrowser(["--js-flags=--expose-gc"]);
  try {
    await work(async (call) => {
      process.stderr.write(`${call.toUpperCase()} …\n`);
      const page = await browser.newPage();
      await page.route(`${address}/**`, async (route) => {
        const code = files.get(new URL(route.request().url()).pathname.slice(1));
        const body =
          code ?? '<!doctype html><html lang=en><body></body><script type="module" src="/main.js"></script></html>';
        await route.fulfill({ body, contentType: code === undefined ? "text/html" : "text/javascript" });
      });
      await page.goto(address);
      await page.waitForFunction("'p5' in globalThis");
      const result = await page.evaluate<never>(`${call}()`);
      await page.close();
      return result;
    });
  } finally {
    await browser.close();
  }
}

async function built(): Promise<ReadonlyMap<string, string>> {
  const { output } = (await build({
    configFile: false,
    logLevel: "warn",
    resolve: { conditions: ["ironwood-source", "module", "browser", "production"] },
    build: {
      write: false,
      target: "es2023",
      modulePreload: { polyfill: false },
      rolldownOptions: {
        input: "bench/pages/main.ts",
        output: { entryFileNames: "main.js" },
      },
    },
  })) as Rolldown.RolldownOutput;
  return new Map(output.flatMap((each) => (each.type === "chunk" ? [[each.fileName, each.code] as const] : [])));
}

export async function pageFigures(wanted: (id: string) => boolean): Promise<Figure[]> {
  const chosen = descriptions.filter(({ id }) => wanted(id));
  const figures: Figure[] = [];
  if (chosen.length > 0)
    await inBrowser(async (run) => {
      for (const description of chosen) {
        const { byHandMs, ironwoodMs } = await run<{ byHandMs: number; ironwoodMs: number }>(
          description.id.toLowerCase().replace(" ", ""),
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
