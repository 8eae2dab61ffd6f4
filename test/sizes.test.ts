/** Pages may grow, but not unnoticed: what they weigh is measured as the bench does it, and compared with what it wrote down. */
import { readFileSync } from "node:fs";
import { expect, test } from "@jest/globals";
import { sizes } from "../bench/sizes.ts";

const { sizes: recorded } = JSON.parse(readFileSync(new URL("../bench/results.json", import.meta.url), "utf8")) as {
  sizes: { id: string; kilobytes: number }[];
};

test("a page is no larger than bench/results.json says: `npm run bench -- p15 --json` writes it anew", async () => {
  const now = await sizes(() => true);
  expect(now.map(({ id }) => id)).toEqual(recorded.map(({ id }) => id));
  for (const [place, { id, kilobytes }] of now.entries()) {
    console.info(`${id}: ${kilobytes.toFixed(1)} kB`);
    // One in a hundred more is a line here and there.
    expect({ id, tooLarge: kilobytes > recorded[place]!.kilobytes * 1.01 }).toEqual({ id, tooLarge: false });
  }
});
