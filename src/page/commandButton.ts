import type { Command } from "../command/index.ts";
import { mirror, type Stoppable } from "../engine/index.ts";
import { ensureId, toggleAttribute, toggleIdIn } from "./dom.ts";
import type { Listener, Listening } from "./listening.ts";

/**
 * A button that runs a command. A refused one stays reachable, says its reason as its description, and says it in the
 * status line when it is pressed.
 */
export class CommandButton implements Listener, Stoppable {
  readonly #showing: Stoppable;
  #reason: HTMLElement | undefined;

  constructor(
    private readonly button: HTMLButtonElement,
    private readonly command: Command,
    private readonly listening: Listening,
  ) {
    // In a form, a button without a type would save.
    if (!button.hasAttribute("type")) button.type = "button";
    listening.set(button, this);
    this.#showing = mirror(() => this.#show(), command.title ?? "a command button");
  }

  #show(): void {
    const { reason, busy } = this.command;
    toggleAttribute(this.button, "aria-disabled", reason === undefined ? undefined : "true");
    toggleAttribute(this.button, "aria-busy", busy ? "true" : undefined);
    if (reason === undefined && this.#reason === undefined) return;
    this.#reason ??= this.#makeReason();
    this.#reason.textContent = reason ?? "";
    this.button.title = reason ?? "";
    toggleIdIn(this.button, "aria-describedby", this.#reason.id, reason !== undefined);
  }

  #makeReason(): HTMLElement {
    const element = this.button.ownerDocument.createElement("span");
    element.hidden = true;
    this.button.after(element);
    ensureId(element, `${ensureId(this.button, this.button.getAttribute("command")?.slice(2) ?? "command")}-reason`);
    return element;
  }

  click(): void {
    void this.command.run({ control: this.button });
  }

  stop(): void {
    this.#showing.stop();
    this.listening.delete(this.button);
    this.#reason?.remove();
    for (const name of ["aria-disabled", "aria-busy"]) this.button.removeAttribute(name);
  }

  [Symbol.dispose](): void {
    this.stop();
  }
}
