import type { FieldState } from "../../entry/index.ts";
import { choicesEnglish } from "../../model/choices/index.ts";
import type { ControlContext } from "../controls/ControlContext.ts";

/** So much of a value fits on a button; the message has the whole. */
const MOST = 40;

/**
 * Two buttons behind the message at a control, while its field was changed here and otherwise elsewhere: each says what the field will
 * be.
 */
export class ConflictChoice {
  readonly element: HTMLElement;
  readonly #mine: HTMLButtonElement;
  readonly #theirs: HTMLButtonElement;
  readonly #field: FieldState;
  readonly #context: ControlContext;

  /**
   * @param message - what explains it, which the buttons stand behind
   * @param chosen - called when a person has chosen
   */
  constructor(field: FieldState, message: HTMLElement, context: ControlContext, chosen: () => void) {
    this.#field = field;
    this.#context = context;
    const { ownerDocument } = message;
    const button = (choice: "mine" | "theirs"): HTMLButtonElement => {
      const made = ownerDocument.createElement("button");
      made.type = "button";
      made.setAttribute("aria-describedby", message.id);
      made.addEventListener("click", () => {
        field.resolve(choice);
        chosen();
      });
      return made;
    };
    this.#mine = button("mine");
    this.#theirs = button("theirs");
    this.element = ownerDocument.createElement("span");
    this.element.dataset["conflict"] = "";
    this.element.append(this.#mine, " ", this.#theirs);
    message.after(this.element);
  }

  show({ mine, theirs }: { readonly mine: unknown; readonly theirs: unknown }): void {
    this.#mine.textContent = this.#context.sayOf(choicesEnglish, "keepMine", this.#facts(mine));
    this.#theirs.textContent = this.#context.sayOf(choicesEnglish, "takeTheirs", this.#facts(theirs));
  }

  #facts(value: unknown): { readonly value?: string } {
    const { kind } = this.#field;
    if (kind.isBlank(value) || kind.options.writeOnly === true) return {};
    const shown = this.#field.wholeOf(value);
    return { value: shown.length > MOST ? `${shown.slice(0, MOST)}…` : shown };
  }

  stop(): void {
    this.element.remove();
  }
}
