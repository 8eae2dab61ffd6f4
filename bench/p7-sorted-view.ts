import { integer, model, number, text, type RowOf } from "../src/model/index.ts";
import { type Table, table, view } from "../src/table/index.ts";
import type { Comparison, Side } from "./harness.ts";

const ROWS = 1_000_000;
export const plant = model({ id: integer(), height: number(), species: text(), label: text() }, { key: "id" });
export type Plant = RowOf<typeof plant>;

/** Letters only: both sides then agree on the order, whatever they make of digits. */
function letters(value: number): string {
  let text = "";
  for (let rest = value, count = 0; count < 5; count++, rest = Math.floor(rest / 26))
    text = String.fromCharCode(97 + (rest % 26)) + text;
  return text;
}

/** Rows as they come from anywhere: in no order, heights with ties, 400 species, a label of its own for each. */
export function plants(count: number): Plant[] {
  let state = 7;
  const random = (limit: number): number => {
    state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0;
    return Math.floor((state / 2 ** 32) * limit);
  };
  const species = Array.from({ length: 400 }, (_, place) => `Species ${letters(place * 7919)}`);
  const labels = Array.from({ length: count }, (_, place) => place);
  for (let place = count - 1; place > 0; place--) {
    const other = random(place + 1);
    [labels[place], labels[other]] = [labels[other]!, labels[place]!];
  }
  return Array.from({ length: count }, (_, id) => ({
    id,
    height: random(50_000) / 8,
    species: species[random(400)]!,
    label: `Plant ${letters(labels[id]!)}`,
  }));
}

let rows: Plant[] | undefined;
let stock: Table<typeof plant> | undefined;
const theRows = (): Plant[] => (rows ??= plants(ROWS));
export const theStock = (): Table<typeof plant> => (stock ??= table(plant, theRows(), { locale: "en" }));

/** The same for the same order: every 999th id and its place. */
const sample = (sorted: Iterable<Plant>): number => {
  let sum = 0;
  let place = 0;
  for (const { id } of sorted) sum = (sum * 31 + id! * ++place) % 1_000_000_007;
  return sum;
};

function ironwood(orderBy: string): Side {
  const source = theStock();
  let sorted = view(source, { orderBy: orderBy as never });
  return {
    run() {
      sorted = view(source, { orderBy: orderBy as never });
      // It is built when something of it is read.
      sorted.at(0);
    },
    result: () => sample(sorted),
  };
}

function byHand(compare: (a: Plant, b: Plant) => number): Side {
  const source = theRows();
  let sorted: Plant[] = [];
  return {
    run() {
      sorted = source.slice().sort(compare);
    },
    result: () => sample(sorted),
  };
}

const collator = new Intl.Collator("en");

export const p7: Comparison[] = [
  {
    id: "P7",
    work: "first sorted view of 1,000,000 rows, by number; by hand: slice and sort",
    byHand: () => byHand((a, b) => a.height! - b.height!),
    ironwood: () => ironwood("height"),
    budget: 0.25,
    rounds: 9,
  },
  {
    id: "P8a",
    work: "the same by text with 400 distinct values; by hand: sort with an Intl.Collator",
    byHand: () => byHand((a, b) => collator.compare(a.species, b.species)),
    ironwood: () => ironwood("species"),
    budget: 0.08,
    rounds: 9,
  },
  {
    id: "P8b",
    work: "the same by text, all distinct; by hand: sort with an Intl.Collator",
    byHand: () => byHand((a, b) => collator.compare(a.label, b.label)),
    ironwood: () => ironwood("label"),
    budget: 0.5,
    rounds: 9,
  },
];
