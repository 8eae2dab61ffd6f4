import { attachControl, type Attached, type Control, type ControlState } from "../control/index.ts";
import type { Field } from "../entry/index.ts";

/** What a terminal has to be able to do. `ask` gives a line, or `undefined` when there will be no more. */
export interface Terminal {
  write(line: string): void;
  ask(prompt: string): Promise<string | undefined>;
}

/** What a person types to take a value away; an empty line keeps it. */
const AWAY = "-";

/** A field asked for in a terminal, line by line. */
export class TerminalControl implements Control {
  #state: ControlState | undefined;
  readonly #attached: Attached;
  readonly #terminal: Terminal;

  constructor(field: Field, terminal: Terminal) {
    this.#terminal = terminal;
    this.#attached = attachControl(field, this);
  }

  get state(): ControlState {
    return this.#state!;
  }

  show(state: ControlState): void {
    this.#state = state;
  }

  /**
   * Asks until the answer can be taken: an empty line keeps what is there, `-` takes it away, the number of a choice
   * chooses it, and anything else is read as in a text field.
   *
   * @returns false when there will be no more lines
   */
  async ask(): Promise<boolean> {
    this.#tellChoices();
    for (;;) {
      const line = await this.#terminal.ask(this.#prompt());
      if (line === undefined) return false;
      this.take(line);
      this.leave();
      const { problems } = this.state;
      for (const problem of problems) this.#terminal.write(`  ! ${problem.message}`);
      // An empty line leaves a wrong field as it is: nothing is lost, and the save will tell.
      if (problems.length === 0 || line === "") return true;
    }
  }

  /** Takes one line. */
  take(line: string): void {
    if (line === "") return;
    if (line === AWAY) return this.#attached.choose(undefined);
    const chosen = this.#chosen(line);
    if (chosen === undefined) this.#attached.enter(line);
    else this.#attached.choose(chosen.value);
  }

  /** The line was ended. */
  leave(): void {
    this.#attached.leave();
  }

  /** What numbers choose; of a list, several with blanks or commas between. */
  #chosen(line: string): { readonly value: unknown } | undefined {
    const { choices, value } = this.state;
    if (choices === undefined || !/^\d+([\s,]+\d+)*$/.test(line)) return undefined;
    const values = line.split(/[\s,]+/).map((number) => choices[Number(number) - 1]?.const);
    if (values.includes(undefined)) return undefined;
    if (Array.isArray(value)) return { value: values };
    return values.length === 1 ? { value: values[0] } : undefined;
  }

  #tellChoices(): void {
    this.state.choices?.forEach(({ title }, place) => this.#terminal.write(`  ${place + 1}  ${title}`));
  }

  #prompt(): string {
    const { title, required, display, description } = this.state;
    const hint = description === undefined ? "" : ` (${description})`;
    return `${title}${required ? " *" : ""}${hint}${display === "" ? "" : ` [${display}]`}: `;
  }

  stop(): void {
    this.#attached.stop();
  }
}
