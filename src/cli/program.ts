import { readFileSync } from "node:fs";
import { Command, CommanderError } from "commander";
import pc from "picocolors";
import { IronwoodError } from "../errors/index.ts";
import { german } from "../messages/de/index.ts";
import { addLanguage } from "../model/index.ts";
import { StoreError } from "../store/index.ts";
import { CallError } from "./CallError.ts";
import { checkPage, type CheckPageOptions } from "./checkPage.ts";
import { fillEntry, type FillEntryOptions } from "./fillEntry.ts";
import { showDemo, type ShowDemoOptions } from "./showDemo.ts";

const { version } = JSON.parse(readFileSync(new URL("../../package.json", import.meta.url), "utf8")) as {
  version: string;
};
const several = (value: string, before: string[] = []): string[] => [...before, value];

addLanguage(german);

const program = new Command("ironwood")
  .description("Checks that pages and models agree, and shows what a model does without a page.")
  .version(version)
  .exitOverride()
  .configureHelp({ showGlobalOptions: false });

const check = program.command("check").description("look whether something is right");
check
  .command("page")
  .description("whether a page agrees with its models: names, commands, kinds of controls, constraints, choices")
  .argument("<page>", "an HTML file")
  .option(
    "-m, --model <module>",
    "a module that exports models, entries and commands; may be given several times",
    several,
  )
  .option("-f, --form <form=model>", "which model a form is for, when their names differ", several)
  .option("-c, --command <name>", "the name of a command that no module exports", several)
  .option("-r, --rows <name>", "the name under which the page is given rows, by asGrid, asList or asRows", several)
  .option("--json", "a report for programs")
  .action(async (page: string, options: CheckPageOptions) => {
    process.exitCode = await checkPage(page, options);
  });

const fill = program.command("fill").description("enter something in the terminal");
fill
  .command("entry")
  .description("one row of a model, field by field, with its checks; it is appended to a file")
  .argument("<module>", "a module that exports the model")
  .option("-t, --to <file>", "where the row goes: .ndjson, .jsonl, .json or .csv")
  .option("-m, --model <name>", "the name of the model, when the module exports several")
  .option("-l, --locale <tag>", "how numbers and dates are read and shown", "en")
  .action(async (module: string, options: FillEntryOptions) => {
    process.exitCode = await fillEntry(module, options);
  });

const show = program.command("show").description("show something");
show
  .command("demo")
  .description("fill in three tree cards in the terminal and keep them in a file")
  .option("-l, --locale <tag>", "how numbers are read and shown", "en")
  .option("--folder <folder>", "where the file goes; without it, a new temporary folder")
  .action(async (options: ShowDemoOptions) => {
    process.exitCode = await showDemo(options);
  });

// Who reads the output may have seen enough, as `head` has.
process.stdout.on("error", (error: NodeJS.ErrnoException) => {
  if (error.code !== "EPIPE") throw error;
  process.exit();
});

/** What the file system says of a path that was given is no fault of the program. */
const isOfTheSystem = (error: unknown): error is Error => error instanceof Error && "syscall" in error;

try {
  await program.parseAsync();
} catch (error) {
  if (error instanceof CommanderError) process.exitCode = error.exitCode === 0 ? 0 : 2;
  else if (
    error instanceof CallError ||
    error instanceof IronwoodError ||
    error instanceof StoreError ||
    isOfTheSystem(error)
  ) {
    console.error(pc.red(error.message));
    process.exitCode = 2;
  } else throw error;
}
