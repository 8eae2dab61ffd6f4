import { describe, expect, test } from "@jest/globals";
import { platform } from "../src/engine/index.ts";
import {
  date,
  decimal,
  follow,
  integer,
  model,
  newEntry,
  number,
  table,
  text,
  transaction,
  view,
} from "../src/index.ts";
import { seeded, type Seeded, times } from "./seeded.ts";

const tree = model(
  {
    tag: text(),
    species: text(),
    count: integer(),
    height: number(),
    planted: date(),
    price: decimal(),
  },
  { key: "tag" },
);
type Tree = { tag: string; species: string; count?: number; height?: number; planted?: string; price?: never };

const names = ["alder", "Birch 9", "birch 10", "Élder", "", "  ", "oak", "Oak", "rowan 2", "yew"];

function newTree(random: Seeded, tag: string): Tree {
  return {
    tag,
    species: random.pick(names),
    ...(random.below(5) === 0 ? {} : { count: random.below(40) - 20 }),
    ...(random.below(5) === 0 ? {} : { height: random.below(4000) / 8 - 100 }),
    ...(random.below(5) === 0 ? {} : { planted: `20${10 + random.below(15)}-0${1 + random.below(9)}-11` }),
  };
}

/** A clock by which every moment of work is over at once, so that each pause there can be is there. */
async function withPauses<T>(work: (pause: (during: () => void) => void) => Promise<T>): Promise<T> {
  const { now, after } = platform;
  let time = 0;
  let during = (): void => undefined;
  platform.now = () => (time += 1000);
  platform.after = (milliseconds, run) =>
    after(milliseconds, () => {
      try {
        during();
      } finally {
        run();
      }
    });
  try {
    return await work((next) => (during = next));
  } finally {
    Object.assign(platform, { now, after });
  }
}

const orders = [
  "species",
  "species desc",
  "count desc",
  "height",
  "planted desc",
  ["species", "count desc"],
  ["count", "height desc", "species"],
] as const;

/** What is in order, by comparing each row with the next as a person would. */
function plainly(rows: readonly Tree[], orderBy: string | readonly string[]): string[] {
  const collator = new Intl.Collator("en", { numeric: true });
  const compare = (a: unknown, b: unknown, factor: number): number => {
    const isBlank = (each: unknown): boolean => each === undefined || String(each).trim() === "";
    if (isBlank(a) || isBlank(b)) return Number(isBlank(a)) - Number(isBlank(b));
    return factor * (typeof a === "number" ? a - (b as number) : collator.compare(String(a), String(b)));
  };
  const columns = [orderBy].flat().map((each) => each.split(" "));
  return [...rows]
    .sort((a, b) => {
      for (const [name, way] of columns) {
        const order = compare(a[name as never], b[name as never], way === "desc" ? -1 : 1);
        if (order !== 0) return order;
      }
      return 0;
    })
    .map(({ tag }) => tag);
}

describe("sorting in pauses", () => {
  const SEQUENCES = times(240);

  test(`at random, with changes in every pause: ${SEQUENCES} sequences, as plain arrays have it`, async () => {
    const random = seeded(8831);
    let changes = 0;
    let pauses = 0;
    for (let sequence = 0; sequence < SEQUENCES; sequence += 1) {
      let number = 0;
      const size = random.pick([0, 1, 5, 300, 6000]);
      const plain: Tree[] = Array.from({ length: size }, () => newTree(random, `T${number++}`));
      const all = table(tree, plain as never, { locale: "en" });
      const least = random.pick([undefined, -5]);
      const shown = view(all, { where: least === undefined ? undefined : (row) => (row.count ?? 0) >= least });
      const followed =
        random.below(2) === 0
          ? follow(
              () => shown.keys(0, 3),
              () => undefined,
            )
          : undefined;
      if (random.below(2) === 0) shown.search = random.pick(["oak", "birch", ""]);
      const change = (): void => {
        const place = random.below(plain.length);
        changes += 1;
        switch (plain.length === 0 ? 0 : random.below(5)) {
          case 0: {
            plain.push(newTree(random, `T${number++}`));
            return void all.insert(plain.at(-1) as never);
          }
          case 1: {
            const [gone] = plain.splice(place, 1);
            return void all.delete(gone!.tag);
          }
          case 2: {
            const after = newTree(random, plain[place]!.tag);
            plain[place] = after;
            const blank = { count: undefined, height: undefined, planted: undefined };
            return void all.update(after.tag, { ...blank, ...after });
          }
          case 3: {
            // What goes and comes back under the same key is another row, at the end.
            const [gone] = plain.splice(place, 1);
            plain.push(gone!);
            return void transaction(() => {
              all.delete(gone!.tag);
              all.insert(gone as never);
            });
          }
          default:
            shown.search = random.pick(["oak", "birch", "1", ""]);
        }
      };
      for (let step = 0; step < 3; step += 1) {
        const orderBy = random.pick(orders);
        await withPauses(async (inPause) => {
          inPause(() => {
            pauses += 1;
            if (random.below(3) === 0) change();
            if (random.below(40) === 0) for (let more = 0; more < 30; more += 1) change();
          });
          const done = await shown.sortBy(orderBy);
          expect(done).toBe(true);
        });
        change();
        const words = shown.search;
        const seen = plain.filter(
          (row) =>
            (least === undefined || (row.count ?? 0) >= least) &&
            (words === "" || `${row.tag} ${row.species}`.toLowerCase().includes(words)),
        );
        expect(shown.keys()).toEqual(plainly(seen, orderBy));
        expect(shown.total("count")).toBe(seen.reduce((sum, { count }) => sum + (count ?? 0), 0));
        expect(shown.sorting).toBeUndefined();
      }
      followed?.stop();
    }
    console.info(`seed 8831: ${SEQUENCES} sequences, ${changes} changes, ${pauses} pauses`);
    expect(pauses).toBeGreaterThan(SEQUENCES);
  });

  test(`by what is calculated, from rows and from what else changes: ${times(60)} sequences, as plain arrays have it`, async () => {
    const random = seeded(8835);
    let changes = 0;
    let asked = 0;
    let inPauses = 0;
    const desk = newEntry(model({ factor: integer(), from: text() }), { values: { factor: 1, from: "" } });
    const priced = tree
      .calculated({ worth: (row) => (asked++, row.count! * desk.values.factor!) })
      .calculated({ label: (row) => `${desk.values.from}${row.species}`.trim() });
    const seen = (row: Tree) => ({
      ...row,
      worth: row.count === undefined ? undefined : row.count * desk.values.factor!,
      label: `${desk.values.from}${row.species}`.trim(),
    });
    for (let sequence = 0; sequence < times(60); sequence += 1) {
      const size = random.pick([0, 3, 300, 5000]);
      let number = size;
      const plain = Array.from({ length: size }, (_, at) => newTree(random, `T${at}`));
      const all = table(priced, plain as never, { locale: "en" });
      const shown = view(all);
      let told = 0;
      const followed = follow(
        () => shown.keys(0, 3).join(),
        () => told++,
      );
      const outside = (): void => {
        if (random.below(2) === 0) desk.values.factor = random.pick([-1, 1, 2]);
        else desk.values.from = random.pick(["", "a", "z"]);
      };
      const change = (): void => {
        changes++;
        if (random.below(4) === 0) return outside();
        if (plain.length === 0 || random.below(3) === 0) {
          plain.push(newTree(random, `T${number++}`));
          return void all.insert(plain.at(-1) as never);
        }
        const at = random.below(plain.length);
        plain[at] = { ...plain[at]!, count: random.below(40) - 20 };
        all.update(plain[at].tag, { count: plain[at].count });
      };
      for (let step = 0; step < 3; step++) {
        const orderBy = random.pick([
          "worth",
          "label desc",
          ["worth desc", "species"],
          ["label", "worth", "height"],
        ] as const);
        const every = random.pick([3, 1_000_000]);
        await withPauses(async (inPause) => {
          inPause(() => {
            inPauses++;
            if (random.below(every) === 0) change();
          });
          expect(await shown.sortBy(orderBy as never)).toBe(true);
        });
        const wanted = (): string[] => plainly(plain.map(seen), orderBy);
        expect(shown.keys()).toEqual(wanted());
        // What it was calculated from goes on to count.
        outside();
        expect(shown.keys()).toEqual(wanted());
        change();
        expect(shown.keys()).toEqual(wanted());
      }
      followed.stop();
      if (size > 0) expect(told).toBeGreaterThan(0);
    }
    console.info(`seed 8835: ${times(60)} sequences, ${changes} changes, ${inPauses} pauses, ${asked} calculations`);
    expect(inPauses).toBeGreaterThan(3 * times(60));
  });

  test("the old order is there meanwhile; how far it is only grows; a later order, and a stop, end it", async () => {
    const random = seeded(8832);
    const rows = Array.from({ length: 40_000 }, (_, place) => ({
      ...newTree(random, `T${place}`),
      species: `s${place * 7919}`,
    }));
    const all = table(tree, rows as never, { locale: "en" });
    const shown = view(all);
    await withPauses(async (inPause) => {
      const parts: (number | undefined)[] = [];
      const followed = follow(
        () => shown.sorting,
        (part) => parts.push(part),
      );
      inPause(() => expect([shown.at(0)!.tag, shown.orderBy]).toEqual(["T0", undefined]));
      expect(await shown.sortBy("species desc")).toBe(true);
      expect(shown.keys()).toEqual(plainly(rows, "species desc"));
      const told = parts.slice(0, -1) as number[];
      expect([parts.at(-1), told.length > 10]).toEqual([undefined, true]);
      expect(told.every((part, place) => part <= 1 && part >= (told[place - 1] ?? 0))).toBe(true);
      followed.stop();

      inPause(() => undefined);
      const [first, second] = [shown.sortBy("height"), shown.sortBy("count")];
      expect([await first, await second, shown.orderBy]).toEqual([false, true, "count"]);
      const third = shown.sortBy("height");
      shown.orderBy = "tag";
      expect([await third, shown.orderBy, shown.sorting]).toEqual([false, "tag", undefined]);
      const controller = new AbortController();
      const fourth = shown.sortBy("height", { signal: controller.signal });
      controller.abort();
      expect([await fourth, shown.orderBy, shown.sorting]).toEqual([false, "tag", undefined]);
      // A wrong field ends nothing that is under way.
      const goesOn = shown.sortBy("tag");
      await expect(shown.sortBy("hight" as never)).rejects.toThrow(/Did you mean "height"/);
      expect(await goesOn).toBe(true);
      expect([shown.orderBy, shown.sorting]).toEqual(["tag", undefined]);
      // A table that is loaded meanwhile is sorted as it is then.
      const fifth = shown.sortBy("species");
      all.load(rows.slice(0, 100) as never);
      expect([await fifth, shown.keys()]).toEqual([true, plainly(rows.slice(0, 100), "species")]);
      expect([await shown.sortBy(undefined), shown.at(0)!.tag]).toEqual([true, "T0"]);
    });
  });

  test("two views sort at once, each by its own", async () => {
    const random = seeded(8833);
    const rows = Array.from({ length: 9000 }, (_, place) => newTree(random, `T${place}`));
    const all = table(tree, rows as never, { locale: "en" });
    const [one, other] = [view(all), view(all, { where: (row) => (row.count ?? 0) > 0 })];
    await withPauses(async () => {
      const more = rows.filter(({ count }) => (count ?? 0) > 0);
      expect(await Promise.all([one.sortBy("height desc"), other.sortBy(["count", "species"])])).toEqual([true, true]);
      expect(one.keys()).toEqual(plainly(rows, "height desc"));
      expect(other.keys()).toEqual(plainly(more, ["count", "species"]));
    });
  });

  test("another order of the same rows asks `where` of none of them again", async () => {
    const random = seeded(8834);
    const rows = Array.from({ length: 500 }, (_, place) => newTree(random, `T${place}`));
    const all = table(tree, rows as never, { locale: "en" });
    let asked = 0;
    const shown = view(all, { where: (row) => (asked += 1) > 0 && (row.count ?? 0) > 0 });
    const { length } = shown;
    expect(asked).toBe(500);
    shown.orderBy = "height";
    expect([shown.length, asked]).toEqual([length, 500]);
    await shown.sortBy("count desc");
    expect([shown.length, asked]).toEqual([length, 500]);
    all.update("T3", { height: 1 });
    expect([shown.length, asked]).toEqual([length, 501]);
  });
});
