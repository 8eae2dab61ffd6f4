// Changes the core in one place at a time and runs the tests: a change that no test notices is a hole in them.
// `npm run mutants` tries 200; `npm run mutants -- 40 --seed 7` tries 40 others. It is no part of CI: each takes some seconds.
import { spawn } from "node:child_process";
import { cpSync, mkdtempSync, readdirSync, readFileSync, rmSync, symlinkSync, writeFileSync } from "node:fs";
import { availableParallelism, tmpdir } from "node:os";
import { join, relative } from "node:path";
import { fileURLToPath } from "node:url";
import ts from "typescript";
import { unseenChanges } from "./unseenChanges.mjs";

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
  const text = readFileSync(join(top, file), "utf8");
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
const all = files.flatMap((file) => placesIn(file));
const below = random(seed);
const chosen = Array.from({ length: Math.min(wanted, all.length) }, () => all.splice(below(all.length), 1)[0]);

// In copies, so that nobody finds a changed file who works here meanwhile: one for each processor, since a run of tests uses one.
const folder = mkdtempSync(join(tmpdir(), "ironwood-mutants-"));
process.on("exit", () => rmSync(folder, { recursive: true, force: true }));
for (const signal of ["SIGINT", "SIGTERM"]) process.on(signal, () => process.exit(1));

const copied = ["src", "dist", "test", "docs", "bench", "examples", "eslint", "scripts"];
const copiedFiles = /^(tsconfig.*|jest\.config\.mjs|package\.json|eslint\.config\.mjs)$/;

/** Tests that start other programs, which run the built library, that measure times, or that say nothing of the core that others don't. */
const others = /^(sizes|commandLine|house|linear)\.test\.ts$/;

/** The tests in the order in which they are named: the fastest first. */
const sequencer = `const order = process.env.TEST_ORDER.split(",");
export default class {
  sort = (tests) => tests.toSorted((a, b) => order.indexOf(a.path) - order.indexOf(b.path));
  shard = (tests) => tests;
  allFailedTests = (tests) => tests;
  cacheResults() {}
}
`;

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
const PAGES = { inWords: "the tests of pages too", projects: ["pages"], length: "0.25", seconds: 1_200 };
const USUAL = {
  inWords: "random sequences of the usual length too",
  projects: ["unit", "places"],
  length: "0.25",
  seconds: 600,
};

/** One copy of what the tests need, in which one run of tests takes place at a time. */
class Workshop {
  constructor(number) {
    this.copy = join(folder, String(number));
    for (const name of copied) cpSync(join(top, name), join(this.copy, name), { recursive: true });
    for (const name of readdirSync(top)) if (copiedFiles.test(name)) cpSync(join(top, name), join(this.copy, name));
    symlinkSync(join(top, "node_modules"), join(this.copy, "node_modules"));
    writeFileSync(join(this.copy, "order.mjs"), sequencer);
  }

  /** Runs some test files. @returns what the tests said, if one of them failed; "" if all pass */
  run(names, stage, options = []) {
    const paths = names.map((name) => join(this.copy, name));
    const running = spawn(
      process.execPath,
      [
        "--expose-gc",
        "--experimental-vm-modules",
        "--no-warnings",
        "node_modules/jest/bin/jest.js",
        ...["--selectProjects", ...stage.projects, "--bail", "--silent", "--testTimeout=60000", "--runInBand"],
        ...["--testSequencer", join(this.copy, "order.mjs"), "--runTestsByPath"],
        ...[...options, ...paths],
      ],
      {
        cwd: this.copy,
        timeout: stage.seconds * 1_000,
        killSignal: "SIGKILL",
        env: { ...process.env, TMPDIR: this.copy, TEST_LENGTH: stage.length, TEST_ORDER: paths.join() },
      },
    );
    let said = "";
    running.stdout.on("data", (text) => (said += text));
    running.stderr.on("data", (text) => (said += text));
    return new Promise((resolve) => running.on("close", (code) => resolve(code === 0 ? "" : said || "no word")));
  }

  /** Tests that fail without any change would catch everything. */
  async requireSound(names, stage, options) {
    let said = "";
    for (let tries = 0; tries < 3; tries += 1) {
      said = await this.run(names, stage, options);
      if (said === "") return;
    }
    console.error(said);
    console.error("The tests fail without any change, so nothing can be said of what they catch.");
    process.exit(1);
  }

  /** The lines of each source file that a test file runs. */
  async linesRunBy(name) {
    const found = join(this.copy, "coverage");
    const coverage = ["--coverage", "--coverageProvider=v8", "--coverageReporters=json"];
    await this.requireSound([name], SHORT, [...coverage, `--coverageDirectory=${found}`]);
    return new Map(
      Object.values(JSON.parse(readFileSync(join(found, "coverage-final.json"), "utf8"))).map(
        ({ path, statementMap, s }) => [
          relative(this.copy, path),
          new Set(Object.keys(s).flatMap((key) => (s[key] > 0 ? [statementMap[key].start.line] : []))),
        ],
      ),
    );
  }

  /**
   * Whether a change makes a test fail that passes without the change. A busy machine makes some tests fail
   * that measure time, so what failed is run again without the change, and the change once more when that fails too.
   */
  async catches({ file, from, to, by }, names, stage) {
    if (names.length === 0) return false;
    const path = join(this.copy, file);
    const text = readFileSync(path, "utf8");
    for (let tries = 0; tries < 3; tries += 1) {
      writeFileSync(path, text.slice(0, from) + by + text.slice(to));
      const said = await this.run(names, stage);
      writeFileSync(path, text);
      if (said === "") return false;
      if ((await this.run(failedOf(names, said), stage)) === "") return true;
    }
    await this.requireSound(names, stage);
    return false;
  }
}

/** The test file that stopped the run, or all of the run when it was a time limit. */
function failedOf(names, said) {
  const failed = /^FAIL .*?(\S+\.test\.ts)/m.exec(said)?.[1];
  return failed === undefined ? names : names.filter((name) => name.endsWith(failed));
}

const workshops = Array.from({ length: Math.max(1, availableParallelism()) }, (_, number) => new Workshop(number));

/** Does something with each of a list, in every workshop at once. @returns what came of each, in the order of the list */
async function withEach(list, work) {
  const results = [];
  let next = 0;
  await Promise.all(
    workshops.map(async (workshop) => {
      while (next < list.length) {
        const at = next++;
        results[at] = await work(workshop, list[at]);
      }
    }),
  );
  return results;
}

const testsIn = (place) =>
  readdirSync(join(top, place))
    .filter((name) => name.endsWith(".test.ts") && !others.test(name))
    .map((name) => join(place, name));

/** The tests of pages, in the browser. */
const pageTests = testsIn(join("test", "pages"));

/** Each test file with what it runs and how many milliseconds it takes, the fastest first. */
const known = (
  await withEach(testsIn("test"), async (workshop, name) => {
    const since = Date.now();
    const lines = await workshop.linesRunBy(name);
    const duration = Date.now() - since;
    // Only these do more where random sequences are longer.
    return { name, lines, duration, isRandom: readFileSync(join(top, name), "utf8").includes("times(") };
  })
).sort((a, b) => a.duration - b.duration);
console.log(`${known.length} test files pass without any change.`);

/** The tests of a stage that run a line, the fastest first. */
function testsOf({ file, line }, stage) {
  if (stage === PAGES) return pageTests;
  return known
    .filter(({ lines, isRandom }) => lines.get(file)?.has(line) && (isRandom || stage !== USUAL))
    .map(({ name }) => name);
}

/** Tries changes with some of the tests. @returns those that none of them notices */
async function tryAll(changes, stage) {
  let done = 0;
  const isCaught = await withEach(changes, async (workshop, change) => {
    const caught = await workshop.catches(change, testsOf(change, stage), stage);
    done += 1;
    console.log(`${done}/${changes.length} ${caught ? "caught  " : "SURVIVED"} ${inWords(change)}`);
    return caught;
  });
  return changes.filter((_, at) => !isCaught[at]);
}

function inWords({ file, from, to, by, line }) {
  const text = readFileSync(join(top, file), "utf8");
  return `${file}:${line}: ${text.slice(from, to).split("\n")[0]} → ${by === ";" ? "left out" : by}`;
}

/** Why nobody can see a change; `undefined` for one that somebody could. */
function whyUnseen({ file, from, to, by, line }) {
  const text = readFileSync(join(top, file), "utf8");
  const [whole, change] = [
    text.split("\n")[line - 1].trim(),
    by === ";" ? "left out" : `${text.slice(from, to)} → ${by}`,
  ];
  return unseenChanges.find((each) => each[0] === file && each[1] === whole && each[2] === change)?.[3];
}

let survived = chosen;
for (const stage of [SHORT, PAGES, USUAL]) {
  if (stage === PAGES && survived.length > 0) await workshops[0].requireSound(pageTests, PAGES);
  // What can't be seen need not be looked for again.
  const unseenSoFar = stage === SHORT ? [] : survived.filter((each) => whyUnseen(each) !== undefined);
  survived = [
    ...unseenSoFar,
    ...(await tryAll(
      survived.filter((each) => !unseenSoFar.includes(each)),
      stage,
    )),
  ];
  const caught = chosen.length - survived.length;
  const unseen = survived.filter((each) => whyUnseen(each) !== undefined).length;
  const percent = (of) => `${((caught / of) * 100).toFixed(1)} %`;
  console.log(`\nseed ${seed}: ${caught} of ${chosen.length} caught (${percent(chosen.length)}): ${stage.inWords}`);
  console.log(`${unseen} can't be seen; of the others ${percent(chosen.length - unseen)} are caught\n`);
  process.exitCode = caught / (chosen.length - unseen) < 0.9 ? 1 : 0;
}
for (const each of survived) {
  const why = whyUnseen(each);
  console.log(`  ${inWords(each)}${why === undefined ? "" : `: can't be seen, since ${why}`}`);
}
