/** Whatever is typed or loaded is read in time that grows with its length and no faster. */
import { execFile } from "node:child_process";
import { fileURLToPath } from "node:url";
import { expect, test } from "@jest/globals";
import {
  boolean,
  choiceList,
  date,
  dateTime,
  decimal,
  instant,
  integer,
  list,
  model,
  number,
  oneOf,
  readBlock,
  someOf,
  table,
  text,
  time,
} from "../src/index.ts";
import { nearestName } from "../src/errors/index.ts";
import type { AnyKind } from "../src/model/index.ts";
import { loadRows } from "../src/store/index.ts";
import { seeded, times } from "./seeded.ts";

const kinds: Readonly<Record<string, AnyKind>> = {
  text: text({ tidy: { trim: true, form: "NFC", letters: "upper" } }),
  email: text({ format: "email" }),
  uri: text({ format: "uri" }),
  tel: text({ format: "tel" }),
  integer: integer({ unit: "centimeter" }),
  number: number({ unit: "centimeter" }),
  percent: number({ display: { style: "percent" } }),
  decimal: decimal({ unit: "€" }),
  boolean: boolean(),
  date: date(),
  time: time(),
  dateTime: dateTime(),
  instant: instant(),
  oneOf: oneOf(["Acer campestre", "Tilia cordata"]),
  grown: oneOf(choiceList(Array.from({ length: 60 }, (_, number) => `Species ${number}`))),
  someOf: someOf(["leaning", "cavity"]),
  list: list(text(), { uniqueItems: true }),
  numbers: list(number(), { uniqueItems: true }),
};
const locales = ["en", "de", "ar-EG", "fa", "hi", "ja", "tr", "th", "zh-TW", "da"];
const units = [
  ",",
  " ",
  "\u00a0",
  ".",
  "1",
  "1,",
  "1 ",
  "1.",
  "-",
  ":",
  "1:",
  "12:30 ",
  "a",
  "a,",
  "%",
  "1%",
  "\n",
  "x\n",
  "1\n",
  "@",
  "a@",
  "a.",
  "T",
  "٣",
  "٣٬",
  "'",
  '"',
  '""',
  '"a\t',
  "\t",
  "\u200f",
  "é",
  "e\u0301",
  "🌳",
  "am",
  "Nov ",
  "; ",
  "leaning; ",
];
const frames = [
  (inner: string) => inner,
  (inner: string) => `1${inner}1`,
  (inner: string) => `a${inner}%`,
  (inner: string) => `${inner}:30 am`,
];

/** How long it takes at the least, in milliseconds. */
function timeOf(work: () => unknown): number {
  let least = Infinity;
  for (let run = 0; run < 2; run++) {
    const begun = performance.now();
    work();
    least = Math.min(least, performance.now() - begun);
  }
  return least;
}

/** Reads and checks a text as a person's entry is. */
function readAndCheck(kind: AnyKind, given: string, locale: string): void {
  const reading = kind.read(given, locale, "Europe/Berlin");
  if (!reading.ok || kind.isBlank(reading.value)) return;
  kind.tidy?.(reading.value);
  kind.check(reading.value, locale, "Europe/Berlin");
}

test("every kind in every notation, for texts that are built to take long", () => {
  const random = seeded(3030);
  const count = times(4000);
  const slow: string[] = [];
  for (let round = 0; round < count; round++) {
    const name = random.pick(Object.keys(kinds));
    const locale = random.pick(locales);
    const unit = random.pick(units) + (random.below(3) === 0 ? random.pick(units) : "");
    const frame = random.pick(frames);
    const take = (length: number): number => {
      const given = frame(unit.repeat(Math.ceil(length / unit.length)));
      return timeOf(() => readAndCheck(kinds[name]!, given, locale));
    };
    // A machine that was busy for a moment is asked again.
    let said = "";
    for (let asked = 0; asked < 3; asked++) {
      const [once, twice] = [take(8_000), take(16_000)];
      said = twice > 3 * once + 15 ? `${name} ${locale} ${JSON.stringify(unit)}: ${once} → ${twice} ms` : "";
      if (said === "") break;
    }
    if (said !== "") slow.push(said);
  }
  expect(slow).toEqual([]);
  console.info(`${count} texts of 8,000 and 16,000 letters, seed ${random.seed}`);
});

test("files, blocks from the clipboard and unknown names", async () => {
  const plant = model({ tag: text(), height: number() });
  const slow: string[] = [];
  for (const unit of units)
    for (const format of ["csv", "ndjson"] as const) {
      const take = async (length: number): Promise<number> => {
        const given = `tag,height\n${unit.repeat(length / unit.length)}`;
        let least = Infinity;
        for (let run = 0; run < 3; run++) {
          const begun = performance.now();
          await loadRows(table(plant, []), given, { format, maxItems: 5 });
          readBlock(given);
          nearestName(given, ["height", "tag"]);
          least = Math.min(least, performance.now() - begun);
        }
        return least;
      };
      await take(1_000);
      // A machine that was busy for a moment is asked again; what takes longer than its length is so each time.
      let said = "";
      for (let asked = 0; asked < 3; asked++) {
        const [once, twice] = [await take(25_000), await take(50_000)];
        said = twice > 3.2 * once + 60 ? `${format} ${JSON.stringify(unit)}: ${once} → ${twice} ms` : "";
        if (said === "") break;
      }
      if (said !== "") slow.push(said);
    }
  expect(slow).toEqual([]);
});

test("nothing grows with rows that come and go, whatever a table is used for", async () => {
  const script = fileURLToPath(new URL("fixtures/comeAndGo.mjs", import.meta.url));
  const said = await new Promise<string>((done, fail) => {
    const call = ["--expose-gc", script];
    execFile(process.execPath, call, { env: { ...process.env, NODE_OPTIONS: "" } }, (error, out) =>
      error === null ? done(out) : fail(new Error(error.message)),
    );
  });
  const grown = JSON.parse(said) as Record<string, number>;
  console.info(`bytes for each row that came and went: ${said.trim()}`);
  expect(Object.keys(grown)).toHaveLength(2);
  expect(Object.entries(grown).filter(([, bytes]) => bytes > 4)).toEqual([]);
});
