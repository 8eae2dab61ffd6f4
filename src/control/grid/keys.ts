import { keyLetter } from "../../command/index.ts";

/** A key press as a grid needs it: the key by its name (UI Events), and the modifier keys. */
export interface GridKey {
  readonly key: string;
  /** Where the key is on the keyboard. */
  readonly code?: string | undefined;
  /** Whether it is held down, and comes again and again. */
  readonly repeated?: boolean | undefined;
  readonly control: boolean;
  readonly shift: boolean;
  readonly alt: boolean;
}

/** Where a grid is, and how large: rows and columns are counted from 0, and the headings are row -1. */
export interface GridState {
  readonly row: number;
  readonly column: number;
  readonly rows: number;
  readonly columns: number;
  /** How many rows are seen at once. */
  readonly page: number;
  readonly editing: boolean;
  readonly rightToLeft: boolean;
  /** What the cell is: what can be edited, what is toggled, what is pressed, or what only shows. */
  readonly cell: "edited" | "toggled" | "pressed" | "shown";
  /** Whether people may put the rows in an order of their own. */
  readonly reorders: boolean;
  /** Whether rows are selected. */
  readonly selected: boolean;
  /** Whether the row has changes that are not in the table yet. */
  readonly rowChanged: boolean;
}

/** What a grid does about a key. */
export type GridAct =
  | { readonly what: "go"; readonly row: number; readonly column: number; readonly extend: boolean }
  /** Edits the cell; what is typed replaces what is there, or goes on from it. */
  | { readonly what: "edit"; readonly replace: boolean }
  | { readonly what: "toggle" | "press" | "clear" | "revertRow" }
  /** Ends editing with what was entered, and goes on. */
  | { readonly what: "leaveCell"; readonly then: "down" | "up" | "next" | "before" }
  | { readonly what: "revertCell" | "breakLine" }
  | { readonly what: "select"; readonly which: "this" | "only" | "all" | "none" }
  | { readonly what: "sort"; readonly more: boolean }
  | { readonly what: "widen" | "reorder" | "moveRow"; readonly by: number }
  | { readonly what: "hide" | "nothing" };

/**
 * What a grid does about a key, by the grid pattern of the ARIA Authoring Practices; `undefined` where the key is none of its
 * business. In a heading, Enter sorts (with Shift beside what it is sorted by), Shift with an arrow makes the column wider or
 * narrower, Control with an arrow moves it, and Delete hides it. Alt with an arrow moves a row, where people may.
 */
export function gridAct(key: GridKey, state: GridState): GridAct | undefined {
  // Held down, these would do and undo the same again and again.
  if (key.repeated === true && (key.key === "Enter" || key.key === "F2" || (key.key === " " && !state.editing)))
    return { what: "nothing" };
  if (state.editing) return key.alt && key.key !== "Enter" ? undefined : whileEditing(key);
  if (key.alt) return withAlt(key, state);
  return (state.row < 0 ? inHeading(key, state) : inCell(key, state)) ?? goTo(key, state);
}

function withAlt({ key, shift, control }: GridKey, { row, reorders }: GridState): GridAct | undefined {
  const by = Number(key === "ArrowDown") - Number(key === "ArrowUp");
  return by !== 0 && reorders && row >= 0 && !shift && !control ? { what: "moveRow", by } : undefined;
}

function whileEditing({ key, shift, control, alt }: GridKey): GridAct | undefined {
  switch (key) {
    case "Escape":
      return { what: "revertCell" };
    case "Tab":
      return { what: "leaveCell", then: shift ? "before" : "next" };
    case "Enter":
      if (alt) return { what: "breakLine" };
      if (control) return undefined;
      return { what: "leaveCell", then: shift ? "up" : "down" };
    default:
      return undefined;
  }
}

function inHeading({ key, shift, control }: GridKey, { rightToLeft }: GridState): GridAct | undefined {
  const towards = Number(key === "ArrowRight") - Number(key === "ArrowLeft");
  const by = rightToLeft ? -towards : towards;
  if (by !== 0 && shift && !control) return { what: "widen", by };
  if (by !== 0 && control) return { what: "reorder", by };
  switch (key) {
    case "Enter":
    case " ":
      return { what: "sort", more: shift };
    case "Delete":
      return { what: "hide" };
    default:
      return undefined;
  }
}

function inCell(pressed: GridKey, state: GridState): GridAct | undefined {
  const { key, shift, control } = pressed;
  if (control) {
    if (keyLetter(pressed) === "a") return { what: "select", which: "all" };
    return key === " " ? { what: "select", which: "this" } : undefined;
  }
  switch (key) {
    case "Enter":
    case "F2":
      return begin(state, key);
    case " ":
      if (shift) return { what: "select", which: "only" };
      return begin(state, key);
    case "Escape":
      if (state.rowChanged) return { what: "revertRow" };
      // With nothing to take back or to take out, the key is for what is round the grid, as a dialog.
      return state.selected ? { what: "select", which: "none" } : undefined;
    case "Delete":
    case "Backspace":
      return state.cell === "edited" || state.cell === "toggled" ? { what: "clear" } : undefined;
    default:
      // A sign that is typed, of any script; a dead key and an input method begin to edit as well.
      if ([...key].length === 1 || key === "Dead" || key === "Process")
        return state.cell === "edited" ? { what: "edit", replace: true } : undefined;
      return undefined;
  }
}

function begin({ cell }: GridState, key: string): GridAct | undefined {
  if (cell === "toggled") return { what: "toggle" };
  if (cell === "pressed") return { what: "press" };
  // Of a cell that only shows, why it can't be edited is said.
  return key === " " ? { what: "select", which: "this" } : { what: "edit", replace: false };
}

function goTo({ key, shift, control }: GridKey, state: GridState): GridAct | undefined {
  const { row, column, rows, columns, page, rightToLeft } = state;
  const [first, last] = [0, columns - 1];
  const [leftmost, rightmost] = rightToLeft ? [last, first] : [first, last];
  const side = (by: number): number => Math.min(last, Math.max(first, column + (rightToLeft ? -by : by)));
  const go = (to: number, in_: number): GridAct => ({
    what: "go",
    row: Math.min(rows - 1, Math.max(-1, to)),
    column: in_,
    extend: shift && row >= 0 && to >= 0,
  });
  switch (key) {
    case "ArrowDown":
      return go(control ? rows - 1 : row + 1, column);
    case "ArrowUp":
      return go(control ? Math.min(row, 0) : row - 1, column);
    case "ArrowRight":
      return go(row, control ? rightmost : side(1));
    case "ArrowLeft":
      return go(row, control ? leftmost : side(-1));
    case "Home":
      return go(control ? 0 : row, first);
    case "End":
      return go(control ? rows - 1 : row, last);
    case "PageDown":
      return go(Math.max(row, 0) + page, column);
    case "PageUp":
      return go(row <= 0 ? row : Math.max(0, row - page), column);
    default:
      return undefined;
  }
}

/**
 * The next cell that can be edited, or the one before: in the row, and then in others.
 *
 * @param edited - which columns can be
 * @returns `undefined` past the last, and before the first
 */
export function nextEdited(
  at: { readonly row: number; readonly column: number },
  by: 1 | -1,
  edited: readonly boolean[],
  rows: number,
): { readonly row: number; readonly column: number } | undefined {
  if (!edited.includes(true)) return undefined;
  let { row, column } = at;
  do {
    column += by;
    if (column < 0 || column >= edited.length) {
      row += by;
      column = by > 0 ? 0 : edited.length - 1;
    }
    if (row < 0 || row >= rows) return undefined;
  } while (edited[column] !== true);
  return { row, column };
}
