import { ensureId, toggleAttribute, toggleIdIn } from "./dom.ts";

/** Says why something can't be used, to eyes by its `title` and to screen readers as its description. */
export class ShownReason {
  #element: HTMLElement | undefined;
  #shown: string | undefined;
  readonly #elements: readonly HTMLElement[];
  readonly #wantedId: () => string;

  constructor(elements: readonly HTMLElement[], wantedId: () => string) {
    this.#elements = elements;
    this.#wantedId = wantedId;
  }

  show(reason: string | undefined): void {
    if (reason === this.#shown) return;
    this.#shown = reason;
    this.#element ??= this.#make();
    const element = this.#element;
    element.textContent = reason ?? "";
    for (const each of this.#elements) {
      toggleAttribute(each, "title", reason);
      toggleIdIn(each, "aria-describedby", element.id, reason !== undefined);
    }
  }

  #make(): HTMLElement {
    const last = this.#elements.at(-1)!;
    const element = last.ownerDocument.createElement("span");
    element.hidden = true;
    (last.closest("label") ?? last).after(element);
    ensureId(element, this.#wantedId());
    return element;
  }

  stop(): void {
    this.show(undefined);
    this.#element?.remove();
    this.#element?.removeAttribute("id");
  }
}
