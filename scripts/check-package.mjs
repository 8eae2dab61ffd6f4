// Packs the package, installs it in an empty folder, and builds, type-checks and uses the README's first application there.
import { execFileSync, spawnSync } from "node:child_process";
import { createServer } from "node:http";
import { existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { extname, join } from "node:path";
import { fileURLToPath } from "node:url";
import { build } from "vite";
import { launchBrowser } from "./browser.mjs";

const top = fileURLToPath(new URL("..", import.meta.url));
const folder = mkdtempSync(join(tmpdir(), "ironwood-package-"));
const run = (command, args, cwd = folder) =>
  execFileSync(command, args, { cwd, encoding: "utf8", stdio: ["ignore", "pipe", "inherit"] });

const packed = JSON.parse(
  run("npm", ["pack", "--json", "--ignore-scripts", "--silent", "--pack-destination", folder], top),
);
const [{ filename }] = Array.isArray(packed) ? packed : Object.values(packed);
writeFileSync(join(folder, "package.json"), '{ "name": "first", "private": true, "type": "module" }');
run("npm", ["install", "--silent", "--no-audit", "--no-fund", "--prefer-offline", join(folder, filename)]);

const readme = readFileSync(join(top, "README.md"), "utf8");
for (const name of ["nursery.ts", "index.html", "main.ts"]) {
  const block = new RegExp(
    `\`${name.replace(".", "\\.")}\`, [^\`]*\`*[^\`]*\`*[^\`]*?\`\`\`(?:ts|html)\\n([\\s\\S]*?)\`\`\``,
  ).exec(readme)?.[1];
  if (block === undefined) throw new Error(`README.md has no block for ${name}`);
  writeFileSync(join(folder, name), block);
}

// The built package, by a plain Node program, and the command line that it installs.
mkdirSync(join(folder, "node"));
writeFileSync(
  join(folder, "node/use.mjs"),
  `import { model, newEntry, number, text } from "ironwood";
import { fileStore } from "ironwood/files";
import { rowsService } from "ironwood/serve";
import { german } from "ironwood/messages/de";
import "ironwood/page"; import "ironwood/browser"; import "ironwood/store";
const tree = model({ tag: text({ required: true }), girth: number() }, { key: "tag" });
const store = fileStore("trees.ndjson", tree);
const card = newEntry(tree, { locale: "de", save: (row) => store.append(row) });
card.fields.tag.enter("AB-0042"); card.fields.girth.enter("31,5");
const result = await card.save();
console.log(result.said, german.tag, typeof rowsService(store, tree).fetch);`,
);
const said = run(process.execPath, ["node/use.mjs"]);
if (said !== "Saved AB-0042 to trees.ndjson. de function\n") throw new Error(`The package said: ${said}`);
// What an application of pages installs.
const [kilobytes] = run("du", ["-sk", "node_modules"]).split("\t");
console.log(`Installed with nothing else: ${(Number(kilobytes) / 1024).toFixed(1)} MB.`);

// The command line says which packages it needs, and works when they are there.
const command = join(folder, "node_modules/.bin/ironwood");
const first = spawnSync(command, ["check", "page", "index.html", "--model", "nursery.ts"], {
  cwd: folder,
  encoding: "utf8",
});
const needed = /npm install --save-dev ([a-z0-9 ]+)\n$/.exec(first.stderr)?.[1];
if (first.status !== 2 || needed === undefined)
  throw new Error(`Without its packages the command says: ${first.stderr}`);
run("npm", ["install", "--silent", "--no-audit", "--no-fund", "--prefer-offline", ...needed.split(" ")]);
console.log(run(command, ["check", "page", "index.html", "--model", "nursery.ts"]).trimEnd());

// Types: the first application compiles against the packed declarations, and a misspelled field does not.
const shown = /`tsconfig\.json`[^`]*```json\n([\s\S]*?)```/.exec(readme)?.[1];
if (shown === undefined) throw new Error("README.md has no block for tsconfig.json");
const files = ["main.ts", "wrong.ts"];
for (const [name, own] of [
  ["as the README has them", {}],
  [
    "with all that is strict",
    { exactOptionalPropertyTypes: true, module: "NodeNext", target: "ES2023", lib: ["ES2023", "DOM"] },
  ],
]) {
  const { compilerOptions } = JSON.parse(shown);
  const options = { ...compilerOptions, ...own, types: [], skipLibCheck: false };
  const config = join(folder, `tsconfig ${name}.json`);
  writeFileSync(config, JSON.stringify({ compilerOptions: options, files }));
}
writeFileSync(
  join(folder, "wrong.ts"),
  'import { newEntry } from "ironwood";\nimport { treeCard } from "./nursery.ts";\n// @ts-expect-error: no such field\nnewEntry(treeCard).values.girht;\n',
);
for (const name of ["as the README has them", "with all that is strict"])
  run(process.execPath, [join(top, "node_modules/typescript/bin/tsc"), "-p", join(folder, `tsconfig ${name}.json`)]);
for (const [, link] of readme.matchAll(/\]\(([^)#:]+)\)/g))
  if (!existsSync(join(folder, "node_modules/ironwood", link)))
    throw new Error(`The package has no ${link}, which its README leads to`);

// The page: built as an application is, opened, and a card typed in.
await build({
  root: folder,
  configFile: false,
  logLevel: "warn",
  base: "./",
  build: { outDir: join(folder, "site"), target: "es2023", modulePreload: { polyfill: false } },
});
const types = { ".html": "text/html", ".js": "text/javascript" };
const server = createServer((request, response) => {
  const path = request.url === "/" ? "/index.html" : request.url;
  try {
    const body = readFileSync(join(folder, "site", path));
    response.writeHead(200, { "content-type": types[extname(path)] ?? "text/plain" }).end(body);
  } catch {
    response.writeHead(404).end();
  }
});
await new Promise((ready) => server.listen(0, "127.0.0.1", ready));
const browser = await launchBrowser();
const page = await browser.newPage();
const errors = [];
page.on("pageerror", (error) => errors.push(error.message));
await page.goto(`http://127.0.0.1:${server.address().port}/`);
await page.evaluate(() => delete globalThis.showSaveFilePicker);
await page.fill("[name=tag]", "AB-0042");
await page.selectOption("[name=species]", "Tilia cordata");
await page.fill("[name=girth]", "31,5");
const download = page.waitForEvent("download");
await page.press("[name=girth]", "Enter");
const file = await download;
const saved = JSON.parse(readFileSync(await file.path(), "utf8"));
// The page says the name that the browser has given the file.
await page.getByText(`Saved AB-0042 to ${file.suggestedFilename()}.`).waitFor();
await browser.close();
server.close();
if (errors.length > 0) throw new Error(errors.join("\n"));
if (saved.girth !== 31.5) throw new Error(`Saved ${JSON.stringify(saved)}`);
rmSync(folder, { recursive: true });
console.log(
  "The packed package works from an empty folder: Node, command line, types, and the README's first application in a browser.",
);
