import { spawn } from "node:child_process";
import { chmodSync, existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { basename, join, resolve, sep } from "node:path";
import { fileURLToPath } from "node:url";
import { describe, expect, test } from "@jest/globals";
import fc from "fast-check";
import { fileStore, folderStore } from "../src/files/index.ts";
import { recordName } from "../src/files/folder/recordName.ts";
import { boolean, date, group, model, time, number, oneOf, type RowOf, someOf, text } from "../src/model/index.ts";
import { times } from "./seeded.ts";
import { loadRows, type Store } from "../src/store/index.ts";
import { table } from "../src/table/index.ts";

const tree = model(
  {
    tag: text({ title: "Tag", required: true }),
    species: oneOf(["Quercus robur", "Alnus glutinosa"]),
    condition: oneOf([1, 2, 3]),
    hazards: someOf(["leaning", "dead limbs"]),
    girth: number(),
    fenced: boolean(),
    planted: date(),
    watered: time(),
    notes: text(),
  },
  { key: "tag" },
);
type Row = RowOf<typeof tree>;
const row: Row = {
  tag: "AB-0042",
  species: "Quercus robur",
  condition: 3,
  hazards: ["leaning", "dead limbs"],
  girth: 31.5,
  fenced: true,
  planted: "2026-11-23",
  watered: "07:00",
  notes: 'a "quoted"; note,\nof two lines',
};
const blank: Row = {
  tag: "AB-0043",
  species: undefined,
  condition: undefined,
  hazards: [],
  girth: undefined,
  fenced: false,
  planted: undefined,
  watered: undefined,
  notes: "",
};

const newFolder = (): string => mkdtempSync(join(tmpdir(), "thornbeck-"));

async function all<R>(store: Store<R>): Promise<unknown[]> {
  const rows: unknown[] = [];
  for await (const each of store.read())
    rows.push(
      each.ok
        ? each.row
        : { line: each.line, problems: each.problems.map(({ pointer, message }) => `${pointer} ${message}`) },
    );
  return rows;
}

describe.each(["ndjson", "csv"])("a %s file", (ending) => {
  test("takes rows and gives them back, in order and by type; blank stays blank", async () => {
    const path = join(newFolder(), `trees.${ending}`);
    const store = fileStore(path, tree);
    expect(await all(store)).toEqual([]);
    expect(await store.append(row)).toEqual({ place: path });
    await Promise.all([store.append(blank), store.append({ ...row, tag: "AB-0044" })]);
    expect(await all(fileStore(path, tree))).toEqual([row, blank, { ...row, tag: "AB-0044" }]);
  });

  test("property: any row comes back the same", async () => {
    const seed = 42;
    const rows = fc.record({
      tag: fc.string({ unit: "grapheme", minLength: 1 }).filter((tag) => tag.trim() !== ""),
      species: fc.constantFrom("Quercus robur" as const, undefined),
      condition: fc.constantFrom(1 as const, 3 as const, undefined),
      hazards: fc.subarray(["leaning", "dead limbs"] as const),
      girth: fc.option(
        fc.double({ noNaN: true, noDefaultInfinity: true }).map((value) => value + 0),
        { nil: undefined },
      ),
      fenced: fc.boolean(),
      planted: fc.constantFrom("2028-02-29", undefined),
      watered: fc.constantFrom("23:59:59", undefined),
      notes: fc.string({ unit: "grapheme" }).map((notes) => (notes.trim() === "" ? "" : notes)),
    });
    await fc.assert(
      fc.asyncProperty(fc.array(rows, { maxLength: 5 }), async (some) => {
        const store = fileStore(join(newFolder(), `trees.${ending}`), tree);
        for (const each of some) await store.append(each);
        expect(await all(store)).toEqual(some);
      }),
      { seed, numRuns: 60 },
    );
    console.info(`60 files of random rows, seed ${seed}`);
  });

  test("a line that a killed process left half written spoils no other", async () => {
    const path = join(newFolder(), `trees.${ending}`);
    await fileStore(path, tree).append(row);
    writeFileSync(path, ending === "csv" ? "AB-0099,Quer" : '{"tag":"AB-0099","spe', { flag: "a" });
    await fileStore(path, tree).append(blank);
    const [first, torn, last] = await all(fileStore(path, tree));
    expect([first, last]).toEqual([row, blank]);
    expect(torn).toMatchObject({ problems: [expect.stringMatching(/not JSON|2 cells, and the first line has 9/)] });
  });

  test("a place that can't be written: plain words, and a retry after the cause is gone succeeds", async () => {
    const folder = join(newFolder(), "later");
    const store = fileStore(join(folder, `trees.${ending}`), tree);
    await expect(store.append(row)).rejects.toThrow(/trees\.\w+ can't be written: its folder is not there\.$/);
    mkdirSync(folder);
    await store.append(row);
    expect(await all(store)).toEqual([row]);
    mkdirSync(join(folder, `folder.${ending}`));
    await expect(fileStore(join(folder, `folder.${ending}`), tree).append(row)).rejects.toThrow(/it is a folder/);
  });
});

describe("what is wrong in a file", () => {
  test("is told by line and field, and the other rows are read", async () => {
    const path = join(newFolder(), "trees.ndjson");
    writeFileSync(
      path,
      ['{"tag":"A"}', "rubbish", '{"tag":"B","girth":"wide","heigth":3}', "[]", "", '{"tag":null}'].join("\n"),
    );
    expect(await all(fileStore(path, tree))).toEqual([
      { ...blank, tag: "A" },
      { line: 2, problems: [expect.stringMatching(/^ This line is not JSON/)] },
      { line: 3, problems: ["/girth Girth is not a finite number.", '/heigth There is no field "heigth".'] },
      { line: 4, problems: [" This is not an object."] },
      { ...blank, tag: "" },
    ]);
  });

  test("CSV: columns by name in any order, with a byte order mark and Windows line ends", async () => {
    const path = join(newFolder(), "trees.csv");
    writeFileSync(path, "\ufeffgirth,tag\r\n31.5,A\r\nwide,B\r\n");
    expect(await all(fileStore(path, tree))).toEqual([
      { ...blank, tag: "A", girth: 31.5 },
      { line: 3, problems: ["/girth Girth is not a finite number."] },
    ]);
    await expect(fileStore(path, tree).append(row)).rejects.toThrow(/heading has no column species/);
  });

  test("a text can't start a formula in a spreadsheet, and comes back as it was", async () => {
    const path = join(newFolder(), "trees.csv");
    const store = fileStore(path, tree);
    await store.append({ ...blank, notes: "=HYPERLINK(1)", girth: -5 });
    expect(readFileSync(path, "utf8")).toContain(",'=HYPERLINK(1)");
    expect(readFileSync(path, "utf8")).toContain(",-5,");
    expect(await all(store)).toEqual([{ ...blank, notes: "=HYPERLINK(1)", girth: -5 }]);
    const open = fileStore(join(newFolder(), "open.csv"), tree, { guardFormulas: false });
    await open.append({ ...blank, notes: "=1" });
    expect(await all(open)).toEqual([{ ...blank, notes: "=1" }]);
  });

  test("an ending that says nothing is refused", () => {
    expect(() => fileStore("trees.xls", tree)).toThrow(
      /Received "trees\.xls"\. Right would be a path that ends in \.ndjson, \.jsonl, \.json or \.csv/,
    );
  });

  test("random bytes and mutated lines: no crash, each bad line is told", async () => {
    const seed = 7;
    await fc.assert(
      fc.asyncProperty(fc.uint8Array({ maxLength: 200 }), fc.constantFrom("ndjson", "csv"), async (bytes, ending) => {
        const path = join(newFolder(), `bytes.${ending}`);
        writeFileSync(path, bytes);
        // A reader may refuse the file as a whole, as with an open quote; it may not fail otherwise.
        await all(fileStore(path, tree)).catch((error: unknown) => {
          expect(String(error)).toMatch(/^StoreError: The file .* can't be read: /);
        });
      }),
      { seed, numRuns: 200 },
    );
    console.info(`200 files of random bytes, seed ${seed}`);
  });
});

describe("a text file by a layout, and one without headings", () => {
  test("a line for each row, as fields are shown or as a function says; it is only written", async () => {
    const path = join(newFolder(), "visits.txt");
    const store = fileStore(path, tree, { line: "{tag}: {girth}, {{{notes}}}", locale: "de" });
    await store.append(row);
    await fileStore(path, tree, { line: (each) => `${each.tag}\n--` }).append(blank);
    expect(readFileSync(path, "utf8")).toBe('AB-0042: 31,5, {a "quoted"; note, of two lines}\nAB-0043\n--\n');
    await expect((async () => all(store))()).rejects.toThrow(/can only be written/);
    expect(() => fileStore(path, tree, { line: "{tga}" })).toThrow(/"tga".*Did you mean "tag"/s);
    expect(() => fileStore(path, tree, { lin: "{tag}", guardFormulas: 1 } as never)).toThrow(
      /"lin" is not known\. Did you mean "line"\?.*guardFormulas of fileStore can't be this\. Received 1\. Right would be true or false/s,
    );
  });

  test("CSV whose columns are named in code", async () => {
    const path = join(newFolder(), "trees.csv");
    const store = fileStore(path, tree, { columns: ["girth", "tag"] });
    await store.append(row);
    await store.append(blank);
    expect(readFileSync(path, "utf8")).toBe("31.5,AB-0042\r\n,AB-0043\r\n");
    expect(await all(store)).toEqual([
      { ...blank, tag: "AB-0042", girth: 31.5 },
      { ...blank, tag: "AB-0043" },
    ]);
    expect(() => fileStore(path, tree, { columns: ["girth"] })).toThrow(/no column for the key "tag"/);
    const stock = table(tree, []);
    expect(await loadRows(stock, readFileSync(path), { columns: [undefined, "tag"] })).toMatchObject({ rows: 2 });
  });
});

describe("one file for each record", () => {
  const named = { fileName: ["tag", "species"] } as const;

  test("is named from its fields and holds the row", async () => {
    const folder = join(newFolder(), "cards");
    const store = folderStore(folder, tree, named);
    expect(await store.append(row)).toEqual({ place: join(folder, "AB-0042 Quercus robur.json") });
    expect(await all(store)).toEqual([row]);
    expect(readdirSync(folder)).toEqual(["AB-0042 Quercus robur.json"]);
  });

  test("what is there is refused, numbered, or knowingly replaced", async () => {
    const folder = newFolder();
    await folderStore(folder, tree, named).append(row);
    const changed = { ...row, notes: "changed" };
    await expect(folderStore(folder, tree, named).append(changed)).rejects.toThrow(
      /AB-0042 Quercus robur\.json is there already\. Nothing was written over it\./,
    );
    await expect(folderStore(folder, tree, { ...named, whenExists: "number" }).append(changed)).rejects.toThrow(
      /Nothing was put into .*Another row in .* has this already/,
    );
    const bySpecies = folderStore(folder, tree, { fileName: ["species"], whenExists: "number" });
    for (const [tag, file] of [
      ["AB-0043", "Quercus robur.json"],
      ["AB-0044", "Quercus robur (2).json"],
    ] as const)
      expect(await bySpecies.append({ ...row, tag })).toEqual({ place: join(folder, file) });
    await folderStore(folder, tree, { ...named, whenExists: "replace" }).append(changed);
    expect(await all(folderStore(folder, tree, named))).toEqual([
      changed,
      { ...row, tag: "AB-0044" },
      { ...row, tag: "AB-0043" },
    ]);
    expect(readdirSync(folder).every((name) => name.endsWith(".json"))).toBe(true);
  });

  test("its name may have calculated fields and such in groups; what is no field is refused at once", async () => {
    const card = model({ tag: text(), name: text(), place: group({ plot: text({ title: "Plot" }) }) }).calculated({
      name: (row) => `${row.tag} in ${row.place.plot}`,
    });
    const folder = newFolder();
    const store = folderStore(folder, card, { fileName: ["name", "place.plot"] });
    const given = { tag: "A", name: "", place: { plot: "7" } };
    expect(await store.append(given as never)).toEqual({ place: join(folder, "A in 7 7.json") });
    expect(() => folderStore(folder, card, { fileName: ["plce.plot" as never] })).toThrow(/"plce\.plot".*place\.plot/s);
    expect(() => folderStore(folder, card, { fileName: [] })).toThrow(/no fileName/);
    expect(() => folderStore(folder, card, { fileName: ["tag"], whenExists: "overwrite" as never })).toThrow(
      /"overwrite".*"refuse", "number" or "replace"/s,
    );
  });

  test("names that become one by what a file name can't hold never replace each other", async () => {
    const folder = newFolder();
    const store = folderStore(folder, tree, { fileName: ["tag"], whenExists: "replace" });
    await store.append({ ...row, tag: "A/1" });
    await expect(store.append({ ...row, tag: "A:1" })).rejects.toThrow(
      /A_1\.json is there already and holds another record\. Nothing was written over it\./,
    );
    await store.append({ ...row, tag: "A/1", notes: "changed" });
    expect(await all(store)).toEqual([{ ...row, tag: "A/1", notes: "changed" }]);
  });

  test.each([
    ["../../etc/passwd", /^[^/\\]+$/],
    ["CON", /^CON_$/],
    ["nul.txt", /^nul_\.txt$/],
    ["lpt1", /^lpt1_$/],
    [".hidden", /^_hidden$/],
    ["ends. ", /^ends$/],
    ['a<b>c:"d|e?f*', /^[^<>:"|?*]+$/],
    ["🌳".repeat(300), /^🌳+$/u],
    ["a".repeat(300), /^a{200}$/],
    ["__proto__", /^__proto__$/],
  ])("%s makes a legal name inside the folder", (given, right) => {
    const name = recordName([{ title: "Tag", text: given }]);
    expect(name).toMatch(right);
    expect(Buffer.byteLength(name)).toBeLessThanOrEqual(201);
    expect(resolve("/cards", `${name}.json`)).toBe(`/cards${sep}${name}.json`);
  });

  test.each(["   ", "", "..", "///", "\u0000"])("%j is refused, with the field that is wrong", (given) => {
    expect(() => recordName([{ title: "Tag", text: given }])).toThrow(/The file can't be named: /);
  });

  test("property: any text makes a legal name inside the folder, or is refused", () => {
    const seed = 99;
    fc.assert(
      fc.property(fc.string({ unit: "binary", maxLength: 400 }), (given) => {
        let name: string;
        try {
          name = recordName([{ title: "Tag", text: given }]);
        } catch (error) {
          expect((error as Error).name).toBe("StoreError");
          return;
        }
        expect(basename(name)).toBe(name);
        // eslint-disable-next-line no-control-regex
        expect(name).not.toMatch(/[<>:"/\\|?*\u0000-\u001f]|[. ]$|^\./);
        expect(Buffer.byteLength(name)).toBeLessThanOrEqual(201);
      }),
      { seed, numRuns: 2_000 },
    );
    console.info(`2000 names, seed ${seed}`);
  });

  test("a folder that can't be written says so", async () => {
    const file = join(newFolder(), "a-file");
    writeFileSync(file, "");
    await expect(folderStore(join(file, "cards"), tree, named).append(row)).rejects.toThrow(
      /can't be written: a part of its path is not a folder\./,
    );
  });
});

const KILLS = times(50, 0.1);
test.each(["ndjson", "csv"])(
  `kill -9 in the middle of saving %s, ${KILLS} times: every acknowledged row is there, and no torn line hides another`,
  async (ending) => {
    const path = join(newFolder(), `trees.${ending}`);
    const writer = fileURLToPath(new URL("fixtures/appendForEver.mjs", import.meta.url));
    let acknowledged = 0;
    for (let run = 0; run < KILLS; run++) acknowledged += await killedAfter(writer, path, run, 40 + ((run * 37) % 60));
    const rows = await all(fileStore(path, tree));
    const whole = rows.filter((each) => "tag" in (each as object)).length;
    expect(acknowledged).toBeGreaterThan(KILLS);
    expect(whole).toBeGreaterThanOrEqual(acknowledged);
    expect(rows.length - whole).toBeLessThanOrEqual(KILLS);
    console.info(`${acknowledged} acknowledged rows, ${whole} found, ${rows.length - whole} torn lines`);
  },
);

/** Runs the writer and kills it so many milliseconds after its first acknowledgement. @returns how many it acknowledged */
function killedAfter(writer: string, path: string, run: number, milliseconds: number): Promise<number> {
  return new Promise((done, fail) => {
    const child = spawn(process.execPath, [writer, path, String(run)], { env: { ...process.env, NODE_OPTIONS: "" } });
    let count = 0;
    child.stdout.on("data", (data: Buffer) => {
      if (count === 0) setTimeout(() => child.kill("SIGKILL"), milliseconds);
      count += data.filter((byte) => byte === 10).length;
    });
    child.stderr.on("data", (data: Buffer) => fail(new Error(data.toString())));
    child.on("exit", () => done(count));
  });
}

test("a file without permission is told in plain words", async () => {
  if (process.getuid?.() === 0) {
    console.info("Not tried: the superuser may write every file, so there is nothing to refuse.");
    return;
  }
  const path = join(newFolder(), "trees.ndjson");
  writeFileSync(path, "");
  chmodSync(path, 0o400);
  await expect(fileStore(path, tree).append(row)).rejects.toThrow(/you have no permission for it/);
  expect(existsSync(path)).toBe(true);
});
