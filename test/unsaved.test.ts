import { describe, expect, test } from "@jest/globals";
import { internal } from "../src/engine/index.ts";
import { Decimal, decimal, followRows, integer, model, type RowOf, table, text, transaction } from "../src/index.ts";
import { mergeRows, sameRow } from "../src/merge/index.ts";
import { PlaceVersions } from "../src/store/PlaceVersions.ts";
import { type Differing, Unsaved, type Written } from "../src/store/Unsaved.ts";
import { seeded, type Seeded, times } from "./seeded.ts";

const plant = model({ tag: text(), bed: integer(), notes: text(), price: decimal() }, { key: "tag" });
type Plant = RowOf<typeof plant>;

const tags = ["AB-1", "AB-2", "AB-3", "AB-4", "AB-5"];

const newPlant = (random: Seeded, tag = random.pick(tags)): Plant => ({
  tag,
  bed: random.pick([undefined, 7, 8]),
  notes: random.pick(["", "leaning"]),
  price: random.pick([undefined, Decimal.of("9.50"), Decimal.of("9.5"), Decimal.of("12")]),
});

/** A row as a text, with what a person sees as the same written the same. */
const written = ({ tag, bed, notes, price }: Plant): string =>
  JSON.stringify([tag, bed ?? null, notes, price === undefined ? null : Number(String(price))]);
const listOf = (rows: Iterable<Plant>): string[] => [...rows].map(written).sort();

/** What a place does with what differs. */
function writeTo(place: Map<string, Plant>, rows: readonly Differing<typeof plant>[]): void {
  for (const { at } of rows) if (at !== undefined) place.delete(at.key as string);
  for (const { now } of rows) if (now !== undefined) place.set(now.tag, now);
}

/** What a place answers to a write. */
const asWritten = (rows: readonly Differing<typeof plant>[]): (Written<typeof plant> | undefined)[] =>
  rows.map(({ now }) => asKept(now));
const asKept = (row: Plant | undefined): Written<typeof plant> | undefined =>
  row && { key: row.tag, version: written(row), row };
/** The key that a row has at the place, or will have. */
const keyThere = ({ at, key }: Differing<typeof plant>): string => (at?.key as string | undefined) ?? key;

describe("what differs from the place where rows are kept", () => {
  const SEQUENCES = times(10_000, 0.1);

  test(`at random: ${SEQUENCES} sequences of changes, writes and failures, against the rows themselves`, () => {
    const random = seeded(20261128);
    let writes = 0;
    let changes = 0;
    for (let sequence = 0; sequence < SEQUENCES; sequence += 1) {
      const began = tags.slice(0, random.below(4)).map((tag) => newPlant(random, tag));
      const place = new Map(began.map((row) => [row.tag, row] as const));
      const stock = table(plant, began, { locale: "en" });
      const unsaved = new Unsaved(plant);
      const noted = followRows(stock, (all) => unsaved.note(all));
      let writing: readonly Differing<typeof plant>[] | undefined;
      const change = (): void => {
        const keys = [...stock].map(({ tag }) => tag);
        changes += 1;
        const free = tags.filter((tag) => !keys.includes(tag));
        const kind = random.below(5);
        if (keys.length === 0 || (kind === 0 && free.length > 0)) {
          if (free.length > 0) stock.insert(newPlant(random, random.pick(free)));
        } else if (kind === 1) stock.delete(random.pick(keys));
        else if (kind === 2 && free.length > 0) stock.update(random.pick(keys), { tag: random.pick(free) });
        else if (kind === 3 && keys.length > 1) {
          // Two rows exchange their keys.
          const [a, b] = [keys[0]!, keys.at(-1)!];
          transaction(() => {
            stock.update(a, { tag: "elsewhere" });
            stock.update(b, { tag: a });
            stock.update("elsewhere", { tag: b });
          });
        } else {
          const key = random.pick(keys);
          stock.update(key, newPlant(random, key));
        }
      };
      for (let step = 0; step < 12; step += 1) {
        const act = random.below(6);
        if (act === 0 && writing === undefined) writing = unsaved.beginWrite();
        else if (act === 1 && writing !== undefined) {
          const isWritten = random.below(3) > 0;
          if (isWritten) writeTo(place, writing);
          unsaved.endWrite(isWritten ? asWritten(writing) : undefined);
          writing = undefined;
          writes += 1;
        } else if (act === 2) transaction(() => Array.from({ length: 3 }, change));
        else change();

        if (writing !== undefined) continue;
        const rows = unsaved.rows();
        const after = new Map(place);
        writeTo(after, rows);
        const wrong =
          listOf(after.values()).join() !== listOf(stock).join() ||
          // Nothing is written that is there already, no row twice, and each began with what is there.
          rows.some(({ base, now }) => sameRow(plant, base, now)) ||
          new Set(rows.map(keyThere)).size !== rows.length - doubles(rows) ||
          rows.some(({ at, base }) =>
            at === undefined ? base !== undefined : written(base!) !== written(place.get(at.key as string)!),
          ) ||
          unsaved.size !== rows.length ||
          [...stock].some(({ tag }) => unsaved.kindOf(tag) !== rows.find(({ now }) => now?.tag === tag)?.kind);
        if (wrong)
          throw new Error(
            `Sequence ${sequence}, step ${step}: at the place ${listOf(place.values()).join()}, here ${listOf(stock).join()}, unsaved ${JSON.stringify(rows)}`,
          );
      }
      noted.stop();
    }
    console.info(`seed 20261128: ${SEQUENCES} sequences, ${changes} changes, ${writes} writes`);
    expect(writes).toBeGreaterThan(SEQUENCES / 4);
  });

  /** A new row may have the key that another row still has at the place. */
  const doubles = (rows: readonly Differing<typeof plant>[]): number =>
    rows.filter((row) => row.kind === "new" && rows.some((other) => other.at !== undefined && other.at.key === row.key))
      .length;

  test("changes of one row are one: new and changed, new and deleted, changed and back, deleted and back", () => {
    const stock = table(plant, [{ tag: "AB-1", bed: 7, notes: "", price: undefined }], { locale: "en" });
    const unsaved = new Unsaved(plant);
    followRows(stock, (all) => unsaved.note(all));
    const kinds = () => unsaved.rows().map((row) => `${row.kind} ${keyThere(row)}`);
    stock.insert({ tag: "AB-2" });
    stock.update("AB-2", { bed: 8 });
    expect(kinds()).toEqual(["new AB-2"]);
    stock.delete("AB-2");
    expect(kinds()).toEqual([]);
    stock.update("AB-1", { bed: 8 });
    expect(kinds()).toEqual(["changed AB-1"]);
    stock.update("AB-1", { tag: "AB-9" });
    expect([kinds(), unsaved.kindOf("AB-9"), unsaved.kindOf("AB-1")]).toEqual([["changed AB-1"], "changed", undefined]);
    stock.update("AB-9", { tag: "AB-1", bed: 7 });
    expect(kinds()).toEqual([]);
    stock.delete("AB-1");
    expect([kinds(), unsaved.kindOf("AB-1")]).toEqual([["deleted AB-1"], "deleted"]);
    stock.insert({ tag: "AB-1", bed: 9 });
    expect(kinds()).toEqual(["changed AB-1"]);
    stock.update("AB-1", { bed: 7 });
    expect([kinds(), unsaved.size]).toEqual([[], 0]);
  });

  test("what is changed while it is being written is written the next time", () => {
    const stock = table(plant, [], { locale: "en" });
    const unsaved = new Unsaved(plant);
    followRows(stock, (all) => unsaved.note(all));
    stock.insert({ tag: "AB-1", bed: 1 });
    let writing = unsaved.beginWrite();
    expect(() => unsaved.beginWrite()).toThrow("under way");
    stock.update("AB-1", { bed: 2 });
    unsaved.endWrite(asWritten(writing));
    expect(unsaved.rows()).toMatchObject([{ kind: "changed", base: { bed: 1 }, now: { bed: 2 } }]);
    writing = unsaved.beginWrite();
    stock.delete("AB-1");
    unsaved.endWrite(asWritten(writing));
    expect(unsaved.rows()).toMatchObject([{ kind: "deleted", base: { bed: 2 } }]);
    writing = unsaved.beginWrite();
    stock.insert({ tag: "AB-1", bed: 3 });
    unsaved.endWrite(asWritten(writing));
    expect(unsaved.rows()).toMatchObject([{ kind: "new", now: { bed: 3 } }]);
    // What is deleted while it is written as new is there by then; where it was not written, there is nothing to do.
    unsaved.beginWrite();
    stock.delete("AB-1");
    unsaved.endWrite();
    expect(unsaved.rows()).toEqual([]);
  });

  test("noting a change of one row does not depend on how many differ", () => {
    const unsaved = new Unsaved(plant);
    const row = (place: number, bed: number) => ({ tag: `T${place}`, bed, notes: "", price: undefined }) as Plant;
    const note = (place: number, bed: number) =>
      unsaved.note([
        {
          kind: "update",
          key: `T${place}`,
          keyBefore: `T${place}`,
          before: row(place, bed - 1),
          after: row(place, bed),
        },
      ]);
    const timed = (from: number, to: number): number => {
      const begin = performance.now();
      for (let place = from; place < to; place += 1) note(place, 1);
      return (performance.now() - begin) / (to - from);
    };
    timed(0, 5_000);
    const few = timed(5_000, 10_000);
    timed(10_000, 200_000);
    const many = timed(200_000, 205_000);
    console.info(
      `a change is noted in ${(few * 1000).toFixed(1)} µs of 10,000, ${(many * 1000).toFixed(1)} µs of 200,000`,
    );
    expect(many).toBeLessThan(few * 5 + 0.02);
  });
});

describe("a row that was changed here and elsewhere", () => {
  const CASES = times(40_000, 0.1);
  const random = seeded(6116);
  const side = (base: Plant | undefined): Plant | undefined => {
    if (random.below(6) === 0) return undefined;
    const from = base ?? newPlant(random, "AB-1");
    const change = newPlant(random, "AB-1");
    return {
      ...from,
      ...(random.below(2) === 0 ? { bed: change.bed } : {}),
      ...(random.below(2) === 0 ? { notes: change.notes } : {}),
      ...(random.below(3) === 0 ? { price: change.price } : {}),
    };
  };
  const seen = (value: unknown): string =>
    value === undefined ? "" : value instanceof Decimal ? String(Number(String(value))) : String(value);

  test(`is merged by field: ${CASES} cases of seed 6116 against what is written out here`, () => {
    let conflicts = 0;
    for (let number = 0; number < CASES; number += 1) {
      const base = random.below(5) === 0 ? undefined : newPlant(random, "AB-1");
      const [mine, theirs] = [side(base), side(base)];
      const { row, conflict } = mergeRows(plant, { base, mine, theirs });
      if (conflict !== undefined) conflicts += 1;
      const texts = (each: Plant | undefined) =>
        each && ["tag", "bed", "notes", "price"].map((name) => seen(each[name as never])).join("|");
      const [b, m, t] = [texts(base), texts(mine), texts(theirs)];
      if (mine === undefined || theirs === undefined) {
        const isWhole = base !== undefined && m !== t && m !== b && t !== b;
        expect(conflict !== undefined).toBe(isWhole);
        const meant = m === b ? t : m;
        expect(texts(row as Plant | undefined)).toBe(meant);
        continue;
      }
      const disputed: string[] = [];
      for (const name of ["tag", "bed", "notes", "price"]) {
        const [began, here, there] = [base, mine, theirs].map((each) => seen(each?.[name as never]));
        if (began !== here && began !== there && here !== there) disputed.push(name);
        expect(seen(row![name])).toBe(began === here ? there : here);
      }
      expect(Object.keys(conflict?.fields ?? {})).toEqual(disputed);
    }
    expect(conflicts).toBeGreaterThan(CASES / 20);
  });

  const SEQUENCES = times(10_000, 0.1);
  test(`stays unsaved only where it differs: ${SEQUENCES} sequences of both sides, seed 6117`, () => {
    const more = seeded(6117);
    let conflicts = 0;
    for (let sequence = 0; sequence < SEQUENCES; sequence += 1) {
      const place = new Map<string, Plant>();
      const here = new Map<string, Plant>();
      for (const tag of tags.slice(0, more.below(4))) {
        const row = newPlant(more, tag);
        place.set(tag, row);
        here.set(tag, row);
      }
      const unsaved = new Unsaved(plant);
      const put = (rows: Map<string, Plant>, tag: string, row: Plant | undefined): void => {
        if (row === undefined) rows.delete(tag);
        else rows.set(tag, row);
      };
      const disputed = new Map<string, Plant | undefined>();
      for (let step = 0; step < 14; step += 1) {
        const tag = more.pick(tags);
        const after = more.below(4) === 0 ? undefined : newPlant(more, tag);
        if (more.below(2) === 0) {
          const before = here.get(tag);
          if (before === undefined && after === undefined) continue;
          put(here, tag, after);
          if (before === undefined) unsaved.note([{ kind: "insert", key: tag, after: after! }]);
          else if (after === undefined) unsaved.note([{ kind: "delete", key: tag, before }]);
          else unsaved.note([{ kind: "update", key: tag, keyBefore: tag, before, after }]);
        } else {
          put(place, tag, after);
          const { row, conflict } = unsaved.meet(tag, asKept(after)) ?? { row: after };
          if (conflict === undefined) {
            disputed.delete(tag);
            put(here, tag, row);
          } else {
            conflicts += 1;
            disputed.set(tag, after);
            expect(row).toBe(here.get(tag));
          }
        }
        if (disputed.size > 0 && more.below(3) === 0) {
          const [which, theirs] = [...disputed][0]!;
          disputed.delete(which);
          const chosen = more.pick([theirs, here.get(which), newPlant(more, which)]);
          put(here, which, unsaved.resolve(which, asKept(theirs), chosen));
        }
      }
      for (const [tag, theirs] of disputed) put(here, tag, unsaved.resolve(tag, asKept(theirs), here.get(tag)));
      const after = new Map(place);
      writeTo(after, unsaved.rows());
      expect(listOf(after.values())).toEqual(listOf(here.values()));
      for (const { at, base } of unsaved.rows())
        expect(base && written(base)).toBe(at && written(place.get(at.key as string)!));
    }
    console.info(`seed 6117: ${SEQUENCES} sequences, ${conflicts} conflicts`);
    expect(conflicts).toBeGreaterThan(SEQUENCES / 4);
  });
});

test("property: where rows are is known as in a plain map, whether few or most of them have a version of their own", () => {
  const random = seeded(4411);
  const count = times(40);
  for (let round = 0; round < count; round++) {
    const versions = new PlaceVersions(table(model({ notes: text() }), [])[internal]);
    const plain = new Map<number, { key: unknown; version: string }>();
    const size = (round % 2) * 2_000 + random.below(2_000);
    const all = Array.from({ length: size }, (_, at) => ({ key: `p${at}`, version: `${random.below(round % 4)}` }));
    versions.load(
      all.map(({ version }) => version),
      all.map(({ key }) => key),
    );
    for (const [slot, at] of all.entries()) plain.set(slot, at);
    for (let step = 0; step < (round % 2 === 0 ? 3_000 : 15_000); step++) {
      const slot = random.below(size + 50);
      if (random.below(3) === 0) {
        versions.clear(slot);
        plain.delete(slot);
      } else if (!plain.has(slot)) {
        const at = { key: `p${slot}-${step}`, version: `${random.below(1 + (round % 3) * 50)}` };
        versions.set(slot, at);
        plain.set(slot, at);
      } else expect(versions.slotOf(plain.get(slot)!.key)).toBe(slot);
    }
    for (let slot = -1; slot < size + 60; slot++)
      if (JSON.stringify(versions.at(slot, undefined)) !== JSON.stringify(plain.get(slot)))
        throw new Error(`round ${round}: slot ${slot} is ${JSON.stringify(versions.at(slot, undefined))}`);
  }
  console.info(`${count} tables, seed ${random.seed}`);
});
