// Builds the bench as a production build, as an application would be built, and runs it.
import { spawnSync } from "node:child_process";
import { build } from "vite";

await build({
  logLevel: "warn",
  build: { ssr: "bench/run.ts", outDir: ".cache/bench", target: "es2023", minify: false, emptyOutDir: true },
});
const { status } = spawnSync(process.execPath, ["--expose-gc", ".cache/bench/run.js", ...process.argv.slice(2)], {
  stdio: "inherit",
});
process.exitCode = status ?? 1;
