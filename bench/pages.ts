/** The figures that are measured in a browser: the page side is in bench/pages/, built as an application is built. */
import { fileURLToPath } from "node:url";
import { build } from "vite";
import { launchBrowser } from "../scripts/browser.mjs";
import { type Figure, figure } from "./harness.ts";

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

export async function pageFigures(wanted: (id: string) => boolean): Promise<Figure[]> {
  const chosen = descriptions.filter(({ id }) => wanted(id));
  if (chosen.length === 0) return [];
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
  const figures: Figure[] = [];
  try {
    for (const description of chosen) {
      process.stderr.write(`${description.id} …\n`);
      const page = await browser.newPage();
      await page.setContent("<!doctype html><html lang=en><body></body></html>");
      await page.addScriptTag({ path: `${outDir}/main.js`, type: "module" });
      await page.waitForFunction("'p5' in globalThis");
      const { byHandMs, ironwoodMs } = await page.evaluate<{ byHandMs: number; ironwoodMs: number }>(
        `${description.id.toLowerCase()}()`,
      );
      figures.push(figure(description, byHandMs, ironwoodMs));
      await page.close();
    }
  } finally {
    await browser.close();
  }
  return figures;
}
