/** Files whose rows are changed: what is not changed stays to the letter, whoever else writes to them, and in whatever way. */
import {
  appendFileSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  renameSync,
  rmSync,
  writeFileSync,
} from "node:fs";
import { randomUUID } from "node:crypto";
import { hostname, tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, describe, expect, test } from "@jest/globals";
import { fileStore, folderStore } from "../src/files/index.ts";
import { decimal, integer, model, type RowOf, table, text } from "../src/index.ts";
import { type ChangeableStore, keep, type StoreChange, type StoreNews } from "../src/store/index.ts";
import { type Seeded, seeded, times } from "./seeded.ts";

const folder = mkdtempSync(join(tmpdir(), "ironwood-changed-"));
afterAll(() => rmSync(folder, { recursive: true }));
let paths = 0;
const newPath = (ending: string): string => join(folder, `rows-${paths++}.${ending}`);

const plant = model({ tag: text(), bed: integer(), notes: text() }, { key: "tag" });
type Plant = RowOf<typeof plant>;
type Place = ChangeableStore<Plant, string>;
const note = model({ notes: text(), bed: integer() });
const row = (tag: string, bed?: number, notes = ""): Plant => ({ tag, bed, notes });

interface Found<Row, Key> {
  readonly rows: { readonly key: Key; readonly version: string; readonly row: Row }[];
  readonly told: string[];
}

async function all<Row, Key>(store: ChangeableStore<Row, Key>): Promise<Found<Row, Key>> {
  const found: Found<Row, Key> = { rows: [], told: [] };
  for await (const each of store.read())
    if (each.ok) found.rows.push({ key: each.key!, version: each.version!, row: each.row });
    else found.told.push(`${each.line}: ${each.problems.map(({ message }) => message).join(" ")}`);
  return found;
}

let ids = 0;
async function write<Row, Key>(store: ChangeableStore<Row, Key>, ...changes: StoreChange<Row, Key>[]): Promise<void> {
  const result = await store.write(changes, { id: `w${ids++}` });
  expect(result).toMatchObject({ ok: true });
}

/** Changes rows by their keys; `undefined` deletes. */
async function change(store: Place, now: Readonly<Record<string, Plant | undefined>>): Promise<void> {
  const { rows } = await all(store);
  await write(
    store,
    ...Object.entries(now).map(([key, next]): StoreChange<Plant, string> => {
      const there = rows.find((each) => each.key === key);
      if (there === undefined) return { kind: "insert", row: next! };
      const { version } = there;
      return next === undefined ? { kind: "delete", key, version } : { kind: "update", key, version, row: next };
    }),
  );
}

const newText = (random: Seeded): string =>
  random.pick([
    "",
    "a",
    'say "b"',
    "c, d",
    "line\nbreak",
    "=1+1",
    "'x",
    " blank ",
    "ÄÖ 日本",
    "tab\tx",
    "0",
    "null",
    "a;b",
  ]);

describe.each(["ndjson", "json", "csv"])("a file of %s", (ending) => {
  test("property: random changes by several stores, with a follower, come to what a plain list comes to", async () => {
    const random = seeded(1515);
    const count = times(200, 0.05);
    for (let round = 0; round < count; round++) {
      const path = newPath(ending);
      const stores = [0, 1].map(() => fileStore(path, plant));
      const right = new Map<string, Plant>();
      const followed = new Map<string, Plant>();
      const ended = new AbortController();
      const reload: { now?: Promise<void> } = {};
      const news: StoreNews<Plant, string>[] = [];
      stores[1]!.follow(await stores[1]!.mark(), (each) => news.push(each), { signal: ended.signal });
      for (let step = 0; step < 12; step++) {
        const store = random.pick(stores);
        const changes = new Map<string, Plant | undefined>();
        for (let many = 1 + random.below(3); many > 0; many--) {
          const tag = `T${random.below(8)}`;
          const isThere = right.has(tag);
          changes.set(tag, isThere && random.below(3) === 0 ? undefined : row(tag, random.below(100), newText(random)));
        }
        await change(store, Object.fromEntries(changes));
        for (const [tag, next] of changes) if (next === undefined) right.delete(tag);
        for (const [tag, next] of changes) if (next !== undefined) right.set(tag, next);
        if (random.below(6) === 0) {
          const tag = `U${step}`;
          await store.append(row(tag, step));
          right.set(tag, row(tag, step));
        }
      }
      const { rows, told } = await all(fileStore(path, plant));
      expect([new Map(rows.map((each) => [each.key, each.row])), told]).toEqual([right, []]);
      // In the order in which the keys came, in every store alike.
      expect((await all(stores[0]!)).rows.map(({ key }) => key)).toEqual(rows.map(({ key }) => key));
      const mark = await stores[0]!.mark();
      for (let waits = 0; news.at(-1)?.mark !== mark && waits < 100; waits++)
        await new Promise((go) => setTimeout(go, 20));
      ended.abort();
      for (const each of news) {
        if (each.kind === "reload") {
          reload.now = Promise.resolve();
          continue;
        }
        for (const { key, now } of each.changes)
          if (now === undefined) followed.delete(key);
          else followed.set(key, now.row);
      }
      // A row put behind others is told by reading all again, where a file has no log.
      if (reload.now === undefined) expect(followed).toEqual(right);
      else expect(ending).not.toBe("ndjson");
    }
    console.info(`${count} files of ${ending} with 12 changes each, seed ${random.seed}`);
  });

  test("rows without a key are told apart though they are equal, and keep their keys", async () => {
    const path = newPath(ending);
    const store = fileStore(path, note);
    for (const notes of ["a", "a", "b", "a"]) await store.append({ notes, bed: 1 });
    const { rows } = await all(store);
    expect(new Set(rows.map(({ key }) => key)).size).toBe(4);
    const [, second, third] = rows;
    await write(store, { kind: "delete", key: second!.key, version: second!.version });
    await write(store, { kind: "update", key: third!.key, version: third!.version, row: { notes: "c", bed: 2 } });
    const after = await all(fileStore(path, note));
    expect(after.rows.map(({ key, row: { notes } }) => [key, notes])).toEqual(
      [rows[0]!, rows[2]!, rows[3]!].map(({ key, row: { notes } }, index) => [key, index === 1 ? "c" : notes]),
    );
    await store.append({ notes: "d", bed: 3 });
    expect((await all(store)).rows.map(({ row: { notes } }) => notes)).toEqual(["a", "c", "a", "d"]);
  });

  test("a key that is there is refused to who puts a row behind the others, and nothing is written", async () => {
    const path = newPath(ending);
    await fileStore(path, plant).append(row("A", 1));
    const before = readFileSync(path, "utf8");
    for (const store of [fileStore(path, plant), fileStore(path, plant)])
      await expect(store.append(row("A", 2))).rejects.toThrow(/Nothing was put into .*Another row/);
    expect(readFileSync(path, "utf8")).toBe(before);
  });

  test("a table is kept in it: merged with what another program wrote, and nothing is left beside it but what is meant to be", async () => {
    const path = newPath(ending);
    await write(
      fileStore(path, plant),
      { kind: "insert", row: row("A", 1, "x") },
      { kind: "insert", row: row("B", 2) },
    );
    const stock = table(plant, []);
    const kept = await keep(stock, fileStore(path, plant));
    stock.update("A", { bed: 7 });
    await change(fileStore(path, plant), { A: row("A", 1, "y") });
    expect((await kept.write()).ok).toBe(true);
    expect((await all(fileStore(path, plant))).rows[0]!.row).toEqual(row("A", 7, "y"));
    kept.stop();
    const beside = readdirSync(folder).filter((name) => name.startsWith(path.split("/").at(-1)!));
    expect(beside.filter((name) => !name.endsWith(".writes"))).toEqual([path.split("/").at(-1)]);
  });

  test("what another program has made of the file, without knowing of us, is taken in", async () => {
    const path = newPath(ending);
    const texts: Record<string, readonly [string, string]> = {
      ndjson: ['{"tag":"A","bed":1}\n', '{"tag":"A","bed":5}\n{"tag":"C"}\n'],
      json: ['[{"tag":"A","bed":1}]', '[{"tag":"A","bed":5},{"tag":"C"}]'],
      csv: ["tag,bed,notes\nA,1,\n", "tag,bed,notes\nA,5,\nC,,\n"],
    };
    writeFileSync(path, texts[ending]![0]);
    const stock = table(plant, []);
    const kept = await keep(stock, fileStore(path, plant));
    stock.update("A", { notes: "mine" });
    writeFileSync(path, texts[ending]![1]);
    for (let waits = 0; stock.size < 2 && waits < 100; waits++) await new Promise((go) => setTimeout(go, 20));
    expect([stock.get("A"), stock.get("C")?.tag, kept.state]).toEqual([row("A", 5, "mine"), "C", "unsaved"]);
    expect((await kept.write()).ok).toBe(true);
    expect((await all(fileStore(path, plant))).rows.map((each) => each.row)).toEqual([row("A", 5, "mine"), row("C")]);
    kept.stop();
  });
});

describe("CSV that others made", () => {
  const foreign =
    '\uFEFFNotes;Tag;colour;bed\r\n"a;b";A;red;1\r\n# a remark\r\n;B;"dark ""red""";02\r\n\r\nx;C;;abc\r\n';

  test("columns and lines that the model does not know stay to the letter, as do rows that are not changed", async () => {
    const path = newPath("csv");
    writeFileSync(path, foreign);
    const store = fileStore(path, plant);
    expect((await all(store)).told).toEqual([
      expect.stringMatching(/^1: The column "colour" is no field/),
      expect.stringMatching(/^3: This line has 1 cell/),
      expect.stringMatching(/^6: .*bed/i),
    ]);
    await change(store, { A: row("A", 9, "=x"), D: row("D", 4) });
    expect(readFileSync(path, "utf8")).toBe(foreign.replace('"a;b";A;red;1', "'=x;A;red;9").replace(/$/, ";D;;4\r\n"));
    await change(store, { A: undefined, B: row("BB", 2) });
    expect(readFileSync(path, "utf8")).toBe(
      foreign
        .replace('"a;b";A;red;1\r\n', "")
        .replace(';B;"dark ""red""";02', ';BB;"dark ""red""";2')
        .replace(/$/, ";D;;4\r\n"),
    );
  });

  test("a field that it has no column for gets one, and a file without headings none", async () => {
    const path = newPath("csv");
    writeFileSync(path, "tag,bed\nA,1\nB,2");
    await change(fileStore(path, plant), { A: row("A", 1, "new"), C: row("C") });
    expect(readFileSync(path, "utf8")).toBe("tag,bed,notes\nA,1,new\nB,2,\nC,,\n");
    const bare = newPath("csv");
    writeFileSync(bare, "1,A\n2,B\n");
    const store = fileStore(bare, plant, { columns: ["bed", "tag"] });
    await change(store, { B: row("B", 7), C: row("C", 3) });
    expect(readFileSync(bare, "utf8")).toBe("1,A\n7,B\n3,C\n");
  });

  test("of two rows with one key the second is told, and stays", async () => {
    const path = newPath("csv");
    writeFileSync(path, "tag,bed,notes\nA,1,\nA,2,\n");
    const store = fileStore(path, plant);
    expect(await all(store)).toMatchObject({
      rows: [{ row: row("A", 1) }],
      told: [expect.stringMatching(/^3: Another row/)],
    });
    await change(store, { A: row("A", 5) });
    expect(readFileSync(path, "utf8")).toBe("tag,bed,notes\nA,5,\nA,2,\n");
  });

  test("what is not UTF-8 is read as far as it goes, and not written over", async () => {
    const path = newPath("csv");
    const bytes = Buffer.concat([
      Buffer.from("tag,bed,notes\nA,1,\nB,2,"),
      Buffer.from([0xff, 0xfe]),
      Buffer.from("\n"),
    ]);
    writeFileSync(path, bytes);
    const store = fileStore(path, plant);
    await expect(change(store, { A: row("A", 5) })).rejects.toThrow(/not in UTF-8/);
    expect(readFileSync(path)).toEqual(bytes);
  });

  test("with a byte order mark before its key is changed, and keeps the mark", async () => {
    const path = newPath("csv");
    writeFileSync(path, "\uFEFFtag,bed,notes\nA,1,\n");
    await change(fileStore(path, plant), { A: row("A", 2), B: row("B", 3) });
    expect(readFileSync(path, "utf8")).toBe("\uFEFFtag,bed,notes\nA,2,\nB,3,\n");
  });

  test("half of a character is refused at its field", async () => {
    const store = fileStore(newPath("csv"), plant);
    const result = await store.write([{ kind: "insert", row: row("A", 1, "x\ud800") }], { id: "half" });
    expect(result).toMatchObject({ ok: false, refused: [{ change: 0, problems: [{ pointer: "/notes" }] }] });
  });
});

describe("JSON that others made", () => {
  test("members that the model does not know stay, and so does how it is written", async () => {
    const path = newPath("json");
    const foreign =
      '[\n\t{ "tag": "A", "colour": ["red"], "bed": 1, "size": 12345678901234567890 },\n\t{"tag":"B","bed":"wrong"},\n\t{"tag":"C"}\n]\n';
    writeFileSync(path, foreign);
    const store = fileStore(path, plant);
    expect((await all(store)).told).toEqual([
      '2: "colour" is no field: it is not read, and stays as it is.',
      '2: "size" is no field: it is not read, and stays as it is.',
      expect.stringMatching(/^3: Bed is not/),
    ]);
    await change(store, { C: row("C", 3), D: row("D") });
    expect(readFileSync(path, "utf8")).toBe(
      foreign.replace('{"tag":"C"}\n', '{\n\t\t"tag": "C",\n\t\t"bed": 3\n\t},\n\t{\n\t\t"tag": "D"\n\t}\n'),
    );
    await change(store, { A: row("A", 2), C: undefined, D: undefined });
    expect(readFileSync(path, "utf8")).toBe(
      '[\n\t{\n\t\t"tag": "A",\n\t\t"bed": 2,\n\t\t"colour": ["red"],\n\t\t"size": 12345678901234567890\n\t},\n\t{"tag":"B","bed":"wrong"}\n]\n',
    );
  });

  test.each(["{}", "[1,", '"x"', "[{}] x"])(
    "what is no list of rows is refused, and left as it is: %s",
    async (content) => {
      const path = newPath("json");
      writeFileSync(path, content);
      const store = fileStore(path, plant);
      await expect(all(store)).rejects.toThrow(/can't be read.*left as it is/);
      await expect(store.append(row("A"))).rejects.toThrow(/left as it is/);
      expect(readFileSync(path, "utf8")).toBe(content);
    },
  );
});

describe("a log of JSON lines", () => {
  test("becomes compact when more than half of it is old; what can't be read stays, and what was written is known", async () => {
    const path = newPath("ndjson");
    const store = fileStore(path, plant);
    writeFileSync(path, 'no json\n{"tag":"X","bed":"wrong"}\n');
    const first = [0, 1, 2].map((number) => ({ kind: "insert", row: row(`A${number}`, 0) }) as const);
    await store.write(first, { id: "first" });
    const mark = await store.mark();
    let largest = 0;
    let compacted = false;
    for (let bed = 1; bed <= 150; bed++) {
      await change(store, { A0: row("A0", bed), A1: row("A1", bed) });
      const { length } = readFileSync(path, "utf8");
      compacted ||= length < largest;
      largest = Math.max(largest, length);
    }
    expect(compacted).toBe(true);
    const { rows, told } = await all(fileStore(path, plant));
    expect([rows.map((each) => `${each.key} ${each.row.bed}`), told.length]).toEqual([["A0 150", "A1 150", "A2 0"], 2]);
    // The first write is remembered, and done once.
    expect(await fileStore(path, plant).write(first, { id: "first" })).toMatchObject({ ok: true });
    expect((await all(store)).rows).toHaveLength(3);
    const news: string[] = [];
    const ended = new AbortController();
    fileStore(path, plant).follow(mark, ({ kind }) => news.push(kind), { signal: ended.signal });
    for (let waits = 0; news.length === 0 && waits < 100; waits++) await new Promise((go) => setTimeout(go, 20));
    ended.abort();
    expect(news).toEqual(["reload"]);
  });

  test("of two lines with one key the later holds, and the other is told", async () => {
    const path = newPath("ndjson");
    writeFileSync(path, '{"tag":"A","bed":1}\r\n{"tag":"B"}\r{"tag":"A","bed":2}');
    const store = fileStore(path, plant);
    expect(await all(store)).toMatchObject({
      rows: [{ row: row("A", 2) }, { row: row("B") }],
      told: ["1: Line 3 has the same Tag, and it is that which holds."],
    });
    await change(store, { A: row("A", 3) });
    expect(await all(store)).toMatchObject({ rows: [{ row: row("A", 3) }, { row: row("B") }], told: [] });
  });

  test("what a program that was killed had begun to write is no part of it, and is taken off by the next", async () => {
    const path = newPath("ndjson");
    const store = fileStore(path, plant);
    await write(store, { kind: "insert", row: row("A", 1) });
    const whole = readFileSync(path, "utf8");
    await write(store, { kind: "insert", row: row("B", 1) }, { kind: "insert", row: row("C", 1) });
    const both = readFileSync(path, "utf8");
    const size = Buffer.byteLength(whole);
    for (let left = whole.length; left < both.length; left++) {
      writeFileSync(path, both.slice(0, left));
      writeFileSync(`${path}.lock`, JSON.stringify({ process: 2 ** 22 + 1, machine: hostname(), id: "x", size }));
      expect((await all(fileStore(path, plant))).rows.map(({ key }) => key)).toEqual(["A"]);
      expect(readFileSync(path, "utf8")).toBe(whole);
      const { notice } = await fileStore(path, plant).append(row("D"));
      expect([left, notice, (await all(fileStore(path, plant))).rows.map(({ key }) => key)]).toEqual([
        left,
        undefined,
        ["A", "D"],
      ]);
    }
  });

  test("where somebody has taken a line out by hand, or spoiled one, nothing else is lost, and it is told", async () => {
    const path = newPath("ndjson");
    const store = fileStore(path, plant);
    await change(store, { A: row("A", 1) });
    await change(store, { B: row("B", 1), C: row("C", 1) });
    const lines = readFileSync(path, "utf8").split("\n");
    const cases: readonly (readonly [string[], string[], number])[] = [
      [lines.filter((line) => !line.includes('"tag":"C"')), ["A"], 2],
      [lines.filter((line) => !line.includes('"tag":"B"')), ["A"], 2],
      [lines.map((line) => line.replace('"rows":2', '"rows":1000000')), ["A"], 3],
      [lines.map((line) => line.replace('"rows":2', '"rows":-1')), ["A", "B", "C"], 1],
      [lines.map((line) => line.replace('"rows":2', '"rows":"2"')), ["A", "B", "C"], 1],
      [lines.map((line) => line.replace('"tag":"B"', '"tag":7')), ["A", "C"], 1],
    ];
    for (const [made, keys, told] of cases) {
      const content = made.join("\n");
      writeFileSync(path, content);
      for (const work of ["read", "append", "write"] as const) {
        if (work === "append") await fileStore(path, plant).append(row("D"));
        if (work === "write") await change(fileStore(path, plant), { E: row("E", 1) });
        const found = await all(fileStore(path, plant));
        const more = { read: [], append: ["D"], write: ["D", "E"] }[work];
        expect([work, found.rows.map(({ key }) => key), found.told.length]).toEqual([work, [...keys, ...more], told]);
        expect(readFileSync(path, "utf8").startsWith(content)).toBe(true);
      }
    }
  });

  test("an exact number as a key is found again after it was deleted and put in", async () => {
    const prices = model({ price: decimal(), bed: integer() }, { key: "price" });
    const store = fileStore(newPath("ndjson"), prices);
    await store.append({ price: "1.50" as never, bed: 1 });
    const { rows } = await all(store);
    await write(store, { kind: "delete", key: rows[0]!.key, version: rows[0]!.version });
    expect((await all(store)).rows).toEqual([]);
    await store.append({ price: rows[0]!.row.price, bed: 2 });
    expect((await all(store)).rows).toMatchObject([{ row: { bed: 2 } }]);
  });

  test("one in UTF-16 is read, and not written over", async () => {
    const path = newPath("ndjson");
    const bytes = Buffer.from('\uFEFF{"tag":"A","bed":1}\n{"tag":"B"}\n', "utf16le");
    writeFileSync(path, bytes);
    const store = fileStore(path, plant);
    expect((await all(store)).rows.map((each) => each.row)).toEqual([row("A", 1), row("B")]);
    await expect(store.append(row("C"))).rejects.toThrow(/it is in UTF-16, and rows are written in UTF-8/);
    await expect(store.write([{ kind: "insert", row: row("C") }], { id: "x" })).rejects.toThrow(/UTF-16/);
    await expect(keep(table(plant, []), store)).rejects.toThrow(/UTF-16/);
    expect(readFileSync(path)).toEqual(bytes);
  });

  test("lines put behind it by another program are told to who follows", async () => {
    const path = newPath("ndjson");
    const store = fileStore(path, plant);
    await store.append(row("A"));
    const news: StoreNews<Plant, string>[] = [];
    const ended = new AbortController();
    store.follow(await store.mark(), (each) => news.push(each), { signal: ended.signal });
    appendFileSync(path, '{"tag":"B","bed":3}\n');
    for (let waits = 0; news.length === 0 && waits < 100; waits++) await new Promise((go) => setTimeout(go, 20));
    ended.abort();
    expect(news).toMatchObject([{ kind: "changes", changes: [{ key: "B", now: { row: row("B", 3) } }] }]);
  });
});

describe("a folder of records", () => {
  const open = (at: string): Place => folderStore(at, plant, { fileName: ["bed", "tag"] });
  const files = (at: string): string[] =>
    readdirSync(at)
      .filter((name) => !name.startsWith("."))
      .sort();

  test("property: random changes by several stores come to what a plain list comes to, in files named from their fields", async () => {
    const random = seeded(1616);
    const count = times(100, 0.05);
    for (let round = 0; round < count; round++) {
      const at = newPath("records");
      const stores = [0, 1].map(() => open(at));
      const right = new Map<string, Plant>();
      for (let step = 0; step < 12; step++) {
        const changes = new Map<string, Plant | undefined>();
        for (let many = 1 + random.below(3); many > 0; many--) {
          const tag = `T${random.below(6)}`;
          const isGone = right.has(tag) && random.below(3) === 0;
          changes.set(tag, isGone ? undefined : row(tag, random.below(3), newText(random)));
        }
        await change(random.pick(stores), Object.fromEntries(changes));
        for (const [tag, next] of changes)
          if (next === undefined) right.delete(tag);
          else right.set(tag, next);
      }
      const { rows, told } = await all(open(at));
      expect([new Map(rows.map((each) => [each.key, each.row])), told]).toEqual([
        new Map([...right].sort(([a, { bed: b }], [c, { bed: d }]) => b! - d! || (a < c ? -1 : 1))),
        [],
      ]);
      expect(files(at)).toEqual([...right.values()].map(({ bed, tag }) => `${bed} ${tag}.json`).sort());
      expect(readdirSync(at).filter((name) => name.startsWith("."))).toEqual([".ironwood.writes"]);
    }
    console.info(`${count} folders with 12 changes each, seed ${random.seed}`);
  });

  test("a write of several records that was killed in the middle is done to its end by who comes next", async () => {
    const at = newPath("records");
    await change(open(at), { A: row("A", 1), B: row("B", 1), C: row("C", 1) });
    // As after a kill: the write is noted, one of its files has its name, and the others have not.
    const journal = join(at, ".ironwood.writes");
    writeFileSync(join(at, ".x.new"), '{"tag":"A","bed":2}');
    writeFileSync(join(at, ".y.new"), '{"tag":"D","bed":1}');
    const steps = [{ remove: "1 A.json" }, { remove: "1 B.json" }, { from: ".x.new", to: "2 A.json" }];
    const noted = { id: "killed", at: new Date().toISOString(), before: "", after: "", keys: ["A", "D"], gone: ["B"] };
    rmSync(join(at, "1 A.json"));
    appendFileSync(
      journal,
      `${JSON.stringify({ ...noted, given: [], steps: [...steps, { from: ".y.new", to: "1 D.json" }] })}\n`,
    );
    expect((await all(open(at))).rows.map(({ row: { tag, bed } }) => `${tag} ${bed}`)).toEqual(["C 1", "D 1", "A 2"]);
    expect(files(at)).toEqual(["1 C.json", "1 D.json", "2 A.json"]);
    // It is done once: what is put there under a name that went stays.
    await change(open(at), { B: row("B", 1) });
    expect(files(at)).toEqual(["1 B.json", "1 C.json", "1 D.json", "2 A.json"]);
    expect(await open(at).write([{ kind: "insert", row: row("A", 2) }], { id: "killed" })).toMatchObject({ ok: true });
  });

  test("what a killed program had written beside, and not noted, goes with the next write", async () => {
    const at = newPath("records");
    await change(open(at), { A: row("A", 1) });
    writeFileSync(join(at, `.${randomUUID()}.new`), "{");
    await change(open(at), { B: row("B", 1) });
    expect(readdirSync(at).sort()).toEqual([".ironwood.writes", "1 A.json", "1 B.json"]);
  });

  test("a table is kept in it; what is changed, added or spoiled by hand is seen, and told", async () => {
    const at = newPath("records");
    await change(open(at), { A: row("A", 1), B: row("B", 1) });
    const stock = table(plant, []);
    const kept = await keep(stock, open(at));
    stock.update("A", { notes: "mine" });
    writeFileSync(join(at, "1 A.json"), '{"tag":"A","bed":5}');
    writeFileSync(join(at, "new.json"), '{"tag":"N"}');
    for (let waits = 0; stock.size < 3 && waits < 100; waits++) await new Promise((go) => setTimeout(go, 20));
    expect([stock.get("A"), stock.get("N")?.tag]).toEqual([row("A", 5, "mine"), "N"]);
    expect((await kept.write()).ok).toBe(true);
    expect(files(at)).toEqual(["1 B.json", "5 A.json", "new.json"]);
    writeFileSync(join(at, "new.json"), "no json");
    for (let waits = 0; stock.size === 3 && waits < 100; waits++) await new Promise((go) => setTimeout(go, 20));
    expect([stock.size, kept.leftOut[0]?.problems[0]?.message]).toEqual([
      2,
      expect.stringMatching(/^new\.json is not JSON/),
    ]);
    kept.stop();
  });

  test("a name that is taken, and a record that can't be named, are told at the record", async () => {
    const at = newPath("records");
    const store = folderStore(at, plant, { fileName: ["bed"] });
    await change(store, { A: row("A", 1) });
    const result = await store.write(
      [
        { kind: "insert", row: row("B", 1) },
        { kind: "insert", row: row("C") },
      ],
      { id: "taken" },
    );
    expect(result).toMatchObject({
      ok: false,
      refused: [
        { change: 1, problems: [{ message: "The file can't be named: Bed must be given." }] },
        { change: 0, problems: [{ message: "The file 1.json is there already." }] },
      ],
    });
    expect(files(at)).toEqual(["1.json"]);
  });
});

describe("what keeps a file from being written", () => {
  const places = [
    ["ndjson", (at: string): Place => fileStore(join(at, "rows.ndjson"), plant)],
    ["json", (at: string): Place => fileStore(join(at, "rows.json"), plant)],
    ["csv", (at: string): Place => fileStore(join(at, "rows.csv"), plant)],
  ] as const;

  test.each(places)(
    "its folder is gone: told in words, what was entered stays, and saving again works: %s",
    async (_, open) => {
      const at = newPath("folder");
      mkdirSync(at);
      const stock = table(plant, []);
      const kept = await keep(stock, open(at));
      stock.insert(row("A", 1));
      expect((await kept.write()).ok).toBe(true);
      renameSync(at, `${at}-away`);
      stock.update("A", { bed: 2 });
      const failed = await kept.write();
      expect([failed.ok, kept.state, kept.said]).toEqual([
        false,
        "refused",
        expect.stringMatching(/can't be written: its folder is not there\. What you entered is still here\./),
      ]);
      renameSync(`${at}-away`, at);
      expect((await kept.write()).ok).toBe(true);
      expect((await all(open(at))).rows.map((each) => each.row)).toEqual([row("A", 2)]);
      kept.stop();
    },
  );

  test.each(places)(
    "another program holds its lock: it is waited for, told, and tried again until it is free: %s",
    async (ending, open) => {
      const at = newPath("folder");
      mkdirSync(at);
      const stock = table(plant, []);
      const kept = await keep(stock, open(at));
      stock.insert(row("A", 1));
      const lock = join(at, `rows.${ending}.lock`);
      writeFileSync(lock, JSON.stringify({ process: process.ppid, machine: hostname(), id: "x", size: 0 }));
      const writing = kept.write();
      await new Promise((go) => setTimeout(go, 100));
      expect(kept.state).toBe("saving");
      rmSync(lock);
      expect((await writing).ok).toBe(true);
      kept.stop();
    },
  );

  test.each(places)("a folder has its name: told, and left as it is: %s", async (ending, open) => {
    const at = newPath("folder");
    mkdirSync(join(at, `rows.${ending}`), { recursive: true });
    await expect(open(at).write([{ kind: "insert", row: row("A") }], { id: "x" })).rejects.toThrow(/it is a folder/);
    await expect(all(open(at))).rejects.toThrow(/it is a folder/);
  });

  test("what was noted of its writes is spoiled: rows are read and written all the same", async () => {
    const at = newPath("folder");
    mkdirSync(at);
    const open = (): Place => fileStore(join(at, "rows.csv"), plant);
    await change(open(), { A: row("A", 1) });
    for (const spoiled of ["", "\u0000\u0001", "{}\n[]\nnull\n", '{"journal":"x"}\n{"id":1}\n{"done":', "{"]) {
      writeFileSync(join(at, "rows.csv.writes"), spoiled);
      const mark = await open().mark();
      await change(open(), { A: row("A", spoiled.length + 2) });
      expect((await all(open())).rows.map((each) => each.row)).toEqual([row("A", spoiled.length + 2)]);
      const news: string[] = [];
      const ended = new AbortController();
      open().follow(mark, ({ kind }) => news.push(kind), { signal: ended.signal });
      for (let waits = 0; news.length === 0 && waits < 200; waits++) await new Promise((go) => setTimeout(go, 20));
      ended.abort();
      expect(news.length).toBeGreaterThan(0);
    }
  });
});
