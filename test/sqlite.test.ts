/** Rows in SQLite: what the file holds, and what happens when it can't be used. */
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, describe, expect, test } from "@jest/globals";
import Driver from "libsql";
import {
  type AnyModel,
  boolean,
  date,
  Decimal,
  decimal,
  group,
  instant,
  integer,
  type KeyOf,
  model,
  number,
  oneOf,
  type RowOf,
  rows,
  someOf,
  table,
  text,
} from "../src/index.ts";
import type { Connection } from "../src/sqlite/driver.ts";
import { type SqliteStore, sqliteStore } from "../src/sqlite/index.ts";
import { keep, type StoredRow } from "../src/store/index.ts";
import { seeded, times } from "./seeded.ts";

const folder = mkdtempSync(join(tmpdir(), "ironwood-sqlite-"));
const opened: SqliteStore<never, never>[] = [];
const open = <M extends AnyModel>(path: string, model: M): SqliteStore<RowOf<M>, KeyOf<M>> => {
  const store = sqliteStore(path, model);
  opened.push(store as never);
  return store;
};
afterAll(async () => {
  for (const store of opened) await store.close();
  rmSync(folder, { recursive: true });
});

async function all<Row>(store: { read(): AsyncIterable<StoredRow<Row>> }): Promise<StoredRow<Row>[]> {
  const found: StoredRow<Row>[] = [];
  for await (const each of store.read()) found.push(each);
  return found;
}

const plant = model(
  {
    tag: text({ required: true }),
    bed: integer({ minimum: 1, maximum: 120 }),
    height: number(),
    price: decimal(),
    sown: date(),
    seen: instant(),
    potted: boolean(),
    condition: oneOf([1, 2, 3]),
    light: oneOf(["sun", "shade"]),
    uses: someOf(["hedge", "street"]),
    place: group({ row: text(), plot: integer() }),
    treatments: rows(model({ on: date(), cost: decimal() })),
  },
  { key: "tag", title: "Plant of stock" },
);
const full = {
  tag: "AB-0042",
  bed: 7,
  height: 12.5,
  price: Decimal.of("9.50"),
  sown: "2024-02-29",
  seen: "2026-11-28T09:41:00Z",
  potted: false,
  condition: 2,
  light: "sun",
  uses: ["hedge"],
  place: { row: "N", plot: 3 },
  treatments: [{ on: "2026-01-02", cost: Decimal.of("1.20") }],
} as RowOf<typeof plant>;

/** Somebody else's program at the same file. */
const foreign = (path: string): Connection => new (Driver as unknown as new (path: string) => Connection)(path);

describe("what the file holds", () => {
  test("is a table that others can read: columns by the names of the fields, of their types, and what the model says of numbers", async () => {
    const path = join(folder, "plain.db");
    const store = open(path, plant);
    expect(await store.plan()).toEqual([
      [
        'CREATE TABLE "plant_of_stock" (',
        "  ironwood_version INTEGER NOT NULL,",
        '  "tag" TEXT NOT NULL,',
        `  "bed" INTEGER CONSTRAINT "bed" CHECK (typeof("bed") IN ('integer', 'null') AND "bed" >= 1 AND "bed" <= 120),`,
        '  "height" REAL,',
        '  "price" TEXT,',
        '  "sown" TEXT,',
        '  "seen" TEXT,',
        '  "potted" INTEGER CONSTRAINT "potted" CHECK ("potted" IN (0, 1)),',
        '  "condition" INTEGER,',
        '  "light" TEXT,',
        '  "uses" TEXT,',
        '  "place_row" TEXT,',
        '  "place_plot" INTEGER CONSTRAINT "place_plot" CHECK (typeof("place_plot") IN (\'integer\', \'null\')),',
        '  PRIMARY KEY ("tag")',
        ")",
      ].join("\n"),
      [
        'CREATE TABLE "plant_of_stock_treatments" (',
        '  "plant_of_stock_tag" TEXT,',
        "  ironwood_place INTEGER NOT NULL,",
        '  "on" TEXT,',
        '  "cost" TEXT,',
        '  PRIMARY KEY ("plant_of_stock_tag", ironwood_place),',
        '  FOREIGN KEY ("plant_of_stock_tag") REFERENCES "plant_of_stock" ("tag") ON DELETE CASCADE ON UPDATE CASCADE',
        ")",
      ].join("\n"),
    ]);
    await store.write(
      [
        { kind: "insert", row: full },
        { kind: "insert", row: { ...full, tag: "B", bed: undefined, price: undefined, uses: [], treatments: [] } },
      ],
      { id: "first" },
    );
    expect(await store.plan()).toEqual([]);
    const other = foreign(path);
    expect(other.prepare("SELECT * FROM plant_of_stock WHERE bed = 7").all()).toMatchObject([
      {
        ...{ tag: "AB-0042", bed: 7, height: 12.5, price: "9.5", sown: "2024-02-29", seen: "2026-11-28T09:41:00Z" },
        ...{ potted: 0, condition: 2, light: "sun", uses: '["hedge"]', place_row: "N", place_plot: 3 },
      },
    ]);
    expect(other.prepare("SELECT bed, price, uses FROM plant_of_stock WHERE tag = 'B'").all()).toMatchObject([
      { bed: null, price: null, uses: null },
    ]);
    expect(other.prepare("SELECT * FROM plant_of_stock_treatments").raw().all()).toEqual([
      ["AB-0042", 1, "2026-01-02", "1.2"],
    ]);
    other.close();
    expect(await all(open(path, plant))).toMatchObject([{ row: full }, { row: { tag: "B", uses: [] } }]);
  });

  test("is refused at the field where the database itself does not take it, and where half a character would be lost", async () => {
    const store = open(join(folder, "limits.db"), plant);
    for (const [wrong, pointer] of [
      [{ bed: 500 }, "/bed"],
      [{ tag: "a\ud800b" }, "/tag"],
    ] as const)
      expect(
        await store.write([{ kind: "insert", row: { ...full, ...wrong } }], { id: JSON.stringify(wrong) }),
      ).toMatchObject({
        ok: false,
        refused: [{ change: 0, problems: [{ code: "typeMismatch", pointer }] }],
      });
    expect(await all(store)).toEqual([]);
  });

  test("may be a row that another program has spoiled: it is told, and the others are read", async () => {
    const path = join(folder, "spoiled.db");
    const store = open(path, plant);
    await store.append(full);
    await store.append({ ...full, tag: "B" });
    const other = foreign(path);
    other.exec("UPDATE plant_of_stock SET sown = '31.12.2026', price = 'much' WHERE tag = 'B'");
    other.close();
    expect(await all(store)).toMatchObject([
      { ok: true },
      {
        ok: false,
        line: 2,
        problems: [
          { pointer: "/price" },
          { pointer: "/sown", message: "Sown is not a date as YYYY-MM-DD that exists: 31.12.2026." },
        ],
      },
    ]);
  });

  test("has a field more where the model has one, and is not touched where it is of another kind", async () => {
    const path = join(folder, "older.db");
    const older = model({ tag: text(), bed: integer() }, { key: "tag", title: "plant" });
    await open(path, older).append({ tag: "A", bed: 7 });
    const newer = model({ tag: text(), bed: integer(), notes: text() }, { key: "tag", title: "plant" });
    const store = open(path, newer);
    expect(await store.plan()).toEqual(['ALTER TABLE "plant" ADD COLUMN "notes" TEXT']);
    await store.append({ tag: "B", bed: 8, notes: "new" });
    expect((await all(store)).map((each) => each.ok && each.row)).toEqual([
      { tag: "A", bed: 7, notes: "" },
      { tag: "B", bed: 8, notes: "new" },
    ]);
    // The older program still reads and writes; what it does not know stays.
    const again = open(path, older);
    const [, second] = await all(again);
    expect(second).toMatchObject({ row: { tag: "B", bed: 8 } });
    const { key, version } = second as unknown as { key: string; version: string };
    await again.write([{ kind: "update", key, version, row: { tag: "B", bed: 9 } }], { id: "older" });
    expect((await all(store)).at(-1)).toMatchObject({ row: { bed: 9, notes: "new" } });
    const other = model({ tag: text(), bed: text() }, { key: "tag", title: "plant" });
    await expect(open(path, other).append({ tag: "C", bed: "x" })).rejects.toThrow(
      "The database older.db can't be used: the column bed of plant is INTEGER there, and the model would have TEXT. It was left as it is.",
    );
    const connection = foreign(path);
    connection.exec("CREATE TABLE theirs (tag TEXT)");
    connection.close();
    const theirs = sqliteStore(path, older, { table: "theirs" });
    await expect(theirs.read()[Symbol.asyncIterator]().next()).rejects.toThrow(
      /table theirs that was made by another program/,
    );
    await theirs.close();
  });
});

describe("rows that are read a page at a time", () => {
  test("have numbers to the last digit, and texts to the last sign, whatever stands in a page with them", async () => {
    const seed = 20_261_129;
    const random = seeded(seed);
    const bits = new DataView(new ArrayBuffer(8));
    const anyNumber = (): number => {
      bits.setUint32(0, random.below(2 ** 32));
      bits.setUint32(4, random.below(2 ** 32));
      const found = bits.getFloat64(0);
      return Number.isFinite(found) ? found + 0 : 0.1 + 0.2;
    };
    const count = times(200_000, 0.06);
    const texts = [
      "\u0001\u001f\u007f",
      '"\\/\n',
      "a\u2028\u2029b",
      "💚é",
      "{}",
      "[1]",
      "null",
      "1e5",
      "'",
      "x".repeat(5_000),
    ];
    const measured = model({ tag: text(), height: number(), width: number(), notes: text() }, { key: "tag" });
    const rows = Array.from({ length: count }, (_, index) => ({
      tag: `T-${index}`,
      height: index % 3 === 0 ? random.below(2_000_000) / 1000 : anyNumber(),
      width: index % 5 === 0 ? undefined : random.below(100),
      notes: random.pick(texts),
    }));
    const store = open(join(folder, "numbers.db"), measured);
    await store.write(
      rows.map((row) => ({ kind: "insert", row })),
      { id: "all" },
    );
    // Rows behind one with bytes, and behind one that another program has spoiled, are read as well.
    await store.write([{ kind: "insert", row: { ...rows[0]!, tag: "a\0b" } }], { id: "bytes" });
    const read = (await all(store)).map((each) => each.ok && each.row);
    expect(read).toHaveLength(count + 1);
    const other = [...rows, { ...rows[0]!, tag: "a\0b" }];
    for (const [index, row] of read.entries())
      if (JSON.stringify(row) !== JSON.stringify(other[index])) expect(row).toEqual(other[index]);
    for (const [index, row] of read.entries())
      if (!row || !Object.is(row.height, other[index]!.height)) expect([index, row]).toEqual([index, other[index]]);
    expect(Object.isFrozen(read[0])).toBe(true);
    const spoiling = foreign(join(folder, "numbers.db"));
    spoiling.exec("UPDATE rows SET height = 'tall' WHERE tag = 'T-7'");
    spoiling.close();
    const again = await all(store);
    expect(again.filter(({ ok }) => !ok)).toMatchObject([{ line: 8, problems: [{ pointer: "/height" }] }]);
    expect(again).toHaveLength(count + 1);
    console.info(`${count} rows, seed ${seed}`);
  });

  test("may be so large that no text of the runtime would hold a page of them", async () => {
    const store = open(join(folder, "large.db"), model({ tag: text(), notes: text() }, { key: "tag" }));
    const notes = "n".repeat(1_900_000);
    const rows = Array.from({ length: 40 }, (_, row) => ({ tag: `T-${row}`, notes }));
    await store.write(
      rows.map((row) => ({ kind: "insert", row })),
      { id: "all" },
    );
    let found = 0;
    for await (const each of store.read()) found += each.ok && each.row.notes === notes ? 1 : 0;
    expect(found).toBe(40);
  });
});

describe("a database that can't be used", () => {
  test("is a folder that is not there, a file of another kind, or another program that writes for long: told in words", async () => {
    await expect(open(join(folder, "gone/nursery.db"), plant).append(full)).rejects.toMatchObject({
      kind: "refused",
      message: /The database nursery\.db can't be used: .*its folder is not there/,
    });
    const text = join(folder, "text.db");
    writeFileSync(text, "This is no database, and nobody may write over it. ".repeat(100));
    await expect(open(text, plant).append(full)).rejects.toMatchObject({
      kind: "refused",
      message: /file of another kind/,
    });
    expect(readFileSync(text, "utf8")).toMatch(/^This is no database/);
    const path = join(folder, "locked.db");
    const store = open(path, plant);
    await store.append(full);
    const other = foreign(path);
    other.exec("BEGIN IMMEDIATE");
    const stock = table(plant, [], { locale: "en" });
    const kept = await keep(stock, store);
    stock.update("AB-0042", { bed: 9 });
    expect(await kept.write()).toMatchObject({ ok: false, state: "unreachable" });
    expect(kept.said).toMatch(/1 row not saved yet: .*another program is writing in it.*tried again/);
    other.exec("ROLLBACK");
    other.close();
    expect(await kept.write()).toMatchObject({ ok: true, rows: 1 });
    kept.stop();
  }, 20_000);

  test("closed, or with odd options, says so", async () => {
    const store = open(join(folder, "closed.db"), plant);
    await store.append(full);
    await store.close();
    await expect(store.append(full)).rejects.toThrow("The database closed.db was closed.");
    expect(() => sqliteStore("", plant)).toThrow(/no path/);
    expect(() => sqliteStore("a.db", {} as never)).toThrow(/sqliteStore/);
    expect(() => sqliteStore("a.db", plant, { tabel: "x" } as never)).toThrow(/Did you mean "table"/);
    const alike = model({ place: group({ bed: text() }), place_bed: text() });
    expect(() => sqliteStore("a.db", alike)).toThrow(
      /would have the column "place_bed", which the field "place\.bed" has/,
    );
  });
});
