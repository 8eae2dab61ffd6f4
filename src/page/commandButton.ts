import { type Command, isPressed, isTyping } from "../command/index.ts";
import { mirror, type Stoppable, dispose } from "../engine/index.ts";
import { ensureId, setCaption, takesText, toggleAttribute } from "./dom.ts";
import { FoundElement } from "./found.ts";
import type { Listener, Listening } from "./listening.ts";
import { ShownReason } from "./reason.ts";

/**
 * A button that runs a command. A refused one stays reachable, says its reason as its description, and says it in the
 * status line when it is pressed.
 */
export class CommandButton implements Listener, Stoppable {
  readonly #showing: Stoppable;
  readonly #captioned: boolean;
  readonly #found: FoundElement;
  readonly #reason: ShownReason;
  readonly #button: HTMLButtonElement;
  readonly #command: Command;
  readonly #listening: Listening;

  constructor(button: HTMLButtonElement, command: Command, listening: Listening) {
    this.#button = button;
    this.#command = command;
    this.#listening = listening;
    this.#found = new FoundElement(button, true);
    // In a form, a button without a type would save.
    if (!button.hasAttribute("type")) button.type = "button";
    this.#captioned = command.hasCaption || (button.textContent.trim() === "" && !button.hasAttribute("aria-label"));
    this.#reason = new ShownReason([button], () => {
      const id = ensureId(button, button.getAttribute("command")?.slice(2) ?? "command");
      return `${id}-reason`;
    });
    listening.set(button, this);
    if (command.keyShortcuts !== undefined) {
      button.setAttribute("aria-keyshortcuts", command.keyShortcuts);
      listening.addKeys(this);
    }
    this.#showing = mirror(() => this.#show(), command.title ?? "a command button");
  }

  #show(): void {
    const { reason, busy, icon, title } = this.#command;
    this.#button.hidden = !this.#command.relevant;
    toggleAttribute(this.#button, "aria-disabled", reason === undefined ? undefined : "true");
    toggleAttribute(this.#button, "aria-busy", busy ? "true" : undefined);
    toggleAttribute(this.#button, "data-icon", icon);
    if (this.#captioned) setCaption(this.#button, title ?? "");
    this.#reason.show(reason);
  }

  /** A press, or Enter in a form whose default button this is. */
  click(event?: Event): void {
    // By Enter, the platform presses the first button that would submit even where it is not there for anybody.
    if (this.#button.hidden) return;
    // A button that would save runs its command instead.
    if (this.#button.type !== "button") event?.preventDefault();
    this.#run();
  }

  /** A key that was pressed anywhere. Behind a modal dialog nothing can be pressed. */
  keys(event: KeyboardEvent): void {
    if (this.#button.hidden || !isPressed(this.#command.shortcuts, event)) return;
    if (isTyping(event) && takesText(event.target)) return;
    const dialog = this.#button.ownerDocument.querySelector("dialog:modal");
    if (dialog !== null && !dialog.contains(this.#button)) return;
    event.preventDefault();
    // Once for each press, however long it is held.
    if (!event.repeat) this.#run();
  }

  /** What was typed where the focus is counts, as when it had been left. */
  #run(): void {
    this.#listening.commitFocused();
    if (!this.#command.relevant) return;
    void this.#command.run({ control: this.#button });
  }

  stop(): void {
    this.#showing.stop();
    this.#listening.delete(this.#button);
    this.#listening.deleteKeys(this);
    this.#reason.stop();
    this.#found.restore();
  }

  [dispose](): void {
    this.stop();
  }
}
