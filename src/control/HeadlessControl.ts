import type { Field } from "../entry/index.ts";
import { attachControl, type Attached, type Control, type ControlState } from "./contract.ts";

/** A control with no window: for tests, and for programs that fill entries in as a person would. */
export class HeadlessControl implements Control {
  /** What it shows: what a person would see in a text field. */
  text = "";
  focused = false;
  #state: ControlState | undefined;
  readonly #attached: Attached;

  constructor(field: Field) {
    this.#attached = attachControl(field, this);
  }

  /** What it was shown last. */
  get state(): ControlState {
    return this.#state!;
  }

  show(state: ControlState): void {
    this.#state = state;
    if (!this.focused || !state.keep) this.text = this.focused ? state.text : state.display;
  }

  focus(): void {
    if (this.focused) return;
    this.focused = true;
    this.text = this.state.text;
  }

  type(text: string): void {
    this.focus();
    if (this.state.readOnly) return;
    this.text = text;
    this.#attached.enter(text);
  }

  choose(value: unknown): void {
    this.#attached.choose(value);
  }

  step(times: number): void {
    this.#attached.step(times);
  }

  /** Ends a conflict: takes the value that was entered here, or the one from elsewhere. */
  resolve(choice: "mine" | "theirs"): void {
    this.#attached.resolve(choice);
  }

  leave(): void {
    this.focused = false;
    this.#attached.leave();
    this.text = this.state.display;
  }

  stop(): void {
    this.#attached.stop();
  }
}
