import { describe, expect, test } from "@jest/globals";
import {
  Decimal,
  decimal,
  follow,
  integer,
  model,
  newEntry,
  oneOf,
  type RowOf,
  table,
  text,
  transaction,
  view,
} from "../src/index.ts";
import { internal, platform } from "../src/engine/index.ts";
import { seeded } from "./seeded.ts";

const plant = model(
  {
    tag: text({ title: "Tag", required: true }),
    species: oneOf(["Acer campestre", "Quercus robur", "Quercus petraea", "Tilia cordata"], { title: "Species" }),
    bed: integer({ title: "Bed" }),
    notes: text({ title: "Notes" }),
  },
  { key: "tag" },
);
type Plant = RowOf<typeof plant>;

const fold = (given: string): string => given.normalize("NFD").replace(/\p{M}/gu, "").toLowerCase();
/** What a search finds, by hand. */
function byHand(rows: readonly Plant[], search: string): Plant[] {
  const words = fold(search).split(/\s+/).filter(Boolean);
  return rows.filter((row) => {
    const all = [row.tag, row.species ?? "", row.notes].map(fold);
    return words.every((word) => all.some((each) => each.includes(word)));
  });
}
/** Rows by species, in the order of the captions, blank last. */
function groupsByHand(rows: readonly Plant[]): string[] {
  const names = [...new Set(rows.map(({ species }) => species))].toSorted((a, b) =>
    a === undefined ? 1 : b === undefined ? -1 : a.localeCompare(b, "en"),
  );
  return names.map((name) => {
    const own = rows.filter(({ species }) => species === name);
    return `${name ?? ""} ${own.length} ${own.reduce((sum, { bed = 0 }) => sum + bed, 0)}`;
  });
}
const byBed = (a: Plant, b: Plant): number => (a.bed ?? Infinity) - (b.bed ?? Infinity) || 0;
const tags = (rows: Iterable<Plant>): string => [...rows].map(({ tag }) => tag).join(" ");

describe("a search", () => {
  test("finds a Greek word by its beginning, by all of it and in capitals, whichever sigma stands there", () => {
    const notes = ["ΔΡΥΣ", "δρυς ποδισκοφόρος", "Δρυσί", "ίδια"];
    const stock = table(
      plant,
      notes.map((note, at) => ({ tag: `G${at}`, species: undefined, bed: undefined, notes: note })),
      { locale: "el" },
    );
    const found = view(stock, { orderBy: "tag" });
    const tagsOf = (search: string): string => {
      found.search = search;
      return tags(found.rows());
    };
    expect([tagsOf("δρυσ"), tagsOf("δρυς"), tagsOf("ΔΡΥΣ"), tagsOf("ποδισ"), tagsOf("φορος")]).toEqual([
      ...["G0 G1 G2", "G0 G1 G2", "G0 G1 G2"],
      ...["G1", "G1"],
    ]);
    const trees = newEntry(model({ species: oneOf(["ΔΡΥΣ", "ΙΤΙΑ"]) }), { locale: "el" });
    for (const text of ["δρυς", "δρυσ", "Δρυς"]) {
      trees.fields.species.enter(text);
      expect(trees.values.species).toBe("ΔΡΥΣ");
    }
  });

  test("typed key by key, with words in any order, finds what looking at each row finds, while rows change", () => {
    const random = seeded(20261201);
    console.info(`seed ${random.seed}: 400 sequences of 30 steps`);
    const syllables = ["que", "ro", "ce", "É", "pet", "TI", "lia", "a b", " ", "ü", "9", "zz"];
    const newRow = (number: number): Plant => ({
      tag: `${random.pick(syllables).trim()}${number}`,
      species: random.pick([undefined, "Acer campestre", "Quercus robur", "Quercus petraea", "Tilia cordata"] as const),
      bed: random.pick([undefined, 1, 2, 3, 4, 5]),
      notes: Array.from({ length: random.below(4) }, () => random.pick(syllables)).join(random.pick(["", " "])),
    });
    for (let sequence = 0; sequence < 400; sequence++) {
      let next = 0;
      let rows = Array.from({ length: random.below(40) }, () => newRow(next++));
      const stock = table(plant, rows, { locale: "en" });
      const limit = 1 + random.below(5);
      const outer = view(stock, { where: ({ bed = 9 }) => bed >= limit });
      const found = view(stock, { orderBy: "bed" });
      const inner = view(outer, { orderBy: "bed", search: random.pick(syllables) });
      let search = "";
      for (let step = 0; step < 30; step++) {
        const what = random.below(8);
        const [row] = rows.length === 0 ? [] : [random.pick(rows)];
        if (what < 3)
          search =
            random.below(4) === 0 ? search.slice(0, -1) : search + random.pick(syllables).slice(0, 1 + random.below(3));
        else if (what === 3) search = "";
        else if (what === 4) {
          const added = newRow(next++);
          rows = [...rows, added];
          stock.insert(added);
        } else if (what === 5 && row !== undefined) {
          rows = rows.filter((each) => each !== row);
          stock.delete(row.tag);
        } else if (what === 6 && row !== undefined) {
          const { species, bed, notes } = newRow(0);
          const changes = { species, bed, notes };
          rows = rows.map((each) => (each === row ? { ...row, ...changes } : each));
          transaction(() => void stock.update(row.tag, changes));
        } else if (what === 7) {
          rows = Array.from({ length: random.below(20) }, () => newRow(next++));
          stock.load(rows);
        }
        found.search = search;
        const wanted = byHand(rows, search).toSorted(byBed);
        const wantedInner = byHand(
          rows.filter(({ bed = 9 }) => bed >= limit),
          inner.search,
        ).toSorted(byBed);
        const grouped = found
          .groups("species", ["bed"])
          .map(({ title, length, totals }) => `${title} ${length} ${totals["bed"]}`);
        if (grouped.join() !== groupsByHand(wanted).join())
          throw new Error(`groups: ${grouped.join()} of ${tags(wanted)}`);
        const sum = wanted.reduce((total, { bed = 0 }) => total + bed, 0);
        if (tags(found) !== tags(wanted) || found.total("bed") !== sum || tags(inner) !== tags(wantedInner))
          throw new Error(`sequence ${sequence}, step ${step}, "${search}": ${tags(found)} instead of ${tags(wanted)}`);
      }
    }
  });

  test("groups of other fields: numbers in their order, what is calculated, and a name that is none", () => {
    const stock = table(
      plant,
      [{ tag: "A", bed: 10 }, { tag: "B", bed: 9 }, { tag: "C" }, { tag: "D", bed: 10 }] as Plant[],
      { locale: "en" },
    );
    expect(view(stock).groups("bed")).toEqual([
      { value: 9, title: "9", length: 1, totals: {} },
      { value: 10, title: "10", length: 2, totals: {} },
      { value: undefined, title: "", length: 1, totals: {} },
    ]);
    expect(() => view(stock).groups("bde" as never)).toThrow(/"bde".*bed/s);
    expect(() => view(stock).groups("bed", ["tga" as never])).toThrow(/"tga".*tag/s);
  });

  test("of a field with many texts and of one with few give the same; what is beyond the first few thousand too", () => {
    const rows = Array.from({ length: 9000 }, (_, place) => ({
      tag: `T${place}`,
      species: (["Acer campestre", "Quercus robur"] as const)[place % 2],
      bed: place % 7,
      notes: place % 3 === 0 ? `note ${place % 5000}` : "dry",
    }));
    const stock = table(plant, rows as Plant[], { locale: "en" });
    const found = view(stock);
    for (const search of ["q", "qu", "que", "que 7", "que 77", "que 7", "dry", "note 4998", "acer t899"]) {
      found.search = search;
      expect([search, tags(found)]).toEqual([search, tags(byHand(rows, search))]);
    }
    stock.update("T8990", { notes: "zebra" });
    stock.insert({ tag: "zebra" });
    found.search = "zeb";
    expect(tags(found)).toBe("T8990 zebra");
  });

  test("who takes a search back has the sums and groups of all rows at once", () => {
    const priced = model({ tag: text(), price: decimal() }, { key: "tag" });
    const rows = Array.from({ length: 50 }, (_, at) => ({ tag: `t${at}`, price: Decimal.of(String(at)) }));
    const stock = table(priced, rows, { locale: "en" });
    const shown = view(stock);
    let asked = 0;
    const { valueOf } = stock[internal];
    stock[internal].valueOf = (row, name) => ((asked += 1), valueOf.call(stock[internal], row, name));
    const sums = () => [String(shown.total("price")), shown.groups("tag").length];
    expect(sums()).toEqual(["1225", 50]);
    shown.search = "t4";
    expect(sums()).toEqual(["449", 11]);
    stock.update("t4", { price: Decimal.of("1004") });
    stock.update("t3", { price: Decimal.of("10003") });
    stock.delete("t41");
    expect(sums()).toEqual(["1408", 10]);
    asked = 0;
    shown.search = "";
    expect(sums()).toEqual(["12184", 49]);
    expect(asked).toBe(0);
  });

  test("is made ready in pauses, and only the last that was asked for counts", async () => {
    const rows = Array.from({ length: 60_000 }, (_, place) => ({ tag: `T${place}`, notes: `n${place}` })) as Plant[];
    const stock = table(plant, rows, { locale: "en" });
    const found = view(stock);
    // A clock by which each moment of work is over at once, however fast the machine is.
    const { now, after } = platform;
    let time = 0;
    let pauses = 0;
    platform.now = () => (time += 1000);
    platform.after = (milliseconds, run) => {
      pauses++;
      return after(milliseconds, run);
    };
    try {
      const first = found.searchFor("n1");
      const second = found.searchFor("n59999");
      const parts: (number | undefined)[] = [];
      follow(
        () => found.preparing,
        (part) => parts.push(part),
      );
      expect([await first, await second]).toEqual([false, true]);
      expect([tags(found), pauses]).toEqual(["T59999", 58]);
      // Something is said of it from the first pause to the end, and it only grows.
      expect(parts.at(-1)).toBeUndefined();
      const told = parts.slice(0, -1) as number[];
      expect(told.length).toBeGreaterThan(50);
      expect(told.every((part, place) => part < 1 && part >= (told[place - 1] ?? 0))).toBe(true);
      const controller = new AbortController();
      const stock2 = table(plant, rows, { locale: "en" });
      const other = view(stock2);
      const stopped = other.searchFor("n1", { signal: controller.signal });
      controller.abort();
      expect([await stopped, other.search, other.preparing]).toEqual([false, "", undefined]);
      expect(await other.searchFor("")).toBe(true);
    } finally {
      Object.assign(platform, { now, after });
    }
  });

  test("a row with an open changed entry stays while something else is searched for", async () => {
    const { editEntry } = await import("../src/index.ts");
    const stock = table(
      plant,
      [
        { tag: "A", notes: "oak" },
        { tag: "B", notes: "ash" },
      ] as Plant[],
      { locale: "en" },
    );
    const found = view(stock);
    const entry = editEntry(stock, "A");
    entry.fields.notes.enter("oak!");
    found.search = "ash";
    expect(tags(found)).toBe("A B");
    entry.revert();
    expect(tags(found)).toBe("B");
  });
});
