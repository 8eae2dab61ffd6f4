/** How the work on tables grows with the number of rows: each from 1,000 to 1,000,000, for the plot in the docs. */
import { internal } from "../src/engine/index.ts";
import { writeFileSync } from "node:fs";
import { cpus } from "node:os";
import { SearchIndex } from "../src/table/SearchIndex.ts";
import { table, view } from "../src/table/index.ts";
import { plant, plants } from "./p7-sorted-view.ts";

const COUNTS = [1_000, 3_000, 10_000, 30_000, 100_000, 300_000, 1_000_000];

export interface Growth {
  readonly machine: string;
  readonly counts: readonly number[];
  /** Of each line a name, what it is measured in, and a value for each count. */
  readonly lines: readonly {
    readonly name: string;
    readonly unit: "ms" | "bytes a row";
    readonly values: readonly number[];
  }[];
}

const median = (times: number[]): number => times.toSorted((a, b) => a - b)[times.length >> 1]!;
const collect = (): void => (globalThis as { gc?: () => void }).gc?.();

/** Median of several times, with what is not measured done before each. */
function timed(work: () => void, rounds: number): number {
  const times: number[] = [];
  for (let round = -2; round < rounds; round++) {
    const start = performance.now();
    work();
    if (round >= 0) times.push(performance.now() - start);
  }
  return median(times);
}

/** Of few rows so many tables are made that together they are enough to be measured. */
function memory(count: number): number {
  const times = Math.ceil(300_000 / count);
  const all = Array.from({ length: times }, () => plants(count));
  collect();
  collect();
  const before = process.memoryUsage();
  const made = all.map((rows) => {
    const stock = table(plant, rows, { locale: "en" });
    const sorted = view(stock, { orderBy: "height" });
    sorted.at(0);
    return sorted;
  });
  collect();
  collect();
  const after = process.memoryUsage();
  if (made.some((sorted) => sorted.length !== count)) throw new Error("a view is not whole");
  return (after.heapUsed - before.heapUsed + after.external - before.external) / (count * times);
}

const WORK = [
  "P7: first view by number",
  "P8: first view by text, 400 distinct",
  "P8: first view by text, all distinct",
  "P9: a further key of a search",
  "P10: one row changed under a view",
  "P11: memory",
] as const;

function measure(count: number): number[] {
  const stock = table(plant, plants(count), { locale: "en" });
  const rounds = count >= 300_000 ? 7 : 15;
  const first = (orderBy: string): number => timed(() => void view(stock, { orderBy: orderBy as never }).at(0), rounds);
  const index = new SearchIndex(stock[internal], ["species", "label"]);
  const letters = "abcdefghijklmnopqrstuvwxyz";
  let typed = 0;
  const key = timed(() => {
    // A key after the first one, each time another, so that no result is known.
    index.found([letters[typed % 26]! + letters[(typed * 7 + 3) % 26]!]);
    typed++;
  }, 15);
  const sorted = view(stock, { where: (p) => p.height! > 100, orderBy: ["species", "height desc"] });
  sorted.at(0);
  let changed = 0;
  const change = timed(() => {
    stock.update((changed * 7919) % count, { height: 200 + (changed++ % 997) });
    sorted.at(0);
  }, 301);
  return [first("height"), first("species"), first("label"), key, change, memory(count)];
}

export function growth(): void {
  // The engine of the platform gets to know the code first.
  measure(COUNTS[0]!);
  const values = COUNTS.map((count) => {
    process.stderr.write(`growth ${count.toLocaleString("en")} …\n`);
    return measure(count);
  });
  const lines = WORK.map((name, place) => ({
    name,
    unit: place === WORK.length - 1 ? ("bytes a row" as const) : ("ms" as const),
    values: values.map((each) => Number(each[place]!.toPrecision(3))),
  }));
  const result: Growth = {
    machine: `${cpus()[0]?.model ?? "a machine"}, Node ${process.versions.node}`,
    counts: COUNTS,
    lines,
  };
  writeFileSync("bench/growth.json", `${JSON.stringify(result, undefined, 2)}\n`);
  for (const { name, unit, values: each } of lines) console.log(`${name}, ${unit}: ${each.join("  ")}`);
}
