import type { Field } from "../entry/index.ts";
import { attachControl, type Attached, type Control, type ControlState } from "./contract.ts";

/** A control with no window: for tests, and for programs that fill entries in as a person would. */
export class HeadlessControl implements Control {
  /** What it shows: what a person would see in a text field. */
  text = "";
  /** Whether it has the focus. */
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

  /** Gives it the focus. */
  focus(): void {
    if (this.focused) return;
    this.focused = true;
    this.text = this.state.text;
  }

  /** Types a text into it, as a person does. */
  type(text: string): void {
    this.focus();
    if (this.state.readOnly) return;
    this.text = text;
    this.#attached.enter(text);
  }

  /** Chooses a value. */
  choose(value: unknown): void {
    this.#attached.choose(value);
  }

  /** Steps through numbers, or through choices. */
  step(times: number): void {
    this.#attached.step(times);
  }

  /** Ends a conflict: takes the value that was entered here, or the one from elsewhere. */
  resolve(choice: "mine" | "theirs"): void {
    this.#attached.resolve(choice);
  }

  /** Takes the focus away. */
  leave(): void {
    this.focused = false;
    this.#attached.leave();
    this.text = this.state.display;
  }

  /** Follows its field no more. */
  stop(): void {
    this.#attached.stop();
  }
}
