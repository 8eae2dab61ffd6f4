/** Runs the comparisons that are named (all without names); prints a table, or with --json writes bench/results.json. With names, only those figures in it are written anew. */
import { readFileSync, writeFileSync } from "node:fs";
import { cpus } from "node:os";
import { compare, type Comparison, type Figure } from "./harness.ts";
import { p1 } from "./p1-set-calculate-follow.ts";
import { p2 } from "./p2-many-followers.ts";
import { p3 } from "./p3-transaction.ts";
import { growth } from "./growth.ts";
import { entryRules } from "./entry-rules.ts";
import { p4 } from "./p4-chain.ts";
import { tableMeasures } from "./p10-one-change.ts";
import { p7 } from "./p7-sorted-view.ts";
import { p9, p9Measures } from "./p9-search.ts";
import { pageFigures, pageMeasures } from "./pages.ts";
import { fileFigures } from "./keepingFiles.ts";
import { keepingFigures, keepingMeasures } from "./keeping.ts";
import { sizes, smallestParts } from "./sizes.ts";
import { table } from "./table.ts";

const all: Comparison[] = [...p1, ...p2, ...p3, ...p4, ...p7, ...p9];
const args = process.argv.slice(2);
const wanted = args.filter((arg) => !arg.startsWith("-")).map((name) => name.toLowerCase());
const isWanted = (id: string): boolean =>
  wanted.length === 0 || wanted.some((name) => id.toLowerCase().startsWith(name));
const chosen = all.filter(({ id }) => isWanted(id));

type Results = Readonly<Record<"figures" | "measures" | "sizes" | "parts", readonly { readonly id: string }[]>>;
const earlier = (): Results => JSON.parse(readFileSync("bench/results.json", "utf8")) as Results;

/** What was measured now in the place of what was measured before; the rest stays. */
function over(before: Results, now: Results): Results {
  const put = (part: keyof Results): readonly { readonly id: string }[] => [
    ...before[part].map((each) => now[part].find(({ id }) => id === each.id) ?? each),
    ...now[part].filter(({ id }) => !before[part].some((each) => each.id === id)),
  ];
  return { ...now, figures: put("figures"), measures: put("measures"), sizes: put("sizes"), parts: put("parts") };
}

// It takes a while, and is of no figure that is agreed.
if (wanted.includes("growth")) growth();

const figures: Figure[] = [];
for (const comparison of chosen) {
  process.stderr.write(`${comparison.id} …\n`);
  figures.push(compare(comparison));
}
figures.push(...(await keepingFigures((id) => isWanted(id))), ...(await fileFigures((id) => isWanted(id))));
figures.push(...(await pageFigures((id) => isWanted(id))));
console.log(table(figures));
const measures = [
  ...(isWanted("Rules") ? entryRules() : []),
  ...tableMeasures((id) => isWanted(id)),
  ...(isWanted("P9") ? p9Measures() : []),
  ...(await keepingMeasures((id) => isWanted(id))),
  ...(await pageMeasures((id) => isWanted(id))),
];
for (const { id, work, value, unit, budget, within } of measures)
  console.log(
    `${id}: ${work}: ${value.toFixed(3)} ${unit}` +
      (budget === undefined ? "" : `, budget ${budget} ${unit}, within: ${within ? "yes" : "NO"}`),
  );
const measured = await sizes(isWanted);
for (const { id, work, kilobytes, laterKilobytes, budget, within } of measured)
  console.log(
    `${id}: ${work}: ${kilobytes.toFixed(1)} kB compressed, ` +
      (budget === undefined ? "" : `budget ${budget} kB, within: ${within ? "yes" : "NO"}; `) +
      `loaded only when needed: ${laterKilobytes.toFixed(1)} kB`,
  );
const parts = isWanted("P15") ? await smallestParts() : [];
for (const { what, kilobytes } of parts) console.log(`P15, of the smallest page: ${what}: ${kilobytes.toFixed(1)} kB`);
if (args.includes("--json")) {
  const machine = `Node ${process.version}, ${cpus().length} cores`;
  const now = { machine, figures, measures, sizes: measured, parts };
  writeFileSync("bench/results.json", `${JSON.stringify(wanted.length === 0 ? now : over(earlier(), now), null, 2)}\n`);
}
const tooMuch = [...figures, ...measures, ...measured].filter((each) => !each.within);
if (tooMuch.length > 0) {
  console.error(`Not within budget: ${tooMuch.map((each) => each.id).join(", ")}`);
  process.exitCode = 1;
}
