import { describe, expect, test } from "@jest/globals";
import {
  boolean,
  date,
  integer,
  model,
  newHistory,
  number,
  oneOf,
  type RowOf,
  table,
  text,
  view,
} from "../src/index.ts";
import { keep, type LoadOptions, loadRows, memoryStore, type TextSource } from "../src/store/index.ts";
import { seeded, times } from "./seeded.ts";

const plant = model(
  {
    tag: text({ title: "Tag", required: true }),
    species: oneOf(["Acer campestre", "Tilia cordata"], { title: "Species" }),
    height: number({ title: "Height", minimum: 0 }),
    sold: boolean({ title: "Sold" }),
    sown: date({ title: "Sown on" }),
    notes: text({ title: "Notes" }),
    rows: integer({ title: "Rows" }),
    double: number({ title: "Double" }),
  },
  { title: "Plant", key: "tag" },
).calculated({ double: (p) => (p.height ?? 0) * 2 });
type Plant = RowOf<typeof plant>;

const load = async (source: TextSource, options: LoadOptions = {}, into = table(plant, [], { locale: "en" })) => {
  const loaded = await loadRows(into, source, options);
  return { stock: into, loaded, tags: [...into].map(({ tag }) => tag).join(" ") };
};
const told = (problems: readonly { line: number; column: string; message: string }[]): string[] =>
  problems.map(({ line, column, message }) => `${line} ${column}: ${message}`);

describe("rows from a file", () => {
  test("are read by names and titles of columns, in any order and with what CSV has", async () => {
    const csv =
      '\uFEFFHeight,tag,"Sown on",notes,Double,Owner\r\n12.5,A,2020-02-29,"two\r\nlines, ""quoted""",25,CB\r\n,B,,,,\r\n';
    const { stock, loaded } = await load(csv);
    expect(loaded).toEqual({ ok: true, rows: 2, beyond: 0, problems: [], problemsBeyond: 0, unused: ["Owner"] });
    expect(stock.get("A")).toMatchObject({ height: 12.5, sown: "2020-02-29", notes: 'two\r\nlines, "quoted"' });
    expect([stock.get("B")!.height, stock.get("B")!.sold]).toEqual([undefined, false]);
  });

  test("in the notation of a language, with semicolons, and columns that are named by hand", async () => {
    const { stock, loaded } = await load("Nr;Höhe;Sown on\nA;31,5;1.2.2021\nB;1.031,5;\n", {
      locale: "de",
      columns: { Nr: "tag", Höhe: "height" },
    });
    expect(loaded.problems).toEqual([]);
    expect([stock.get("A"), stock.get("B")!.height]).toMatchObject([{ height: 31.5, sown: "2021-02-01" }, 1031.5]);
    await expect(load("Nr\nA", { columns: { Nr: "tga" } })).rejects.toThrow(/"tga".*tag/s);
    await expect(load("Nr,Owner\nA,CB")).rejects.toThrow(/first line names no field.*tag, species/s);
    await expect(load("tag\nA", { format: "xml" as never })).rejects.toThrow(
      /format of loadRows can.t be this\. Received "xml".*"csv" or "ndjson"/s,
    );
  });

  test("by titles in the language of the table, or in that of the file", async () => {
    const named = model(
      {
        tag: text({ title: "Tag" }),
        height: number({ title: (locale) => (locale.startsWith("de") ? "Höhe" : "Height") }),
      },
      { key: "tag" },
    );
    for (const [locale, options, csv] of [
      ["de", {}, "Tag;HÖHE\nA;31.5"],
      ["en", { locale: "de" }, "tag;Höhe\nA;31,5"],
      ["de", {}, "tag,Height\nA,31.5"],
    ] as const) {
      const stock = table(named, [], { locale });
      expect([await loadRows(stock, csv, options), stock.get("A")?.height]).toMatchObject([
        { ok: true, unused: [] },
        31.5,
      ]);
    }
  });

  test("what is said of a column by hand goes before a heading that seems to be meant for the same field", async () => {
    const { stock, loaded } = await load("tag,rows,count\nA,1,7", { columns: { count: "rows" } });
    expect([stock.get("A")!.rows, loaded.unused]).toEqual([7, ["rows"]]);
    const beside = await load("tag,count,rows\nA,7,1", { columns: { count: "rows" } });
    expect([beside.stock.get("A")!.rows, beside.loaded.unused]).toEqual([7, ["rows"]]);
  });

  test("that are bad are told by line and column and left out, or nothing is loaded; constraints are for later", async () => {
    const csv = 'tag,height,sold\nA,tall,true\nB,-5,false\n"C\nC",1,perhaps\nB,7,true\nD,1,true,more\nE,2,true';
    const { stock, loaded, tags } = await load(csv);
    expect(tags).toBe("B E");
    expect(told(loaded.problems)).toEqual([
      "2 height: Height is not a finite number.",
      "4 sold: Sold is not true or false.",
      "6 tag: B is there already.",
      "7 : This line has 4 cells, and the first line has 3.",
    ]);
    expect(stock.problemsOf(stock.get("B")!).map(({ code }) => code)).toEqual(["rangeUnderflow"]);
    const kept = await load(csv, { onBad: "stop" }, stock);
    expect([kept.loaded.ok, kept.tags, kept.loaded.problems.length]).toEqual([false, "B E", 3]);
    const current = view(stock);
    current.currentKey = "E";
    const twice = await load("tag\nX\nX", { onBad: "stop" }, stock);
    expect([twice.loaded.ok, twice.tags, current.currentKey]).toEqual([false, "B E", "E"]);
    await expect(load("height,teg\n1,A")).rejects.toThrow(/no column for the key "tag".*teg/s);
  });

  test("again do not double, replace or join, and how many are beyond the limit is told", async () => {
    const csv = "tag,height\nA,1\nB,2\nC,3\n";
    const stock = table(plant, [], { locale: "en", history: newHistory() });
    const sorted = view(stock, { orderBy: "height desc" });
    await load(csv, {}, stock);
    sorted.currentKey = "B";
    expect((await load(csv, {}, stock)).tags).toBe("A B C");
    expect([sorted.currentKey, [...sorted].map(({ tag }) => tag).join("")]).toEqual([undefined, "CBA"]);
    stock.update("A", { height: 9 });
    stock.update("C", { notes: "by the wall" });
    const merged = await load("tag,height\nC,4\nD,5\n", { into: "merge" }, stock);
    expect([merged.tags, stock.get("A")!.height, stock.get("C")]).toMatchObject([
      "A B C D",
      9,
      { height: 4, notes: "by the wall" },
    ]);
    await load(
      '{"tag":"C","sold":true}\n{"tag":"C","height":null,"rows":2}',
      { format: "ndjson", into: "merge" },
      stock,
    );
    expect(stock.get("C")).toMatchObject({ height: undefined, sold: true, rows: 2, notes: "by the wall" });
    const full = await load(
      "tag\nX\nY\n",
      { into: "merge" },
      table(plant, [{ tag: "A" } as Plant], { maxItems: 2, locale: "en" }),
    );
    expect([full.tags, full.loaded.beyond]).toEqual(["A X", 1]);
    const few = await load(csv, { maxItems: 2 }, stock);
    expect([few.loaded.rows, few.loaded.beyond, few.tags]).toEqual([2, 1, "A B"]);
    const small = await load(csv, {}, table(plant, [], { maxItems: 1, locale: "en" }));
    expect([small.loaded.rows, small.loaded.beyond, small.loaded.problems]).toEqual([1, 2, []]);
  });

  test("of NDJSON", async () => {
    const { tags, loaded } = await load('{"tag":"A","height":1}\n\n{"tag":"B","hight":1}\n{"tag":\r\n{"tag":"C"}', {
      format: "ndjson",
    });
    expect(tags).toBe("A C");
    expect(told(loaded.problems)).toEqual([
      '3 hight: There is no field "hight".',
      "4 : This line is not JSON: Unexpected end of JSON input.",
    ]);
  });

  test("come in pieces of any size, and bytes, with the same result; progress goes up; it can be aborted, and nothing is loaded", async () => {
    const random = seeded(11);
    console.info(`seed ${random.seed}: 3,000 rows in pieces`);
    const lines = Array.from({ length: 3000 }, (_, place) => `T${place},"ä ""${place}"",\n€",${place / 4}`);
    const csv = `tag,notes,height\n${lines.join("\n")}\n`;
    const whole = (await load(csv)).stock;
    const bytes = new TextEncoder().encode(csv);
    async function* cut(): AsyncGenerator<Uint8Array> {
      for (let from = 0; from < bytes.length;) {
        const to = from + 1 + random.below(9000);
        yield bytes.slice(from, to);
        from = to;
        await new Promise((go) => setTimeout(go, 8));
      }
    }
    const seen: number[] = [];
    const inPieces = await load(cut(), { size: bytes.length, progress: (done) => seen.push(done!) });
    expect([...inPieces.stock]).toEqual([...whole]);
    expect([whole.size, seen.length > 0, seen.toSorted((a, b) => a - b)]).toEqual([3000, true, seen]);
    const controller = new AbortController();
    const stock = table(plant, [{ tag: "kept" } as Plant], { locale: "en" });
    await expect(
      loadRows(stock, cut(), { signal: controller.signal, progress: () => controller.abort(new Error("enough")) }),
    ).rejects.toThrow("enough");
    expect([...stock].map(({ tag }) => tag)).toEqual(["kept"]);
  });

  test("random bytes are no crash and no hang", async () => {
    const random = seeded(77);
    console.info(`seed ${random.seed}: 400 files of random bytes`);
    for (let round = 0; round < 200; round++) {
      const bytes = Uint8Array.from({ length: random.below(400) }, () => random.below(256));
      const head = new TextEncoder().encode(round % 2 === 0 ? "tag,height\n" : "");
      for (const format of ["csv", "ndjson"] as const)
        await load([head, bytes], { format }).catch((error: unknown) => {
          expect((error as Error).message).toMatch(/first line (names no field|can.t be read)/);
        });
    }
  });
});

describe("a file that is merged into rows that are kept", () => {
  const sapling = model(
    {
      tag: text({ title: "Tag" }),
      bed: text({ title: "Bed" }),
      count: integer({ title: "Count", minimum: 0 }),
      place: text({ title: "Place" }),
      notes: text(),
    },
    { title: "Sapling", key: "tag" },
  );
  const opened = async (rows: readonly RowOf<typeof sapling>[]) => {
    const beds = table(model({ name: text() }, { key: "name" }), [{ name: "north" }, { name: "south" }]);
    const history = newHistory();
    const stock = table(sapling, [], {
      locale: "en",
      history,
      unique: ["place"],
      references: { bed: beds },
      maxItems: 6,
    });
    const store = memoryStore(sapling, { rows });
    const kept = await keep(stock, store);
    return { stock, store, kept, history };
  };
  const row = (tag: string, count: number, more: object = {}) => ({
    tag,
    bed: "",
    count,
    place: "",
    notes: "",
    ...more,
  });

  test("is unsaved until it is written, keeps what the file does not have, and is one step to undo", async () => {
    const { stock, store, kept, history } = await opened([row("A", 1, { notes: "old" }), row("B", 2), row("C", 3)]);
    const loaded = await loadRows(stock, "tag,count,bed\nA,5,north\nB,2,\nD,4,south\nD,6,south\n", { into: "merge" });
    expect(loaded).toMatchObject({ ok: true, rows: 4, problems: [] });
    expect(kept.unsaved.map(({ kind, key, fields }) => [kind, key, fields])).toEqual([
      ["changed", "A", ["bed", "count"]],
      ["new", "D", ["tag", "bed", "count"]],
    ]);
    expect([stock.get("A")!.notes, stock.get("D")!.count]).toEqual(["old", 6]);
    history.undo();
    expect([kept.unsavedCount, stock.size, stock.get("A")!.count]).toEqual([0, 3, 1]);
    history.redo();
    expect((await kept.write()).ok).toBe(true);
    const there: string[] = [];
    for await (const each of store.read()) if (each.ok) there.push(`${each.row.tag}${each.row.count}`);
    expect(there).toEqual(["A5", "B2", "C3", "D6"]);
    kept.stop();
  });

  test("leaves out what would be refused, told by line, or takes nothing", async () => {
    const csv = [
      "tag,count,bed,place",
      "A,-1,,",
      "B,7,nroth,",
      "C,8,north,p1",
      "D,4,,p1",
      "E,x,,",
      ...["F", "G", "H", "I"].map((tag) => `${tag},1,,`),
    ].join("\n");
    const start = [row("A", 1), row("B", 2), row("C", 3)];
    const { stock, kept } = await opened(start);
    const stopped = await loadRows(stock, csv, { into: "merge", onBad: "stop" });
    expect([stopped.ok, kept.unsavedCount, stopped.problems.length > 0]).toEqual([false, 0, true]);
    const stoppedLater = await loadRows(stock, "tag,bed\nC,north\nB,nroth\n", { into: "merge", onBad: "stop" });
    expect([stoppedLater.ok, kept.unsavedCount]).toEqual([false, 0]);
    expect(stoppedLater.problems.map(({ line, code }) => [line, code])).toEqual([[3, "notAChoice"]]);
    const { ok, rows: now, problems } = await loadRows(stock, csv, { into: "merge" });
    expect([ok, now]).toEqual([true, 6]);
    expect(problems.map(({ line, column, code }) => [line, column, code])).toEqual([
      [2, "count", "rangeUnderflow"],
      [3, "bed", "notAChoice"],
      [5, "place", "duplicate"],
      [6, "count", "typeMismatch"],
      [10, "", "tableFull"],
    ]);
    expect(kept.unsaved.map(({ key }) => key)).toEqual(["C", "F", "G", "H"]);
    kept.stop();
  });

  test("property: makes of the table what it makes of one that is not kept, and of the place the same", async () => {
    const random = seeded(5519);
    const count = times(200);
    const simple = model({ tag: text(), bed: text(), count: integer() }, { key: "tag" });
    for (let round = 0; round < count; round++) {
      const rows = Array.from({ length: random.below(8) }, (_, at) => ({
        tag: `T${at}`,
        bed: random.pick(["", "north"]),
        count: random.pick([undefined, 1, 2]),
      }));
      const [stock, alone] = [table(simple, [], { locale: "en" }), table(simple, rows, { locale: "en" })];
      const store = memoryStore(simple, { rows });
      const kept = await keep(stock, store);
      for (let file = 0; file < 3; file++) {
        const columns = random.pick([["tag", "bed", "count"], ["count", "tag"], ["tag"], ["bed", "tag"]]);
        const lines = Array.from({ length: random.below(9) }, () =>
          columns
            .map(
              (name) =>
                ({
                  tag: `T${random.below(12)}`,
                  bed: random.pick(["", "south"]),
                  count: random.pick(["", "1", "3", "x"]),
                })[name],
            )
            .join(),
        );
        const csv = [columns.join(), ...lines].join("\n");
        const results = [];
        for (const each of [stock, alone]) results.push(await loadRows(each, csv, { into: "merge" }));
        expect([round, csv, results[0], [...stock]]).toEqual([round, csv, results[1], [...alone]]);
        if (random.below(2) === 0) expect((await kept.write()).ok).toBe(true);
      }
      expect((await kept.write()).ok).toBe(true);
      const there: unknown[] = [];
      for await (const each of store.read()) if (each.ok) there.push(each.row);
      expect(there).toEqual([...stock]);
      kept.stop();
    }
    console.info(`${count} tables, 3 files each, seed ${random.seed}`);
  });

  test("is refused where it would take the place of all of them", async () => {
    const { stock, kept } = await opened([row("A", 1)]);
    await expect(loadRows(stock, "tag\nB\n")).rejects.toThrow(/kept in .*Right would be into: "merge"/s);
    expect([stock.size, kept.unsavedCount]).toEqual([1, 0]);
    kept.stop();
  });
});
