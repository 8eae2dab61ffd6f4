import {
  IronwoodError,
  type OptionTypes,
  requireArgument,
  requireElement,
  requireOptions,
  requireRows,
  unknownName,
} from "../../errors/index.ts";
import { type GridLayout, layoutFrom, withHidden } from "../../control/index.ts";
import type { AnyModel, FieldPathsOf, KeyOf } from "../../model/index.ts";
import { internal } from "../../engine/index.ts";
import { lockOf } from "../../rows/index.ts";
import {
  type AddableNamesOf,
  requireAddable,
  type Table,
  type View,
  viewOf,
  type ViewState,
} from "../../table/index.ts";
import { type Binding, bindingOf, type BindOptions, bindOptions, keepListed, Undoing } from "../binding.ts";
import { placeOf } from "../dom.ts";
import { Listening } from "../listening.ts";
import { offerLocale } from "../pageLocale.ts";
import { keepHeld } from "../rows/HeldRows.ts";
import { BoundGrid } from "./BoundGrid.ts";
import { columnsFrom, type GridColumn } from "./gridColumns.ts";
import type { StageOptions } from "./GridStage.ts";

/** Options of {@link bindGrid}. */
export interface GridOptions<M extends AnyModel = AnyModel> extends Omit<BindOptions, "strict"> {
  /** What is shown, in order: names of fields, or columns with their options. Default: the headings that the page has with `data-name`, else all fields. */
  readonly columns?: readonly GridColumn<M>[] | undefined;
  /** Whether cells are edited in place, and when they are in the table: when their row is left, or each at once. Default: `none`. */
  readonly edit?: "row" | "cell" | "none" | undefined;
  /** Fields whose sums are shown below the rows. */
  readonly totals?: readonly AddableNamesOf<M>[] | undefined;
  /** So many columns stay where they are when the others are scrolled sideways. Default: 0. */
  readonly sticky?: number | undefined;
  /** Whether people may only look now, or why; followed. */
  readonly readOnly?: (() => boolean | string) | undefined;
  /** What is said where there are no rows. */
  readonly empty?: string | undefined;
  /** Whether rows are being loaded, or what to say meanwhile; followed. */
  readonly loading?: (() => boolean | string) | undefined;
  /**
   * What of the row with a key is not saved yet: all of a `new` one, or what was `changed` in it, here and elsewhere (`conflict`). It is marked; followed, once for all
   * rows that are seen. What `keep()` has given says it itself.
   */
  readonly unsaved?: ((key: KeyOf<M>) => UnsavedMark) | { unsavedOf(key: KeyOf<M>): UnsavedMark } | undefined;
  /** Why rows are not there; `undefined` where all went well; followed. */
  readonly failed?: (() => string | undefined) | undefined;
  /**
   * The field that holds the order of the rows, a number, where people choose it: by Alt with arrows, or by moving a row at its
   * mark while the view is sorted by it.
   */
  readonly reorder?: FieldPathsOf<M> | undefined;
  /** A name under which this browser keeps widths, order and what is hidden. Default: they last as long as the page. */
  readonly keepLayout?: string | undefined;
}

/** A bound grid. */
export interface GridBinding<M extends AnyModel = AnyModel> extends Binding {
  /** Widths, order and what is hidden; followed. Columns of commands are called `command 1`, `command 2`. */
  layout: Partial<GridLayout>;
  /** Hides a column, or shows it again. @throws `unknownField` with the nearest name */
  hide(name: string, hide?: boolean): void;
  /** Puts the focus on a row, and on a column of it. */
  goTo(key: KeyOf<M>, name?: string): void;
}

/** What `bindGrid` may be given. */
export const gridOptions: OptionTypes = {
  ...bindOptions,
  columns: "list",
  edit: ["row", "cell", "none"],
  totals: "list",
  sticky: "count",
  readOnly: "function",
  empty: "text",
  loading: "function",
  unsaved: "unsavedOf",
  failed: "function",
  reorder: "text",
  keepLayout: "text",
};

/** How a row differs from where it is kept. */
type UnsavedMark = "new" | "changed" | "conflict" | undefined;
type UnsavedIn = StageOptions["unsaved"] | { readonly unsavedOf: StageOptions["unsaved"] } | undefined;

const unsavedIn = (given: UnsavedIn): StageOptions["unsaved"] =>
  typeof given === "object" ? (key) => given.unsavedOf(key) : (given ?? (() => undefined));

/**
 * Makes a grid of a plain `<table>`: the rows of a view, edited in place by the same controls and checks as forms, worked by
 * keys as the grid pattern of ARIA has it. It scrolls in the element that the table stands alone in, or in one that is made
 * round it; only the rows that can be seen are in the page.
 *
 * @throws `unknownField` with the nearest name; `wrongOption`, `wrongType` for a column that can't be
 * @example
 * bindGrid(document.querySelector("#stock")!, view(stock, { orderBy: "species" }), {
 *   edit: "row",
 *   columns: ["species", { name: "height", width: "8rem" }, { command: moveToOrder }],
 *   totals: ["count"],
 * });
 */
export function bindGrid<M extends AnyModel>(
  table: HTMLTableElement,
  rows: View<M> | Table<M>,
  options: GridOptions<M> = {},
): GridBinding<M> {
  requireElement("bindGrid", table, "table");
  requireArgument(table.isConnected, "bindGrid", table, "a <table> that is in the document");
  requireRows("bindGrid", rows);
  requireOptions("bindGrid", options, gridOptions);
  const where = placeOf(table);
  const shown = viewOf(rows)[internal] as ViewState;
  const { model } = shown.table;
  offerLocale(table, shown);
  const given = (options.columns ?? columnsOf(table)) as readonly GridColumn[] | undefined;
  const columns = columnsFrom(given, model, where, shown.table.locale);
  const { totals = [], sticky = 0, edit = "none", reorder } = options;
  checkReorder(reorder, model, where);
  for (const name of totals)
    if (!model.names.includes(name))
      throw unknownName("unknownField", "The field", name, model.names, `totals of ${where}`);
  requireAddable(model, totals, `totals of ${where}`);
  const listening = new Listening(table);
  const ways = {
    columns,
    edit,
    totals,
    sticky,
    reorder,
    keepLayout: options.keepLayout,
    empty: options.empty,
    loading: options.loading ?? (() => false),
    unsaved: unsavedIn(options.unsaved as UnsavedIn),
    failed: options.failed ?? (() => undefined),
    readOnly: () => options.readOnly?.() || lockOf(shown.table),
  };
  const undoing = new Undoing();
  undoing.add(() => listening.stop());
  const grid = keepListed(undoing, "grid", table, shown, () => new BoundGrid(table, shown, ways, listening));
  const { stage } = grid;
  keepHeld(undoing, table, stage.window, shown, listening);
  const ids = columns.map(({ id }) => id);
  return {
    ...bindingOf(undoing, [], options.signal),
    get layout() {
      return stage.layout.read();
    },
    set layout(layout: Partial<GridLayout>) {
      stage.setLayout(layoutFrom(ids, layout));
    },
    hide(name, hide = true) {
      if (!ids.includes(name)) throw unknownName("unknownField", "The column", name, ids, where);
      stage.setLayout(withHidden(stage.layout.peek(), name, hide));
    },
    goTo: (key, name) => grid.goTo(key, name),
  };
}

function checkReorder(name: string | undefined, model: AnyModel, where: string): void {
  if (name === undefined) return;
  const kind = model.kindOf(name)?.kind;
  if (!model.names.includes(name))
    throw unknownName("unknownField", "The field", name, model.names, `reorder of ${where}`);
  if (kind === "integer" || kind === "number") return;
  throw new IronwoodError("wrongOption", `reorder was given the field "${name}"`, {
    where,
    expected: "a field of the kind number or integer, which holds the order",
  });
}

/** The columns that the page itself names in its headings. */
function columnsOf(table: HTMLTableElement): readonly GridColumn[] | undefined {
  const headings = [...table.querySelectorAll<HTMLElement>("thead th[data-name]")];
  if (headings.length === 0) return undefined;
  return headings.map((heading) => ({
    name: heading.dataset["name"]!,
    title: heading.textContent.trim() || undefined,
  }));
}
