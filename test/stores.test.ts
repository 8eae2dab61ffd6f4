import { mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, describe, expect, test } from "@jest/globals";
import Driver from "libsql";
import { fileStore, folderStore } from "../src/files/index.ts";
import { type AnyModel, integer, model, text } from "../src/index.ts";
import { sqliteStore } from "../src/sqlite/index.ts";
import { type ChangeableStore, type MemoryStore, memoryStore, StoreError, type StoreNews } from "../src/store/index.ts";
import { type StoreCheck, storeConformance, type StoreUnderTest } from "../src/testing/index.ts";
import { times } from "./seeded.ts";

const plant = model({ tag: text(), bed: integer() }, { key: "tag" });

/** Memory, where a name that was there before is the same place. */
function memoryUnderTest(spoil: (store: MemoryStore<never, never>) => void = () => undefined): readonly StoreCheck[] {
  const places = new Map<string, MemoryStore<never, never>>();
  return storeConformance({
    open(ofModel, name) {
      const first = places.get(name);
      const store = first?.again() ?? (memoryStore(ofModel, { place: name }) as never);
      places.set(name, store);
      spoil(store);
      return store;
    },
    failNext: (store, fault) => (store as MemoryStore<never, never>).failNext(fault),
  });
}

const folder = mkdtempSync(join(tmpdir(), "ironwood-stores-"));
const opened: { close(): Promise<void> }[] = [];
afterAll(async () => {
  for (const store of opened) await store.close();
  rmSync(folder, { recursive: true });
});

/** A kind of store on the disk; its next answer can be lost, as when the line is cut after the work was done. */
function onDisk(
  openStore: (ofModel: AnyModel, name: string) => ChangeableStore<never, never> & { close?(): Promise<void> },
  most?: number,
  limits: Pick<StoreUnderTest, "needsKey" | "hasOtherWriters"> = {},
): readonly StoreCheck[] {
  const losing = new WeakSet<object>();
  return storeConformance({
    ...limits,
    rows: most,
    open(ofModel, name) {
      const store = openStore(ofModel, name);
      if (store.close !== undefined) opened.push(store as never);
      const write = store.write.bind(store);
      store.write = async (changes, options) => {
        const result = await write(changes, options);
        if (losing.delete(store)) throw new StoreError("unreachable", "The answer is lost.");
        return result;
      };
      return store;
    },
    failNext(store, fault) {
      // A full disk is tried in test/processes.test.ts, by a program of its own.
      if (fault === "lostAnswer") losing.add(store);
      return fault === "lostAnswer";
    },
  });
}

/** A table that another program has made, with names and types of its own, and with a column that no model has. */
function tableOfOthers(ofModel: AnyModel, name: string): ChangeableStore<never, never> & { close(): Promise<void> } {
  const path = join(folder, `${name}-of-others.db`);
  const types: Readonly<Record<string, string>> = { integer: "INT", number: "DOUBLE" };
  const fields = ofModel.names.map((field) => [field, `C_${field.replace(".", "$").toUpperCase()}`] as const);
  const columns = fields.map(([field, column]) => {
    const type = types[ofModel.kindOf(field)!.kind] ?? "CLOB";
    return `"${column}" ${type}${ofModel.parts.key.includes(field) ? " NOT NULL" : ""}`;
  });
  const keys = ofModel.parts.key.map((field) => `"C_${field.toUpperCase()}"`).join(", ");
  const other = new Driver(path);
  other.exec(`CREATE TABLE IF NOT EXISTS OLD (${columns.join(", ")}, REMARK TEXT DEFAULT 'old', UNIQUE (${keys}))`);
  other.close();
  const map = Object.fromEntries(fields.map(([field, column]) => [column, field]));
  return sqliteStore(path, ofModel, { table: "OLD", columns: map }) as never;
}

const fileUnderTest = (ending: string): readonly StoreCheck[] =>
  onDisk((ofModel, name) => fileStore(join(folder, `${name}.${ending}`), ofModel) as never, times(100_000, 0.03));

const places: Readonly<Record<string, readonly StoreCheck[]>> = {
  memoryStore: memoryUnderTest(),
  sqliteStore: onDisk(
    (ofModel, name) => sqliteStore(join(folder, `${name}.db`), ofModel) as never,
    times(100_000, 0.08),
  ),
  "sqliteStore, columns": onDisk(tableOfOthers, times(100_000, 0.04), { needsKey: true, hasOtherWriters: true }),
  "fileStore .ndjson": fileUnderTest("ndjson"),
  "fileStore .json": fileUnderTest("json"),
  "fileStore .csv": fileUnderTest("csv"),
  folderStore: onDisk(
    (ofModel, name) =>
      folderStore(join(folder, name), ofModel, {
        fileName: [ofModel.names[0]] as never,
        whenExists: "number",
      }) as never,
    times(1_000, 0.15),
  ),
};
const signs = new Map<string, string>();

describe.each(Object.entries(places))("%s keeps to the contract of stores", (place, checks) => {
  test.each(checks.map(({ name, run }) => [name, run] as const))("%s", async (name, run) => {
    // Not every place can be brought to every fault.
    signs.set(`${place} ${name}`, (await run()) ? "✓" : "–");
  });
});

test("docs/stores.md is what these tests show", () => {
  const names = Object.keys(places);
  const rows = places["memoryStore"]!.map(
    ({ name }) => `| ${name} | ${names.map((place) => signs.get(`${place} ${name}`) ?? "✗").join(" | ")} |`,
  );
  const head = [
    `| what is checked | ${names.map((name) => `\`${name}\``).join(" | ")} |`,
    `|---|${names.map(() => ":-:|").join("")}`,
  ];
  const path = new URL("../docs/stores.md", import.meta.url);
  const before = readFileSync(path, "utf8");
  const parts = /^([\s\S]*<!-- table -->\n)[\s\S]*(\n<!-- \/table -->[\s\S]*)$/.exec(before)!;
  const now = `${parts[1]}\n${[...head, ...rows].join("\n")}\n${parts[2]}`;
  if (process.env["WRITE_DOCS"] === "1") writeFileSync(path, now);
  else expect(before).toBe(now);
  const noRoom = "where there is no room nothing is kept, it is told in words, and the same write works later";
  expect([...signs].filter(([, sign]) => sign === "–").map(([check]) => check)).toEqual(
    names
      .slice(1)
      .flatMap((place) => [
        `${place} ${noRoom}`,
        ...(place === "sqliteStore, columns"
          ? [`${place} rows without a key of their own are kept under one that is hidden, also where they are equal`]
          : []),
      ]),
  );
});

describe("the conformance test finds", () => {
  /** What is wrong with a store, and the check that has to see it. */
  const faults: Readonly<Record<string, readonly [check: RegExp, spoil: (store: MemoryStore<never, never>) => void]>> =
    {
      "a write that is done again": [
        /done once/,
        (store) => {
          const { write } = store;
          let count = 0;
          store.write = (changes, { signal }) => write(changes, { id: `other-${count++}-${Math.random()}`, signal });
        },
      ],
      "versions that are not looked at": [
        /lose no change/,
        (store) => {
          const { write, read } = store;
          store.write = async (changes, options) => {
            const now = new Map<unknown, string>();
            for await (const each of read()) now.set(each.key, each.version!);
            const fresh = changes.map((change) =>
              change.kind === "insert" ? change : { ...change, version: now.get(change.key)! },
            );
            return write(fresh, options);
          };
        },
      ],
      "part of a write that is kept": [
        /conflict in one change writes none/,
        (store) => {
          const { write } = store;
          store.write = async (changes, options) => {
            const result = await write(changes, options);
            if (!result.ok) await write(changes.slice(0, 1), { id: `part ${options.id}` });
            return result;
          };
        },
      ],
      "news that are told twice": [
        /in order, once/,
        (store) => {
          const { follow } = store;
          store.follow = (since, listener, options) =>
            follow(since, (news: StoreNews<never, never>) => [0, 1].forEach(() => listener(news)), options);
        },
      ],
      "an answer that is taken as none": [
        /no room/,
        (store) => {
          const { write } = store;
          store.write = (changes, options) =>
            write(changes, options).catch(() => ({ ok: true, written: [], mark: "0" }));
        },
      ],
    };
  test.each(Object.entries(faults))("%s", async (_, [name, spoil]) => {
    const check = memoryUnderTest(spoil).find((each) => name.test(each.name))!;
    await expect(check.run()).rejects.toThrow(/found|was not/);
  });
});

describe("rows in memory", () => {
  test("what is too long ago is not told one by one", async () => {
    const store = memoryStore(plant, { remembered: 2 });
    const mark = await store.mark();
    for (const tag of ["A", "B", "C"]) await store.append({ tag, bed: 1 });
    const news: string[] = [];
    store.follow(mark, ({ kind }) => news.push(kind), { signal: new AbortController().signal });
    await new Promise((done) => setTimeout(done, 5));
    expect(news).toEqual(["reload"]);
  });

  test("what is kept is not what others hold", async () => {
    const row = { tag: "A", bed: 1 };
    const store = memoryStore(plant, { rows: [row] });
    row.bed = 2;
    const read = [];
    for await (const each of store.read()) read.push(each.ok && each.row.bed);
    expect(read).toEqual([1]);
  });

  test("refuses what is no option, and what is no model", () => {
    expect(() => memoryStore(plant, { row: [] } as never)).toThrow(
      /option of memoryStore.*"row".*Did you mean "rows"/s,
    );
    expect(() => memoryStore(plant, { remembered: -1 })).toThrow(/remembered/);
    expect(() => memoryStore({} as never)).toThrow(/memoryStore/);
  });
});
