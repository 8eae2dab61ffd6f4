import { spawn } from "node:child_process";
import { existsSync, mkdtempSync, readFileSync, truncateSync, unlinkSync, utimesSync, writeFileSync } from "node:fs";
import { hostname, tmpdir } from "node:os";
import { join } from "node:path";
import { fileURLToPath } from "node:url";
import { describe, expect, jest, test } from "@jest/globals";
import {
  boolean,
  date,
  dateTime,
  Decimal,
  decimal,
  file,
  group,
  instant,
  integer,
  list,
  model,
  number,
  oneOf,
  type RowOf,
  rows,
  someOf,
  table,
  text,
  time,
} from "../src/index.ts";
import { fileStore } from "../src/files/index.ts";
import { loadRows, type Store, toJson } from "../src/store/index.ts";
import { type Seeded, seeded, times } from "./seeded.ts";

const line = model({ species: text(), price: decimal(), delivered: date() });
/** Every kind that there is, with choices that are hard to tell apart in a cell. */
const everything = model({
  tag: text({ required: true }),
  notes: text(),
  count: integer(),
  height: number(),
  price: decimal(),
  sold: boolean(),
  planted: date(),
  watered: time(),
  checked: dateTime(),
  noted: instant(),
  bed: oneOf(["a; b", "a", "b", "=1", "'=1", "[1]", '"a"', " a "]),
  rank: oneOf([1, 2, "1", "two"]),
  hazards: someOf(["a; b", "a", "b", "[", "", " ", "=1"]),
  names: list(text()),
  prices: list(decimal()),
  lines: rows(line),
  photograph: file(),
  place: group({ plot: text(), row: integer() }),
});
type Everything = RowOf<typeof everything>;

const hostile = [
  "plain",
  "a,b;c\td",
  'say "no"',
  '"',
  '""',
  "\n",
  "\r",
  "\r\n",
  "x\n=1+1",
  "=1",
  "'=1",
  "''=1",
  "'",
  "+49 30",
  "-",
  "@here",
  "\t=1",
  "＝1",
  " blank ",
  "\u00a0",
  "\u2028",
  "\ufeffmark",
  "\u0000",
  "Größe €",
  "🌳",
  "true",
  "12",
  "[1]",
  '{"a":1}',
  "",
];

/** A text of some hostile ones, one behind the other; never of blanks alone, which is blank. */
function hostileText(random: Seeded): string {
  const made = Array.from({ length: random.below(4) }, () => random.pick(hostile)).join("");
  return made.trim() === "" ? "" : made;
}

const some = <T>(random: Seeded, from: readonly T[]): T[] => from.filter(() => random.below(2) === 0);

function anyRow(random: Seeded, number: number): Everything {
  const { choices: beds = [] } = everything.kindOf("bed")!;
  return {
    tag: `T${number} ${hostileText(random)}`,
    notes: hostileText(random),
    count: random.pick([undefined, 0, -5, 9007199254740991]),
    height: random.pick([undefined, -0.1, 1e21, 5e-324, 31.5]),
    price: random.pick([undefined, Decimal.of("-0.10"), Decimal.of("12345678901234567890.01")]),
    sold: random.below(2) === 0,
    planted: random.pick([undefined, "2028-02-29"]),
    watered: random.pick([undefined, "23:59:59"]),
    checked: random.pick([undefined, "2026-11-23T07:00"]),
    noted: random.pick([undefined, "2026-11-23T07:00:00.123Z"]),
    bed: random.pick([undefined, ...beds.map((choice) => choice.const), "foreign", '"foreign']) as Everything["bed"],
    rank: random.pick([undefined, 1, 2, "1", "two"]),
    hazards: some(random, ["a; b", "a", "b", "[", "", " ", "=1"]),
    names: Array.from({ length: random.below(3) }, () => hostileText(random)),
    prices: some(random, [Decimal.of("0.10"), Decimal.of("-7")]),
    lines: Array.from({ length: random.below(3) }, () => ({
      species: hostileText(random),
      price: random.pick([undefined, Decimal.of("3.50")]),
      delivered: random.pick([undefined, "2026-01-31"]),
    })),
    photograph: random.pick([undefined, { name: `=${hostileText(random)}`, size: 3, type: "image/png" }]),
    place: { plot: hostileText(random), row: random.pick([undefined, 7]) },
  };
}

const newPath = (name: string): string => join(mkdtempSync(join(tmpdir(), "thornbeck-")), name);

async function all<R>(store: Store<R>): Promise<{ rows: R[]; bad: string[] }> {
  const rows: R[] = [];
  const bad: string[] = [];
  for await (const each of store.read())
    if (each.ok) rows.push(each.row);
    else bad.push(...each.problems.map(({ message, pointer }) => `${each.line}: ${pointer} ${message}`));
  return { rows, bad };
}
const asJson = (row: Everything): string => JSON.stringify(toJson(everything, row));

describe("what is written is what is read", () => {
  test.each([
    ["csv", true],
    ["csv", false],
    ["ndjson", true],
  ])("for every kind and hostile texts: %s, formulas guarded: %s", async (ending, guardFormulas) => {
    const random = seeded(20_261);
    const path = newPath(`everything.${ending}`);
    const store = fileStore(path, everything, { guardFormulas });
    const written: Everything[] = [];
    for (let count = times(2000, 0.1); count > 0; count--) written.push(anyRow(random, count));
    for (const row of written) await store.append(row);
    const { rows, bad } = await all(fileStore(path, everything));
    expect(bad).toEqual([]);
    expect(rows.map(asJson)).toEqual(written.map(asJson));
    const stock = table(everything, []);
    const loaded = await loadRows(stock, readFileSync(path), { format: ending as "csv" });
    expect([loaded.problems, [...stock].map(asJson)]).toEqual([[], written.map(asJson)]);
    console.info(
      `${written.length} rows of every kind in ${ending}, formulas guarded: ${guardFormulas}, seed ${random.seed}`,
    );
  });

  test("no cell of a guarded file starts a formula, whatever a spreadsheet splits cells and lines at", async () => {
    const path = newPath("guarded.csv");
    const store = fileStore(path, model({ a: text(), b: text() }));
    for (const start of ["=", "+", "-", "@", "\t", "\r", "\n", "＝", "＋", "－", "＠"])
      for (const before of ["", "x\n", "x\r", "x;", "x,", "x\t", '"', "'"])
        await store.append({ a: `${before}${start}1`, b: "" });
    const outside = readFileSync(path, "utf8").replaceAll(/"(?:[^"]|"")*"/g, (cell) => cell.slice(1, 2));
    const cells = outside.split(/[\r\n,;\t]+/);
    expect(cells.filter((cell) => /^[=+\-@＝＋－＠]/.test(cell))).toEqual([]);
  });

  test("half of a character is refused, since UTF-8 can't hold it", async () => {
    const store = fileStore(newPath("half.csv"), model({ a: text({ title: "Notes" }) }));
    await expect(store.append({ a: "\uD83C" })).rejects.toThrow(/Notes has half of a character/);
  });
});

describe("one reader tells every line that it can't take, and goes on", () => {
  const plant = model({ tag: text({ required: true }), height: number(), notes: text() }, { key: "tag" });
  const cellOf = (value: string): string => (/[",;\r\n]/.test(value) ? `"${value.replaceAll('"', '""')}"` : value);

  /** Lines of a file, good and bad, with what is to come of each. */
  function anyFile(random: Seeded): { bytes: Uint8Array; good: string[]; bad: number[] } {
    const parts: Uint8Array[] = [];
    const good: string[] = [];
    const bad: number[] = [];
    const encoder = new TextEncoder();
    let number = 2;
    const ends = random.pick([["\n"], ["\r\n"], ["\r"], ["\n", "\r\n", "\r"]]);
    const put = (content: Uint8Array): void => void parts.push(content, encoder.encode(random.pick(ends)));
    put(encoder.encode(`${random.below(2) === 0 ? "\ufeff" : ""}tag,height,notes`));
    for (let count = random.below(30); count > 0; count--) {
      const tag = `T${number}`;
      // In quotes it begins with a letter: else a quote left open before could seem to be closed rightly by it.
      const notes = random.pick(["", "tall", "a\nb", "a\rb", "a\r\nb", 'a "quoted", b', "ä;€"]);
      const kind = random.below(10);
      if (kind > 3) {
        put(encoder.encode(`${tag},${number},${cellOf(notes)}`));
        good.push(tag);
        number += notes.split(/\r\n|\n|\r/).length;
        continue;
      }
      const wrong = [
        encoder.encode(`${tag},1,"never closed`),
        encoder.encode(`${tag},1`),
        encoder.encode(`${tag},1,2,3`),
        Uint8Array.from([...encoder.encode(`${tag},1,`), 0xe4, 0x62]),
      ];
      put(wrong[kind]!);
      bad.push(number++);
    }
    return { bytes: Uint8Array.from(parts.flatMap((part) => [...part])), good, bad };
  }

  test("random files with any line ends, in pieces of any size, by loading and by reading", async () => {
    const random = seeded(606);
    const count = times(4000, 0.1);
    for (let round = 0; round < count; round++) {
      const { bytes, good, bad } = anyFile(random);
      const pieces: Uint8Array[] = [];
      for (let from = 0; from < bytes.length;) {
        const to = from + 1 + random.below(random.pick([3, 40, 400]));
        pieces.push(bytes.slice(from, to));
        from = to;
      }
      const stock = table(plant, [], { locale: "en" });
      const { problems } = await loadRows(stock, pieces);
      expect([[...stock].map(({ tag }) => tag), problems.map((each) => each.line)]).toEqual([good, bad]);
      if (round % 20 > 0) continue;
      const path = newPath("plants.csv");
      writeFileSync(path, bytes);
      const read = await all(fileStore(path, plant));
      expect([read.rows.map(({ tag }) => tag), read.bad.map((each) => Number.parseInt(each))]).toEqual([good, bad]);
    }
    console.info(`${count} files of good and bad lines, seed ${random.seed}`);
  });

  test("in words, with a quote that stands in a cell for itself, and other encodings told or read", async () => {
    const stock = table(plant, [], { locale: "en" });
    const { problems } = await loadRows(stock, 'tag,height,notes\nA,1,5" pot\nB,2\nC,3,"open\nD,4,\n');
    expect(problems.map((each) => `${each.line} ${each.message}`)).toEqual([
      "3 This line has 2 cells, and the first line has 3.",
      "4 In this line a quote is opened and not rightly closed.",
    ]);
    expect([...stock].map(({ tag, notes }) => [tag, notes])).toEqual([
      ["A", '5" pot'],
      ["D", ""],
    ]);
    const latin = Buffer.from("tag,height,notes\nA,1,B\xe4ume\nB,2,\n", "latin1");
    expect((await loadRows(stock, [latin])).problems.map((each) => `${each.line} ${each.message}`)).toEqual([
      "2 This line has bytes that are not UTF-8 text.",
    ]);
    const utf16 = Buffer.from("\ufefftag,height,notes\nA,1,Bäume\n", "utf16le");
    await loadRows(stock, [utf16]);
    expect(stock.get("A")?.notes).toBe("Bäume");
    const ndjson = await loadRows(stock, '\ufeff{"tag":"A"}\r{"tag":"B"}\r\n{"tag":"C\u2028"}\n{"tag"', {
      format: "ndjson",
    });
    expect([ndjson.rows, ndjson.problems.length, ndjson.problems[0]!.message]).toMatchObject([
      3,
      1,
      expect.stringMatching(/^This line is not JSON: /),
    ]);
  });

  test("problems beyond a thousand are counted; a heading twice and one that names no field are told", async () => {
    const stock = table(plant, [], { locale: "en" });
    const loaded = await loadRows(stock, `tag,tag,bed,height,notes\n${"A,,,tall,\n".repeat(1500)}`);
    expect([loaded.problems.length, loaded.problemsBeyond, loaded.unused]).toEqual([1000, 500, ["tag", "bed"]]);
    const path = newPath("plants.csv");
    writeFileSync(path, "tag,bed,height,notes\nA,7,1,\n");
    expect(await all(fileStore(path, plant))).toMatchObject({
      rows: [{ tag: "A", height: 1 }],
      bad: [expect.stringMatching(/^1: {2}The column "bed" is no field/)],
    });
    writeFileSync(path, "bed,owner\n7,CB\n");
    await expect(all(fileStore(path, plant))).rejects.toThrow(/can't be read: The first line names no field/);
    await expect(fileStore(path, plant).append({ tag: "A", height: 1, notes: "" })).rejects.toThrow(
      /first line names no field/,
    );
  });

  test("an open quote costs no more time than its line, however many there are", async () => {
    const timeOf = async (lines: number): Promise<number> => {
      const texts = ['"a\n', '"""a\n', 'a","c\n', `${'"",'.repeat(50)}\n`].map((each) => each.repeat(lines));
      const begun = performance.now();
      for (const each of texts)
        await loadRows(table(plant, [], { locale: "en" }), `tag,height,notes\n${each}`, { maxItems: 10 });
      return performance.now() - begun;
    };
    await timeOf(2000);
    const [once, twice] = [await timeOf(20_000), await timeOf(40_000)];
    expect(twice / once).toBeLessThan(3.2);
  });
});

describe("a row that a crash left half written", () => {
  const note = model({ tag: text(), notes: text() });
  type Note = RowOf<typeof note>;

  test.each(["csv", "ndjson"])("is closed by the next row, told, and spoils no other: %s", async (ending) => {
    const random = seeded(7007);
    const count = times(2000, 0.1);
    for (let round = 0; round < count; round++) {
      const path = newPath(`notes.${ending}`);
      const store = fileStore(path, note);
      const before: Note[] = [];
      for (let many = random.below(3); many > 0; many--) {
        before.push({ tag: `A${many}`, notes: hostileText(random) });
        await store.append(before.at(-1)!);
      }
      const length = existsSync(path) ? readFileSync(path).length : 0;
      const torn = { tag: `torn ${hostileText(random)}`, notes: hostileText(random) };
      await store.append(torn);
      const left = random.below(readFileSync(path).length - length);
      truncateSync(path, length + left);
      // What a process leaves behind that is killed while it writes.
      writeFileSync(
        `${path}.lock`,
        JSON.stringify({ process: 2 ** 22 + 1, machine: hostname(), id: "x", size: length }),
      );
      const next = random.below(2) === 0 ? store : fileStore(path, note);
      const after: Note[] = [
        { tag: "B1", notes: hostileText(random) },
        { tag: "B2", notes: hostileText(random) },
      ];
      const { notice } = await next.append(after[0]!);
      if (left === 0) expect(notice).toBeUndefined();
      const { notice: second } = await next.append(after[1]!);
      expect(second).toBeUndefined();
      const { rows, bad } = await all(fileStore(path, note));
      const whole = rows.filter((row) => !row.tag.startsWith("torn"));
      expect(whole).toEqual([...before, ...after]);
      // What is left of it is told when it is read, but where nothing more than its line end was missing. What may as well be the beginning
      // of a write of several rows is told when it is taken off.
      const isWhole = rows.length > whole.length;
      const isTakenOff = ending === "ndjson" && left < 3 && /taken off/.test(notice ?? "");
      if (left > 0 && length > 0) expect(bad.length > 0 || isWhole || isTakenOff).toBe(true);
      if (ending === "csv")
        expect(isWhole && !rows.some((row) => row.tag === torn.tag && row.notes === torn.notes)).toBe(false);
      expect(bad.length).toBeLessThanOrEqual(1);
    }
    console.info(`${count} torn files, seed ${random.seed}`);
  });

  test.each([0, 20, "at a line"])(
    "a lock that a crash left long ago takes nothing from a file that somebody has written since: %s bytes then",
    async (size) => {
      const path = newPath("notes.csv");
      const content = `tag,notes\r\n${Array.from({ length: 50 }, (_, number) => `T${number},"a, ""b""\r\nc"\r\n`).join("")}`;
      const lock = `${path}.lock`;
      const bytes = typeof size === "number" ? size : Buffer.byteLength(`tag,notes\r\nT0,"a, ""b""\r\nc"\r\n`);
      writeFileSync(lock, JSON.stringify({ process: 2 ** 22 + 1, machine: hostname(), id: "x", size: bytes }));
      utimesSync(lock, new Date(Date.now() - 60_000), new Date(Date.now() - 60_000));
      writeFileSync(path, content);
      const { notice } = await fileStore(path, note).append({ tag: "new", notes: "" });
      const { rows, bad } = await all(fileStore(path, note));
      expect([notice, rows.length, bad, readFileSync(path, "utf8").startsWith(content)]).toEqual([
        undefined,
        51,
        [],
        true,
      ]);
    },
  );

  test("a first row that was whole when its writer died stays", async () => {
    const path = newPath("notes.csv");
    writeFileSync(path, "tag,notes\r\nA,whole\r\n");
    writeFileSync(`${path}.lock`, JSON.stringify({ process: 2 ** 22 + 1, machine: hostname(), id: "x", size: 0 }));
    await fileStore(path, note).append({ tag: "B", notes: "" });
    expect((await all(fileStore(path, note))).rows.map(({ tag }) => tag)).toEqual(["A", "B"]);
  });

  test("is told in the receipt", async () => {
    const path = newPath("notes.csv");
    await fileStore(path, note).append({ tag: "A", notes: "" });
    writeFileSync(path, 'B,"torn, and\r\nof two', { flag: "a" });
    expect(await fileStore(path, note).append({ tag: "C", notes: "" })).toEqual({
      place: path,
      notice:
        "The last row of notes.csv was not whole (line 3), as after a crash; it was closed, and stays to be looked at.",
    });
    expect(await all(fileStore(path, note))).toMatchObject({
      rows: [{ tag: "A" }, { tag: "C" }],
      bad: ["3:  This line has 3 cells, and the first line has 2."],
    });
  });
});

describe("several processes and one file", () => {
  const note = model({ tag: text(), notes: text() });
  const writer = fileURLToPath(new URL("fixtures/appendRows.mjs", import.meta.url));
  const run = (args: readonly string[]): Promise<string> =>
    new Promise((done) => {
      const child = spawn(process.execPath, [writer, ...args], { env: { ...process.env, NODE_OPTIONS: "" } });
      let said = "";
      child.stderr.on("data", (data: Buffer) => (said += data.toString()));
      child.on("exit", () => done(said));
    });

  test.each([
    ["csv", "3", "700000"],
    ["ndjson", "3", "700000"],
    ["csv", "40", "10"],
  ])("begin a file at once and keep their rows apart: %s, %s rows of %s characters", async (ending, count, length) => {
    const path = newPath(`notes.${ending}`);
    const said = await Promise.all(["one", "two", "three"].map((name) => run([path, name, count, length])));
    expect(said).toEqual(["", "", ""]);
    const { rows, bad } = await all(fileStore(path, note));
    expect([rows.length, bad]).toEqual([3 * Number(count), []]);
    for (const name of ["one", "two", "three"])
      expect(rows.map(({ tag }) => tag).filter((tag) => tag.startsWith(name))).toEqual(
        Array.from({ length: Number(count) }, (_, number) => `${name}-${number}`),
      );
    expect(existsSync(`${path}.lock`)).toBe(false);
  });

  test("a row for which there is no room leaves nothing of itself behind", async () => {
    const path = newPath("notes.csv");
    const said = await new Promise<string>((done) => {
      const limited = `ulimit -f 64; exec "${process.execPath}" "${writer}" "${path}" one 10 15000`;
      const child = spawn("sh", ["-c", limited], { env: { ...process.env, NODE_OPTIONS: "" } });
      let text = "";
      child.stderr.on("data", (data: Buffer) => (text += data.toString()));
      child.on("exit", () => done(text));
    });
    expect(said).toMatch(/notes\.csv can't be written: it may not grow any larger\./);
    const { rows, bad } = await all(fileStore(path, note));
    expect([rows.length > 0, bad, readFileSync(path, "utf8").endsWith('"\r\n')]).toEqual([true, [], true]);
  });

  test("a lock that goes from one living owner to the next is waited for; one owner that keeps it is told", async () => {
    const path = newPath("notes.csv");
    const owned = (id: string): void =>
      writeFileSync(`${path}.lock`, JSON.stringify({ process: process.pid, machine: hostname(), id, size: 0 }));
    const realNow = Date.now;
    const began = realNow();
    // A clock that is twenty times as fast: ten seconds of waiting are half of one.
    const clock = jest.spyOn(Date, "now").mockImplementation(() => began + (realNow() - began) * 20);
    try {
      owned("0");
      const appended = fileStore(path, note).append({ tag: "A", notes: "" });
      for (let owner = 1; owner <= 10; owner++) {
        await new Promise((done) => setTimeout(done, 100));
        owned(String(owner));
      }
      unlinkSync(`${path}.lock`);
      expect(await appended).toEqual({ place: path });
      owned("x");
      await expect(fileStore(path, note).append({ tag: "B", notes: "" })).rejects.toThrow(
        /notes\.csv can't be written: another program is writing to it/,
      );
    } finally {
      clock.mockRestore();
    }
  });

  test("a lock whose owner is gone is taken over; one that lives is waited for, and can be given up", async () => {
    const path = newPath("notes.csv");
    const lock = (process: number): void =>
      writeFileSync(`${path}.lock`, JSON.stringify({ process, machine: hostname(), id: "x", size: 0 }));
    lock(2 ** 22 + 1);
    await fileStore(path, note).append({ tag: "A", notes: "" });
    lock(process.pid);
    const controller = new AbortController();
    const waiting = fileStore(path, note).append({ tag: "B", notes: "" }, { signal: controller.signal });
    controller.abort(new Error("enough"));
    await expect(waiting).rejects.toThrow("enough");
    expect((await all(fileStore(path, note))).rows.map(({ tag }) => tag)).toEqual(["A"]);
  });
});
