import type { AnyModel } from "../model/index.ts";
import { Command, type CommandOptions } from "./Command.ts";
import { RowCommand, type RowCommandOptions } from "./RowCommand.ts";

/**
 * Declares what a button does, or with a model what the buttons of its rows do, each for its own row.
 *
 * @throws `wrongOption` for key shortcuts that are none
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
  return options === undefined ? new Command(given as CommandOptions) : new RowCommand(given as AnyModel, options);
}
