/** Rows, tables and drafts that an older model has written. */
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, afterEach, describe, expect, test } from "@jest/globals";
import Driver from "libsql";
import { fileStore, folderStore } from "../src/files/index.ts";
import {
  type AnyModel,
  date,
  Decimal,
  decimal,
  group,
  integer,
  list,
  model,
  newEntry,
  number,
  type RowOf,
  rows,
  table,
  text,
} from "../src/index.ts";
import { sqliteStore } from "../src/sqlite/index.ts";
import {
  type ChangeableStore,
  fromJson,
  keep,
  keepDraft,
  loadRows,
  memoryDrafts,
  memoryStore,
  type StoredRow,
} from "../src/store/index.ts";
import { seeded, times } from "./seeded.ts";

const folder = mkdtempSync(join(tmpdir(), "ironwood-older-"));
let closing: (() => unknown)[] = [];
afterEach(async () => {
  for (const close of closing) await close();
  closing = [];
});
afterAll(() => rmSync(folder, { recursive: true }));
let places = 0;

const older = model(
  {
    tag: text(),
    circumference: decimal(),
    heightInFeet: number(),
    place: group({ plot: integer(), row: text() }),
    planted: text(),
    hazards: list(text()),
  },
  { key: "tag", title: "Tree" },
);
const day = (text: unknown): string => String(text).split(".").reverse().join("-");
const newer = model(
  {
    tag: text(),
    girth: decimal(),
    height: integer(),
    plot: integer(),
    place: group({ row: text() }),
    planted: date(),
    hazards: list(text()),
    notes: text(),
  },
  { key: "tag", title: "Tree" },
).formerly({
  fields: { girth: "circumference", plot: "place.plot" },
  read: (row) => ({
    height: Math.round(Number(row["heightInFeet"]) * 30.48),
    planted: row["planted"] === undefined ? undefined : day(row["planted"]),
  }),
});
type Older = RowOf<typeof older>;
type Newer = RowOf<typeof newer>;
const modern = (row: Older): Newer => ({
  tag: row.tag,
  girth: row.circumference,
  height: row.heightInFeet === undefined ? undefined : Math.round(row.heightInFeet * 30.48),
  plot: row.place.plot,
  place: { row: row.place.row },
  planted: row.planted === "" ? undefined : day(row.planted),
  hazards: row.hazards,
  notes: "",
});

type AnyStore = ChangeableStore<never, never> & { close?(): Promise<void> };
const stores: Readonly<Record<string, (at: string, ofModel: AnyModel) => AnyStore>> = {
  ndjson: (at, ofModel) => fileStore(join(folder, `${at}.ndjson`), ofModel) as never,
  json: (at, ofModel) => fileStore(join(folder, `${at}.json`), ofModel) as never,
  folder: (at, ofModel) => folderStore(join(folder, at), ofModel, { fileName: ["tag"] as never }) as never,
  sqlite: (at, ofModel) => sqliteStore(join(folder, `${at}.db`), ofModel) as never,
  csv: (at, ofModel) => fileStore(join(folder, `${at}.csv`), ofModel) as never,
};
const open = (kind: string, at: string, ofModel: AnyModel): AnyStore => {
  const store = stores[kind]!(at, ofModel);
  closing.push(() => store.close?.());
  return store;
};
async function all(store: AnyStore): Promise<StoredRow<unknown>[]> {
  const found: StoredRow<unknown>[] = [];
  for await (const each of store.read()) found.push(each);
  return found;
}
const plain = (row: unknown): unknown => JSON.parse(JSON.stringify(row));
const right = (found: readonly StoredRow<unknown>[]): unknown[] =>
  found.map((each) => (each.ok ? plain(each.row) : each.problems));

const first: Older = {
  tag: "T-1",
  circumference: Decimal.of("121.50"),
  heightInFeet: 10,
  place: { plot: 4, row: "N" },
  planted: "29.02.2024",
  hazards: ["road"],
};

describe.each(Object.keys(stores))("%s", (kind) => {
  test("has rows of an older model as the model of now has them, and keeps each as it is until it is changed", async () => {
    const at = `rows-${places++}`;
    const blank: Older = {
      tag: "T-2",
      circumference: undefined,
      heightInFeet: undefined,
      place: { plot: undefined, row: "" },
      planted: "",
      hazards: [],
    };
    const before = open(kind, at, older);
    await before.write(
      [first, blank].map((row) => ({ kind: "insert", row }) as never),
      { id: "older" },
    );
    await before.close?.();
    const shown = table(newer, []);
    const kept = await keep(shown, open(kind, at, newer) as never);
    expect(kept.leftOut).toEqual([]);
    expect(plain(shown.get("T-1"))).toEqual(plain(modern(first)));
    expect(plain(shown.get("T-2"))).toEqual(plain(modern(blank)));
    shown.update("T-1", { height: undefined, girth: Decimal.of("1.5") });
    shown.insert({ ...modern(first), tag: "T-3" });
    expect(await kept.write()).toMatchObject({ ok: true });
    kept.stop();
    // What was blanked does not come back of what it was called before.
    const right = [
      { ...modern(first), height: undefined, girth: Decimal.of("1.5") },
      modern(blank),
      { ...modern(first), tag: "T-3" },
    ];
    const found = await all(open(kind, at, newer));
    expect(found.map((each) => each.ok && plain(each.row))).toEqual(right.map(plain));
  });

  test("has what nothing is said of refused row by row, with the reason, and left where it is", async () => {
    const at = `strange-${places++}`;
    const before = open(kind, at, older);
    await before.write(
      [
        { kind: "insert", row: first } as never,
        { kind: "insert", row: { ...first, tag: "T-2", planted: "soon" } } as never,
      ],
      {
        id: "older",
      },
    );
    await before.close?.();
    const found = await all(open(kind, at, newer));
    expect(found.filter(({ ok }) => ok)).toHaveLength(1);
    expect(JSON.stringify(found.filter(({ ok }) => !ok))).toMatch(/Planted is not a date as YYYY-MM-DD/);
    const again = open(kind, at, newer);
    await again.write([{ kind: "insert", row: { ...modern(first), tag: "T-9" } } as never], { id: "newer" });
    expect(JSON.stringify(await all(open(kind, at, newer)))).toMatch(/Planted is not a date as YYYY-MM-DD/);
  });

  test(`property: ${times(40)} random rows of an older model, changed at random by the newer`, async () => {
    const seed = 6_151;
    const random = seeded(seed);
    const mayBe = <T>(value: T): T | undefined => (random.below(3) === 0 ? undefined : value);
    for (let sequence = 0; sequence < times(40) / 10; sequence++) {
      const at = `random-${places++}`;
      const given = Array.from({ length: 1 + random.below(10) }, (_, index): Older => ({
        tag: `T-${index}`,
        circumference: mayBe(Decimal.of(`${random.below(1000)}.${random.below(10)}`)),
        heightInFeet: mayBe(random.below(100)),
        place: { plot: mayBe(random.below(50)), row: mayBe("N") ?? "" },
        planted: mayBe(`0${1 + random.below(9)}.1${random.below(3)}.2024`) ?? "",
        hazards: mayBe(["road"]) ?? [],
      }));
      const before = open(kind, at, older);
      await before.write(
        given.map((row) => ({ kind: "insert", row }) as never),
        { id: "older" },
      );
      await before.close?.();
      const oracle = new Map(given.map((row) => [row.tag, modern(row)]));
      for (let round = 0; round < 3; round++) {
        const shown = table(newer, []);
        const store = open(kind, at, newer);
        const kept = await keep(shown, store as never);
        for (let step = random.below(4); step > 0; step--) {
          const tag = `T-${random.below(given.length)}`;
          const row = oracle.get(tag);
          const change = random.pick([
            { height: mayBe(random.below(3000)) },
            { girth: undefined },
            { plot: mayBe(7) },
            { planted: undefined },
            { notes: "n" },
          ]);
          if (row === undefined) continue;
          if (random.below(5) === 0) {
            shown.delete(tag);
            oracle.delete(tag);
          } else {
            shown.update(tag, change);
            oracle.set(tag, { ...row, ...change });
          }
        }
        expect(await kept.write()).toMatchObject({ ok: true });
        kept.stop();
        await store.close?.();
      }
      expect([sequence, right(await all(open(kind, at, newer)))]).toEqual([sequence, [...oracle.values()].map(plain)]);
    }
    console.info(`seed ${seed}`);
  });
});

describe("a model that changed", () => {
  test("refuses what can't have been so, with the nearest name", () => {
    const tree = model({ tag: text(), girth: decimal(), height: integer() }, { key: "tag" });
    const call =
      (said: object): (() => unknown) =>
      () =>
        tree.formerly(said);
    expect(call({ fields: { girht: "x" } })).toThrow(
      'The field "girht" is not known, at .formerly(). Did you mean "girth"?',
    );
    expect(call({ fields: { girth: "height" } })).toThrow('The former name "height" of "girth" is a name of "height"');
    expect(call({ fields: { girth: ["a", "b"], height: "b" } })).toThrow(
      'The former name "b" of "height" is a name of "girth"',
    );
    expect(call({ fields: { girth: 7 } })).toThrow("Received 7");
    expect(call({ read: "x" })).toThrow("read");
    expect(call({ feilds: {} })).toThrow('Did you mean "fields"?');
  });

  test("several times reads rows of each, the last name first; a name of now goes before a former one", () => {
    const tree = model({ tag: text(), girth: integer() }, { key: "tag" })
      .formerly({
        fields: { girth: "size" },
        read: (row) => (row["inches"] === undefined ? {} : { girth: Math.round(Number(row["inches"]) * 2.54) }),
      })
      .formerly({ fields: { girth: ["circumference", "around"] } });
    for (const [json, girth] of [
      [{ tag: "A", size: 3 }, 3],
      [{ tag: "A", circumference: 4 }, 4],
      [{ tag: "A", around: 5 }, 5],
      [{ tag: "A", inches: 10 }, 25],
      [{ tag: "A", girth: 6 }, 6],
    ] as const)
      expect(fromJson(tree, json)).toEqual({ ok: true, row: { tag: "A", girth } });
    // Two values for one field: nobody knows which holds.
    expect(fromJson(tree, { tag: "A", girth: 6, size: 3 })).toMatchObject({
      ok: false,
      problems: [{ pointer: "/size" }],
    });
    expect(fromJson(tree, { tag: "A", other: 3 })).toMatchObject({
      ok: false,
      problems: [{ message: 'There is no field "other".' }],
    });
    for (const name of ["__proto__", "constructor"])
      expect(fromJson(tree, JSON.parse(`{"tag":"A","${name}":{"girth":3}}`))).toMatchObject({ ok: false });
  });

  test("tells that its own reading failed, and where; what it has not looked at is not dropped", () => {
    const failing = model({ tag: text(), girth: integer() }, { key: "tag" }).formerly({
      read: (row) => ({ girth: (row["size"] as string[]).length }),
    });
    expect(fromJson(failing, { tag: "A", other: 1 })).toMatchObject({
      ok: false,
      problems: [
        { pointer: "/other" },
        { message: expect.stringContaining("The model's own reading of older rows failed: ") as unknown },
      ],
    });
    expect(fromJson(failing, { tag: "A", size: [1, 2], other: 1 })).toMatchObject({
      ok: false,
      problems: [{ pointer: "/other" }],
    });
    expect(fromJson(failing, { tag: "A", size: [1, 2] })).toEqual({ ok: true, row: { tag: "A", girth: 2 } });
  });

  test("reads rows inside rows by what is said of their own model", () => {
    const line = model({ species: text(), count: integer() }).formerly({ fields: { count: "number" } });
    const order = model({ id: integer(), lines: rows(line) }, { key: "id" }).formerly({ fields: { lines: "wanted" } });
    expect(fromJson(order, { id: 1, wanted: [{ species: "Salix alba", number: 3 }] })).toEqual({
      ok: true,
      row: { id: 1, lines: [{ species: "Salix alba", count: 3 }] },
    });
    expect(fromJson(order, { id: 1, wanted: [{ species: "Salix alba", much: 3 }] })).toMatchObject({
      ok: false,
      problems: [{ pointer: "/lines/0/much" }],
    });
  });

  test("finds columns of CSV by former names, and reads what is in columns of no field", async () => {
    const shown = table(newer, []);
    const csv = 'Tag,CIRCUMFERENCE,heightInFeet,colour,planted\r\nA,"12,5",10,red,29.02.2024\r\nB,,,,2024-03-01\r\n';
    const read = await loadRows(shown, csv, { format: "csv", locale: "de" } as never);
    expect(read).toMatchObject({ rows: 2, unused: ["colour"] });
    expect(plain(shown.get("A"))).toMatchObject({ girth: "12.5", height: 305, planted: "2024-02-29" });
    expect(plain(shown.get("B"))).toMatchObject({ planted: "2024-03-01" });
  });

  test("keeps a file to the letter but for the row that is changed, which has no former members any more", async () => {
    const path = join(folder, "letter.json");
    const second = '{"tag": "B",   "circumference":"2.0", "colour": "red"}';
    writeFileSync(path, `[\n  {"tag":"A","circumference":"1.5","heightInFeet":10,"colour":"green"},\n  ${second}\n]\n`);
    const shown = table(newer, []);
    const kept = await keep(shown, fileStore(path, newer) as never);
    shown.update("A", { notes: "seen" });
    expect(await kept.write()).toMatchObject({ ok: true });
    kept.stop();
    const now = readFileSync(path, "utf8");
    expect(now).toContain(second);
    expect(JSON.parse(now)).toMatchObject([
      { tag: "A", girth: "1.5", height: 305, notes: "seen", colour: "green" },
      {},
    ]);
    expect(Object.keys((JSON.parse(now) as object[])[0]!)).not.toContain("circumference");
    expect(now).not.toContain('heightInFeet":10,');
  });
});

describe("a table of SQLite", () => {
  const sql = (path: string, query: string): unknown[][] => {
    const other = new Driver(path);
    const found = other.prepare(query).raw().all([]) as unknown[][];
    other.close();
    return found;
  };

  test("has its columns renamed and added, as plan() shows; rows inside rows too", async () => {
    const path = join(folder, "renamed.db");
    const inner = model({ species: text(), number: integer({ minimum: 1 }), marks: rows(model({ mark: text() })) });
    const was = model(
      { id: integer(), site: text(), wanted: rows(inner), size: integer({ minimum: 1, maximum: 9 }) },
      { key: "id", title: "Orders" },
    );
    const before = sqliteStore(path, was);
    await before.write(
      [
        {
          kind: "insert",
          row: {
            id: 1,
            site: "River bank",
            size: 4,
            wanted: [{ species: "Salix alba", number: 3, marks: [{ mark: "old" }] }],
          },
        },
      ],
      { id: "a" },
    );
    await before.close();
    const innerNow = model({
      species: text(),
      count: integer({ minimum: 1 }),
      marks: rows(model({ note: text() }).formerly({ fields: { note: "mark" } })),
    }).formerly({
      fields: { count: "number" },
    });
    const now = model(
      {
        number: integer(),
        site: text(),
        lines: rows(innerNow),
        girth: integer({ minimum: 1, maximum: 90 }),
        notes: text(),
      },
      { key: "number", title: "Orders" },
    ).formerly({
      fields: { number: "id", lines: "wanted", girth: "size" },
    });
    const store = sqliteStore(path, now);
    closing.push(() => store.close());
    const plan = await store.plan();
    expect(plan).toEqual([
      'ALTER TABLE "orders" RENAME COLUMN "id" TO "number"',
      'ALTER TABLE "orders" RENAME COLUMN "size" TO "girth"',
      'ALTER TABLE "orders" ADD COLUMN "notes" TEXT',
      `ALTER TABLE "orders" ADD COLUMN "ironwood_new_girth" INTEGER CONSTRAINT "girth" CHECK (typeof("ironwood_new_girth") IN ('integer', 'null') AND "ironwood_new_girth" >= 1 AND "ironwood_new_girth" <= 90)`,
      'UPDATE "orders" SET "ironwood_new_girth" = "girth"',
      'ALTER TABLE "orders" DROP COLUMN "girth"',
      'ALTER TABLE "orders" RENAME COLUMN "ironwood_new_girth" TO "girth"',
      'ALTER TABLE "orders_wanted" RENAME TO "orders_lines"',
      'ALTER TABLE "orders_lines" RENAME COLUMN "orders_id" TO "orders_number"',
      'ALTER TABLE "orders_lines" RENAME COLUMN "number" TO "count"',
      'ALTER TABLE "orders_wanted_marks" RENAME TO "orders_lines_marks"',
      'ALTER TABLE "orders_lines_marks" RENAME COLUMN "orders_id" TO "orders_number"',
      'ALTER TABLE "orders_lines_marks" RENAME COLUMN "mark" TO "note"',
    ]);
    const row = {
      number: 1,
      site: "River bank",
      girth: 4,
      notes: "",
      lines: [{ species: "Salix alba", count: 3, marks: [{ note: "old" }] }],
    };
    const [found] = (await all(store as never)) as unknown as { row: unknown; version: string }[];
    expect(found!.row).toEqual(row);
    expect(await store.plan()).toEqual([]);
    expect(
      await store.write([{ kind: "update", key: 1, version: found!.version, row: { ...row, number: 2, girth: 50 } }], {
        id: "b",
      }),
    ).toMatchObject({ ok: true });
    expect(await store.write([{ kind: "insert", row: { ...row, number: 3, girth: 91 } }], { id: "c" })).toMatchObject({
      refused: [{ problems: [{ pointer: "/girth" }] }],
    });
    expect(sql(path, "SELECT orders_number, count FROM orders_lines")).toEqual([[2, 3]]);
  });

  test("with rows outside of tighter limits keeps them, and has the limits when they are right", async () => {
    const path = join(folder, "limits.db");
    const bed = (maximum: number | undefined) =>
      model({ tag: text(), bed: integer({ maximum }) }, { key: "tag", title: "Beds" });
    const use = async (
      maximum: number | undefined,
      work: (store: ReturnType<typeof sqliteStore>) => Promise<void>,
    ): Promise<string> => {
      const store = sqliteStore(path, bed(maximum));
      await work(store);
      expect(await store.plan()).toEqual([]);
      await store.close();
      return String(sql(path, "SELECT sql FROM sqlite_master WHERE name = 'beds'"));
    };
    const insert = (tag: string, value: number) => async (store: ReturnType<typeof sqliteStore>) => {
      expect(await store.write([{ kind: "insert", row: { tag, bed: value } }], { id: tag })).toMatchObject({
        ok: true,
      });
    };
    expect(await use(10, insert("A", 7))).toContain("<= 10");
    expect(await use(100, insert("B", 70))).toContain("<= 100");
    expect(
      await use(50, async (store) => {
        await store.mark();
      }),
    ).not.toContain("CHECK");
    expect(await use(undefined, insert("C", 7000))).toContain("CHECK (typeof");
    expect(sql(path, "SELECT tag, bed FROM beds ORDER BY tag")).toEqual([
      ["A", 7],
      ["B", 70],
      ["C", 7000],
    ]);
    // A view of another program needs the column: the limits stay, and the rows can be used.
    const other = new Driver(path);
    other.exec("CREATE VIEW seen AS SELECT bed FROM beds");
    other.close();
    const tied = sqliteStore(path, bed(9_000));
    closing.push(() => tied.close());
    await insert("D", 8_000)(tied);
    expect(await tied.plan()).toHaveLength(4);
    expect(sql(path, "SELECT count(*) FROM seen")).toEqual([[4]]);
  });

  test("whose column has another type now is read by the model, and keeps what it held; what can't be read stops it, with each row", async () => {
    const path = join(folder, "types.db");
    const was = model({ tag: text(), bed: text(), size: text() }, { key: "tag", title: "Beds" });
    const before = sqliteStore(path, was);
    await before.write(
      [
        { kind: "insert", row: { tag: "A", bed: "seven", size: "3" } },
        { kind: "insert", row: { tag: "B", bed: "eight", size: "" } },
      ],
      { id: "a" },
    );
    await before.close();
    const words: Readonly<Record<string, number>> = { seven: 7 };
    const now = (eight: number | undefined) =>
      model({ tag: text(), bed: integer(), size: integer() }, { key: "tag", title: "Beds" }).formerly({
        read: (row) => ({
          bed: { ...words, eight }[String(row["bed"])],
          ...(row["size"] !== undefined && { size: Number(row["size"]) }),
        }),
      });
    await expect(
      sqliteStore(path, model({ tag: text(), bed: integer() }, { key: "tag", title: "Beds" })).mark(),
    ).rejects.toThrow("the column bed of beds is TEXT there, and the model would have INTEGER");
    const failing = sqliteStore(
      path,
      model({ tag: text(), bed: integer(), size: text() }, { key: "tag", title: "Beds" }).formerly({
        read: (row) => (row["bed"] === "seven" ? { bed: 7 } : {}),
      }),
    );
    closing.push(() => failing.close());
    await expect(failing.mark()).rejects.toThrow(
      "The database types.db can't be used: rows of beds can't be read as the model has them now: row 2: Bed is not a whole number: eight.. It was left as it is.",
    );
    expect(sql(path, "SELECT tag, bed, size FROM beds")).toEqual([
      ["A", "seven", "3"],
      ["B", "eight", null],
    ]);
    const store = sqliteStore(path, now(8));
    closing.push(() => store.close());
    expect(await store.plan()).toEqual([
      'ALTER TABLE "beds" RENAME COLUMN "bed" TO "ironwood_former_bed"',
      `ALTER TABLE "beds" ADD COLUMN "bed" INTEGER CONSTRAINT "bed" CHECK (typeof("bed") IN ('integer', 'null'))`,
      'ALTER TABLE "beds" RENAME COLUMN "size" TO "ironwood_former_size"',
      `ALTER TABLE "beds" ADD COLUMN "size" INTEGER CONSTRAINT "size" CHECK (typeof("size") IN ('integer', 'null'))`,
      '-- The rows of "beds" are read by .formerly({ read }), which fills "bed", "size"',
    ]);
    expect(right(await all(store as never))).toEqual([
      { tag: "A", bed: 7, size: 3 },
      { tag: "B", bed: 8 },
    ]);
    expect(sql(path, "SELECT ironwood_former_bed, bed FROM beds")).toEqual([
      ["seven", 7],
      ["eight", 8],
    ]);
    await expect(sqliteStore(path, model({ bed: integer() }, { key: "bed", title: "Beds" })).mark()).rejects.toThrow(
      "rows of beds are known by tag there, and by bed in the model",
    );
  });
});

describe("a draft of an older model", () => {
  test("opens under the names of now, as far as it fits, and says what did not", async () => {
    const drafts = memoryDrafts();
    const begin = async (ofModel: AnyModel, work: (fields: Record<string, { enter(text: string): void }>) => void) => {
      const entry = newEntry(ofModel);
      const draft = keepDraft(entry as never, drafts, { name: "tree" });
      closing.push(() => draft.stop());
      await new Promise((go) => setTimeout(go, 20));
      work(entry.fields as never);
      await new Promise((go) => setTimeout(go, 500));
      return { entry, draft };
    };
    const before = await begin(
      model({ tag: text(), circumference: decimal(), heightInFeet: number(), colour: text() }),
      (fields) => {
        fields["tag"]!.enter("T-1");
        fields["circumference"]!.enter("12.5");
        fields["heightInFeet"]!.enter("10");
        fields["colour"]!.enter("red");
      },
    );
    before.draft.stop();
    const { entry, draft } = await begin(newer, () => undefined);
    expect(draft.offered).toBeDefined();
    const taken = draft.take();
    const values = plain((entry as unknown as { values: unknown }).values);
    expect(values).toMatchObject({ tag: "T-1", girth: "12.5", height: 305 });
    expect(JSON.stringify(taken)).toMatch(/Colour/);
    expect(JSON.stringify(taken)).not.toMatch(/feet/i);
  });

  test("of rows that are not saved is taken as the model has them now", async () => {
    const drafts = memoryDrafts();
    const was = table(older, []);
    const place = memoryStore(older);
    const kept = await keep(was, place, { drafts });
    was.insert(first);
    await new Promise((go) => setTimeout(go, 500));
    kept.stop();
    const shown = table(newer, []);
    const again = await keep(shown, memoryStore(newer, { place: place.place }), { drafts });
    closing.push(() => again.stop());
    await new Promise((go) => setTimeout(go, 50));
    expect(again.draft!.offered).toBeDefined();
    again.draft!.take();
    expect(plain(shown.get("T-1"))).toEqual(plain(modern(first)));
  });
});
