/** Rows that are kept in files, against the same written by hand with what Node has. */
import { closeSync, fsyncSync, openSync, readFileSync, renameSync, writeSync } from "node:fs";
import { dirname } from "node:path";
import { fileStore } from "../src/files/index.ts";
import type { Figure } from "./harness.ts";
import { compared, COUNT, plant, plants, savedIn, type Plant } from "./keeping.ts";

interface Line extends Plant {
  readonly version: number;
}

/** What is on the disk is there also after the power was cut. */
function flushed(path: string, flags: string, text: string): void {
  const file = openSync(path, flags);
  writeSync(file, text);
  fsyncSync(file);
  closeSync(file);
}

const jsonLines = (rows: readonly Line[]): string => rows.map((row) => `${JSON.stringify(row)}\n`).join("");
const linesIn = (path: string): Line[] =>
  readFileSync(path, "utf8")
    .split("\n")
    .flatMap((line) => (line === "" ? [] : [JSON.parse(line) as Line]));

/** The latest line of each row. */
const latest = (lines: readonly Line[]): Map<string, Line> => new Map(lines.map((line) => [line.tag, line]));

/** Puts lines behind the others: new rows, then changed ones, each checked against the version that it has in the file. */
function linesByHand(path: string): number {
  const rows = plants(COUNT);
  const start = performance.now();
  flushed(path, "a", jsonLines(rows.map((row) => ({ ...row, version: 1 }))));
  const there = latest(linesIn(path));
  const changed = rows.map((row): Line => {
    if (there.get(row.tag)?.version !== 1) throw new Error("P14: a row was changed by others");
    return { ...row, bed: row.bed + 1, version: 2 };
  });
  flushed(path, "a", jsonLines(changed));
  const took = performance.now() - start;
  checkSaved([...latest(linesIn(path)).values()]);
  return took;
}

/** Writes a file anew beside the old one, and puts it in its place. */
function replaced(path: string, text: string): void {
  flushed(`${path}.next`, "w", text);
  renameSync(`${path}.next`, path);
  const folder = openSync(dirname(path), "r");
  fsyncSync(folder);
  closeSync(folder);
}

/** A list of rows in one file: no version is in it, so that a row is unchanged where all of it is as it was. */
function listByHand(path: string): number {
  const rows = plants(COUNT);
  const start = performance.now();
  replaced(path, JSON.stringify(rows));
  const there = new Map((JSON.parse(readFileSync(path, "utf8")) as Plant[]).map((row) => [row.tag, row]));
  for (const row of rows) {
    if (JSON.stringify(there.get(row.tag)) !== JSON.stringify(row)) throw new Error("P14: a row was changed by others");
    there.set(row.tag, { ...row, bed: row.bed + 1 });
  }
  replaced(path, JSON.stringify([...there.values()]));
  const took = performance.now() - start;
  checkSaved(JSON.parse(readFileSync(path, "utf8")) as Plant[]);
  return took;
}

function checkSaved(found: readonly Partial<Plant>[]): void {
  const beds = plants(COUNT).reduce((sum, { bed }) => sum + bed + 1, 0);
  const sum = found.reduce((all, { bed = 0 }) => all + bed, 0);
  if (found.length !== COUNT || sum !== beds) throw new Error(`P14: ${found.length} rows, ${sum} beds`);
}

async function inFile(path: string): Promise<number> {
  const took = await savedIn(fileStore(path, plant) as never);
  const found: Partial<Plant>[] = [];
  for await (const each of fileStore(path, plant).read()) if (each.ok) found.push(each.row as Partial<Plant>);
  checkSaved(found);
  return took;
}

/** No budget is agreed for files: what a lock, versions and safety from crashes cost is to be seen. */
export async function fileFigures(isWanted: (id: string) => boolean): Promise<Figure[]> {
  const figures: Figure[] = [];
  const work = `save ${COUNT.toLocaleString("en")} new rows, then as many changed ones, each checked against its version`;
  if (isWanted("P14 ndjson"))
    figures.push(
      await compared(
        "P14 ndjson",
        `${work}, in .ndjson; by hand: lines put behind the others`,
        undefined,
        (path) => linesByHand(`${path}.ndjson`),
        (path) => inFile(`${path}.ndjson`),
      ),
    );
  if (isWanted("P14 json"))
    figures.push(
      await compared(
        "P14 json",
        `${work}, in .json; by hand: the file written anew and put in its place`,
        undefined,
        (path) => listByHand(`${path}.json`),
        (path) => inFile(`${path}.json`),
      ),
    );
  return figures;
}
