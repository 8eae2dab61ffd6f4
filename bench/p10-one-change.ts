import { type View, table, view } from "../src/table/index.ts";
import { plant, plants, type Plant } from "./p7-sorted-view.ts";
import type { Measure } from "./harness.ts";

const ROUNDS = 301;
const median = (times: number[]): number => times.toSorted((a, b) => a - b)[times.length >> 1]!;

/** How long one change takes until the view shows it, in milliseconds. */
function timed(work: (round: number) => void): number {
  const times: number[] = [];
  for (let round = -20; round < ROUNDS; round++) {
    const start = performance.now();
    work(round);
    if (round >= 0) times.push(performance.now() - start);
  }
  return median(times);
}

const collect = (): void => (globalThis as { gc?: () => void }).gc?.();

/** One row changed, put in and taken out under a sorted and filtered view; by hand everything is sorted and filtered again. */
function oneChange(count: number): Measure[] {
  const rows = plants(count);
  const stock = table(plant, rows, { locale: "en" });
  const sorted: View<typeof plant> = view(stock, {
    where: (p) => p.height! > 100,
    orderBy: ["species", "height desc"],
  });
  const size = sorted.length;
  const id = (round: number): number => Math.abs(round * 7919 + 13) % count;
  const change = timed((round) => {
    stock.update(id(round), { height: 200 + (Math.abs(round) % 997) });
    void sorted.at(size >> 1);
  });
  const insert = timed((round) => {
    stock.insert({ id: count + 1000 + round, height: 300, species: "Species aaaaa", label: "new" });
    void sorted.at(size >> 1);
  });
  const remove = timed((round) => {
    stock.delete(count + 1000 + round);
    void sorted.at(size >> 1);
  });
  const collator = new Intl.Collator("en", { numeric: true });
  const start = performance.now();
  const byHand = rows
    .filter((p) => p.height! > 100)
    .sort((a, b) => collator.compare(a.species, b.species) || b.height! - a.height!);
  const took = performance.now() - start;
  if (byHand.length < count / 2 || sorted.length < count / 2) throw new Error("P10: the view is not what it should be");
  const of = count.toLocaleString("en");
  const note = `by hand, sorting and filtering again: ${took.toFixed(0)} ms`;
  const budget = count === 1_000_000 ? 0.2 : undefined;
  return (
    [
      ["change", change],
      ["insert", insert],
      ["delete", remove],
    ] as const
  ).map(([what, value]) => ({
    id: `P10 ${what} ${of}`,
    work: `${what} one row under a sorted and filtered view of ${of}; ${note}`,
    value,
    unit: "ms",
    budget,
    within: budget === undefined || value <= budget,
  }));
}

/** What a table and one sorted view take beyond the rows and an array of them. */
function memory(count: number): Measure {
  const rows: Plant[] = plants(count);
  collect();
  collect();
  const { heapUsed, external } = process.memoryUsage();
  const stock = table(plant, rows, { locale: "en" });
  const sorted = view(stock, { orderBy: "height" });
  if (sorted.length !== count) throw new Error("P11: the view is not whole");
  collect();
  collect();
  const after = process.memoryUsage();
  const value = (after.heapUsed - heapUsed + after.external - external) / count;
  if (stock.size !== count || sorted.at(0) === undefined)
    throw new Error("P11: nothing may be collected before it is measured");
  const of = count.toLocaleString("en");
  return {
    id: `P11 ${of}`,
    work: `memory of a table and one sorted view of ${of} rows, beyond the rows and an array of them`,
    value,
    unit: "bytes a row",
    budget: 96,
    within: value <= 96,
  };
}

export function tableMeasures(isWanted: (id: string) => boolean): Measure[] {
  const measures: Measure[] = [];
  if (isWanted("P10")) for (const count of [1_000, 10_000, 100_000, 1_000_000]) measures.push(...oneChange(count));
  if (isWanted("P11")) for (const count of [1_000_000, 1_048_577]) measures.push(memory(count));
  return measures;
}
