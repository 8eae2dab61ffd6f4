/** Fields that the place gives where a row is kept: running numbers, and when and by whom. */
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, afterEach, describe, expect, test } from "@jest/globals";
import { platform } from "../src/engine/index.ts";
import { fileStore, folderStore } from "../src/files/index.ts";
import {
  type AnyModel,
  editEntry,
  group,
  instant,
  integer,
  model,
  newEntry,
  newHistory,
  number,
  type RowOf,
  table,
  text,
  transaction,
  view,
} from "../src/index.ts";
import { sqliteDatabase, sqliteStore } from "../src/sqlite/index.ts";
import { type ChangeableStore, keep, keepTogether, memoryStore, type StoredRow } from "../src/store/index.ts";
import { seeded, times } from "./seeded.ts";

const folder = mkdtempSync(join(tmpdir(), "ironwood-given-"));
let closing: (() => unknown)[] = [];
afterEach(async () => {
  for (const close of closing) await close();
  closing = [];
});
afterAll(() => rmSync(folder, { recursive: true }));
let places = 0;

const order = model(
  {
    id: integer({ given: "number" }),
    site: text(),
    trees: integer(),
    made: group({ at: instant({ given: "created" }), by: text({ given: "createdBy" }) }),
    changed: instant({ given: "changed" }),
    changedBy: text({ given: "changedBy" }),
  },
  { key: "id", title: "Order" },
);
type Order = RowOf<typeof order>;
const line = model({ code: text(), order: integer(), count: integer() }, { key: "code", title: "Line" });
const visit = model(
  { tag: text(), number: integer({ given: "number" }), notes: text() },
  { key: "tag", title: "Visit" },
);

type AnyStore = ChangeableStore<never, never> & { close?(): Promise<void> };
const places_: Record<string, { again(): AnyStore }> = {};
const stores: Readonly<Record<string, (at: string, ofModel: AnyModel, by: string) => AnyStore>> = {
  memory: (at, ofModel, by) => {
    const known = places_[at];
    const store = (known?.again() ?? memoryStore(ofModel, { by })) as never as AnyStore & { again(): AnyStore };
    places_[at] ??= store;
    return store;
  },
  ndjson: (at, ofModel, by) => fileStore(join(folder, `${at}.ndjson`), ofModel, { by }) as never,
  json: (at, ofModel, by) => fileStore(join(folder, `${at}.json`), ofModel, { by }) as never,
  csv: (at, ofModel, by) => fileStore(join(folder, `${at}.csv`), ofModel, { by: () => by }) as never,
  folder: (at, ofModel, by) =>
    folderStore(join(folder, at), ofModel, { fileName: [ofModel.names[0]] as never, by }) as never,
  sqlite: (at, ofModel, by) => sqliteStore(join(folder, `${at}.db`), ofModel, { by }) as never,
};
const open = (kind: string, at: string, ofModel: AnyModel, by = "KM"): AnyStore => {
  const store = stores[kind]!(at, ofModel, by);
  closing.push(() => store.close?.());
  return store;
};
async function all<Row>(store: AnyStore): Promise<(Row & { readonly version?: string })[]> {
  const found: Row[] = [];
  for await (const each of store.read() as AsyncIterable<StoredRow<Row>>) {
    if (!each.ok) throw new Error(JSON.stringify(each.problems));
    found.push(each.row);
  }
  return found as never;
}
const isNow = (text: string | undefined): boolean => Math.abs(Date.parse(text ?? "") - Date.now()) < 60_000;

describe.each(Object.keys(stores))("%s", (kind) => {
  test("gives what is new a number and who made it when, and what is changed who changed it; the same write again has the same answer", async () => {
    const at = `orders-${places++}`;
    const store = open(kind, at, order) as unknown as ChangeableStore<Order, number>;
    const row = (site: string): Order => ({
      site,
      trees: 1,
      id: -1,
      made: { at: undefined, by: "" },
      changed: undefined,
      changedBy: "",
    });
    const inserts = ["A", "B"].map((site) => ({ kind: "insert", row: row(site) }) as const);
    const first = await store.write(inserts, { id: "first" });
    expect(first).toMatchObject({
      ok: true,
      written: [
        { key: 1, row: { id: 1, site: "A", made: { by: "KM" }, changedBy: "KM" } },
        { key: 2, row: { id: 2 } },
      ],
    });
    const [a, b] = first.ok ? first.written : [];
    expect([isNow(a!.row.made.at), isNow(a!.row.changed)]).toEqual([true, true]);
    await new Promise((go) => setTimeout(go, 5));
    expect(await store.write(inserts, { id: "first" })).toMatchObject({ ok: true, written: first.ok && first.written });
    const other = open(kind, at, order, "JR") as unknown as ChangeableStore<Order, number>;
    const changed = await other.write(
      [
        { kind: "update", key: 1, version: a!.version, row: { ...a!.row, trees: 2 } },
        { kind: "delete", key: 2, version: b!.version },
        { kind: "insert", row: row("C") },
      ],
      { id: "second" },
    );
    expect(changed).toMatchObject({
      ok: true,
      written: [{ key: 1, row: { made: { by: "KM" }, trees: 2 } }, undefined, { key: 3 }],
    });
    const after = changed.ok ? changed.written[0]!.row : undefined;
    expect(after!.made).toEqual(a!.row.made);
    expect(Date.parse(after!.changed!)).toBeGreaterThan(Date.parse(a!.row.changed!));
    if (kind !== "memory") expect(after!.changedBy).toBe("JR");
    await store.append(row("D"));
    expect((await all<Order>(open(kind, at, order))).map(({ id, site }) => [id, site]).sort()).toEqual([
      [1, "A"],
      [3, "C"],
      [4, "D"],
    ]);
  });

  test("numbers rows with a key of their own, whoever writes", async () => {
    const at = `visits-${places++}`;
    const writers = Array.from({ length: 4 }, () => open(kind, at, visit));
    await Promise.all(
      writers.flatMap((store, index) =>
        Array.from({ length: 5 }, (_, count) =>
          store.write(
            [{ kind: "insert", row: { tag: `T-${index}-${count}`, number: undefined, notes: "" } } as never],
            { id: `${index}-${count}` },
          ),
        ),
      ),
    );
    const found = await all<RowOf<typeof visit>>(writers[0]!);
    expect(found.map((each) => each.number).sort((a, b) => a! - b!)).toEqual(
      Array.from({ length: 20 }, (_, at) => at + 1),
    );
  });

  test("in a table: a new row has no number until it is saved, is found by another one meanwhile, and what refers to it follows", async () => {
    const at = `kept-${places++}`;
    const orders = table(order, [], { history: newHistory() });
    const lines = table(line, [], { references: { order: orders } });
    const kept = await keep(orders, open(kind, at, order) as never, {});
    const keptLines = await keep(lines, open(kind, `${at}-lines`, line) as never, {});
    closing.push(
      () => kept.stop(),
      () => keptLines.stop(),
    );
    expect(
      orders.insert({ site: "River bank" }).ok && orders.insert({ site: "Hill path", id: 77, changedBy: "X" }).ok,
    ).toBe(true);
    const shown = view(orders, { orderBy: "site" });
    const entry = editEntry(shown);
    const key = (): number => orders.keyOf(shown.at(1)!) as number;
    expect(shown.at(1)).toMatchObject({ site: "River bank", changed: undefined, changedBy: "" });
    expect(key()).toBeLessThan(0);
    shown.currentKey = key();
    expect(lines.insert({ code: "L-1", order: key(), count: 3 })).toMatchObject({ ok: true });
    expect(entry.fields.id.display).toBe("");
    expect(entry.fields.id.readOnly).toBe(true);
    // What refers to a row that has no number yet, waits for it.
    const waits = "1 row not saved yet: “Order” has to be saved first.";
    expect(await keptLines.write()).toEqual({ ok: false, state: "unsaved", said: waits });
    expect(keptLines.unsavedOf("L-1")).toBe("new");
    expect(await kept.write()).toMatchObject({ ok: true });
    expect([...orders].map(({ id, site, changedBy }) => [id, site, changedBy])).toEqual([
      [1, "River bank", "KM"],
      [2, "Hill path", "KM"],
    ]);
    expect([shown.currentKey, lines.get("L-1")!.order]).toEqual([1, 1]);
    expect(entry.fields.id.display).toBe("1");
    expect(await keptLines.write()).toMatchObject({ ok: true });
    expect(await all(open(kind, `${at}-lines`, line))).toMatchObject([{ code: "L-1", order: 1 }]);
    // Undone to before it was saved: a change as others, and what it was given stays.
    orders.update(1, { trees: 9 });
    await kept.write();
    orders.history!.undo();
    expect(await kept.write()).toMatchObject({ ok: true });
    expect(await all(open(kind, at, order))).toMatchObject([
      { id: 1, trees: undefined, made: { by: "KM" } },
      { id: 2 },
    ]);
    expect(kept.state).toBe("saved");
  });
});

test("builder is told once of rows that refer to rows of a table that is not kept", async () => {
  const reported: string[] = [];
  const report = platform.report;
  platform.report = (error) => reported.push(String(error));
  const orders = table(order, []);
  const lines = table(line, [], { references: { order: orders } });
  const kept = await keep(lines, memoryStore(line));
  const inserted = orders.insert({ site: "River bank" });
  lines.insert({ code: "L-1", order: inserted.ok ? inserted.row.id : 0 });
  lines.insert({ code: "L-2", count: 4 });
  expect(kept.said).toBe("2 rows not saved yet. 1 row not saved yet: “Order” has to be saved first.");
  for (let times = 0; times < 2; times++)
    expect(await kept.write()).toEqual({
      ok: false,
      state: "unsaved",
      said: "1 row not saved yet: “Order” has to be saved first.",
    });
  platform.report = report;
  kept.stop();
  expect(reported).toEqual([
    expect.stringMatching(
      /Rows of the table of "Line" \(1 now\) are not written: .*the table of "Order", which is not kept/,
    ),
  ]);
});

describe("what the place gives", () => {
  test("can be entered by nobody, and is declared where it can be", () => {
    const entry = newEntry(order);
    const wrong = 'The field "id" is given by the place where its row is kept';
    expect(() => entry.fields.id.enter("7")).toThrow(wrong);
    expect(() => (entry.values.id = 7)).toThrow(wrong);
    expect(() => (entry.fields.changedBy.value = "X")).toThrow("given by the place");
    const orders = table(order, []);
    orders.insert({ site: "A" });
    expect(() => orders.update(-1, { changedBy: "X" })).toThrow('The field "changedBy" is given by the place');
    expect(() => integer({ given: "created" as never })).toThrow('given of integer() can\'t be "created"');
    expect(() => number({ given: "number" } as never)).toThrow("given");
    expect(() => text({ given: "createdBy", required: true })).toThrow("required");
    expect(() => instant({ given: "changed", default: "2026-01-01T00:00:00Z" })).toThrow("default");
    expect(() => memoryStore(order, { by: 7 as never })).toThrow("by");
  });

  test("is no conflict: fields that people enter are merged", async () => {
    const place = memoryStore(order, { by: "KM" });
    const [one, two] = [table(order, []), table(order, [])];
    const first = await keep(one, place, {});
    one.insert({ site: "A", trees: 1 });
    await first.write();
    const second = await keep(two, place.again(), {});
    closing.push(
      () => first.stop(),
      () => second.stop(),
    );
    one.update(1, { site: "B" });
    two.update(1, { trees: 5 });
    await first.write();
    expect(await second.write()).toMatchObject({ ok: true });
    await first.reload();
    expect([one.get(1), two.get(1)]).toMatchObject([
      { site: "B", trees: 5 },
      { site: "B", trees: 5 },
    ]);
    // Entered as it is at the place, it is no change.
    one.update(1, { site: "C" });
    one.update(1, { site: "B" });
    expect([first.state, first.unsaved]).toEqual(["saved", []]);
  });

  test(`property: ${times(60)} random sequences over orders and their lines, kept together in SQLite: lines belong to their orders, and numbers are given once`, async () => {
    const seed = 8_209;
    const random = seeded(seed);
    let given = 0;
    for (let sequence = 0; sequence < times(60); sequence++) {
      const path = join(folder, `together-${places++}.db`);
      const begin = async () => {
        const orders = table(order, [], { history: newHistory() });
        const lines = table(line, [], { references: { order: orders } });
        const database = sqliteDatabase(path, { by: "KM" });
        const kept = await keepTogether({ orders, lines }, database, {});
        return { orders, lines, kept, database };
      };
      const windows = [await begin(), await begin()];
      /** By what an order is called, the lines that belong to it. */
      const oracle = new Map<string, Set<string>>();
      for (let step = 0; step < 14; step++) {
        const { orders, lines, kept } = random.pick(windows);
        const name = `S${sequence}-${step}`;
        const some = [...orders];
        const one = some.length === 0 ? undefined : random.pick(some);
        switch (random.below(5)) {
          case 0:
            transaction(() => {
              const made = orders.insert({ site: name });
              if (!made.ok) throw new Error("not made");
              lines.insert({ code: `${name}-1`, order: orders.keyOf(made.row), count: 1 });
            });
            oracle.set(name, new Set([`${name}-1`]));
            break;
          case 1:
            if (one === undefined) break;
            lines.insert({ code: name, order: orders.keyOf(one), count: 1 });
            oracle.get(one.site)!.add(name);
            break;
          case 2:
            if (one !== undefined) orders.update(orders.keyOf(one), { trees: random.below(1000) });
            break;
          case 3:
            for (const each of windows) await each.kept.reload();
            break;
          default:
            if (!(await kept.write()).ok)
              for (const { table: which, key } of kept.conflicts.map((each) => ({
                table: "orders" as const,
                key: each.key,
              })))
                kept.parts[which].resolve(key as never, "theirs");
        }
      }
      for (let round = 0; round < 3; round++)
        for (const { kept } of windows) {
          for (const { key } of kept.parts.orders.conflicts) kept.parts.orders.resolve(key, "mine");
          await kept.write();
          await kept.reload();
        }
      for (const { orders, lines, kept } of windows) {
        expect([sequence, kept.state]).toEqual([sequence, "saved"]);
        const found = new Map([...orders].map(({ site }) => [site, new Set<string>()]));
        for (const { code, order: id } of lines) found.get(orders.get(id)!.site)!.add(code);
        expect([sequence, found]).toEqual([sequence, oracle]);
        const ids = [...orders].map(({ id }) => id!).sort((a, b) => a - b);
        expect(ids).toEqual(ids.map((_, at) => at + 1));
        given += ids.length;
      }
      for (const { kept, database } of windows) {
        kept.stop();
        await database.close();
      }
    }
    console.info(`seed ${seed}: ${times(60)} sequences, ${given / 2} numbers`);
    expect(given).toBeGreaterThan(0);
  });

  test("is the same where the answer was lost and the write is asked for again, also in the rows that refer to it", async () => {
    const database = sqliteDatabase(join(folder, `lost-${places++}.db`), { by: "KM" });
    closing.push(() => database.close());
    const parts = (): Parameters<typeof database.write>[0] => [
      { store: stored.orders, changes: [{ kind: "insert", row: { id: -1, site: "A" } }] as never },
      { store: stored.lines, changes: [{ kind: "insert", row: { code: "L", order: -1, count: 1 } }] as never },
    ];
    const stored = {
      orders: database.store(order, "orders") as never,
      lines: database.store(line, "lines", { references: { order: "orders" } }) as never,
    };
    const first = await database.write(parts(), { id: "once" });
    expect(first).toMatchObject([
      { ok: true, written: [{ key: 1, row: { id: 1 } }] },
      { ok: true, written: [{ key: "L", row: { order: 1 } }] },
    ]);
    expect(await database.write(parts(), { id: "once" })).toEqual(first);
  });

  test("is given again to nobody when its row is deleted, in a database", async () => {
    for (const kind of ["memory", "sqlite"]) {
      const store = open(kind, `deleted-${places++}`, visit);
      for (const [tag, right] of [
        ["A", 1],
        ["B", 2],
      ] as const) {
        const result = await store.write([{ kind: "insert", row: { tag, number: undefined, notes: "" } } as never], {
          id: tag,
        });
        const [written] = (result as unknown as { written: { version: string; row: { number: number } }[] }).written;
        expect(written!.row.number).toBe(right);
        await store.write([{ kind: "delete", key: tag, version: written!.version } as never], { id: `delete ${tag}` });
      }
    }
  });
});
