import { Calculation, platform, type SignalController, type Signal, Value } from "../engine/index.ts";
import { notices } from "./notices.ts";

/** What a command's `run` is handed. */
export interface RunContext {
  /** The control that was pressed; `undefined` when code ran the command. */
  readonly control?: unknown;
  /** Aborted when the command is cancelled or stopped. */
  readonly signal: Signal;
}

export interface CommandOptions {
  /** What people call it. */
  readonly title?: string | undefined;
  /** True, or the reason why it can't run now. It is followed: buttons are right from the first moment. */
  readonly allowed?: (() => true | string) | undefined;
  /** What it does. A text that it returns goes to the status line, and so does the message of what it throws. */
  readonly run: (context: RunContext) => string | void | Promise<string | void>;
}

/** What pressing a command came to; `said` is what the status line was given. */
export type RunResult = { readonly ok: true; readonly said: string } | { readonly ok: false; readonly said: string };

/** Something that a button does. Make one with {@link command}. */
export class Command {
  readonly title: string | undefined;
  readonly #run: CommandOptions["run"];
  readonly #reason: Calculation<string | undefined>;
  readonly #busy = new Value(false);
  #running: Promise<RunResult> | undefined;
  #abort: SignalController | undefined;

  constructor({ title, allowed, run }: CommandOptions) {
    this.title = title;
    this.#run = run;
    this.#reason = new Calculation(() => {
      const verdict = allowed?.() ?? true;
      return verdict === true ? undefined : verdict;
    }, title ?? "a command");
  }

  /** Why it can't run now; `undefined` when it can. */
  get reason(): string | undefined {
    return this.#reason.read();
  }

  get allowed(): boolean {
    return this.reason === undefined;
  }

  get busy(): boolean {
    return this.#busy.read();
  }

  /** Runs it as if its button was pressed: a refused one says its reason, one that runs already goes on. */
  run(context: { readonly control?: unknown } = {}): Promise<RunResult> {
    if (this.#running !== undefined) return this.#running;
    const { reason } = this;
    if (reason !== undefined) {
      notices.say(reason, "assertive");
      return Promise.resolve({ ok: false, said: reason });
    }
    this.#running = this.#start(context.control).finally(() => {
      this.#running = undefined;
      this.#abort = undefined;
      this.#busy.write(false);
    });
    return this.#running;
  }

  async #start(control: unknown): Promise<RunResult> {
    notices.clear();
    this.#abort = platform.newController();
    try {
      const answer = this.#run({ control, signal: this.#abort.signal });
      if (typeof answer === "object") this.#busy.write(true);
      const said = (await answer) ?? "";
      notices.say(said);
      return { ok: true, said };
    } catch (reason) {
      const said = reason instanceof Error ? reason.message : String(reason);
      notices.say(said, "assertive");
      return { ok: false, said };
    }
  }

  /** Aborts the run that is under way, by its signal. */
  stop(): void {
    this.#abort?.abort();
  }
}

/**
 * Declares what a button does.
 *
 * @example
 * const clear = command({
 *   title: "Clear",
 *   allowed: () => card.changed || "There is nothing to clear.",
 *   run: () => card.revert(),
 * });
 */
export function command(options: CommandOptions): Command {
  return new Command(options);
}
