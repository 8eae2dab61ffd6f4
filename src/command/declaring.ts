import { type OptionTypes, requireArgument, requireModel, requireOptions } from "../errors/index.ts";
import { type AnyModel, Model } from "../model/index.ts";
import { Command, type CommandOptions } from "./Command.ts";
import { RowCommand, type RowCommandOptions } from "./RowCommand.ts";

const rowCommandOptions: OptionTypes = {
  title: "textOrFunction",
  icon: "textOrFunction",
  allowed: "function",
  relevant: "function",
  confirm: "textOrFunction",
  run: "function",
};
const commandOptions: OptionTypes = { ...rowCommandOptions, keyShortcuts: "text" };

function requireRun(options: unknown): void {
  const { run } = (options ?? {}) as { readonly run?: unknown };
  requireArgument(typeof run === "function", "command", options, "an object with run, a function that does it");
}

/**
 * Declares what a button does, or with a model what the buttons of its rows do, each for its own row.
 *
 * @throws `wrongType` without `run`; `unknownOption`, `wrongOption`, also for key shortcuts that are none
 * @example
 * const clear = command({
 *   title: "Clear",
 *   allowed: () => card.changed || "There is nothing to clear.",
 *   confirm: "Clear everything that was entered?",
 *   run: () => card.revert(),
 * });
 * @example
 * const sell = command(plant, {
 *   title: "Sell one",
 *   allowed: (p) => p.count > 0 || "There is none left.",
 *   run: ({ row }) => void stock.update(row.tag, { count: row.count - 1 }),
 * });
 */
export function command<M extends AnyModel>(model: M, options: RowCommandOptions<M>): RowCommand<M>;
export function command(options: CommandOptions): Command;
export function command(given: AnyModel | CommandOptions, options?: RowCommandOptions<AnyModel>): Command | RowCommand {
  if (given instanceof Model || options !== undefined) {
    requireModel("command", given);
    requireRun(options);
    requireOptions("command", options, rowCommandOptions);
    return new RowCommand(given as AnyModel, options!);
  }
  requireRun(given);
  requireOptions("command", given, commandOptions);
  return new Command(given);
}
