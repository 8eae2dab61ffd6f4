/** A text beside a control that can't look empty: what it is set to, or that it is not set. */
export class StandIn {
  readonly #element: HTMLElement;

  constructor(control: HTMLElement) {
    this.#element = control.ownerDocument.createElement("span");
    // The control itself tells assistive technology.
    this.#element.ariaHidden = "true";
    control.after(this.#element);
  }

  show(text: string, notSet: boolean, relevant: boolean): void {
    this.#element.textContent = text;
    this.#element.hidden = !relevant;
    if (notSet) this.#element.dataset["notSet"] = "";
    else delete this.#element.dataset["notSet"];
  }

  stop(): void {
    this.#element.remove();
  }
}
