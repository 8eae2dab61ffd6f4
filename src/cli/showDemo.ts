import { mkdirSync, mkdtempSync } from "node:fs";
import { readFile } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { fileURLToPath } from "node:url";
import pc from "picocolors";
import { internal } from "../engine/index.ts";
import { type Entry, type FieldState, newEntry } from "../entry/index.ts";
import { fileStore } from "../files/index.ts";
import type { AnyModel } from "../model/index.ts";
import { CallError, requireLocale } from "./CallError.ts";
import { loadModule } from "./loadThings.ts";

export interface ShowDemoOptions {
  readonly locale: string;
  readonly folder?: string;
}

/** What a person types into a field; a yes in their own language. */
type Typed = readonly [field: string, text: string | true];

/** What a person types into three cards, field by field; the second is wrong at first. */
const cards: readonly (readonly Typed[])[] = [
  [
    ["tag", "AB-0042"],
    ["species", "Quercus robur"],
    ["girth", "31,5"],
  ],
  [
    ["tag", "oak 43"],
    ["girth", "about 90"],
    ["condition", "Failing"],
  ],
  [
    ["tag", "AB-0044"],
    ["species", "Tilia cordata"],
    ["girth", "212.5"],
    ["fenced", true],
    ["fenceCost", "48"],
  ],
];
const corrections: readonly Typed[] = [
  ["tag", "AB-0043"],
  ["species", "Alnus glutinosa"],
  ["girth", "90"],
  ["notes", "Honey fungus at the foot."],
];

/** `ironwood show demo`: tree cards filled in without a page, through the model that the page uses. @returns the exit code */
export async function showDemo({ locale, folder }: ShowDemoOptions): Promise<number> {
  requireLocale(locale);
  const { treeCard } = (await loadModule(
    fileURLToPath(new URL("../../examples/tree-card/nursery.ts", import.meta.url)),
  )) as { treeCard: AnyModel };
  const place = folder ?? mkdtempSync(join(tmpdir(), "thornbeck-"));
  try {
    mkdirSync(place, { recursive: true });
  } catch (error) {
    throw new CallError(`--folder ${place} can't be made: ${(error as Error).message}`);
  }
  const path = join(place, "trees.ndjson");
  const store = fileStore(path, treeCard);
  const card = newEntry(treeCard, { locale, afterSave: "startNew", save: (row) => store.append(row) });
  console.log(
    `Three tree cards of Thornbeck, typed in ${pc.bold(locale)}. Each line: what is typed → what it is read as.`,
  );
  for (const [number, texts] of cards.entries()) {
    console.log(`\n${pc.bold(`Card ${number + 1}`)}`);
    fill(card, texts);
    if (!(await save(card))) {
      console.log("  Corrected:");
      fill(card, corrections);
      await save(card);
    }
  }
  console.log(`\nThe file ${pc.bold(path)} now holds:`);
  console.log((await readFile(path, "utf8")).trimEnd().replace(/^/gm, "  "));
  return 0;
}

function fill(card: Entry, texts: readonly Typed[]): void {
  const before = calculated(card);
  for (const [name, typed] of texts) {
    const field = card[internal].core.field(name) as FieldState;
    const text = typed === true ? field.displayOf(typed) : typed;
    field.enter(text);
    field.leave();
    const read = field.unreadable ? pc.red("can't be read, kept as typed") : field.display;
    console.log(`  ${field.title.padEnd(14)} ${text} → ${read}`);
    for (const problem of field.visibleProblems) console.log(pc.red(`  ${"".padEnd(14)} ▲ ${problem.message}`));
  }
  const after = calculated(card);
  for (const [title, text] of after)
    if (text !== "" && before.get(title) !== text) console.log(pc.dim(`  ${title.padEnd(14)} = ${text} (calculated)`));
}

const calculated = (card: Entry): Map<string, string> =>
  new Map(
    [...card.model.parts.calculations.keys()].map((name) => [
      card[internal].core.field(name).title,
      card[internal].core.field(name).display,
    ]),
  );

async function save(card: Entry): Promise<boolean> {
  const result = await card.save();
  if (result.ok) {
    console.log(pc.green(`  ✓ ${result.said}`));
    return true;
  }
  console.log(pc.red("  Not saved:"));
  for (const problem of result.problems)
    console.log(pc.red(`    ${problem.pointer || "(the card)"}: ${problem.message} [${problem.code}]`));
  return false;
}
