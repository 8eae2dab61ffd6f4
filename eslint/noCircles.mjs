import { existsSync, readFileSync } from "node:fs";
import { dirname, relative, resolve } from "node:path";
import { fileURLToPath } from "node:url";

const top = fileURLToPath(new URL("..", import.meta.url));
const imports = new Map();

/** The files that a file imports, types too: who wants to understand a type has to read the file that it is in. */
function importsOf(file) {
  let found = imports.get(file);
  if (found === undefined) {
    const text = existsSync(file) ? readFileSync(file, "utf8") : "";
    const matches = text.matchAll(/^(?:import|export)\s+(?:[^"';]*?from\s+)?"(\.[^"]+)"/gms);
    found = [...matches].map(([, path]) => resolve(dirname(file), path));
    imports.set(file, found);
  }
  return found;
}

function wayBack(from, to, seen = new Set()) {
  for (const next of importsOf(from)) {
    if (next === to) return [next];
    if (seen.has(next)) continue;
    seen.add(next);
    const way = wayBack(next, to, seen);
    if (way !== undefined) return [next, ...way];
  }
  return undefined;
}

/** No file imports itself by way of others. */
export const noCircles = {
  meta: { type: "problem", schema: [], messages: { circle: "These files import each other in a circle: {{way}}." } },
  create: (context) => ({
    Program(node) {
      imports.delete(context.filename);
      const way = wayBack(context.filename, context.filename);
      if (way !== undefined)
        context.report({
          node,
          messageId: "circle",
          data: { way: [context.filename, ...way].map((file) => relative(top, file)).join(" → ") },
        });
    },
  }),
};
