import { isNamed } from "../dom.ts";
import type { Entered, FieldState } from "../../entry/index.ts";
import { type ControlContext, makeControl, type PageControl } from "../controls/index.ts";
import type { ControlElement } from "../dom.ts";
import { makeCellSet } from "./cellSet.ts";
import type { GridRow } from "./GridRow.ts";

/** More choices than these are searched by typing. */
const FEW = 40;

/** A cell that is being edited: the control is the same as in a form, and so are its checks. */
export class CellEditor {
  readonly element: HTMLElement;
  readonly #control: PageControl | undefined;
  readonly #before: Entered;

  /** @param replace - whether what is typed takes the place of what is there */
  constructor(
    readonly row: GridRow,
    column: number,
    readonly field: FieldState,
    context: ControlContext,
    { title, messageId, replace }: { readonly title: string; readonly messageId: string; readonly replace: boolean },
  ) {
    this.#before = field.peek();
    const cell = row.cells[column]!;
    const { element, parts } = elementFor(field, cell.ownerDocument);
    this.element = element;
    this.element.setAttribute("aria-label", title);
    this.element.setAttribute("aria-errormessage", messageId);
    row.editing = column;
    cell.replaceChildren(this.element);
    cell.dataset["editing"] = "";
    this.#control = makeControl(field, parts, context);
    this.#control?.start();
    const first = parts.find(({ tabIndex }) => tabIndex >= 0) as HTMLElement;
    first.focus({ preventScroll: true });
    if ((isNamed(first, "input") && first.type !== "checkbox") || isNamed(first, "textarea")) {
      if (replace) first.value = "";
      else first.select();
    }
  }

  get isOpen(): boolean {
    return this.element.getAttribute("aria-expanded") === "true";
  }

  /** Puts a line break where the caret is; a control of one line has none. */
  breakLine(): void {
    const { element } = this;
    if (!isNamed(element, "textarea")) return;
    element.setRangeText("\n", element.selectionStart, element.selectionEnd, "end");
    element.dispatchEvent(new InputEvent("input", { bubbles: true }));
  }

  /** Ends it with what was entered, or with what was there before. */
  stop(keep: boolean): void {
    const { field, row } = this;
    if (keep) field.tidy();
    this.#control?.stop();
    if (!keep) field.giveUp(this.#before);
    // Columns may have been moved meanwhile.
    const cell = row.cells[row.editing];
    row.editing = -1;
    if (cell?.contains(this.element) === true) {
      delete cell.dataset["editing"];
      cell.replaceChildren();
    }
    if (keep) field.leave();
  }
}

/** What a field is edited with in a cell: one element, or the boxes that stand in it. */
function elementFor(
  field: FieldState,
  document: Document,
): { readonly element: HTMLElement; readonly parts: readonly ControlElement[] } {
  const { choices, kind } = field;
  if (kind.kind === "someOf" && choices !== undefined) {
    const { element, boxes } = makeCellSet(field, document);
    if (boxes.length > 0) return { element, parts: boxes };
  }
  const element = singleFor(field, document);
  return { element, parts: [element] };
}

function singleFor({ choices, kind }: FieldState, document: Document): HTMLElement {
  if (choices !== undefined && kind.kind !== "someOf" && kind.source === undefined && choices.length <= FEW)
    return document.createElement("select");
  const { format, pattern } = kind.options as { format?: string; pattern?: string };
  const isLong =
    kind.kind === "text" && format === undefined && pattern === undefined && kind.options.writeOnly !== true;
  if (isLong || kind.kind === "list") {
    // A line break in a text would be lost in an input, and a list has one item on each line.
    const area = document.createElement("textarea");
    area.rows = 1;
    return area;
  }
  const input = document.createElement("input");
  if (kind.options.writeOnly === true) input.type = "password";
  return input;
}
