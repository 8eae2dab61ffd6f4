import { showLines, toggleIdIn } from "../dom.ts";

let made = 0;

/** What is wrong with the cell that a person is at, beside it: one element for the whole grid. */
export class CellMessage {
  readonly element: HTMLElement;
  #cell: HTMLElement | undefined;
  readonly #window: HTMLElement;

  constructor(window: HTMLElement) {
    this.#window = window;
    this.element = window.ownerDocument.createElement("div");
    this.element.id = `cell-message-${++made}`;
    this.element.dataset["cellMessage"] = "";
    this.element.hidden = true;
    window.append(this.element);
  }

  /** Says something at a cell; nothing where the text is blank. */
  show(cell: HTMLElement | undefined, text: string): void {
    this.#describe(text === "" ? undefined : cell);
    showLines(this.element, text);
    this.element.dataset["problem"] = "";
    this.element.hidden = text === "" || cell === undefined;
    if (!this.element.hidden) this.placeAt(cell!);
  }

  #describe(cell: HTMLElement | undefined): void {
    if (cell === this.#cell) return;
    if (this.#cell !== undefined) toggleIdIn(this.#cell, "aria-describedby", this.element.id, false);
    if (cell !== undefined) toggleIdIn(cell, "aria-describedby", this.element.id, true);
    this.#cell = cell;
  }

  /** Under the cell, or over it where there is no room. */
  placeAt(cell: HTMLElement): void {
    if (this.element.hidden) return;
    const outer = this.#window.getBoundingClientRect();
    const box = cell.getBoundingClientRect();
    const own = this.element.getBoundingClientRect();
    const below = box.bottom + own.height <= outer.bottom;
    const top = (below ? box.bottom : box.top - own.height) - outer.top + this.#window.scrollTop;
    const left = Math.min(box.left, outer.right - own.width - 16) - outer.left + this.#window.scrollLeft;
    Object.assign(this.element.style, { insetInlineStart: "auto", top: `${top}px`, left: `${left}px` });
  }

  stop(): void {
    this.#describe(undefined);
    this.element.remove();
  }
}
