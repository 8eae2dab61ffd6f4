/** P15: what a page loads of scripts, built for production and compressed, its helper packages included. */
import { mkdtempSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join, resolve } from "node:path";
import { gzipSync } from "node:zlib";
import { build, type Rolldown } from "vite";

export interface Size {
  readonly id: string;
  readonly work: string;
  readonly kilobytes: number;
  readonly budget: number;
  readonly within: boolean;
}

const smallest = `
import { model, newEntry, text } from "ironwood";
import { bindForm } from "ironwood/page";
bindForm(document.forms[0], newEntry(model({ tag: text({ required: true }) }), { save: (row) => console.log(row) }));
`;

const pages = [
  {
    id: "P15a",
    work: "smallest useful page: one text field, bindForm",
    entry: (): string => written(smallest),
    budget: 14,
  },
  { id: "P15b", work: "the Tree card page", entry: (): string => resolve("examples/tree-card/main.ts"), budget: 20 },
] as const;

function written(code: string): string {
  const path = join(mkdtempSync(join(tmpdir(), "ironwood-size-")), "main.ts");
  writeFileSync(path, code);
  return path;
}

async function kilobytes(entry: string): Promise<number> {
  const output = (await build({
    configFile: false,
    logLevel: "silent",
    resolve: {
      conditions: ["ironwood-source", "module", "browser"],
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
  const code = output.output.map((chunk) => (chunk.type === "chunk" ? chunk.code : "")).join("");
  return gzipSync(code, { level: 9 }).length / 1000;
}

export async function sizes(wanted: (id: string) => boolean): Promise<Size[]> {
  const measured: Size[] = [];
  for (const { id, work, entry, budget } of pages.filter((page) => wanted(page.id))) {
    const size = await kilobytes(entry());
    measured.push({ id, work, kilobytes: size, budget, within: size <= budget });
  }
  return measured;
}
