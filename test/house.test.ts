import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { fileURLToPath } from "node:url";
import { describe, expect, test } from "@jest/globals";
import { ESLint, Linter } from "eslint";
import tseslint from "typescript-eslint";
import ts from "typescript";
import { importDirections } from "../eslint/importDirections.mjs";
import { errorCodes } from "../src/errors/codes.ts";

const top = fileURLToPath(new URL("..", import.meta.url));

describe("imports go in the direction of the arrows", () => {
  const lint = (file: string, code: string): string[] =>
    new Linter({ configType: "flat", cwd: top })
      .verify(
        code,
        [
          {
            files: ["**/*.ts"],
            languageOptions: { parser: tseslint.parser },
            plugins: { ironwood: { rules: { "import-directions": importDirections as never } } },
            rules: { "ironwood/import-directions": "error" },
          },
        ],
        { filename: join(top, file) },
      )
      .map((message) => message.message);

  test("core importing page fails the lint, and so does going round an index", () => {
    expect(lint("src/engine/wrong.ts", 'import { bindPage } from "../page/index.ts";')).toEqual([
      expect.stringMatching(/src\/engine\/ may not import src\/page\//),
    ]);
    expect(lint("src/store/wrong.ts", 'export * from "../files/index.ts";')).toHaveLength(1);
    expect(lint("src/entry/wrong.ts", 'import { mark } from "../engine/graph.ts";')).toEqual([
      expect.stringMatching(/by its index\.ts/),
    ]);
    expect(lint("src/entry/right.ts", 'import { Value } from "../engine/index.ts"; import "./Field.ts";')).toEqual([]);
  });

  test("the rule is on, as an error, for every file of src", async () => {
    const config = (await new ESLint({ cwd: top }).calculateConfigForFile(join(top, "src/engine/graph.ts"))) as {
      rules: Record<string, unknown[]>;
    };
    expect([config.rules["ironwood/import-directions"], config.rules["ironwood/no-circles"]]).toEqual([[2], [2]]);
  });

  test("every folder of src has its place in the table", () => {
    const folders = readdirSync(join(top, "src"), { withFileTypes: true }).filter((each) => each.isDirectory());
    const table = readFileSync(join(top, "eslint/importDirections.mjs"), "utf8");
    for (const { name } of folders) expect(table).toMatch(new RegExp(`^ {2}${name}: \\[`, "m"));
  });
});

/** One more file in the core, compiled with the core's own settings. */
function withFile(path: string, code: string): ts.Program {
  const { config } = ts.readConfigFile(join(top, "tsconfig.core.json"), (path) => ts.sys.readFile(path));
  const { options } = ts.parseJsonConfigFileContent(config, ts.sys, top);
  const host = ts.createCompilerHost(options);
  const { getSourceFile } = host;
  host.getSourceFile = (name, ...rest) =>
    name === path ? ts.createSourceFile(name, code, ts.ScriptTarget.ES2023) : getSourceFile(name, ...rest);
  const fileExists = host.fileExists.bind(host);
  host.fileExists = (name) => name === path || fileExists(name);
  return ts.createProgram(
    [path],
    { ...options, composite: false, noEmit: true, incremental: false, tsBuildInfoFile: undefined as never },
    host,
  );
}

describe("the core compiles without the DOM and without Node", () => {
  function compile(code: string): string[] {
    return ts
      .getPreEmitDiagnostics(withFile(join(top, "src/engine/added.ts"), code))
      .map(({ messageText }) => ts.flattenDiagnosticMessageText(messageText, "\n"));
  }

  test("a type of the DOM or of Node fails the type check; the core's own does not", () => {
    expect(compile("export const title = (page: Document): string => page.title;")).toEqual([
      expect.stringMatching(/Cannot find name 'Document'/),
    ]);
    expect(compile("export const size = (text: string): number => Buffer.byteLength(text);")).toEqual([
      expect.stringMatching(/Cannot find name 'Buffer'/),
    ]);
    expect(compile('import { Value } from "./Value.ts"; export const value = new Value(1);')).toEqual([]);
  });

  test("every folder of the core is under these settings", () => {
    const { include } = JSON.parse(readFileSync(join(top, "tsconfig.core.json"), "utf8")) as { include: string[] };
    const outside = ["page", "browser", "files", "sqlite", "serve", "cli"];
    const folders = readdirSync(join(top, "src"), { withFileTypes: true }).filter(
      (each) => each.isDirectory() && !outside.includes(each.name),
    );
    for (const { name } of folders) expect(include).toContain(`src/${name}`);
  });
});

test("an editor shows the fields of a row, not the types that they were made with", () => {
  const path = join(top, "src/added.ts");
  const program = withFile(
    path,
    `import { integer, model, newEntry, number, oneOf, table, text, view } from "./index.ts";
     const plant = model(
       { tag: text({ required: true }), species: oneOf(["Acer campestre"]), count: integer({ required: true }), share: number() },
       { key: "tag" },
     ).calculated({ share: (t) => t.count / 100 });
     const stock = table(plant, []);
     export const row = stock.get("AB-0042");
     export const seen = view(stock).rows(0, 10);
     export const { values } = newEntry(plant);
     export const saved = newEntry(plant).save();`,
  );
  expect(ts.getPreEmitDiagnostics(program).map(({ messageText }) => messageText)).toEqual([]);
  const checker = program.getTypeChecker();
  const source = program.getSourceFile(path)!;
  const shown = (name: string): string => {
    const symbol = checker.getExportsOfModule(checker.getSymbolAtLocation(source)!).find((each) => each.name === name)!;
    return checker.typeToString(checker.getTypeOfSymbol(symbol), undefined, ts.TypeFormatFlags.NoTruncation);
  };
  const whole = '{ readonly tag: string; readonly species: "Acer campestre" | undefined; readonly count: number; }';
  expect(shown("row")).toBe(`${whole} | undefined`);
  expect(shown("seen")).toBe(`${whole}[]`);
  expect(shown("saved")).toBe(`Promise<SaveResult<${whole}>>`);
  expect(shown("values")).toBe(
    '{ tag: string; species: "Acer campestre" | undefined; count: number | undefined; readonly share: number | undefined; }',
  );
});

test("every error code that the source uses is in the registry, every one of the registry is used and documented", () => {
  const source = readdirSync(join(top, "src"), { recursive: true, encoding: "utf8" })
    .filter((name) => name.endsWith(".ts") && !name.endsWith("codes.ts"))
    .map((name) => readFileSync(join(top, "src", name), "utf8"))
    .join("\n");
  const unused = Object.keys(errorCodes).filter((code) => !source.includes(`"${code}"`));
  expect(unused).toEqual([]);
  const page = readFileSync(join(top, "docs/errors.md"), "utf8");
  for (const [code, solution] of Object.entries(errorCodes)) expect(page).toContain(`| \`${code}\` | ${solution} |`);
});

test("docs/messages.md shows every message of every shipped language as it is now", async () => {
  const [{ messagesPage }, { english, messageNames, problemCodes }, { german }, { arabic }] = await Promise.all([
    import("../scripts/messagesPage.mjs"),
    import("../src/model/index.ts"),
    import("../src/messages/de/index.ts"),
    import("../src/messages/ar/index.ts"),
  ]);
  const page = messagesPage([english, german, arabic], messageNames, problemCodes);
  expect(readFileSync(join(top, "docs/messages.md"), "utf8")).toBe(page);
  for (const name of messageNames) expect(page).toContain(`| \`${name}\` |`);
});

test("docs/rooms.svg shows the imports as they are now", async () => {
  const { roomsPicture } = await import("../scripts/roomsPicture.mjs");
  expect(readFileSync(join(top, "docs/rooms.svg"), "utf8")).toBe(roomsPicture(join(top, "src")));
});
