import { internal } from "../src/engine/index.ts";
import { integer, model, type RowOf, text } from "../src/model/index.ts";
import { type Table, table, type View, view } from "../src/table/index.ts";
import { SearchIndex } from "../src/table/SearchIndex.ts";
import type { Comparison, Measure, Side } from "./harness.ts";

const ROWS = 1_000_000;
const plant = model(
  { id: integer(), tag: text(), species: text(), supplier: text(), notes: text() },
  { title: "Plant", key: "id" },
);
type Plant = RowOf<typeof plant>;
const COLUMNS = ["tag", "species", "supplier", "notes"] as const;

const SYLLABLES = "ba be bi bo bu da de di do du fa fe fi fo fu ka ke ki ko ku la le li lo lu ma me mi mo mu".split(
  " ",
);
/** A word for each number: the same number, the same word. */
const word = (number: number, length: number): string =>
  Array.from({ length }, (_, place) => SYLLABLES[Math.floor(number / 30 ** place) % 30]!).join("");

/** Four columns of text: a tag of its own, 400 species, 2,000 suppliers, and notes that nearly all differ. */
function plants(): Plant[] {
  return Array.from({ length: ROWS }, (_, id) => ({
    id,
    tag: `Plant ${id.toString(36).toUpperCase()}`,
    species: `Species ${word((id * 7919) % 400, 2)}`,
    supplier: `Grower ${word((id * 104_729) % 2000, 3)}`,
    notes: `${word((id * 15_485_863) % 27_000, 3)} ${word((id * 32_452_843) % 27_000, 3)}`,
  }));
}

let made: { readonly rows: Plant[]; readonly stock: Table<typeof plant> } | undefined;
function theData() {
  if (made === undefined) {
    const rows = plants();
    made = { rows, stock: table(plant, rows, { locale: "en" }) };
  }
  return made;
}

/** One way of typing: what is there before, and then each key; other words in each round, so that no result is known. */
interface Typing {
  before(round: number): readonly string[];
  keys(round: number): readonly string[];
}

function byHand({ keys }: Typing): Side {
  const { rows } = theData();
  let round = 0;
  let found = 0;
  return {
    run() {
      for (const key of keys(round)) {
        const wanted = key.toLowerCase();
        found = rows.filter((row) => COLUMNS.some((name) => row[name].toLowerCase().includes(wanted))).length;
      }
      round++;
    },
    result: () => found,
  };
}

function ironwood({ before, keys }: Typing): Side {
  const { stock } = theData();
  const shown: View<typeof plant> = view(stock, { searchIn: COLUMNS });
  let round = 0;
  shown.search = "q";
  shown.at(0);
  return {
    before() {
      for (const key of before(round)) {
        shown.search = key;
        shown.at(0);
      }
    },
    run() {
      for (const key of keys(round)) {
        shown.search = key;
        shown.at(0);
      }
      round++;
    },
    result: () => shown.length,
  };
}

const typed = (id: string, work: string, budget: number, typing: Typing): Comparison => ({
  id,
  work: `${work}, in four columns of text of 1,000,000 rows`,
  byHand: () => byHand(typing),
  ironwood: () => ironwood(typing),
  budget,
  rounds: 9,
});

const prefixes = (whole: string, from: number, to: number): string[] =>
  Array.from({ length: to - from + 1 }, (_, place) => whole.slice(0, from + place));
const some = (round: number): string => word(((round + 2) * 37 + 11) % 27_000, 3);
const everywhere = (round: number): string =>
  ["plant", "species", "grower", "lant", "pecies", "rower"][(round + 1) % 6]!;

export const p9: readonly Comparison[] = [
  typed("P9 further keys", "the second to the fifth key of a word", 0.2, {
    before: (round) => prefixes(some(round), 1, 1),
    keys: (round) => prefixes(some(round), 2, 5),
  }),
  typed("P9 backspace", "three keys taken back", 0.2, {
    before: (round) => prefixes(some(round), 1, 6),
    keys: (round) => prefixes(some(round), 3, 5).toReversed(),
  }),
  typed("P9 in every row", "the second to the fourth key of a word that every row has", 0.2, {
    before: (round) => prefixes(everywhere(round), 1, 1),
    keys: (round) => prefixes(everywhere(round), 2, 4),
  }),
];

const collect = (): void => (globalThis as { gc?: () => void }).gc?.();
const taken = (): number => {
  collect();
  collect();
  const { heapUsed, external } = process.memoryUsage();
  return heapUsed + external;
};

/** Building the index, and what it takes; the first key when it is there. */
export function p9Measures(): Measure[] {
  const { stock } = theData();
  const before = taken();
  const start = performance.now();
  const index = new SearchIndex(stock[internal], COLUMNS);
  index.prepare();
  const took = performance.now() - start;
  const bytes = (taken() - before) / ROWS;
  const slice = longestSlice(stock);
  const first = performance.now();
  const count = index.found(["b"]);
  const key = performance.now() - first;
  if (count.size === 0) throw new Error("P9: the index found nothing");
  const measure = (id: string, work: string, value: number, unit: string, budget?: number): Measure => ({
    id,
    work,
    value,
    unit,
    budget,
    within: budget === undefined || value <= budget,
  });
  return [
    measure("P9 index", "building the index over four columns of text of 1,000,000 rows", took, "ms"),
    measure("P9 index memory", "memory of that index", bytes, "bytes a row"),
    measure("P9 pause", "the longest pause while the index is built in the pauses of a page", slice, "ms", 50),
    measure("P9 first key", "the first key, when the index is there", key, "ms"),
  ];
}

function longestSlice(stock: Table<typeof plant>): number {
  const index = new SearchIndex(stock[internal], COLUMNS);
  let longest = 0;
  for (let ready = false; !ready;) {
    const start = performance.now();
    ready = index.prepare(Date.now() + 20);
    longest = Math.max(longest, performance.now() - start);
  }
  return longest;
}
