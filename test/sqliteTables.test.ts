/** Several tables of SQLite that hang together: rows inside rows in tables of their own, and references as foreign keys. */
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, afterEach, describe, expect, test } from "@jest/globals";
import Driver from "libsql";
import {
  addLanguage,
  type AnyModel,
  Decimal,
  decimal,
  group,
  integer,
  model,
  type RowOf,
  rows,
  table,
  text,
} from "../src/index.ts";
import { german } from "../src/messages/de/index.ts";
import { sqliteDatabase, sqliteStore, type SqliteTables } from "../src/sqlite/index.ts";
import { keep, keepTogether, type StoreChange, type StoredRow, toJson } from "../src/store/index.ts";
import { seeded, times } from "./seeded.ts";

const folder = mkdtempSync(join(tmpdir(), "ironwood-tables-"));
let closing: { close(): Promise<void> }[] = [];
afterEach(async () => {
  for (const each of closing) await each.close();
  closing = [];
});
afterAll(() => rmSync(folder, { recursive: true }));

async function all<Row>(store: { read(): AsyncIterable<StoredRow<Row>> }): Promise<StoredRow<Row>[]> {
  const found: StoredRow<Row>[] = [];
  for await (const each of store.read()) found.push(each);
  return found;
}
/** What another program finds by SQL of its own. */
function sql<R>(path: string, query: string): R[] {
  const connection = new Driver(path);
  const found = connection.prepare(query).raw().all() as R[];
  connection.close();
  return found;
}

const mark = model({ what: text(), cost: decimal() });
const line = model({ species: text(), count: integer({ minimum: 1, maximum: 500 }), marks: rows(mark) });
const order = model(
  { number: integer(), site: text(), plan: group({ wanted: rows(line) }), notes: rows(mark) },
  { key: "number", title: "Order" },
);
type Order = RowOf<typeof order>;
const json = (row: Order): string => JSON.stringify(toJson(order, row));

describe("rows inside rows", () => {
  test("have tables of their own, which are found by the key of their row, and go with it", async () => {
    const path = join(folder, "inside.db");
    const store = sqliteStore(path, order, { table: "orders" });
    closing.push(store);
    expect(await store.plan()).toHaveLength(4);
    const row = {
      number: 7,
      site: "River bank",
      plan: { wanted: [{ species: "Salix caprea", count: 40, marks: [{ what: "rods", cost: Decimal.of("1.20") }] }] },
      notes: [],
    } as unknown as Order;
    const done = await store.write([{ kind: "insert", row }], { id: "a" });
    expect(done.ok).toBe(true);
    expect(sql(path, "SELECT orders_number, ironwood_place, species, count FROM orders_plan_wanted")).toEqual([
      [7, 1, "Salix caprea", 40],
    ]);
    expect(sql(path, "SELECT * FROM orders_plan_wanted_marks")).toEqual([[7, 1, 1, "rods", "1.2"]]);
    const [found] = await all(store);
    expect(found?.ok === true && json(found.row)).toBe(json(row));
    expect(sql(path, "SELECT sum(count) FROM orders JOIN orders_plan_wanted ON number = orders_number")).toEqual([
      [40],
    ]);
    // What another program deletes takes along what is inside.
    const connection = new Driver(path);
    connection.exec("PRAGMA foreign_keys = ON; DELETE FROM orders");
    connection.close();
    expect(sql(path, "SELECT * FROM orders_plan_wanted_marks")).toEqual([]);
  });

  test("that the database does not take are refused where they are, and a spoiled one makes its row one that can't be read", async () => {
    const path = join(folder, "refused.db");
    const store = sqliteStore(path, order, { table: "orders" });
    closing.push(store);
    const wrong = {
      number: 1,
      site: "",
      plan: { wanted: [line, { species: "", count: 501, marks: [] }].slice(1) },
      notes: [],
    } as unknown as Order;
    const half = { number: 2, site: "", plan: { wanted: [] }, notes: [{ what: "\ud800" }] } as unknown as Order;
    const fine = { number: 3, site: "", plan: { wanted: [] }, notes: [{ what: "x" }] } as unknown as Order;
    const result = await store.write(
      [wrong, half, fine].map((row) => ({ kind: "insert", row }) as const),
      { id: "a" },
    );
    expect(
      "refused" in result && result.refused.map(({ change, problems }) => [change, problems.map((p) => p.pointer)]),
    ).toEqual([
      [0, ["/plan/wanted/0/count"]],
      [1, ["/notes/0/what"]],
    ]);
    expect(await all(store)).toEqual([]);
    await store.write([{ kind: "insert", row: fine }], { id: "b" });
    const connection = new Driver(path);
    connection.exec("UPDATE orders_notes SET cost = 'cheap'");
    connection.close();
    expect((await all(store))[0]).toMatchObject({ ok: false, problems: [{ pointer: "/notes/0/cost" }] });
    const wanted = [{ species: "A", count: 1, marks: [{ what: "x" }, { what: "y" }] }];
    const deep = { number: 4, site: "", plan: { wanted }, notes: [] } as unknown as Order;
    await store.write([{ kind: "insert", row: deep }], { id: "c" });
    const again = new Driver(path);
    again.exec("UPDATE orders_plan_wanted_marks SET cost = 'cheap' WHERE ironwood_place_2 = 2");
    // What an older program had kept in a column would not be seen.
    again.exec("CREATE TABLE older (ironwood_version INTEGER NOT NULL, number INT PRIMARY KEY, notes TEXT)");
    again.close();
    const pointer = "/plan/wanted/0/marks/1/cost";
    expect((await all(store))[1]).toMatchObject({ ok: false, problems: [{ pointer }] });
    const older = sqliteStore(path, order, { table: "older" });
    closing.push(older);
    await expect(older.mark()).rejects.toThrow(/a column for the rows in notes of older/);
    const clash = model({ tag: text(), inside: rows(model({ stock_tag: text() })) }, { key: "tag" });
    expect(() => sqliteStore(path, clash, { table: "stock" })).toThrow(/stock_tag/);
  });

  test.each<[string, AnyModel]>([
    ["with a key", order],
    ["without one", model({ site: text(), plan: group({ wanted: rows(line) }), notes: rows(mark) })],
  ])("property: of rows %s, what is read is what was written, and nothing is left of what is not", async (_, kind) => {
    const random = seeded(9143);
    const count = times(120, 0.2);
    for (let round = 0; round < count; round++) {
      const path = join(folder, `random-${kind.parts.key.length}-${round}.db`);
      const store = sqliteStore(path, kind as typeof order, { table: "orders" });
      const there = new Map<string, { key: never; version: string; row: Order }>();
      const some = <T>(make: (index: number) => T): T[] =>
        Array.from({ length: random.below(4) }, (__, at) => make(at));
      const marks = () => some(() => ({ what: random.pick(["", "rods", "a\0b", "Grün"]), cost: undefined }));
      const newRow = (number: number): Order =>
        ({
          ...(kind === order && { number }),
          site: random.pick(["School yard", "Depot"]),
          plan: { wanted: some((at) => ({ species: `S${at}`, count: 1 + random.below(9), marks: marks() })) },
          notes: marks(),
        }) as unknown as Order;
      let next = 0;
      for (let write = 0; write < 6; write++) {
        const changes: StoreChange<Order, number>[] = [];
        const touched: string[] = [];
        const numbers = [...there.values()].map(({ row }) => row.number);
        for (const [id, { key, version }] of there) {
          const what = random.below(5);
          if (what > 1) continue;
          touched.push(id);
          // Now and then two rows exchange their keys.
          const number = random.below(2) === 0 ? numbers.splice(random.below(numbers.length), 1)[0]! : next++;
          if (what === 0) changes.push({ kind: "delete", key, version });
          else if (random.below(2) === 0) changes.push({ kind: "update", key, version, row: newRow(number) });
          else changes.push({ kind: "update", key, version, row: newRow(key) });
        }
        for (let more = random.below(3); more > 0; more--) changes.push({ kind: "insert", row: newRow(next++) });
        const result = await store.write(changes, { id: `${round} ${write}` });
        // A key that stays with another row is taken: nothing of it is there.
        if (!result.ok) continue;
        for (const id of touched) there.delete(id);
        for (const each of result.written) if (each) there.set(JSON.stringify(each.key), each as never);
        if (random.below(3) === 0) expect((await store.write(changes, { id: `${round} ${write}` })).ok).toBe(true);
        const found = (await all(store)).map((each) => each.ok && JSON.stringify(toJson(kind, each.row as never)));
        expect([round, write, found.sort()]).toEqual([
          round,
          write,
          [...there.values()].map(({ row }) => JSON.stringify(toJson(kind, row as never))).sort(),
        ]);
        const rowsThere = [...there.values()].map(({ row }) => row);
        const inside = rowsThere.flatMap(({ plan }) => plan.wanted as readonly RowOf<typeof line>[]);
        const sums = [
          inside.length,
          inside.flatMap((each) => each.marks).length,
          rowsThere.flatMap((r) => r.notes).length,
        ];
        const tables = ["orders_plan_wanted", "orders_plan_wanted_marks", "orders_notes"];
        expect(tables.map((name) => sql<[number]>(path, `SELECT count(*) FROM ${name}`)[0]![0])).toEqual(sums);
      }
      await store.close();
    }
    console.info(`${count} sequences, seed ${random.seed}`);
  });
});

describe("references", () => {
  const site = model({ number: integer(), name: text() }, { key: "number", title: "Site" });
  const item = model({ tag: text(), site: integer() }, { key: "tag", title: "Item" });
  const opened = (path: string): SqliteTables => {
    const database = sqliteDatabase(path);
    closing.push(database);
    return database;
  };

  test("are foreign keys, looked at when all is written; what breaks them is refused at its row and field", async () => {
    const path = join(folder, "references.db");
    const database = opened(path);
    const items = database.store(item, "items", { references: { site: "sites" } });
    const sites = database.store(site, "sites");
    const write = (parts: [object, readonly unknown[]][], id: string) =>
      database.write(parts.map(([store, changes]) => ({ store, changes })) as never, { id });
    // The one that refers comes first.
    const [ofItems, ofSites] = await write(
      [
        [items, [{ kind: "insert", row: { tag: "A", site: 1 } }]],
        [sites, [{ kind: "insert", row: { number: 1, name: "Depot" } }]],
      ],
      "a",
    );
    expect([ofItems?.ok, ofSites?.ok]).toEqual([true, true]);
    expect(sql(path, 'SELECT "from", "table", "to" FROM pragma_foreign_key_list(\'items\')')).toEqual([
      ["site", "sites", "number"],
    ]);
    expect(await items.write([{ kind: "insert", row: { tag: "B", site: 9 } }], { id: "b" })).toMatchObject({
      ok: false,
      refused: [{ change: 0, problems: [{ code: "notAChoice", pointer: "/site" }] }],
    });
    expect(await items.write([{ kind: "insert", row: { tag: "B", site: undefined } }], { id: "c" })).toMatchObject({
      ok: true,
    });
    const [first] = await all(sites);
    const { key, version } = first as unknown as { key: number; version: string };
    const inUse = { ok: false, refused: [{ change: 0, problems: [{ code: "inUse" }] }] };
    expect(await sites.write([{ kind: "delete", key, version }], { id: "d" })).toMatchObject(inUse);
    const renamed = { kind: "update", key, version, row: { number: 2, name: "Depot" } } as const;
    expect(await sites.write([renamed], { id: "e" })).toMatchObject(inUse);
    const [itemA] = await all(items);
    const { version: versionA } = itemA as unknown as { version: string };
    const both = await write(
      [
        [sites, [{ kind: "delete", key, version }]],
        [items, [{ kind: "delete", key: "A", version: versionA }]],
      ],
      "f",
    );
    expect(both.map(({ ok }) => ok)).toEqual([true, true]);
    expect(() => database.store(item, "others", { references: { sight: "sites" } as never })).toThrow(/site/);
    expect(() => database.store(item, "others", { refers: {} } as never)).toThrow(/references/);
    const another = opened(join(folder, "another.db"));
    const astray = another.store(item, "items", { references: { site: "sights" } });
    await expect(astray.mark()).rejects.toThrow(/items refers in site to a table sights, and there is none/);
  });

  test("of tables that are kept together are those of the tables", async () => {
    const path = join(folder, "kept.db");
    const open = async () => {
      const sites = table(site, []);
      const items = table(item, [], { references: { site: sites } });
      const kept = await keepTogether({ items, sites }, opened(path));
      return { sites, items, kept };
    };
    const [mine, theirs] = [await open(), await open()];
    mine.sites.insert({ number: 1, name: "Depot" });
    await mine.kept.write();
    await theirs.kept.reload();
    // One deletes a site while the other puts an item there.
    theirs.items.insert({ tag: "A", site: 1 });
    mine.sites.delete(1);
    expect((await theirs.kept.write()).ok).toBe(true);
    const result = await mine.kept.write();
    const inUse = (row: string) => `1 row not saved: Other rows in kept.db still use ${row}.`;
    expect([result.ok, result.said]).toEqual([false, expect.stringContaining(inUse("Site 1"))]);
    expect(sql(path, "SELECT count(*) FROM sites")).toEqual([[1]]);
    mine.kept.revert();
    expect([mine.kept.state, mine.sites.size]).toEqual(["saved", 1]);
    for (const { kept } of [mine, theirs]) kept.stop();
  });

  test("that the place refuses are told in the language of the table", async () => {
    addLanguage(german);
    const database = opened(join(folder, "told.db"));
    const placeOfSites = database.store(site, "sites");
    const sites = table(site, [], { locale: "de" });
    // The tables are known to each other at the place only.
    const items = table(item, [], { locale: "de" });
    const kept = await keep(sites, placeOfSites);
    const keptItems = await keep(items, database.store(item, "items", { references: { site: "sites" } }));
    items.insert({ tag: "A", site: 7 });
    expect((await keptItems.write()).said).toContain("1 Zeile nicht gespeichert: 7 steht nicht zur Auswahl.");
    expect(items.problemsOf(items.get("A")!).map(({ message }) => message)).toEqual(["7 steht nicht zur Auswahl."]);
    sites.insert({ number: 7, name: "Depot" });
    expect([(await kept.write()).ok, (await keptItems.write()).ok]).toEqual([true, true]);
    // The number is another one now: what other rows use is the one that it had.
    sites.update(7, { number: 8 });
    expect((await kept.write()).said).toContain("Andere Zeilen in told.db verwenden Site 7 noch.");
    for (const each of [kept, keptItems]) each.stop();
  });
});
