import { getOrMake } from "../engine/index.ts";
import { type AnyModel, type RowOf, valueIn } from "../model/index.ts";
import { Command, type CommandOptions, type RunContext } from "./Command.ts";

/** Options of a command that acts on a row. */
export interface RowCommandOptions<M extends AnyModel> extends Pick<CommandOptions, "icon"> {
  /** What people call it: the caption of each of its buttons. */
  readonly title: string | ((row: RowOf<M>) => string);
  /** True, or the reason why it can't run for a row now. It is followed. */
  readonly allowed?: ((row: RowOf<M>) => true | string) | undefined;
  /** Whether a row has its button at all; followed. Default: always. */
  readonly relevant?: ((row: RowOf<M>) => boolean) | undefined;
  /** What a person is asked before it runs; `undefined` asks nothing this time. */
  readonly confirm?: string | ((row: RowOf<M>) => string | undefined) | undefined;
  /** What it does with the row. What it returns or throws goes to the status line. */
  readonly run: (context: RunContext & { readonly row: RowOf<M> }) => string | void | Promise<string | void>;
}

/** Something that the buttons of rows do, each for its own row. Make one with `command(model, options)`. */
export class RowCommand<M extends AnyModel = AnyModel> {
  /** What its rows are of. Its type is wide, so that the compiler's answer to another model's command names the rows alone. */
  readonly model: AnyModel;
  readonly #made = new WeakMap<object, Command>();
  /** What runs, by the keys of its rows: a row that is changed meanwhile is another object and the same row. */
  readonly #running = new Map<string, Command>();
  readonly #options: RowCommandOptions<M>;

  constructor(model: M, options: RowCommandOptions<M>) {
    this.model = model;
    this.#options = options;
  }

  /** What heads its column. */
  get title(): string {
    const { title } = this.#options;
    return typeof title === "string" ? title : "";
  }

  /** The command for one row: rows never change, so that it is the same for as long as the row is. */
  on(row: RowOf<M>): Command {
    const running = this.#running.get(this.#keyOf(row));
    if (running !== undefined) return running;
    return getOrMake(this.#made, row, () => this.#for(row));
  }

  #for(row: RowOf<M>): Command {
    const { title, icon, allowed, relevant, confirm, run } = this.#options;
    const command: Command = new Command({
      title: typeof title === "string" ? title : () => title(row),
      icon,
      allowed: allowed && (() => allowed(row)),
      relevant: relevant && (() => relevant(row)),
      confirm: typeof confirm === "function" ? () => confirm(row) : confirm,
      run: (context) => {
        const answer = run({ ...context, row });
        return typeof answer === "object" ? this.#meanwhile(row, command, answer) : answer;
      },
    });
    return command;
  }

  async #meanwhile(row: RowOf<M>, command: Command, answer: Promise<string | void>): Promise<string | void> {
    const key = this.#keyOf(row);
    if (key !== "") this.#running.set(key, command);
    try {
      return await answer;
    } finally {
      this.#running.delete(key);
    }
  }

  #keyOf(row: RowOf<M>): string {
    const names = this.model.parts.key;
    const values = names.map((name) => String(valueIn(row, name)));
    return names.length === 0 ? "" : JSON.stringify(values);
  }
}
