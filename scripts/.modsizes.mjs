import { build } from "vite";
import { gzipSync } from "node:zlib";
import { writeFileSync, mkdtempSync } from "node:fs";
import { resolve, join } from "node:path";
import { tmpdir } from "node:os";
const which = process.argv[2] ?? "small";
const type = process.argv[3];
const code = {
  small: `
import { model, newEntry, text } from "ironwood";
import { bindForm } from "ironwood/page";
bindForm(document.forms[0], newEntry(model({ tag: text({ required: true }) }), { save: (row) => console.log(row) }));
`,
  grid: `
import { integer, model, newEntry, oneOf, table, text, view } from "ironwood";
import { bindForm, bindGrid } from "ironwood/page";
const plant = model({ tag: text({ required: true }), species: oneOf(["Acer campestre", "Tilia cordata"]), count: integer() }, { key: "tag" });
const stock = table(plant, []);
bindGrid(document.querySelector("table"), view(stock, { orderBy: "species" }), { edit: "row", totals: ["count"] });
bindForm(document.forms[0], newEntry(plant, { save: (row) => stock.insert(row) }));
`,
}[which];
const dir = mkdtempSync(join(tmpdir(), "sz-"));
const file = join(dir, "main.ts");
writeFileSync(file, code ?? "");
if (which !== "tree" && type) writeFileSync(join(dir, "package.json"), JSON.stringify({ type }));
const out = await build({
  configFile: false,
  logLevel: "silent",
  resolve: {
    conditions: ["ironwood-source", "module", "browser", "production"],
    alias: ["page", "browser"]
      .map((n) => ({ find: `ironwood/${n}`, replacement: resolve(`src/${n}/index.ts`) }))
      .concat({ find: /^ironwood$/, replacement: resolve("src/index.ts") }),
  },
  build: {
    write: false,
    minify: process.env.NOMIN ? false : true,
    target: "es2023",
    modulePreload: { polyfill: false },
    rolldownOptions: { input: which === "tree" ? resolve("examples/tree-card/main.ts") : file },
  },
});
const chunks = out.output.filter((c) => c.type === "chunk");
const entry = chunks.filter((c) => c.isEntry);
const seen = new Set();
const need = (n) => {
  const c = chunks.find((x) => x.fileName === n);
  if (!c || seen.has(n)) return;
  seen.add(n);
  c.imports.forEach(need);
};
entry.forEach((c) => need(c.fileName));
let total = 0;
const mods = [];
for (const c of chunks)
  if (seen.has(c.fileName)) {
    total += gzipSync(c.code, { level: 9 }).length;
    for (const [id, m] of Object.entries(c.modules)) mods.push([m.renderedLength, id.replace("/work/main/", "")]);
  }
console.log(which, type ?? "", total, "chunks", seen.size);
if (process.argv.includes("mods")) for (const [n, id] of mods.sort((a, b) => b[0] - a[0])) console.log(n, id);
if (process.env.OUT)
  writeFileSync(
    process.env.OUT,
    chunks
      .filter((c) => seen.has(c.fileName))
      .map((c) => c.code)
      .join("\n//----\n"),
  );
