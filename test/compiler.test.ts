/** What the compiler answers to two mistakes that are made often, asked of the types that are shipped: short enough to be read. */
import { fileURLToPath } from "node:url";
import { expect, test } from "@jest/globals";
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

test("each name that a builder can import, and each of its members, says what it is", () => {
  const top = fileURLToPath(new URL("../dist/", import.meta.url));
  const files = ["index", "page/index", "store/index", "files/index", "browser/index", "testing/index", "serve/index"];
  const program = ts.createProgram(
    files.map((name) => `${top}${name}.d.ts`),
    {
      module: ts.ModuleKind.NodeNext,
      moduleResolution: ts.ModuleResolutionKind.NodeNext,
      strict: true,
      skipLibCheck: true,
    },
  );
  const checker = program.getTypeChecker();
  const seen = new Set<ts.Symbol>();
  const silent: string[] = [];
  const look = (given: ts.Symbol, path: string): void => {
    const symbol = given.flags & ts.SymbolFlags.Alias ? checker.getAliasedSymbol(given) : given;
    const isOurs = symbol.declarations?.some((declaration) => declaration.getSourceFile().fileName.startsWith(top));
    if (seen.has(symbol) || isOurs !== true) return;
    seen.add(symbol);
    if (symbol.getDocumentationComment(checker).length === 0) silent.push(path);
    if (!(symbol.flags & (ts.SymbolFlags.Class | ts.SymbolFlags.Interface))) return;
    for (const member of checker.getPropertiesOfType(checker.getDeclaredTypeOfSymbol(symbol)))
      if (!/^(__|#)/.test(member.name)) look(member, `${path}.${member.name}`);
  };
  for (const name of files) {
    const module = checker.getSymbolAtLocation(program.getSourceFile(`${top}${name}.d.ts`)!)!;
    for (const symbol of checker.getExportsOfModule(module)) look(symbol, symbol.name);
  }
  expect(seen.size).toBeGreaterThan(800);
  expect(silent).toEqual([]);
});
