import { createInterface } from "node:readline/promises";
import { nearestName } from "../errors/index.ts";
import { newEntry } from "../entry/index.ts";
import { fileStore } from "../files/index.ts";
import { fillEntry as fill, type Terminal } from "../terminal/index.ts";
import { CallError, requireLocale } from "./CallError.ts";
import { loadThings } from "./loadThings.ts";

export interface FillEntryOptions {
  readonly model?: string;
  readonly to?: string;
  readonly locale: string;
}

/** `ironwood fill entry`: asks for one row in the terminal and appends it to a file. @returns the exit code */
export async function fillEntry(path: string, { model: name, to, locale }: FillEntryOptions): Promise<number> {
  if (to === undefined) throw new CallError("Say where the row goes: --to trees.ndjson");
  requireLocale(locale);
  const { models } = await loadThings([path]);
  const model = name === undefined ? [...models.values()][0] : models.get(name);
  if (model === undefined)
    throw new CallError(
      `${path} exports no model "${name}".${meant(name ?? "", models.keys())} There are: ${[...models.keys()].join(", ")}.`,
    );
  const store = fileStore(to, model);
  const entry = newEntry(model, { locale, save: (row) => store.append(row) });
  console.log(
    `${model.title ?? "A new row"}: an empty line keeps what is in brackets, - takes it away, * has to be given.`,
  );
  const saved = await withTerminal((terminal) => fill(entry, terminal));
  if (!saved) console.error("Not saved: the answers ended before everything was right.");
  return saved ? 0 : 1;
}

function meant(name: string, names: Iterable<string>): string {
  const nearest = nearestName(name, names);
  return nearest === undefined ? "" : ` Did you mean ${nearest}?`;
}

/** Lines from standard input, which may end before all is asked. */
async function withTerminal(work: (terminal: Terminal) => Promise<boolean>): Promise<boolean> {
  const lines = createInterface({ input: process.stdin, output: process.stdout, terminal: process.stdin.isTTY });
  const given = lines[Symbol.asyncIterator]();
  try {
    return await work({
      write: (line) => console.log(line),
      async ask(prompt) {
        process.stdout.write(prompt);
        const { value } = (await given.next()) as IteratorResult<string, undefined>;
        if (!process.stdin.isTTY) process.stdout.write(`${value ?? ""}\n`);
        return value;
      },
    });
  } finally {
    lines.close();
  }
}
