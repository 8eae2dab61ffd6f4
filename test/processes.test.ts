/** Places that several programs write to, and programs that die while they write. */
import { spawn } from "node:child_process";
import { mkdtempSync, readdirSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { fileURLToPath } from "node:url";
import { afterAll, describe, expect, test } from "@jest/globals";
import { fileStore, folderStore } from "../src/files/index.ts";
import { integer, model, type RowOf, text } from "../src/index.ts";
import { sqliteStore } from "../src/sqlite/index.ts";
import type { ChangeableStore } from "../src/store/index.ts";
import { seeded, times } from "./seeded.ts";

const folder = mkdtempSync(join(tmpdir(), "ironwood-processes-"));
afterAll(() => rmSync(folder, { recursive: true }));

const plant = model({ tag: text(), write: text(), part: integer(), count: integer() }, { key: "tag" });
type Plant = RowOf<typeof plant>;
type Open = ChangeableStore<Plant, string> & { close?(): Promise<void> };

const places: Readonly<Record<string, (path: string) => Open>> = {
  sqlite: (path) => sqliteStore(path, plant),
  ndjson: (path) => fileStore(`${path}.ndjson`, plant),
  json: (path) => fileStore(`${path}.json`, plant),
  csv: (path) => fileStore(`${path}.csv`, plant),
  folder: (path) => folderStore(path, plant, { fileName: ["tag"] }),
};

const program = fileURLToPath(new URL("fixtures/storeProcess.mjs", import.meta.url));

interface RunOptions {
  /** Told of what it prints; where it returns true, the program is killed. */
  readonly seen?: (lines: readonly string[]) => boolean;
  /** How large its files may become, in units of the shell. */
  readonly room?: number;
}

/** Runs a program of its own. */
function run(call: readonly string[], { seen = () => false, room }: RunOptions = {}): Promise<string[]> {
  return new Promise((done, fail) => {
    const limit = room === undefined ? "" : `ulimit -f ${room}; `;
    const child = spawn("sh", ["-c", `${limit}exec "$0" "$@"`, process.execPath, program, ...call], {
      env: { ...process.env, NODE_OPTIONS: "" },
    });
    let text = "";
    const lines = (): string[] => text.split("\n").slice(0, -1);
    child.stdout.on("data", (data: Buffer) => {
      text += data.toString();
      if (seen(lines())) child.kill("SIGKILL");
    });
    child.stderr.on("data", (data: Buffer) => fail(new Error(data.toString())));
    child.on("exit", () => done(lines()));
  });
}

async function rowsOf(store: Open): Promise<Plant[]> {
  const rows: Plant[] = [];
  for await (const each of store.read()) {
    if (!each.ok) throw new Error(`A torn row: ${JSON.stringify(each)}`);
    rows.push(each.row);
  }
  return rows;
}

describe.each(Object.entries(places))("%s", (kind, open) => {
  const KILLS = times(200, kind === "sqlite" ? 0.04 : 0.015);
  test(`kill -9 of a writing program, ${KILLS} times: what was acknowledged is there, nothing is half written, and what is asked for again is there once`, async () => {
    const random = seeded(3117);
    const path = join(folder, `killed-${kind}`);
    let acknowledged = 0;
    let inDoubt = 0;
    for (let number = 0; number < KILLS; number += 1) {
      const until = 2 + random.below(12);
      const wait = random.below(8);
      let killAt = Infinity;
      const lines = await run(["write", kind, path, `w${number}`], {
        seen(all) {
          // At a moment after some line: before it is asked for, while it is written, or after it is acknowledged.
          if (all.length >= until && killAt === Infinity) killAt = Date.now() + wait;
          return Date.now() >= killAt;
        },
      });
      const done = lines.filter((line) => line.startsWith("done ")).map((line) => line.slice(5));
      const asked = lines.filter((line) => line.startsWith("asked ")).map((line) => line.slice(6));
      acknowledged += done.length;
      const store = open(path);
      const byWrite = new Map<string, number>();
      for (const { write } of await rowsOf(store)) byWrite.set(write, (byWrite.get(write) ?? 0) + 1);
      expect([...byWrite.values()].filter((parts) => parts !== 3)).toEqual([]);
      expect(done.filter((id) => !byWrite.has(id))).toEqual([]);
      // The last one may have been written without having been acknowledged.
      const last = asked.at(-1)!;
      if (!done.includes(last)) {
        inDoubt += 1;
        const rows = [0, 1, 2].map((part) => ({ tag: `${last}-${part}`, write: last, part, count: asked.length - 1 }));
        const again = await store.write(
          rows.map((row) => ({ kind: "insert", row })),
          { id: last },
        );
        expect(again.ok).toBe(true);
        expect((await rowsOf(store)).filter(({ write }) => write === last)).toHaveLength(3);
      }
      await store.close?.();
    }
    console.info(`${kind}, seed ${random.seed}: ${KILLS} kills, ${acknowledged} acknowledged, ${inDoubt} in doubt`);
    expect(acknowledged).toBeGreaterThan(KILLS);
    // Of a few kills none may have come while something was written.
    if (KILLS >= 20) expect(inDoubt).toBeGreaterThan(0);
  }, 1_800_000);

  test("where there is no room it is told, what was saved is there, nothing is half written, and it works later", async () => {
    const path = join(folder, `full-${kind}`);
    const lines = await run(["fill", kind, path, "f"], { room: kind === "sqlite" ? 400 : 48 });
    const [, id = "", told = "{}"] = /^failed (\S+) (.*)$/.exec(lines.at(-1)!) ?? [];
    const { kind: failure, message } = JSON.parse(told) as { kind: string; message: string };
    expect([failure, message.includes("full-"), /full|larger/.test(message)]).toEqual(["full", true, true]);
    const store = open(path);
    const writes = (await rowsOf(store)).map(({ write }) => write);
    expect(writes.length).toBeGreaterThan(10);
    const done = lines.slice(0, -1).flatMap((line) => Array<string>(3).fill(line.slice(5)));
    expect([...writes].sort()).toEqual(done.sort());
    const rows = [0, 1, 2].map((part) => ({ tag: `${id}-${part}`, write: id, part, count: 0 }));
    const again = await store.write(
      rows.map((row) => ({ kind: "insert", row })),
      { id },
    );
    expect([again.ok, (await rowsOf(store)).length]).toEqual([true, writes.length + 3]);
    expect(readdirSync(folder).filter((name) => /\.(new|lock)/.test(name))).toEqual([]);
    await store.close?.();
  });

  const STEPS = times(500, kind === "sqlite" ? 0.08 : 0.02);
  test(`8 programs count up the same rows, ${STEPS} steps each: no step is lost, and each conflict was told to who lost`, async () => {
    const path = join(folder, `counted-${kind}`);
    const store = open(path);
    const rows = ["A", "B", "C"].map((tag) => ({ tag, write: "", part: 0, count: 0 }));
    await store.write(
      rows.map((row) => ({ kind: "insert", row })),
      { id: "begin" },
    );
    const begin = String(Date.now() + 3_000);
    const told = await Promise.all(
      Array.from({ length: 8 }, (_, number) => run(["count", kind, path, String(number), String(STEPS), begin])),
    );
    const conflicts = told.map(([line = "{}"]) => (JSON.parse(line) as { conflicts: number }).conflicts);
    const counted = (await rowsOf(store)).reduce((sum, { count }) => sum + (count ?? 0), 0);
    console.info(`${kind}: ${counted} steps, ${conflicts.join(", ")} conflicts`);
    expect(counted).toBe(8 * STEPS);
    expect(conflicts.reduce((sum, each) => sum + each, 0)).toBeGreaterThan(0);
    await store.close?.();
  }, 1_800_000);
});
