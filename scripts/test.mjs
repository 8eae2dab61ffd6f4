// Runs the tests with a temporary folder of their own, which is gone afterwards. `--soak` runs every random test at its full length.
import { spawn } from "node:child_process";
import { mkdtempSync, rmSync } from "node:fs";
import { availableParallelism, tmpdir } from "node:os";
import { join } from "node:path";

const given = process.argv.slice(2);
const soak = given.includes("--soak");
const folder = mkdtempSync(join(tmpdir(), "ironwood-test-"));
const workers = given.includes("--runInBand") ? [] : [`--maxWorkers=${Math.max(1, availableParallelism())}`];
const child = spawn(
  process.execPath,
  [
    "--expose-gc",
    "--experimental-vm-modules",
    "--no-warnings",
    "node_modules/jest/bin/jest.js",
    ...workers,
    ...given.filter((each) => each !== "--soak"),
  ],
  { stdio: "inherit", env: { ...process.env, TMPDIR: folder, ...(soak ? { SOAK: "1" } : {}) } },
);
for (const signal of ["SIGINT", "SIGTERM"]) process.on(signal, () => child.kill(signal));
child.on("close", (code) => {
  rmSync(folder, { recursive: true, force: true });
  process.exitCode = code ?? 1;
});
