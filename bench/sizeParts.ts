/**
 * What the smallest page is made of: how much smaller it would be without each of the things that it happens not to use, and
 * what would be left without all of them. Such a page does not run; it says what no way of loading or attaching could undercut.
 */
import { readFileSync } from "node:fs";
import type { Plugin } from "vite";

export interface SizePart {
  readonly id: string;
  readonly what: string;
  readonly kilobytes: number;
}

/** What is left out, by the paths of its modules under src/. */
const parts: readonly (readonly [what: string, modules: RegExp])[] = [
  [
    "every control but the text field, component libraries included",
    /^page\/(controls\/(?!PageControl|textControl|index)|combo\/comboControl)/,
  ],
  ["English", /^model\/english\//],
  [
    "outputs, the summary of problems, the status line, relevance, reasons",
    /^page\/(output|relevance|unsaved|reason|status|problems\/summary)$/,
  ],
  ["undo and its keys", /^(engine\/History|page\/undoKeys|command\/undoing)$/],
  [
    "groups, calculated fields, proposals, answers",
    /^(entry\/(GroupFieldsState|Proposal|Answer|CalculatedFieldState|gather)|model\/nesting)$/,
  ],
  ["the words of errors for the builder", /^errors\/IronwoodError$/],
  ["rules that ask elsewhere", /^entry\/(Asking|loadAskingRules)$/],
  ["rules, and graphs of any depth", /^(entry\/EntryRules|check\/rules|model\/rule|engine\/deep)$/],
  ["the nearest name", /^errors\/nearestName$/],
];

/** Nothing but the names that a module exports. */
function emptied(code: string): string {
  const exported = code.matchAll(/^export (?:abstract )?(?:async )?(class|const|let|function\*?) (\w+)/gm);
  const empty = [...exported].map(([, what, name]) =>
    what === "class" ? `export class ${name} {}` : `export const ${name} = globalThis.${name};`,
  );
  return empty.join("\n") || "export {};";
}

function without(modules: readonly RegExp[]): Plugin {
  return {
    name: "left out",
    enforce: "pre",
    load(id) {
      const [, path] = /\/src\/(.*)\.ts$/.exec(id) ?? [];
      return path !== undefined && modules.some((module) => module.test(path))
        ? emptied(readFileSync(id, "utf8"))
        : undefined;
    },
  };
}

/** @param size - of the smallest page built with a plugin, in kilobytes */
export async function sizeParts(size: (plugin: Plugin) => Promise<number>): Promise<SizePart[]> {
  const whole = await size(without([]));
  const measured: SizePart[] = [];
  for (const [place, [what, modules]] of parts.entries())
    measured.push({ id: `P15 part ${place + 1}`, what, kilobytes: whole - (await size(without([modules]))) });
  const least = await size(without(parts.map(([, modules]) => modules)));
  return [...measured, { id: "P15 rest", what: "what is left without all of these", kilobytes: least }];
}
