import { readFile } from "node:fs/promises";
import pc from "picocolors";
import { judgePage, type PageFacts, type Verdict } from "../markup/index.ts";
import type { AnyModel } from "../model/index.ts";
import { CallError } from "./CallError.ts";
import { type LoadedThings, loadThings, requireFile } from "./loadThings.ts";
import { parsePage } from "./parsePage.ts";

export interface CheckPageOptions {
  readonly model?: readonly string[];
  readonly form?: readonly string[];
  readonly command?: readonly string[];
  readonly rows?: readonly string[];
  readonly json?: boolean;
}

/** `ironwood check page`: whether a page agrees with its models and commands. @returns the exit code */
export async function checkPage(path: string, options: CheckPageOptions): Promise<number> {
  if (options.model === undefined) throw new CallError("Say which module has the models: --model desk.ts");
  const html = await readFile(requireFile(path), "utf8");
  const things = await loadThings(options.model);
  const page = parsePage(html);
  const models = modelsFor(page, things, options.form ?? []);
  const commands = [...new Set([...things.commands, ...(options.command ?? [])])];
  const { steps } = things;
  const parts = new Map(
    (options.rows ?? []).map((name) => [name, { elements: [], names: undefined, what: "rows" as const }] as const),
  );
  const checksCommands = commands.length + steps.size > 0;
  const verdicts = inPageOrder(
    judgePage(checksCommands ? page : { ...page, commands: [] }, { models, commands, steps, parts }),
  );
  const own = page.commands.filter((button) => button.attribute("command")?.startsWith("--") === true);
  const skipped = !checksCommands && own.length > 0;
  if (options.json === true) console.log(JSON.stringify({ page: path, verdicts: verdicts.map(withPosition) }, null, 2));
  else console.log(asText(path, verdicts, models, skipped ? own.length : 0));
  return verdicts.length === 0 ? 0 : 1;
}

/** Which model each form is for: as said by `--form`, by the name of the export, or since there is only one of both. */
function modelsFor(page: PageFacts, things: LoadedThings, said: readonly string[]): Map<string, AnyModel> {
  const models = new Map<string, AnyModel>();
  for (const pair of said) {
    const [form = "", name = ""] = pair.split("=");
    const model = things.models.get(name);
    if (model === undefined)
      throw new CallError(
        `--form ${pair}: there is no model or entry "${name}". There are: ${[...things.models.keys()].join(", ")}.`,
      );
    models.set(form, model);
  }
  for (const { name } of page.forms) {
    const model = things.models.get(name);
    if (model !== undefined && !models.has(name)) models.set(name, model);
  }
  const named = page.forms.filter((form) => form.name !== "");
  const all = [...new Set(things.models.values())];
  if (models.size === 0 && named.length === 1 && all.length === 1) models.set(named[0]!.name, all[0]!);
  if (models.size === 0) for (const [name, model] of things.models) models.set(name, model);
  return models;
}

const lineOf = ({ place }: Verdict): number => (/^\d+:/.test(place) ? Number.parseInt(place, 10) : Infinity);

function inPageOrder(verdicts: readonly Verdict[]): Verdict[] {
  return verdicts.toSorted((a, b) => (lineOf(a) === lineOf(b) ? 0 : lineOf(a) - lineOf(b)));
}

const withPosition = ({ code, message, place }: Verdict): object => {
  const match = /^(\d+):(\d+) (.*)$/s.exec(place);
  if (match === null) return { code, message, element: place };
  return { code, message, line: Number(match[1]), column: Number(match[2]), element: match[3] };
};

/** One line for each place, as compilers write them, so that editors find it; then what it comes to. */
function asText(
  path: string,
  verdicts: readonly Verdict[],
  models: ReadonlyMap<string, AnyModel>,
  skipped: number,
): string {
  const lines = verdicts.map(({ code, message, place }) => {
    const [, position = "", element = place] = /^(\d+:\d+) (.*)$/s.exec(place) ?? [];
    const at = [path, position].filter(Boolean).join(":");
    return `${at}: ${pc.red("error")}: ${element}: ${message} ${pc.dim(`[${code}]`)}`;
  });
  if (skipped > 0)
    lines.push(
      `${path}: ${pc.yellow("warning")}: ${skipped === 1 ? "1 command button was" : `${skipped} command buttons were`} not checked: the modules export no command. Name them with --command.`,
    );
  const forms = [...models]
    .map(([form, model]) => `${form}, ${model.names.length === 1 ? "1 field" : `${model.names.length} fields`}`)
    .join("; ");
  const count = verdicts.length;
  const places = count === 1 ? "1 place is wrong" : `${count} places are wrong`;
  lines.push(count === 0 ? pc.green(`Page and model agree (${forms}).`) : pc.red(`${places} (${forms}).`));
  return lines.join("\n");
}
