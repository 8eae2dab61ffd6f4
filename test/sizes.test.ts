/** Pages may grow, but not unnoticed: what they weigh is measured as the bench does it, and compared with what it wrote down. */
import { spawnSync } from "node:child_process";
import { readFileSync } from "node:fs";
import { expect, test } from "@jest/globals";

const { sizes: recorded } = JSON.parse(readFileSync(new URL("../bench/results.json", import.meta.url), "utf8")) as {
  sizes: { id: string; kilobytes: number }[];
};

test("a page is no larger than bench/results.json says: `npm run bench -- p15 --json` writes it anew", () => {
  // In a process of its own, as the bundler does not run inside this one.
  const { stdout } = spawnSync(process.execPath, ["scripts/bench.mjs", "p15"], { encoding: "utf8" });
  const now = new Map(
    [...stdout.matchAll(/^(P15[^:,]*): .*?: ([\d.]+) kB compressed/gm)].map(([, id, size]) => [id, size]),
  );
  expect([...now.keys()]).toEqual(recorded.map(({ id }) => id));
  for (const { id, kilobytes } of recorded) {
    console.info(`${id}: ${now.get(id)} kB`);
    // One in a hundred more is a line here and there.
    expect({ id, tooLarge: Number(now.get(id)) > kilobytes * 1.01 }).toEqual({ id, tooLarge: false });
  }
});
