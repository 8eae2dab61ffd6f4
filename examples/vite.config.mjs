import { readdirSync } from "node:fs";
import { fileURLToPath } from "node:url";
import { defineConfig } from "vite";

const root = fileURLToPath(new URL(".", import.meta.url));
const pages = readdirSync(root, { recursive: true }).filter((name) => String(name).endsWith(".html"));

/** Every page of the gallery; from the source of Ironwood when it is built in this repository. */
export default defineConfig({
  root,
  base: "./",
  logLevel: "warn",
  resolve: { conditions: ["ironwood-source", "module", "browser"] },
  build: {
    outDir: fileURLToPath(new URL("../.cache/examples", import.meta.url)),
    emptyOutDir: true,
    target: "es2023",
    modulePreload: { polyfill: false },
    rolldownOptions: { input: pages.map((page) => root + page) },
  },
});
