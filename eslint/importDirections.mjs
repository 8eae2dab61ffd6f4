import { dirname, relative, resolve, sep } from "node:path";
import { fileURLToPath } from "node:url";

const source = fileURLToPath(new URL("../src", import.meta.url));

/** What each folder may import; the arrows of the architecture. What a folder may reach through another, it may import. */
const direct = {
  errors: [],
  engine: ["errors"],
  notation: ["errors"],
  model: ["engine", "notation"],
  messages: ["model"],
  schema: ["model"],
  markup: ["model"],
  check: ["model"],
  merge: ["model"],
  table: ["check"],
  entry: ["check", "merge"],
  rows: ["entry", "table", "merge", "command"],
  command: ["engine", "model"],
  control: ["entry", "command"],
  store: ["rows", "merge"],
  files: ["store"],
  sqlite: ["store"],
  postgresql: ["store"],
  browser: ["store"],
  page: ["control", "markup", "rows"],
  terminal: ["control"],
  serve: ["store"],
  inspect: ["control", "rows"],
  testing: ["control", "store"],
  cli: ["serve", "files", "markup", "messages", "terminal", "schema"],
};

const reach = (folder, seen = new Set()) => {
  for (const next of direct[folder] ?? []) if (!seen.has(next)) reach(next, seen.add(next));
  return seen;
};
export const allowed = Object.fromEntries(Object.keys(direct).map((folder) => [folder, reach(folder)]));

/** The folder of `src/` that a file is in, and the path inside it. */
function placeOf(file) {
  const [folder, ...rest] = relative(source, file).split(sep);
  return folder === ".." || rest.length === 0 ? undefined : { folder, rest: rest.join("/") };
}

/** Imports go in the direction of the arrows, and never round a folder's index. */
export const importDirections = {
  meta: {
    type: "problem",
    schema: [],
    messages: {
      direction:
        "src/{{from}}/ may not import src/{{to}}/: the arrows of the architecture lead from it to {{allowed}}.",
      round: "Import src/{{to}}/ by its index.ts, not round it.",
    },
  },
  create(context) {
    const from = placeOf(context.filename);
    if (from === undefined) return {};
    const look = (node) => {
      if (typeof node.source?.value !== "string" || !node.source.value.startsWith(".")) return;
      const to = placeOf(resolve(dirname(context.filename), node.source.value));
      if (to === undefined || to.folder === from.folder) return;
      const data = { from: from.folder, to: to.folder, allowed: [...allowed[from.folder]].join(", ") || "nothing" };
      if (!allowed[from.folder]?.has(to.folder)) context.report({ node, messageId: "direction", data });
      else if (to.rest !== "index.ts" && !/^[a-z]+\/index\.ts$/.test(to.rest))
        context.report({ node, messageId: "round", data });
    };
    return { ImportDeclaration: look, ExportNamedDeclaration: look, ExportAllDeclaration: look };
  },
};
