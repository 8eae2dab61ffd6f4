// Changes the core in one place at a time and runs the tests: a change that no test notices is a hole in them.
// `npm run mutants` tries 200; `npm run mutants -- 40 --seed 7` tries 40 others. It is no part of CI: each takes some seconds.
import { spawnSync } from "node:child_process";
import { cpSync, mkdtempSync, readdirSync, readFileSync, rmSync, symlinkSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { fileURLToPath } from "node:url";
import ts from "typescript";

const top = fileURLToPath(new URL("..", import.meta.url));
const folders = [
  "engine",
  "notation",
  "model",
  "check",
  "merge",
  "table",
  "entry",
  "rows",
  "command",
  "control",
  "store",
];
const args = process.argv.slice(2);
const seedAt = args.indexOf("--seed");
const seed = seedAt < 0 ? 1 : Number(args[seedAt + 1]);
const wanted = Number(args[0] ?? 200) || 200;

/** What an operator is exchanged for. */
const operators = new Map([
  [ts.SyntaxKind.GreaterThanToken, ">="],
  [ts.SyntaxKind.GreaterThanEqualsToken, ">"],
  [ts.SyntaxKind.LessThanToken, "<="],
  [ts.SyntaxKind.LessThanEqualsToken, "<"],
  [ts.SyntaxKind.EqualsEqualsEqualsToken, "!=="],
  [ts.SyntaxKind.ExclamationEqualsEqualsToken, "==="],
  [ts.SyntaxKind.PlusToken, "-"],
  [ts.SyntaxKind.MinusToken, "+"],
  [ts.SyntaxKind.AmpersandAmpersandToken, "||"],
  [ts.SyntaxKind.BarBarToken, "&&"],
]);

/** Every place of a file that can be changed, with what is put there. */
function placesIn(file) {
  const text = readFileSync(file, "utf8");
  const source = ts.createSourceFile(file, text, ts.ScriptTarget.ES2023, true);
  const places = [];
  const put = (node, by) =>
    places.push({ file, from: node.getStart(), to: node.getEnd(), by, line: lineOf(source, node) });
  const visit = (node) => {
    // Types are gone when the tests run, and English is data.
    if (ts.isTypeNode(node) || ts.isInterfaceDeclaration(node) || ts.isTypeAliasDeclaration(node)) return;
    if (ts.isBinaryExpression(node) && operators.has(node.operatorToken.kind))
      put(node.operatorToken, operators.get(node.operatorToken.kind));
    if (node.kind === ts.SyntaxKind.TrueKeyword) put(node, "false");
    if (node.kind === ts.SyntaxKind.FalseKeyword) put(node, "true");
    if (
      ts.isExpressionStatement(node) &&
      ts.isCallExpression(node.expression) &&
      node.expression.getText() !== "super()"
    )
      if (!node.expression.getText().startsWith("super(")) put(node, ";");
    if (ts.isPrefixUnaryExpression(node) && node.operator === ts.SyntaxKind.ExclamationToken)
      put(node, node.operand.getText());
    ts.forEachChild(node, visit);
  };
  visit(source);
  return places;
}

const lineOf = (source, node) => source.getLineAndCharacterOfPosition(node.getStart()).line + 1;

function random(state) {
  return (limit) => {
    state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0;
    return Math.floor((state / 2 ** 32) * limit);
  };
}

const files = folders.flatMap((folder) =>
  readdirSync(join(top, "src", folder), { recursive: true, encoding: "utf8" })
    .filter(
      (name) =>
        name.endsWith(".ts") && !name.endsWith("index.ts") && !name.endsWith(".d.ts") && !name.startsWith("english"),
    )
    .map((name) => join("src", folder, name)),
);
const all = files.flatMap((file) => placesIn(join(top, file)));
const below = random(seed);
const chosen = Array.from({ length: Math.min(wanted, all.length) }, () => all.splice(below(all.length), 1)[0]);

// In a copy, so that nobody finds a changed file who works here meanwhile.
const copy = mkdtempSync(join(tmpdir(), "ironwood-mutants-"));
process.on("exit", () => rmSync(copy, { recursive: true, force: true }));
for (const signal of ["SIGINT", "SIGTERM"]) process.on(signal, () => process.exit(1));
for (const name of [
  "src",
  "dist",
  "test",
  "docs",
  "bench",
  "examples",
  "eslint",
  "scripts",
  "jest.config.mjs",
  "package.json",
  "eslint.config.mjs",
])
  cpSync(join(top, name), join(copy, name), { recursive: true });
for (const name of readdirSync(top)) if (/^tsconfig/.test(name)) cpSync(join(top, name), join(copy, name));
symlinkSync(join(top, "node_modules"), join(copy, "node_modules"));

/** Tests that start other programs, which run the built library, that measure times, or that say nothing of the core that others don't. */
const others = /\/(sizes|commandLine|house|linear)\.test\.ts$/;
const tests = readdirSync(join(copy, "test"))
  .filter((name) => name.endsWith(".test.ts"))
  .map((name) => join(copy, "test", name))
  .filter((name) => !others.test(name));

// The tests in the order in which they are named: the fastest first.
writeFileSync(
  join(copy, "order.mjs"),
  `const order = process.env.TEST_ORDER.split(",");
export default class {
  sort = (tests) => tests.toSorted((a, b) => order.indexOf(a.path) - order.indexOf(b.path));
  shard = (tests) => tests;
  allFailedTests = (tests) => tests;
  cacheResults() {}
}
`,
);

/** What the tests said last. */
let said = "";

/** The tests of pages, in the browser. */
const pageTests = readdirSync(join(copy, "test", "pages"))
  .filter((name) => name.endsWith(".test.ts"))
  .map((name) => join(copy, "test", "pages", name));

/**
 * Most changes are caught by the unit tests with short random sequences. What survives is tried again with the tests of pages, and then
 * with random sequences as long as those of `npm test`.
 */
const SHORT = {
  inWords: "the unit tests, with short random sequences",
  projects: ["unit", "places"],
  length: "0.02",
  seconds: 240,
};
const PAGES = { inWords: "the tests of pages too", projects: ["pages"], length: "0.25", seconds: 600 };
const USUAL = {
  inWords: "random sequences of the usual length too",
  projects: ["unit", "places"],
  length: "0.25",
  seconds: 600,
};

/** Runs some test files. @returns whether all of them pass */
function pass(paths, stage = SHORT, options = []) {
  const ran = spawnSync(
    process.execPath,
    [
      "--expose-gc",
      "--experimental-vm-modules",
      "--no-warnings",
      "node_modules/jest/bin/jest.js",
      ...["--selectProjects", ...stage.projects, "--bail", "--silent", "--testTimeout=60000"],
      ...(stage === SHORT ? ["--runInBand"] : ["--maxWorkers=2"]),
      ...["--testSequencer", join(copy, "order.mjs"), "--runTestsByPath"],
      ...[...options, ...paths],
    ],
    {
      cwd: copy,
      encoding: "utf8",
      timeout: stage.seconds * 1_000,
      killSignal: "SIGKILL",
      env: { ...process.env, TMPDIR: copy, TEST_LENGTH: stage.length, TEST_ORDER: paths.join() },
    },
  );
  said = ran.stdout + ran.stderr;
  return ran.status === 0;
}

/** Tests that fail without any change would catch everything. */
function requireSound(paths, stage, options) {
  for (let tries = 0; tries < 3; tries += 1) if (pass(paths, stage, options)) return;
  console.error(said);
  console.error("The tests fail without any change, so nothing can be said of what they catch.");
  process.exit(1);
}

/** The lines of each source file that a test file runs. */
function linesRunBy(path) {
  const folder = join(copy, "coverage");
  const coverage = ["--coverage", "--coverageProvider=v8", "--coverageReporters=json"];
  requireSound([path], SHORT, [...coverage, `--coverageDirectory=${folder}`]);
  const found = JSON.parse(readFileSync(join(folder, "coverage-final.json"), "utf8"));
  return new Map(
    Object.values(found).map(({ path: file, statementMap, s }) => [
      file,
      new Set(Object.keys(s).flatMap((key) => (s[key] > 0 ? [statementMap[key].start.line] : []))),
    ]),
  );
}

/** Each test file with what it runs and how many milliseconds it takes, the fastest first. */
const known = tests
  .map((path) => {
    const since = Date.now();
    const lines = linesRunBy(path);
    const duration = Date.now() - since;
    // Only these do more where random sequences are longer.
    return { path, lines, duration, isRandom: readFileSync(path, "utf8").includes("times(") };
  })
  .sort((a, b) => a.duration - b.duration);
console.log(`${known.length} test files pass without any change.`);

/** The test file that stopped the run, or all of the run when it was a time limit. */
function failedOf(paths) {
  const name = /^FAIL .*?(\S+\.test\.ts)/m.exec(said)?.[1];
  return name === undefined ? paths : paths.filter((path) => path.endsWith(name));
}

/**
 * Whether a change of a file makes a test fail that passes without the change. A busy machine makes some tests fail
 * that measure time, so what failed is run again without the change, and the change once more when that fails too.
 */
function isCaught(file, changed, line, stage) {
  const paths = stage === PAGES ? pageTests : unitTestsOf(file, line, stage === USUAL);
  const text = readFileSync(file, "utf8");
  for (let tries = 0; paths.length > 0 && tries < 3; tries += 1) {
    writeFileSync(file, changed);
    const passed = pass(paths, stage);
    writeFileSync(file, text);
    if (passed) return false;
    if (pass(failedOf(paths), stage)) return true;
  }
  if (paths.length > 0) requireSound(paths, stage);
  return false;
}

/** The unit tests that run a line, the fastest first. */
const unitTestsOf = (file, line, isOnlyRandom) =>
  known
    .filter(({ lines, isRandom }) => lines.get(file)?.has(line) && (isRandom || !isOnlyRandom))
    .map(({ path }) => path);

let survived = chosen;

/** Tries changes with some of the tests. @returns those that none of them notices */
function tryAll(changes, stage) {
  return changes.filter(({ file, from, to, by, line }, number) => {
    const name = file.slice(top.length);
    const target = join(copy, name);
    const text = readFileSync(target, "utf8");
    const isKept = !isCaught(target, text.slice(0, from) + by + text.slice(to), line, stage);
    console.log(
      `${number + 1}/${changes.length} ${isKept ? "SURVIVED" : "caught  "} ${inWords({ file, from, to, by, line })}`,
    );
    return isKept;
  });
}

function inWords({ file, from, to, by, line }) {
  const text = readFileSync(file, "utf8");
  return `${file.slice(top.length)}:${line}: ${text.slice(from, to).split("\n")[0]} → ${by === ";" ? "left out" : by}`;
}

for (const stage of [SHORT, PAGES, USUAL]) {
  if (stage === PAGES && survived.length > 0) requireSound(pageTests, PAGES);
  survived = tryAll(survived, stage);
  const caught = chosen.length - survived.length;
  const share = caught / chosen.length;
  console.log(`\nseed ${seed}: ${caught} of ${chosen.length} caught (${(share * 100).toFixed(1)} %): ${stage.inWords}`);
  process.exitCode = share < 0.9 ? 1 : 0;
}
for (const each of survived) console.log(`  ${inWords(each)}`);
