/**
 * P15: what a page loads of scripts when it is opened, built for production and compressed, its helper packages included.
 * What is loaded only when somebody comes to it (the list of a combo box, the words about a page that disagrees) is
 * reported apart.
 */
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join, resolve } from "node:path";
import { gzipSync } from "node:zlib";
import { build, type Plugin, type Rolldown } from "vite";
import { type SizePart, sizeParts } from "./sizeParts.ts";

export interface Size {
  readonly id: string;
  readonly work: string;
  readonly kilobytes: number;
  readonly laterKilobytes: number;
  /** In kilobytes; none for what is only a part of another. */
  readonly budget: number | undefined;
  readonly within: boolean;
}

const smallest = `
import { model, newEntry, text } from "ironwood";
import { bindForm } from "ironwood/page";
bindForm(document.forms[0], newEntry(model({ tag: text({ required: true }) }), { save: (row) => console.log(row) }));
`;

const noPage = `
import { model, newEntry, text } from "ironwood";
console.log(newEntry(model({ tag: text({ required: true }) }), { save: (row) => console.log(row) }));
`;

const grid = `
import { integer, model, newEntry, oneOf, table, text, view } from "ironwood";
import { bindForm, bindGrid } from "ironwood/page";
const plant = model({ tag: text({ required: true }), species: oneOf(["Acer campestre", "Tilia cordata"]), count: integer() }, { key: "tag" });
const stock = table(plant, []);
bindGrid(document.querySelector("table"), view(stock, { orderBy: "species" }), { edit: "row", totals: ["count"] });
bindForm(document.forms[0], newEntry(plant, { save: (row) => stock.insert(row) }));
`;

const pages = [
  {
    id: "P15a",
    work: "smallest useful page: one text field, bindForm",
    entry: (): string => written(smallest),
    budget: 33,
  },
  {
    id: "P15a commonjs",
    work: "the same page in an application of the module type that npm init writes",
    entry: (): string => written(smallest, "commonjs"),
    budget: 33,
  },
  {
    id: "P15 core",
    work: "of the smallest page: engine, model and entry, no page",
    entry: (): string => written(noPage),
    budget: undefined,
  },
  { id: "P15b", work: "the Tree card page", entry: (): string => resolve("examples/tree-card/main.ts"), budget: 44 },
  { id: "P15c", work: "a page with a grid and a combo box", entry: (): string => written(grid), budget: 66 },
] as const;

/** Where the pages that are measured are written. */
const folder = mkdtempSync(join(tmpdir(), "ironwood-size-"));
process.on("exit", () => rmSync(folder, { recursive: true, force: true }));
let pagesWritten = 0;

/** @param type - the module type of the application's package */
function written(code: string, type: "module" | "commonjs" = "module"): string {
  const own = join(folder, String(pagesWritten++));
  mkdirSync(own);
  writeFileSync(join(own, "package.json"), JSON.stringify({ type }));
  writeFileSync(join(own, "main.ts"), code);
  return join(own, "main.ts");
}

async function loaded(entry: string, plugins: Plugin[] = []): Promise<{ atOnce: number; later: number }> {
  const output = (await build({
    configFile: false,
    logLevel: "silent",
    plugins,
    resolve: {
      conditions: ["ironwood-source", "module", "browser", "production"],
      alias: ["page", "browser"]
        .map((name) => ({ find: `ironwood/${name}`, replacement: resolve(`src/${name}/index.ts`) }))
        .concat({ find: /^ironwood$/ as never, replacement: resolve("src/index.ts") }),
    },
    build: {
      write: false,
      minify: true,
      target: "es2023",
      modulePreload: { polyfill: false },
      rolldownOptions: { input: entry },
    },
  })) as Rolldown.RolldownOutput;
  const chunks = output.output.filter((each) => each.type === "chunk");
  const atOnce = new Set<string>();
  const need = (name: string): void => {
    const chunk = chunks.find((each) => each.fileName === name);
    if (chunk === undefined || atOnce.has(name)) return;
    atOnce.add(name);
    chunk.imports.forEach(need);
  };
  for (const chunk of chunks) if (chunk.isEntry) need(chunk.fileName);
  const size = (wanted: boolean): number =>
    chunks
      .filter((chunk) => atOnce.has(chunk.fileName) === wanted)
      .reduce((sum, chunk) => sum + gzipSync(chunk.code, { level: 9 }).length / 1000, 0);
  return { atOnce: size(true), later: size(false) };
}

/** What the smallest page is made of. */
export const smallestParts = (): Promise<SizePart[]> =>
  sizeParts(async (plugin) => (await loaded(written(smallest), [plugin])).atOnce);

export async function sizes(wanted: (id: string) => boolean): Promise<Size[]> {
  const measured: Size[] = [];
  for (const { id, work, entry, budget } of pages.filter((page) => wanted(page.id))) {
    const { atOnce, later } = await loaded(entry());
    // The engine alone is more than this: a page without it imports nothing, and its size would be no measurement.
    if (atOnce < 10) throw new Error(`${id}: a bundle of ${atOnce} kB does not hold the library`);
    measured.push({
      id,
      work,
      kilobytes: atOnce,
      laterKilobytes: later,
      budget,
      within: budget === undefined || atOnce <= budget,
    });
  }
  return measured;
}
