import { fileURLToPath } from "node:url";
import { build } from "vite";
import { buildExamples } from "../../scripts/demo.mjs";

/** Builds once what the browser tests load: the example pages, and the library as one script. */
export default async function setup() {
  await buildExamples();
  await bundle("harness.ts", "harness", ["es", "iife"]);
  await bundle("libraries.ts", "libraries", ["es"]);
}

function bundle(entry, name, formats) {
  return build({
    configFile: false,
    logLevel: "warn",
    // As every bundler of applications does it.
    define: { "process.env.NODE_ENV": JSON.stringify("production") },
    // With the judge of pages there from the start, as in development.
    resolve: { conditions: ["ironwood-source", "module", "browser", "development"] },
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
