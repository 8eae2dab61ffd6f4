import { autoUpdate, computePosition, flip, offset, size } from "@floating-ui/dom";
import { StyleSheet } from "../styleSheet.ts";

/** What the list asks of its combo box. */
export interface PopupOf {
  readonly id: string;
  take(index: number): void;
  caption(index: number): string;
  isChosen(index: number): boolean;
}

const styles = new StyleSheet(`
:where([role="listbox"][data-offered]) { z-index: 10; box-sizing: border-box; color: FieldText; background: Field; border: 1px solid; }
:where([data-offered] [role="option"]) { padding: 0.25em 0.5em; white-space: nowrap; cursor: default; }
:where([data-offered] [role="option"][aria-selected="true"]) { font-weight: bold; }
:where([data-offered] [role="option"]:is([data-here], :hover)) { color: SelectedItemText; background: SelectedItem; }
:where([data-offered] [role="option"][aria-disabled]) { color: GrayText; background: none; }
`);

/** How high one choice is before one was measured, in CSS pixels. */
const HEIGHT = 32;
const MOST_HEIGHT = 320;
/** So many choices beyond what can be seen are there at each end, for scrolling. */
const MARGIN = 4;

/** The list of a combo box: of any length, since only what can be seen is in the page. */
export class ChoicePopup {
  readonly #list: HTMLElement;
  readonly #space: HTMLElement;
  readonly #options: HTMLElement[] = [];
  #stopPlacing: (() => void) | undefined;
  #length = 0;
  #active = -1;
  #note = "";
  #rowHeight = 0;
  #noteRow: HTMLElement | undefined;
  readonly #input: HTMLInputElement;
  readonly #of: PopupOf;
  readonly #dropStyles: () => void;

  constructor(input: HTMLInputElement, of: PopupOf) {
    this.#input = input;
    this.#of = of;
    const { ownerDocument } = input;
    this.#list = ownerDocument.createElement("div");
    this.#list.id = of.id;
    this.#list.role = "listbox";
    this.#list.hidden = true;
    // Some engines go by Tab to whatever scrolls.
    this.#list.tabIndex = -1;
    this.#list.dataset["offered"] = "";
    this.#list.ariaLabel = input.labels?.[0]?.textContent.trim() ?? input.ariaLabel ?? input.name;
    Object.assign(this.#list.style, {
      position: "absolute",
      insetBlockStart: "0",
      insetInlineStart: "0",
      overflow: "auto",
    });
    this.#space = ownerDocument.createElement("div");
    this.#space.role = "presentation";
    this.#space.style.position = "relative";
    this.#list.append(this.#space);
    // Beside the field, so that it is in the same dialog and the same stacking.
    (input.closest("label") ?? input).after(this.#list);
    this.#dropStyles = styles.use(input);
    // The field keeps the focus, so that typing goes on.
    this.#list.addEventListener("pointerdown", (event) => event.preventDefault());
    this.#list.addEventListener("click", (event) => {
      const option = (event.target as Element).closest<HTMLElement>("[role=option][data-place]");
      if (option !== null) of.take(Number(option.dataset["place"]));
    });
    this.#list.addEventListener("scroll", () => this.#draw(), { passive: true });
  }

  get id(): string {
    return this.#list.id;
  }

  /** Shows so many choices. @returns the id of the active one */
  show(length: number, active: number, note: string): string | undefined {
    const other = length !== this.#length;
    this.#length = length;
    this.#active = active;
    this.#note = note;
    if (this.#list.hidden) this.#open();
    this.#space.style.blockSize = `${Math.max(1, length) * this.#rowHeight}px`;
    if (other) this.#list.scrollTop = 0;
    if (active >= 0) this.#scrollTo(active);
    this.#draw();
    return active < 0 ? undefined : this.#optionId(active);
  }

  #optionId(index: number): string {
    return `${this.id}-${index}`;
  }

  #open(): void {
    this.#list.hidden = false;
    this.#list.style.maxBlockSize = `${MOST_HEIGHT}px`;
    this.#measure();
    this.#stopPlacing = autoUpdate(this.#input, this.#list, () => void this.#position());
  }

  /** All choices are as high as one, as the page's style has it. */
  #measure(): void {
    if (this.#rowHeight > 0) return;
    const option = this.#optionAt(0);
    option.textContent = "M";
    option.hidden = false;
    this.#rowHeight = Math.ceil(option.getBoundingClientRect().height) || HEIGHT;
  }

  async #position(): Promise<void> {
    const { x, y } = await computePosition(this.#input, this.#list, {
      placement: "bottom-start",
      middleware: [
        offset(4),
        flip({ padding: 8 }),
        size({
          padding: 8,
          apply: ({ rects, availableHeight, availableWidth, elements }) => {
            const widest = Math.max(rects.reference.width, this.#widest());
            elements.floating.style.inlineSize = `${Math.min(widest, availableWidth)}px`;
            elements.floating.style.maxBlockSize = `${Math.max(96, Math.min(MOST_HEIGHT, availableHeight))}px`;
          },
        }),
      ],
    });
    Object.assign(this.#list.style, { insetInlineStart: "auto", left: `${x}px`, top: `${y}px` });
  }

  /** How wide the captions are that can be seen, with the edges of the list, in CSS pixels. */
  #widest(): number {
    const edges = this.#list.offsetWidth - this.#space.clientWidth;
    const shown = this.#options.filter(({ hidden }) => !hidden);
    return Math.max(0, ...shown.map(({ scrollWidth }) => scrollWidth)) + edges;
  }

  #optionAt(row: number): HTMLElement {
    this.#options[row] ??= this.#newRow();
    return this.#options[row];
  }

  #newRow(): HTMLElement {
    const row = this.#input.ownerDocument.createElement("div");
    row.role = "option";
    row.ariaSelected = "false";
    // All rows are of one height: a long caption is cut off, and is whole in its tip.
    Object.assign(row.style, {
      position: "absolute",
      insetInline: "0",
      top: "0",
      whiteSpace: "nowrap",
      overflow: "hidden",
      textOverflow: "ellipsis",
    });
    this.#space.append(row);
    return row;
  }

  /** As little as brings a choice into view. */
  #scrollTo(index: number): void {
    const top = index * this.#rowHeight;
    const { scrollTop, clientHeight } = this.#list;
    if (top < scrollTop) this.#list.scrollTop = top;
    else if (top + this.#rowHeight > scrollTop + clientHeight)
      this.#list.scrollTop = top + this.#rowHeight - clientHeight;
  }

  /**
   * Puts what can be seen into the rows that there are. All rows are of one height, so which they are is a division: a
   * list that knows the index of each row costs a walk over 100,000 at each key.
   */
  #draw(): void {
    if (this.#list.hidden) return;
    const height = this.#rowHeight;
    const first = Math.max(0, Math.floor(this.#list.scrollTop / height) - MARGIN);
    const fit = Math.ceil((this.#list.clientHeight || MOST_HEIGHT) / height) + 2 * MARGIN;
    const count = Math.min(fit, this.#length - first);
    for (let row = 0; row < count; row++) this.#drawOption(this.#optionAt(row), first + row, (first + row) * height);
    for (let row = Math.max(0, count); row < this.#options.length; row++) this.#options[row]!.hidden = true;
    this.#drawNote();
  }

  #drawOption(option: HTMLElement, index: number, start: number): void {
    option.hidden = false;
    option.id = this.#optionId(index);
    option.dataset["place"] = String(index);
    option.style.transform = `translateY(${start}px)`;
    const caption = this.#of.caption(index);
    if (option.textContent !== caption) {
      option.textContent = caption;
      option.title = caption;
    }
    option.ariaSelected = String(this.#of.isChosen(index));
    option.ariaPosInSet = String(index + 1);
    option.ariaSetSize = String(this.#length);
    if (index === this.#active) option.dataset["here"] = "";
    else delete option.dataset["here"];
  }

  /** Why the list is empty, as an option that can't be taken: a list box may hold nothing else. */
  #drawNote(): void {
    if (this.#note === "" && this.#noteRow === undefined) return;
    this.#noteRow ??= this.#newRow();
    this.#noteRow.hidden = this.#note === "";
    this.#noteRow.textContent = this.#note;
    this.#noteRow.ariaDisabled = "true";
  }

  hide(): void {
    this.#list.hidden = true;
    this.#stopPlacing?.();
    this.#stopPlacing = undefined;
  }

  stop(): void {
    this.hide();
    this.#list.remove();
    this.#dropStyles();
  }
}
