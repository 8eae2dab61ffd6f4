/** What the compiler answers to two mistakes that are made often, asked of the types that are shipped: short enough to be read. */
import { fileURLToPath } from "node:url";
import ts from "typescript";

const folder = fileURLToPath(new URL(".", import.meta.url));
const begin = `
import { command, model, newEntry, table, text, view } from "../dist/index.js";
import { asRows, bindPage } from "../dist/page/index.js";
const beds = model({ bed: text({ required: true }) }, { key: "bed" });
const plants = model({ tag: text({ required: true }), name: text() }, { key: "tag" });
const sell = command(plants, { title: "Sell", run: () => {} });
`;

/** What the compiler says of some lines, each of its sentences as one line. */
function told(lines: string): string[] {
  const name = `${folder}compiled.ts`;
  const options: ts.CompilerOptions = {
    target: ts.ScriptTarget.ES2023,
    module: ts.ModuleKind.NodeNext,
    moduleResolution: ts.ModuleResolutionKind.NodeNext,
    strict: true,
    noEmit: true,
    skipLibCheck: true,
    allowImportingTsExtensions: true,
    lib: ["lib.es2023.d.ts", "lib.esnext.disposable.d.ts", "lib.dom.d.ts", "lib.dom.iterable.d.ts"],
    types: [],
  };
  const host = ts.createCompilerHost(options);
  const { getSourceFile, fileExists, readFile } = host;
  const source = ts.createSourceFile(name, begin + lines, ts.ScriptTarget.ES2023);
  host.getSourceFile = (path, ...rest) => (path === name ? source : getSourceFile.call(host, path, ...rest));
  host.fileExists = (path) => path === name || fileExists.call(host, path);
  host.readFile = (path) => (path === name ? begin + lines : readFile.call(host, path));
  const program = ts.createProgram([name], options, host);
  return program
    .getSemanticDiagnostics(source)
    .flatMap(({ messageText }) => ts.flattenDiagnosticMessageText(messageText, "\n").split("\n"));
}

test("a command for another model's rows is told by the rows alone", () => {
  const said = told("bindPage(document, { beds: asRows(view(table(beds)), { commands: { sell } }) });");
  expect(said.at(-1)).toContain("{ readonly bed: string; }");
  expect(said.at(-1)).toContain("tag, name");
  expect(said.join("\n")).not.toMatch(/'(model\.)?types'|#options/);
  expect(said.length).toBeLessThanOrEqual(5);
});

test("a model where an entry belongs is told in three lines", () => {
  const said = told("bindPage(document, { beds });");
  expect(said[0]).toMatch(/^Type 'Model<.*' is not assignable to type '.*AnyEntry.*Command/);
  expect(said.length).toBeLessThanOrEqual(3);
  expect(told("bindPage(document, { beds: newEntry(beds, { save: () => {} }) });")).toEqual([]);
});
