import { fileURLToPath } from "node:url";
import { build } from "vite";
import { buildExamples } from "../../scripts/demo.mjs";

/** Builds once what the browser tests load: the example pages, and the library as one script. */
export default async function setup() {
  await buildExamples();
  await build({
    configFile: false,
    logLevel: "warn",
    build: {
      lib: {
        entry: fileURLToPath(new URL("harness.ts", import.meta.url)),
        formats: ["es", "iife"],
        name: "unused",
        fileName: (format) => (format === "es" ? "harness.js" : "harness.iife.js"),
      },
      outDir: fileURLToPath(new URL("../../.cache/harness", import.meta.url)),
      minify: false,
      target: "es2023",
    },
  });
}
