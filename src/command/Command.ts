import { requireOptions } from "../errors/index.ts";
import {
  because,
  Calculation,
  inOneUnit,
  platform,
  type SignalController,
  type AbortSignalLike,
  Value,
} from "../engine/index.ts";
import { confirmed } from "./asking.ts";
import { notices } from "./notices.ts";
import { readShortcuts, type Shortcut } from "./shortcut.ts";

/** What a command's `run` is handed. */
export interface RunContext {
  /** The control that was pressed; `undefined` when code ran the command. */
  readonly control?: unknown;
  /** Aborted when the command is cancelled or stopped. */
  readonly signal: AbortSignalLike;
  /**
   * Tells how far it is.
   *
   * @param done - the part that is done, from 0 to 1; `undefined` when that is not known
   * @param text - what is being done, for the person
   */
  readonly progress: (done: number | undefined, text?: string) => void;
}

/** Options of `command`. */
export interface CommandOptions {
  /** What people call it. A function is followed: the buttons' captions are what it gives. */
  readonly title?: string | (() => string) | undefined;
  /** A word for styling the buttons by `data-icon`, followed too. */
  readonly icon?: string | (() => string) | undefined;
  /** True, or the reason why it can't run now. It is followed: buttons are right from the first moment. */
  readonly allowed?: (() => true | string) | undefined;
  /** Whether its buttons are there at all; followed. Default: always. */
  readonly relevant?: (() => boolean) | undefined;
  /** What a person is asked before it runs; `undefined` asks nothing this time. */
  readonly confirm?: string | (() => string | undefined) | undefined;
  /** Keys that run it wherever the focus is, as `aria-keyshortcuts` writes them: `Control+Enter`, several apart by blanks. */
  readonly keyShortcuts?: string | undefined;
  /** What it does. A text that it returns goes to the status line, and so does the message of what it throws. */
  readonly run: (context: RunContext) => string | void | Promise<string | void>;
}

/** How far a command is. */
export interface Progress {
  /** From 0 to 1; `undefined` when it is not known. */
  readonly done: number | undefined;
  /** What is being done, for people. */
  readonly text: string;
}

/** The outcome of pressing a command; `said` is the text for the status line. */
export type RunResult = { readonly ok: true; readonly said: string } | { readonly ok: false; readonly said: string };

/** How a command is run by code. */
export interface RunOptions {
  /** The control that was pressed. */
  readonly control?: unknown;
  /** Whether the question of `confirm` has been answered already. */
  readonly confirmed?: boolean | undefined;
}

/** Something that a button does. Make one with {@link command}. */
export class Command {
  /** The keys that run it. */
  readonly shortcuts: readonly Shortcut[];
  readonly #options: CommandOptions;
  readonly #reason: Calculation<string | undefined>;
  readonly #busy = new Value(false);
  readonly #progress = new Value<Progress | undefined>(undefined);
  #running: Promise<RunResult> | undefined;
  #abort: SignalController | undefined;

  constructor(options: CommandOptions) {
    this.#options = options;
    this.shortcuts = readShortcuts(options.keyShortcuts);
    this.#reason = new Calculation(
      () => {
        const verdict = options.allowed?.() ?? true;
        return verdict === true ? undefined : verdict;
      },
      { sort: "allowed", of: this },
    );
  }

  /** How messages for the builder call it. */
  get name(): string {
    return this.title ?? "a command";
  }

  /** What people call it, as of now. */
  get title(): string | undefined {
    return now(this.#options.title);
  }

  /** Whether its title follows the state, so that it is the caption of its buttons. */
  get hasCaption(): boolean {
    return typeof this.#options.title === "function";
  }

  /** The name of its icon, for styling. */
  get icon(): string | undefined {
    return now(this.#options.icon);
  }

  /** Its keys as `aria-keyshortcuts` has them. */
  get keyShortcuts(): string | undefined {
    return this.#options.keyShortcuts;
  }

  /** Why it can't run now; `undefined` when it can. */
  get reason(): string | undefined {
    return this.#reason.read();
  }

  /** Whether it can be run now. Reading it is followed. */
  get allowed(): boolean {
    return this.reason === undefined;
  }

  /** Whether its buttons are there. */
  get relevant(): boolean {
    return this.#options.relevant?.() ?? true;
  }

  /** Whether it runs. Reading it is followed. */
  get busy(): boolean {
    return this.#busy.read();
  }

  /** The progress that it has reported; `undefined` when it does not run. */
  get progress(): Progress | undefined {
    return this.#progress.read();
  }

  /** Runs it as if its button was pressed: a refused one says its reason, one that runs already goes on. */
  run(options: RunOptions = {}): Promise<RunResult> {
    requireOptions("run", options, { control: "any", confirmed: "boolean" });
    const { control, confirmed: sure = false } = options;
    if (this.#running !== undefined) return this.#running;
    const { reason } = this;
    if (reason !== undefined) {
      notices.say(reason, "error");
      return Promise.resolve({ ok: false, said: reason });
    }
    this.#running = this.#start(control, sure).finally(() => {
      this.#running = undefined;
      this.#abort = undefined;
      this.#progress.write(undefined);
      this.#busy.write(false);
    });
    return this.#running;
  }

  async #start(control: unknown, sure: boolean): Promise<RunResult> {
    notices.clear();
    this.#abort = platform.newController();
    const { signal } = this.#abort;
    const question = sure ? undefined : now(this.#options.confirm);
    try {
      if (question !== undefined && !(await confirmed(question, { control, signal, yes: this.title })))
        return { ok: false, said: "" };
      // What it changes at once can be undone as one, under its name.
      const answer = because({ cause: "command", control }, () =>
        inOneUnit(
          () => this.title ?? "",
          () => this.#options.run({ control, signal, progress: (done, text) => this.#tell(signal, done, text) }),
        ),
      );
      if (typeof answer === "object") this.#busy.write(true);
      const said = (await answer) ?? "";
      notices.say(said);
      return { ok: true, said };
    } catch (reason) {
      const said = whyItFailed(reason, signal);
      notices.say(said, "error");
      return { ok: false, said };
    }
  }

  /** A run that is over, or that nobody waits for any more, has nothing to tell. */
  #tell(signal: AbortSignalLike, done: number | undefined, text = ""): void {
    if (this.#abort?.signal !== signal || signal.aborted) return;
    this.#progress.write({ done: done === undefined ? undefined : Math.min(1, Math.max(0, done)), text });
  }

  /** Cancels the run that is under way, by its signal. */
  stop(): void {
    this.#abort?.abort();
  }
}

/** What was cancelled by the person is no failure, and they know it: the platform's own words for it are not said. */
function whyItFailed(reason: unknown, signal: AbortSignalLike): string {
  if (!(reason instanceof Error)) return String(reason);
  return signal.aborted && reason.name === "AbortError" ? "" : reason.message;
}

const now = <T extends string | undefined>(given: T | (() => T)): T => (typeof given === "function" ? given() : given);
