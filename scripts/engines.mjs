// Drives the controls and the example pages in the engines of desktop web views that are installed here, and writes docs/engines.md.
import { spawn, spawnSync } from "node:child_process";
import { existsSync, readdirSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { fileURLToPath } from "node:url";
import prettier from "prettier";

const top = fileURLToPath(new URL("..", import.meta.url));
const results = join(top, ".cache/engines");
rmSync(results, { recursive: true, force: true });

const found = (name) =>
  (process.env.PATH ?? "")
    .split(":")
    .map((folder) => join(folder, name))
    .find((path) => existsSync(path));

/** The browser of WebKit for GTK, which is in no folder of programs. */
function miniBrowser() {
  const libraries = "/usr/lib";
  for (const machine of existsSync(libraries) ? readdirSync(libraries) : [])
    for (const version of ["webkit2gtk-4.1", "webkit2gtk-4.0"]) {
      const path = join(libraries, machine, version, "MiniBrowser");
      if (existsSync(path)) return path;
    }
  return undefined;
}

const engines = [
  {
    name: "firefox",
    title: "Firefox",
    install: "apt-get install firefox-esr",
    program: process.env.FIREFOX ?? found("firefox-esr") ?? found("firefox"),
    browser: "",
  },
  {
    name: "webkit",
    title: "WebKit",
    install: "apt-get install webkit2gtk-driver xvfb",
    program: found("WebKitWebDriver"),
    browser: miniBrowser(),
    needsScreen: true,
  },
];

let screen;
function startScreen() {
  if (process.env.DISPLAY !== undefined || screen !== undefined) return process.env.DISPLAY ?? ":91";
  if (found("Xvfb") === undefined) return undefined;
  screen = spawn("Xvfb", [":91", "-screen", "0", "1400x1000x24"], { stdio: "ignore" });
  return ":91";
}

let failed = false;
const skipped = [];
for (const { name, title, install, program, browser, needsScreen } of engines) {
  const display = needsScreen ? startScreen() : undefined;
  const isThere = program !== undefined && browser !== undefined && (!needsScreen || display !== undefined);
  if (!isThere) {
    skipped.push(title);
    console.warn(`${title} is not installed, so it was skipped. On Debian: ${install}`);
    continue;
  }
  const env = { ...process.env, ENGINE: name, ENGINE_PROGRAM: program, ENGINE_BROWSER: browser };
  if (display !== undefined) env.DISPLAY = display;
  const { status } = spawnSync(
    process.execPath,
    [join(top, "scripts/test.mjs"), "--runInBand", "--selectProjects=engines"],
    { cwd: top, stdio: "inherit", env },
  );
  failed ||= status !== 0;
}
screen?.kill();

const ran = engines.flatMap(({ name }) => {
  const path = join(results, `${name}.json`);
  return existsSync(path) ? [JSON.parse(readFileSync(path, "utf8"))] : [];
});
if (skipped.length === 0 && ran.length === engines.length) await writeTable();
else
  console.warn(
    `docs/engines.md stays as it was: it is written when all engines are there. Skipped: ${skipped.join(", ")}.`,
  );
process.exitCode = failed ? 1 : 0;

async function writeTable() {
  const names = [...new Set(ran.flatMap(({ outcome }) => Object.keys(outcome)))];
  const notes = [];
  const cell = (own) => {
    if (own === undefined) return "–";
    const marks = own.limits.map((limit) => {
      if (!notes.includes(limit)) notes.push(limit);
      return `<sup>${notes.indexOf(limit) + 1}</sup>`;
    });
    const count = own.passed + own.failed.length + own.limits.length;
    const wrong = own.failed.length === 0 ? "" : ` (not: ${own.failed.join(", ")})`;
    return `${own.passed} of ${count}${marks.join("")}${wrong}`;
  };
  const lines = [
    "# In other engines",
    "",
    "What holds in the engines of desktop web views, driven by real keys and pointers over WebDriver (W3C). `npm run engines` writes this page. Each control is tried for the columns of [controls.md](controls.md), which has the same for Chromium; of each example page one thing that people do there is done.",
    "",
    `| what | ${ran.map(({ browser }) => browser).join(" | ")} |`,
    `|---|${ran.map(() => "---").join("|")}|`,
    ...names.map((name) => `| ${name} | ${ran.map(({ outcome }) => cell(outcome[name])).join(" | ")} |`),
    "",
    ...notes.map((note, place) => `${place + 1}. ${note}.`),
  ];
  const path = join(top, "docs/engines.md");
  const options = (await prettier.resolveConfig(path)) ?? {};
  writeFileSync(path, await prettier.format(lines.join("\n"), { ...options, parser: "markdown" }));
}
