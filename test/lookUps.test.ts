/** What is calculated with the rows of another table is followed wherever it is kept: orders, sums, groups, searches, problems. */
import { expect, test } from "@jest/globals";
import { follow, integer, model, number, table, text, transaction, view } from "../src/index.ts";
import { seeded, type Seeded, times } from "./seeded.ts";

const kind = model({ code: text(), price: number(), name: text(), most: integer() }, { key: "code" });
interface Kind {
  readonly code: string;
  readonly price: number;
  readonly name: string;
  readonly most: number;
}
interface Plant {
  readonly tag: string;
  readonly code: string;
  readonly count: number;
}
const names = ["maple", "birch", "hazel", "oak", "field maple"];
const orders = ["worth", "worth desc", "called", ["called desc", "worth"], "tag"] as const;

const newKind = (random: Seeded, code: string): Kind => ({
  code,
  price: random.below(9) / 2,
  name: random.pick(names),
  most: random.below(12),
});

/** Rows that look up what their kind costs, what it is called and how many there may be; and the same in plain arrays. */
class Stock {
  readonly kinds = new Map<string, Kind>();
  readonly plants: Plant[] = [];
  readonly prices = table(kind, [], { locale: "en" });
  readonly plant = model({ tag: text(), code: text(), count: integer({ required: true }) }, { key: "tag" })
    .calculated({
      price: (row) => this.prices.get(row.code)?.price,
      called: (row) => this.prices.get(row.code)?.name,
    })
    .calculated({ worth: (row) => row.price * row.count })
    .rule("few", { shownAt: ["count"], message: "Few.", holds: (row) => row.count <= this.mostOf(row.code) });
  readonly all = table(this.plant, [], { locale: "en" });

  mostOf(code: string): number {
    return this.prices.get(code)?.most ?? 99;
  }

  /** What all rows of a view have, worked out by hand. */
  plainly(least: number | undefined, search: string, orderBy: (typeof orders)[number]) {
    const collator = new Intl.Collator("en", { numeric: true });
    const rows = this.plants
      .map((plant) => {
        const found = this.kinds.get(plant.code);
        const worth = found === undefined ? undefined : found.price * plant.count;
        return { ...plant, worth, called: found?.name, isFew: plant.count <= (found?.most ?? 99) };
      })
      .filter(({ code }) => least === undefined || (this.kinds.get(code)?.price ?? 0) >= least)
      .filter(({ tag, called }) => `${tag} ${called ?? ""}`.toLowerCase().includes(search));
    const compare = (a: string | number | undefined, b: typeof a, by: number): number => {
      if (a === undefined || b === undefined) return Number(a === undefined) - Number(b === undefined);
      return by * (typeof a === "number" ? a - (b as number) : collator.compare(a, String(b)));
    };
    rows.sort((a, b) => {
      for (const each of [orderBy].flat()) {
        const [name, way] = each.split(" ") as ["worth" | "called" | "tag", string?];
        const order = compare(a[name], b[name], way === "desc" ? -1 : 1);
        if (order !== 0) return order;
      }
      return 0;
    });
    const worth = (of: typeof rows): number => of.reduce((sum, row) => sum + (row.worth ?? 0), 0);
    const groups = [...new Set(rows.map(({ called }) => called))].sort((a, b) => compare(a, b, 1));
    return {
      keys: rows.map(({ tag }) => tag),
      total: worth(rows),
      groups: groups.map((called) => {
        const own = rows.filter((row) => row.called === called);
        return [called, own.length, worth(own)];
      }),
      problems: rows.filter(({ isFew }) => !isFew).map(({ tag }) => tag),
    };
  }
}

const SEQUENCES = times(300);

test(`property: ${SEQUENCES} sequences of changes in both tables, as plain arrays have it, with followers and without`, () => {
  const random = seeded(7201);
  let looks = 0;
  let told = 0;
  for (let sequence = 0; sequence < SEQUENCES; sequence++) {
    const stock = new Stock();
    // More than are followed one by one without being looked through.
    const codes = Array.from({ length: random.pick([2, 5, 150]) }, (_, at) => `c${at}`);
    const least = random.pick([undefined, 2]);
    const orderBy = random.pick(orders);
    const shown = view(stock.all, {
      orderBy,
      searchIn: ["tag", "called"],
      where: least === undefined ? undefined : (row) => (stock.prices.get(row.code)?.price ?? 0) >= least,
    });
    let tags = 0;
    const insertPlants = (many: number): void => {
      for (let more = 0; more < many; more++) {
        const plant = { tag: `T${tags++}`, code: random.pick(codes), count: random.below(10) };
        if (plant.count > (stock.kinds.get(plant.code)?.most ?? 99)) continue;
        stock.plants.push(plant);
        stock.all.insert(plant);
      }
    };
    const changeKind = (): void => {
      const code = random.pick(codes);
      if (stock.kinds.has(code) && random.below(5) === 0) {
        stock.prices.delete(code);
        stock.kinds.delete(code);
        return;
      }
      const after = newKind(random, code);
      if (stock.kinds.has(code)) stock.prices.update(code, after);
      else stock.prices.insert(after);
      stock.kinds.set(code, after);
    };
    const changePlant = (): void => {
      const at = random.below(stock.plants.length + 1);
      const plant = stock.plants[at];
      if (plant === undefined) return insertPlants(1 + random.below(3));
      if (random.below(4) === 0) {
        stock.plants.splice(at, 1);
        stock.all.delete(plant.tag);
        return;
      }
      const after = { ...plant, code: random.pick(codes), count: random.below(3) };
      if (after.count > (stock.kinds.get(after.code)?.most ?? 99)) return;
      stock.plants[at] = after;
      stock.all.update(plant.tag, after);
    };
    if (random.below(2) === 0) for (const code of codes) if (random.below(3) > 0) changeKindOf(stock, random, code);
    if (random.below(2) === 0) insertPlants(random.below(300));
    const reads = {
      keys: () => shown.keys(),
      total: () => shown.total("worth"),
      groups: () => shown.groups("called", ["worth"]).map(({ value, length, totals }) => [value, length, totals.worth]),
      problems: () => shown.rows().flatMap((row) => (stock.all.problemsOf(row).length > 0 ? [row.tag] : [])),
    };
    const follows = (Object.keys(reads) as (keyof typeof reads)[]).filter(() => random.below(3) === 0);
    const last = new Map<string, string>();
    const followers = follows.map((name) =>
      follow(
        () => JSON.stringify(reads[name]()),
        (now) => {
          told++;
          last.set(name, now);
        },
      ),
    );
    for (let step = 0; step < 12; step++) {
      if (random.below(4) === 0) shown.search = random.pick(["", "maple", "o", "t1"]);
      const many = random.below(3);
      if (random.below(3) === 0)
        transaction(() => {
          changePlant();
          changeKind();
        });
      for (let more = 0; more < many; more++) (random.below(2) === 0 ? changeKind : changePlant)();
      const wanted = stock.plainly(least, shown.search, orderBy);
      for (const name of Object.keys(reads) as (keyof typeof reads)[]) {
        // What nobody has looked at for a while is right as well.
        if (random.below(3) === 0) continue;
        looks++;
        expect([sequence, step, name, reads[name]()]).toEqual([sequence, step, name, wanted[name]]);
        const said = last.get(name);
        if (said !== undefined)
          expect([sequence, step, name, said]).toEqual([sequence, step, name, JSON.stringify(wanted[name])]);
      }
    }
    for (const each of followers) each.stop();
  }
  console.info(`${SEQUENCES} sequences, ${looks} looks, ${told} times told, seed ${random.seed}`);
  expect(told).toBeGreaterThan(2 * SEQUENCES);
});

function changeKindOf(stock: Stock, random: Seeded, code: string): void {
  const after = newKind(random, code);
  stock.prices.insert(after);
  stock.kinds.set(code, after);
}
