import { fileURLToPath } from "node:url";
import { build } from "vite";
import { browserPath } from "../../scripts/browser.mjs";
import { buildExamples } from "../../scripts/demo.mjs";

/** Builds once what the browser tests load: the example pages, and the library as one script. */
export default async function setup() {
  await browserPath();
  await buildExamples();
  await bundle("harness.ts", "harness", ["es", "iife"]);
  await bundle("libraries.ts", "libraries", ["es"]);
  await bundle("judging.ts", "judging", ["es"], "production");
}

function bundle(entry, name, formats, condition = "development") {
  return build({
    configFile: false,
    logLevel: "warn",
    // As every bundler of applications does it.
    define: { "process.env.NODE_ENV": JSON.stringify("production") },
    // In development the judge of pages is there from the start; in production it is loaded where it is needed.
    resolve: { conditions: ["ironwood-source", "module", "browser", condition] },
    build: {
      lib: {
        entry: fileURLToPath(new URL(entry, import.meta.url)),
        formats,
        name: "unused",
        fileName: (format) => (format === "es" ? `${name}.js` : `${name}.${format}.js`),
      },
      // One file, as it is put into pages that have no address to load more from.
      rolldownOptions: { output: { codeSplitting: false } },
      outDir: fileURLToPath(new URL("../../.cache/harness", import.meta.url)),
      emptyOutDir: false,
      minify: false,
      target: "es2023",
    },
  });
}
