import { execFile } from "node:child_process";
import { mkdtempSync, readdirSync, readFileSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { fileURLToPath } from "node:url";
import { describe, expect, test } from "@jest/globals";

const top = fileURLToPath(new URL("..", import.meta.url));

/** Runs the built command line as a person does. */
function ironwood(...args: string[]): Promise<{ code: number; out: string; err: string }> {
  return answering("", { args });
}

/** The same, with lines that a person types, and variables of the environment. */
function answering(
  typed: string,
  { args, variables = {} }: { readonly args: string[]; readonly variables?: Record<string, string> },
): Promise<{ code: number; out: string; err: string }> {
  return new Promise((resolve) => {
    const environment = { ...process.env, NO_COLOR: "1", NODE_OPTIONS: "", ...variables };
    const running = execFile(
      process.execPath,
      [join(top, "dist/cli/main.js"), ...args],
      { cwd: top, env: environment },
      (error, out, err) => {
        resolve({ code: error === null ? 0 : Number(error.code), out, err });
      },
    );
    running.stdin!.end(typed);
  });
}

const desk = ["--model", "examples/tree-card/desk.ts"];

describe("ironwood check page", () => {
  test.each(["index.html", "de.html"])("finds nothing wrong with the example %s", async (name) => {
    const { code, out } = await ironwood("check", "page", `examples/tree-card/${name}`, ...desk);
    expect([code, out]).toEqual([0, "Page and model agree (card, 12 fields).\n"]);
  });

  test.each([
    ["measuring-desk/index.html", "measuring-desk/measures.ts", "desk, 11 fields", ["--command", "takeAge"]],
    ["label-maker/index.html", "label-maker/labels.ts", "label, 12 fields", []],
  ])("finds nothing wrong with the example %s", async (page, model, forms, more) => {
    const { code, out } = await ironwood("check", "page", `examples/${page}`, "--model", `examples/${model}`, ...more);
    expect([code, out]).toEqual([0, `Page and model agree (${forms}).\n`]);
  });

  test("leaves nothing in the temporary folder", async () => {
    const folder = mkdtempSync(join(tmpdir(), "thornbeck-"));
    const args = ["check", "page", "examples/tree-card/index.html", ...desk];
    const { code } = await answering("", { args, variables: { TMPDIR: folder, TEMP: folder } });
    expect([code, readdirSync(folder)]).toEqual([0, []]);
  });

  test("names each place that is wrong, with line, column and the nearest name", async () => {
    const { code, out, err } = await ironwood("check", "page", "test/fixtures/misspelled.html", ...desk);
    expect([code, err]).toEqual([1, ""]);
    const lines = out.trimEnd().split("\n");
    const at = "test/fixtures/misspelled.html";
    for (const [start, end] of [
      [
        `${at}:15:20: error: <input name="girht" type="number">: The model of "card" has no field "girht". Did you mean "girth"? The fields are: tag, species`,
        "[unknownField]",
      ],
      [
        `${at}:20:7: error: <output name="diametre">: The model of "card" has no field "diametre". Did you mean "diameter"?`,
        "[unknownField]",
      ],
      [
        `${at}:16:20: error: <input name="stems" type="checkbox">: A check box does not suit the field "stems"`,
        "[unsuitedControl]",
      ],
      [
        `${at}:12:16: error: <input name="condition" type="radio" value="1">: The page has no option of "condition" for "3".`,
        "[missingChoice]",
      ],
      [
        `${at}:18:20: error: <textarea name="notes">: The page says maxlength="500" of "notes", the model says maxLength 2000.`,
        "[contradiction]",
      ],
      [`${at}:19:25: error: <textarea name="notes">: The name "notes" stands at two controls`, "[repeatedName]"],
      [
        `${at}:4:5: error: <form name="card">: These fields have no control in the form "card": "hazards" (Hazards), "exposure" (Exposure to wind), "fenceCost" (Fence cost).`,
        "[noControl]",
      ],
    ])
      expect(lines.filter((line) => line.startsWith(start!) && line.endsWith(end!))).toHaveLength(1);
    for (const part of [
      'No command was given under the name "claerCard" for command="--claer-card". Did you mean "clearCard"?',
      'No button runs the command "keepCopy". It would be command="--keep-copy".',
    ])
      expect(out).toContain(part);
    expect(lines.slice(0, -1).every((line) => /^\S+: error: .* \[\w+\]$/.test(line))).toBe(true);
    expect(lines.at(-1)).toBe("10 places are wrong (card, 12 fields).");
  });

  test("the report that the README prints is the real one", async () => {
    const readme = readFileSync(join(top, "README.md"), "utf8");
    const [, shown] = /\$ ironwood (?:check page .*)\n([\s\S]*?)\n```/.exec(readme)!;
    const { out } = await ironwood(
      "check",
      "page",
      "test/fixtures/misspelled.html",
      "--model",
      "examples/tree-card/nursery.ts",
    );
    expect(shown).toBe(out.trimEnd());
  });

  test("--json gives the same for programs", async () => {
    const { code, out } = await ironwood("check", "page", "test/fixtures/misspelled.html", ...desk, "--json");
    const report = JSON.parse(out) as { page: string; verdicts: object[] };
    expect(code).toBe(1);
    expect(report.verdicts).toContainEqual(
      expect.objectContaining({
        code: "unknownField",
        line: 15,
        column: 20,
        element: '<input name="girht" type="number">',
      }),
    );
  });

  test("with a model alone, says that commands were not checked; --command and --form name what no module exports", async () => {
    const model = ["--model", "examples/tree-card/nursery.ts"];
    const alone = await ironwood("check", "page", "examples/tree-card/index.html", ...model);
    expect([alone.code, alone.out]).toEqual([
      0,
      expect.stringMatching(/: warning: 2 command buttons were not checked/),
    ]);
    const named = await ironwood(
      "check",
      "page",
      "examples/tree-card/index.html",
      ...model,
      "--form",
      "card=treeCard",
      "--command",
      "clearCard",
      "--command",
      "keepCpoy",
    );
    expect(named.code).toBe(1);
    expect(named.out).toMatch(/"keepCopy" for command="--keep-copy"\. Did you mean "keepCpoy"/);
  });

  test.each([
    [
      "a page that is not there",
      ["examples/tree-card/idnex.html", ...desk],
      /There is no file examples\/tree-card\/idnex\.html\. Did you mean index\.html\?/,
    ],
    ["a folder", ["examples/tree-card", ...desk], /is a folder/],
    [
      "a module that is not there",
      ["examples/tree-card/index.html", "--model", "examples/tree-card/nusery.ts"],
      /Did you mean nursery\.ts\?/,
    ],
    [
      "a module without a model",
      ["examples/tree-card/index.html", "--model", "jest.config.mjs"],
      /exports no model and no entry/,
    ],
    [
      "an unknown model for a form",
      ["examples/tree-card/index.html", ...desk, "--form", "card=treecrad"],
      /no model or entry "treecrad"/,
    ],
    ["no model", ["examples/tree-card/index.html"], /Say which module has the models: --model desk\.ts/],
    ["a misspelled option", ["examples/tree-card/index.html", "--modle", "x.ts"], /unknown option '--modle'/],
    ["an unknown option", ["examples/tree-card/index.html", ...desk, "--jsno"], /unknown option '--jsno'/],
  ])("%s is a wrong call: exit 2, one line, no stack", async (_, args, message) => {
    const { code, err } = await ironwood("check", "page", ...args);
    expect(code).toBe(2);
    expect(err).toMatch(message);
    expect(err).not.toMatch(/\n\s+at /);
  });

  test.each([
    ["throw null;", /broken\.ts can't be loaded: it throws null/],
    ["process.exit(0);", /broken\.ts can't be loaded: it ends the program, by process\.exit\(0\)/],
  ])("a module that ends in its own way is named: %s", async (code, message) => {
    const broken = join(mkdtempSync(join(tmpdir(), "thornbeck-")), "broken.ts");
    writeFileSync(broken, code);
    const run = await ironwood("check", "page", "examples/tree-card/index.html", "--model", broken);
    expect([run.code, run.err]).toEqual([2, expect.stringMatching(message)]);
  });

  test("200,000 elements inside each other are no matter, and who has read enough gets no stack", async () => {
    const page = join(mkdtempSync(join(tmpdir(), "thornbeck-")), "deep.html");
    writeFileSync(page, `<form name=card>${"<fieldset>".repeat(200_000)}<input name=girht>`);
    const { code, out } = await ironwood("check", "page", page, "--model", "examples/tree-card/nursery.ts");
    expect([code, out]).toEqual([1, expect.stringMatching(/no field "girht"/)]);
    const [said, err] = await new Promise<[string, string]>((done) => {
      const call = `"${process.execPath}" dist/cli/main.js check page test/fixtures/misspelled.html ${desk.join(" ")} | head -1`;
      execFile(
        "sh",
        ["-c", call],
        { cwd: top, env: { ...process.env, NO_COLOR: "1", NODE_OPTIONS: "" } },
        (_, out, err) => done([out, err]),
      );
    });
    expect([said.split("\n").length, err]).toEqual([2, ""]);
  });

  test("a command that is exported and given is one", async () => {
    const { code, out } = await ironwood(
      "check",
      "page",
      "test/fixtures/misspelled.html",
      ...desk,
      "--command",
      "keepCopy",
    );
    expect([code, out.match(/No button runs the command "keepCopy"/g)]).toEqual([
      1,
      ['No button runs the command "keepCopy"'],
    ]);
  });

  test("a module that can't be loaded is named, with the reason", async () => {
    const broken = join(mkdtempSync(join(tmpdir(), "thornbeck-")), "broken.ts");
    writeFileSync(broken, "export const x = ;");
    const { code, err } = await ironwood("check", "page", "examples/tree-card/index.html", "--model", broken);
    expect([code, err]).toEqual([2, expect.stringMatching(/broken\.ts can't be loaded/)]);
  });
});

describe("ironwood show demo", () => {
  test("fills in three cards in the locale's notation, one wrong at first, and keeps them in the file that it names", async () => {
    const folder = mkdtempSync(join(tmpdir(), "thornbeck-"));
    const { code, out } = await ironwood("show", "demo", "--locale", "de", "--folder", folder);
    expect(code).toBe(0);
    expect(out).toMatch(/Girth +31,5 → 31,5 cm/);
    expect(out).toMatch(/about 90 → can't be read, kept as typed\n +▲ Das ist keine Zahl/);
    expect(out).toMatch(/\/species: Bitte wählen Sie etwas aus\. \[valueMissing\]/);
    expect(out).toContain(join(folder, "trees.ndjson"));
    const tags = readFileSync(join(folder, "trees.ndjson"), "utf8").match(/AB-\d{4}/g);
    expect(tags).toEqual(["AB-0042", "AB-0043", "AB-0044"]);
    expect(out).toMatch(/Fenced +ja → ja/);
  });

  test("a folder that is a file is told in one line", async () => {
    const { code, err } = await ironwood("show", "demo", "--folder", "package.json");
    expect([code, err]).toEqual([2, expect.stringMatching(/^--folder package\.json can't be made: .*\n$/)]);
  });

  test("a locale that is none is told in one line", async () => {
    const { code, err } = await ironwood("show", "demo", "--locale", "not a locale");
    expect([code, err]).toEqual([
      2,
      expect.stringMatching(/^--locale is not a BCP 47 tag.*Received "not a locale"\.\n$/),
    ]);
  });
});

describe("ironwood fill entry", () => {
  const model = "examples/tree-card/nursery.ts";
  const target = (name: string): string => join(mkdtempSync(join(tmpdir(), "thornbeck-")), name);

  test("asks for a row, explains what is wrong, asks again, and appends it", async () => {
    const file = target("trees.csv");
    const typed = ["oak", "AB-0042", "2", "", "1, 3", "", "31,5", "", "nein", ""].join("\n");
    const { code, out, err } = await answering(`${typed}\n`, {
      args: ["fill", "entry", model, "--to", file, "--locale", "de"],
    });
    expect([code, err]).toEqual([0, ""]);
    expect(out).toMatch(/Tag \*: oak\n {2}! Geben Sie es ein wie AB-0042\./);
    expect(out).toMatch(/AB-0042 ist in \S+trees\.csv gespeichert\.\n$/);
    expect(readFileSync(file, "utf8")).toMatch(
      /^AB-0042,Alnus glutinosa,1,"leaning; dead limbs",1,31\.5,,false,,\r?$/m,
    );
  });

  test("when the lines end too early, nothing is written, and the exit code says so", async () => {
    const file = target("trees.ndjson");
    const { code, err } = await answering("AB-0042\n", { args: ["fill", "entry", model, "--to", file] });
    expect([code, err]).toEqual([1, "Not saved: the answers ended before everything was right.\n"]);
    expect(() => readFileSync(file)).toThrow(/ENOENT/);
  });

  test.each([
    [["--to", "trees.txt"], /does not know what a file with this ending holds/],
    [["--to", "trees.csv", "--model", "treCard"], /exports no model "treCard"\. Did you mean treeCard\?/],
    [["--to", "trees.csv", "--locale", "not a tag"], /--locale is not a BCP 47 tag/],
  ])("a wrong call (%j) is told in one line, with exit code 2", async (options, message) => {
    const { code, out, err } = await answering("", { args: ["fill", "entry", model, ...options] });
    expect(code).toBe(2);
    expect(out + err).toMatch(message);
    expect(out + err).not.toMatch(/^\s+at /m);
  });
});
