/** Rows that are kept: what noting a change costs, and writing to and reading from SQLite. */
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import Driver from "libsql";
import { integer, model, number, table, text } from "../src/index.ts";
import { sqliteStore } from "../src/sqlite/index.ts";
import { type ChangeableStore, keep, type StoreChange } from "../src/store/index.ts";
import type { Figure, Measure } from "./harness.ts";

export const plant = model(
  { tag: text(), species: text(), bed: integer(), height: number(), notes: text() },
  { key: "tag" },
);
export interface Plant {
  readonly tag: string;
  readonly species: string;
  readonly bed: number;
  readonly height: number;
  readonly notes: string;
}
export const plants = (count: number): Plant[] =>
  Array.from({ length: count }, (_, at) => ({
    tag: `AB-${at}`,
    species: `Species ${at % 400}`,
    bed: at % 120,
    height: (at % 997) + 0.5,
    notes: at % 3 === 0 ? "north wall" : "",
  }));

const median = (times: number[]): number => times.toSorted((a, b) => a - b)[times.length >> 1]!;
const collect = (): void => (globalThis as { gc?: () => void }).gc?.();
const ROUNDS = 9;

/** Both ways in turn, each at a file of its own. */
export async function compared(
  id: string,
  work: string,
  budget: number | undefined,
  byHand: (path: string) => Promise<number> | number,
  ironwood: (path: string) => Promise<number>,
): Promise<Figure> {
  const folder = mkdtempSync(join(tmpdir(), "ironwood-bench-"));
  const times: { hand: number[]; own: number[] } = { hand: [], own: [] };
  for (let round = -1; round < ROUNDS; round++) {
    collect();
    const hand = await byHand(join(folder, `hand-${round}`));
    collect();
    const own = await ironwood(join(folder, `own-${round}`));
    if (round < 0) continue;
    times.hand.push(hand);
    times.own.push(own);
  }
  rmSync(folder, { recursive: true });
  const [byHandMs, ironwoodMs] = [median(times.hand), median(times.own)];
  // Of each pair by itself: how fast the disk is changes within a run.
  const ratio = median(times.own.map((own, round) => own / times.hand[round]!));
  return { id, work, byHandMs, ironwoodMs, ratio, budget, within: budget === undefined || ratio <= budget };
}

interface Driven {
  prepare(sql: string): {
    run(...cells: unknown[]): { changes: number };
    all(): unknown[];
    get(): unknown;
  };
  exec(sql: string): void;
  close(): void;
}
export const COUNT = 100_000;

function openByHand(path: string): Driven {
  const db = new (Driver as unknown as new (path: string) => Driven)(path);
  db.exec("PRAGMA journal_mode = WAL; PRAGMA synchronous = FULL");
  db.exec(
    "CREATE TABLE plant (version INTEGER NOT NULL, tag TEXT PRIMARY KEY, species TEXT, bed INTEGER, height REAL, notes TEXT)",
  );
  return db;
}

/** Saves so many new rows, then so many changed ones, each checked against its version; prepared statements in one transaction. */
function savedByHand(path: string): number {
  const rows = plants(COUNT);
  const db = openByHand(path);
  const start = performance.now();
  const insert = db.prepare("INSERT INTO plant VALUES (1, ?, ?, ?, ?, ?)");
  db.exec("BEGIN IMMEDIATE");
  for (const row of rows) insert.run(row.tag, row.species, row.bed, row.height, row.notes === "" ? null : row.notes);
  db.exec("COMMIT");
  const update = db.prepare(
    "UPDATE plant SET version = 2, species = ?, bed = ?, height = ?, notes = ? WHERE tag = ? AND version = ?",
  );
  db.exec("BEGIN IMMEDIATE");
  for (const row of rows)
    if (update.run(row.species, row.bed + 1, row.height, row.notes === "" ? null : row.notes, row.tag, 1).changes !== 1)
      throw new Error("P14: a row was changed by others");
  db.exec("COMMIT");
  const took = performance.now() - start;
  checkSaved(db, "plant");
  return took;
}

/** The same in a store: new rows, then changed ones, each with the version that it had. */
export async function savedIn(store: ChangeableStore<Plant, string> & { close?(): Promise<void> }): Promise<number> {
  const rows = plants(COUNT);
  await store.mark();
  const start = performance.now();
  const first = await store.write(
    rows.map((row) => ({ kind: "insert", row })),
    { id: "new" },
  );
  if (!first.ok) throw new Error("P14: not written");
  const changes = first.written.map((each): StoreChange<Plant, string> => {
    const { key, version, row } = each!;
    return { kind: "update", key, version, row: { ...row, bed: row.bed + 1 } };
  });
  if (!(await store.write(changes, { id: "changed" })).ok) throw new Error("P14: not changed");
  const took = performance.now() - start;
  await store.close?.();
  return took;
}

async function savedByIronwood(path: string): Promise<number> {
  const took = await savedIn(sqliteStore(path, plant) as never);
  checkSaved(new (Driver as unknown as new (path: string) => Driven)(path), "rows");
  return took;
}

function checkSaved(db: Driven, name: string): void {
  const found = JSON.stringify(db.prepare(`SELECT count(*) n, sum(bed) beds, count(notes) notes FROM "${name}"`).get());
  db.close();
  const beds = plants(COUNT).reduce((sum, { bed }) => sum + bed + 1, 0);
  if (!found.includes(`"n":${COUNT},"beds":${beds},"notes":${Math.ceil(COUNT / 3)}`)) throw new Error(`P14: ${found}`);
}

/** A change of one row of a table that is kept, against the same change of one that is not. */
async function noting(count: number): Promise<Measure> {
  const folder = mkdtempSync(join(tmpdir(), "ironwood-bench-"));
  const store = sqliteStore(join(folder, "plants.db"), plant);
  const rows = plants(count);
  await store.write(
    rows.map((row) => ({ kind: "insert", row })),
    { id: "all" },
  );
  const kept = table(plant, [], { locale: "en" });
  const keeping = await keep(kept, store);
  // The same rows, as they are read: what differs is only that nobody keeps them.
  const read: Plant[] = [];
  for await (const each of store.read()) if (each.ok) read.push(each.row as Plant);
  const alone = table(plant, read, { locale: "en" });
  const times = { kept: [] as number[], alone: [] as number[] };
  for (let round = 0; round < 30_000; round++)
    // In turn: whichever is first finds less of the machine's caches warm.
    for (const name of round % 2 === 0 ? (["kept", "alone"] as const) : (["alone", "kept"] as const)) {
      const stock = name === "kept" ? kept : alone;
      const tag = `AB-${(round * 7919) % count}`;
      const start = performance.now();
      stock.update(tag, { bed: (round % 100) + 200 });
      times[name].push((performance.now() - start) * 1000);
    }
  if (keeping.unsavedCount !== Math.min(count, 30_000)) throw new Error(`P17: ${keeping.unsavedCount} are unsaved`);
  keeping.stop();
  await store.close();
  rmSync(folder, { recursive: true });
  const value = median(times.kept.slice(5_000)) - median(times.alone.slice(5_000));
  const of = count.toLocaleString("en");
  return {
    id: `P17 note ${of}`,
    work: `keep notes a change of one row of ${of}, beyond the change itself`,
    value,
    unit: "µs",
    budget: 2,
    within: value <= 2,
  };
}

/** What `keep` holds besides the table of 1,000,000 rows: so many bytes in all, with so many rows changed. */
async function heldBytes(path: string, changed: number): Promise<number> {
  const stock = table(plant, [], { locale: "en" });
  const used = async (): Promise<number> => {
    // What promises have held goes with the next turn.
    for (let times = 0; times < 3; times++) {
      await new Promise((go) => setTimeout(go, 20));
      collect();
    }
    const { heapUsed, arrayBuffers } = process.memoryUsage();
    return heapUsed + arrayBuffers;
  };
  const kept = async (): Promise<number> => {
    const store = sqliteStore(path, plant);
    const keeping = await keep(stock, store);
    for (let at = 0; at < changed; at++) stock.update(`AB-${at * 97}`, { bed: 500 });
    if (keeping.unsavedCount !== changed) throw new Error(`P17: ${keeping.unsavedCount} are unsaved`);
    const bytes = await used();
    keeping.stop();
    await store.close();
    return bytes;
  };
  const bytes = (await kept()) - (await used());
  // The table is there until now.
  if (stock.size === 0) throw new Error("P17: no rows");
  return bytes;
}

async function memoryOfKeeping(): Promise<Measure[]> {
  const folder = mkdtempSync(join(tmpdir(), "ironwood-bench-"));
  const [once, often] = [join(folder, "once.db"), join(folder, "often.db")];
  const [count, changed] = [1_000_000, 10_000];
  await filled(once, count, count);
  await filled(often, count);
  await heldBytes(once, 0);
  const alone = await heldBytes(once, 0);
  const versions = await heldBytes(often, 0);
  const withChanges = await heldBytes(once, changed);
  rmSync(folder, { recursive: true });
  const of = count.toLocaleString("en");
  const measure = (id: string, work: string, value: number, unit: string): Measure => ({
    ...{ id, work, value, unit, budget: undefined },
    within: true,
  });
  const beside = `what keep holds besides a table of ${of} rows`;
  return [
    measure("P17 memory", `${beside} that were written at once`, alone / count, "bytes a row"),
    measure("P17 memory versions", `${beside} of many versions`, versions / count, "bytes a row"),
    measure(
      "P17 memory changed",
      `the same for each of ${changed.toLocaleString("en")} changed rows, the row as it was included`,
      (withChanges - alone) / changed,
      "bytes",
    ),
  ];
}

/** Puts plants into a table of SQLite. */
async function filled(path: string, count: number, atOnce = 100_000): Promise<void> {
  const store = sqliteStore(path, plant);
  const rows = plants(count);
  for (let from = 0; from < count; from += atOnce)
    await store.write(
      rows.slice(from, from + atOnce).map((row) => ({ kind: "insert", row })),
      { id: String(from) },
    );
  await store.close();
}

/** The first load of 1,000,000 rows from SQLite into a table, against the driver's own read into a list. */
async function loading(): Promise<Figure> {
  const folder = mkdtempSync(join(tmpdir(), "ironwood-bench-"));
  const path = join(folder, "plants.db");
  const count = 1_000_000;
  await filled(path, count);
  const figure = await compared(
    "P17 load",
    "the first load of 1,000,000 rows from SQLite into a table; by hand: the driver's own read into a list",
    1.5,
    () => {
      const db = new (Driver as unknown as new (path: string) => Driven)(path);
      const start = performance.now();
      const found = db.prepare('SELECT * FROM "rows"').all();
      const took = performance.now() - start;
      if (found.length !== count) throw new Error("P17: not all");
      db.close();
      return took;
    },
    async () => {
      const store = sqliteStore(path, plant);
      const stock = table(plant, [], { locale: "en" });
      const start = performance.now();
      const keeping = await keep(stock, store);
      const took = performance.now() - start;
      if (stock.size !== count) throw new Error("P17: not all");
      keeping.stop();
      await store.close();
      return took;
    },
  );
  rmSync(folder, { recursive: true });
  return figure;
}

export async function keepingFigures(isWanted: (id: string) => boolean): Promise<Figure[]> {
  const figures: Figure[] = [];
  if (isWanted("P14"))
    figures.push(
      await compared(
        "P14",
        `save ${COUNT.toLocaleString("en")} new rows in SQLite, then as many changed ones, each checked against its version; by hand: prepared statements in one transaction`,
        1.3,
        savedByHand,
        savedByIronwood,
      ),
    );
  if (isWanted("P17 load")) figures.push(await loading());
  return figures;
}

export async function keepingMeasures(isWanted: (id: string) => boolean): Promise<Measure[]> {
  return [
    ...(isWanted("P17 note") ? [await noting(10_000), await noting(1_000_000)] : []),
    ...(isWanted("P17 memory") ? await memoryOfKeeping() : []),
  ];
}
