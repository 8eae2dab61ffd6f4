// Writes what the docs repeat from the source: docs/errors.md, and the tables of the README. `npm run docs`.
import { spawnSync } from "node:child_process";
import { readFileSync, writeFileSync } from "node:fs";
import { fileURLToPath } from "node:url";
import { createJiti } from "jiti";
import { growthPlot } from "./growthPlot.mjs";
import { messagesPage } from "./messagesPage.mjs";
import { roomsPicture } from "./roomsPicture.mjs";

const top = fileURLToPath(new URL("..", import.meta.url));
const { errorCodes } = await createJiti(import.meta.url, { fsCache: false }).import("../src/errors/codes.ts");
const rows = Object.entries(errorCodes).map(([code, solution]) => `| \`${code}\` | ${solution} |`);
writeFileSync(
  `${top}docs/errors.md`,
  `# Errors for the builder\n\nEvery \`IronwoodError\` has one of these codes. Its message says what is wrong, where, what was received, what would be\nright and which name comes nearest. Written by \`npm run docs\` from \`src/errors/codes.ts\`.\n\n| code | what solves it |\n|---|---|\n${rows.join("\n")}\n`,
);

const load = (path) => createJiti(import.meta.url, { fsCache: false }).import(path);
const { english, messageNames, problemCodes } = await load("../src/model/index.ts");
const { german } = await load("../src/messages/de/index.ts");
const { arabic } = await load("../src/messages/ar/index.ts");
writeFileSync(`${top}docs/messages.md`, messagesPage([english, german, arabic], messageNames, problemCodes));

writeFileSync(`${top}docs/growth.svg`, growthPlot(JSON.parse(readFileSync(`${top}bench/growth.json`, "utf8"))));
writeFileSync(`${top}docs/rooms.svg`, roomsPicture(`${top}src`));

/** Puts a text between the two marks of that name in the README. */
function fill(name, text) {
  const path = `${top}README.md`;
  const readme = readFileSync(path, "utf8");
  const between = new RegExp(`(<!-- ${name} -->\n)[\\s\\S]*?(<!-- /${name} -->)`);
  if (!between.test(readme)) throw new Error(`README.md has no marks for ${name}`);
  writeFileSync(
    path,
    readme.replace(between, (_, start, end) => `${start}${text}\n${end}`),
  );
}

const check = spawnSync(
  process.execPath,
  ["dist/cli/main.js", "check", "page", "test/fixtures/misspelled.html", "--model", "examples/tree-card/nursery.ts"],
  { cwd: top, encoding: "utf8", env: { ...process.env, NO_COLOR: "1" } },
);
fill(
  "check page",
  `\`\`\`\n$ ironwood check page test/fixtures/misspelled.html --model examples/tree-card/nursery.ts\n${check.stdout.trimEnd()}\n\`\`\``,
);

const { machine, figures, measures, sizes, parts } = JSON.parse(readFileSync(`${top}bench/results.json`, "utf8"));
const { table } = await createJiti(import.meta.url, { fsCache: false }).import("../bench/table.ts");
const measureLines = measures.map(
  ({ id, work, value, unit, budget, within }) =>
    `| ${id} | ${work} | ${value.toFixed(value < 10 ? 3 : 1)} ${unit} | ${budget === undefined ? "–" : `≤ ${budget} ${unit}`} | ${budget === undefined ? "–" : within ? "yes" : "**no**"} |`,
);
const sizeLines = sizes.map(
  ({ id, work, kilobytes, laterKilobytes, budget, within }) =>
    `| ${id} | ${work} | ${kilobytes.toFixed(1)} kB | ${laterKilobytes.toFixed(1)} kB | ${budget === undefined ? "–" : `≤ ${budget} kB`} | ${budget === undefined ? "–" : within ? "yes" : "**no**"} |`,
);
fill(
  "bench",
  [
    `Medians on ${machine}, both sides in one run:`,
    "",
    table(figures),
    "",
    "Times and sizes that are agreed as such:",
    "",
    "| id | what | measured | budget | within |",
    "|---|---|---:|---:|---|",
    ...measureLines,
    "",
    "What a page loads of scripts, built for production and compressed:",
    "",
    "| id | page | at once | only when needed | budget | within |",
    "|---|---|---:|---:|---:|---|",
    ...sizeLines,
    "",
    "What the smallest page is made of: by so much it is smaller without each, and what is left without all of them:",
    "",
    "| left out | |",
    "|---|---:|",
    ...parts.map(({ what, kilobytes }) => `| ${what} | ${kilobytes.toFixed(1)} kB |`),
  ].join("\n"),
);
