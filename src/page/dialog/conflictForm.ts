import { putIn, rowTitle, say, sayOfKeeping, showWhole } from "../../model/index.ts";
import type { AnyTable, TableState } from "../../table/index.ts";
import { internal } from "../../engine/index.ts";
import { ensureId } from "../dom.ts";

/** A row that was changed here and elsewhere, as `kept.conflicts` has it. */
export interface PageConflict {
  readonly key: unknown;
  readonly base: unknown;
  readonly mine: unknown;
  readonly theirs: unknown;
  readonly fields: Readonly<
    Record<string, { readonly base: unknown; readonly mine: unknown; readonly theirs: unknown }>
  >;
}

/** What was chosen of a conflict. */
export type ConflictChoice = "mine" | "theirs" | Readonly<Record<string, unknown>>;

/** One line: what a field was, what it is here, and what it is elsewhere, in words. */
interface ConflictLine {
  /** Blank for the row as a whole. */
  readonly field: string;
  readonly title: string;
  readonly texts: readonly [base: string, mine: string, theirs: string];
}

function linesOf({ base, mine, theirs, fields }: PageConflict, table: TableState): readonly ConflictLine[] {
  const { model, locale } = table;
  const words = (name: Parameters<typeof sayOfKeeping>[1]): string => sayOfKeeping(locale, name);
  if (mine === undefined || theirs === undefined) {
    const stands = (row: unknown): string => words(row === undefined ? "conflictDeleted" : "conflictAsIs");
    return [
      {
        field: "",
        title: words("conflictRow"),
        texts: [base === undefined ? "" : words("conflictWas"), stands(mine), stands(theirs)],
      },
    ];
  }
  const show = (field: string, value: unknown): string =>
    showWhole(model.kindOf(field), value, locale, table.timeZone) || say(locale, "notSet");
  return Object.entries(fields).map(([field, { base: began, mine: here, theirs: there }]) => ({
    field,
    title: model.titleOf(field, locale),
    texts: [show(field, began), show(field, here), show(field, there)],
  }));
}

/** The part of a dialog in which somebody chooses about one row: a table with a line for each field, and a radio button on each side. */
export class ConflictForm {
  readonly element: HTMLFieldSetElement;
  readonly #lines: readonly ConflictLine[];
  readonly #groups: readonly (readonly HTMLInputElement[])[];
  readonly #conflict: PageConflict;

  constructor(page: Document, table: AnyTable, conflict: PageConflict) {
    const state = table[internal] as TableState;
    const model = state.model;
    this.#conflict = conflict;
    this.#lines = linesOf(conflict, state);
    this.element = page.createElement("fieldset");
    const legend = page.createElement("legend");
    legend.textContent = rowTitle(model, [conflict.key].flat());
    const grid = page.createElement("table");
    const heads = (["conflictField", "conflictBase", "conflictMine", "conflictTheirs"] as const).map((name) => {
      const head = page.createElement("th");
      head.scope = "col";
      head.textContent = sayOfKeeping(state.locale, name);
      ensureId(head, `conflict-${name}`);
      return head;
    });
    grid
      .createTHead()
      .insertRow()
      .append(...heads);
    const body = grid.createTBody();
    this.#groups = this.#lines.map((line) => this.#addLine(body.insertRow(), line, heads));
    this.element.append(legend, grid);
  }

  #addLine(
    row: HTMLTableRowElement,
    { title, texts }: ConflictLine,
    heads: readonly HTMLElement[],
  ): HTMLInputElement[] {
    const page = row.ownerDocument;
    const head = page.createElement("th");
    head.scope = "row";
    head.textContent = title;
    const group = ensureId(head, "conflict-line");
    const [before, ...sides] = texts;
    row.append(head);
    row.insertCell().textContent = before;
    return sides.map((text, side) => {
      const radio = page.createElement("input");
      radio.type = "radio";
      radio.name = group;
      radio.value = side === 0 ? "mine" : "theirs";
      const label = page.createElement("label");
      const shown = page.createElement("bdi");
      shown.textContent = text;
      label.append(radio, " ", shown);
      // The field and the side are headings for who sees the table; who hears it is told both at the button.
      radio.setAttribute("aria-labelledby", [group, heads[side + 2]!.id, ensureId(shown, "conflict-value")].join(" "));
      row.insertCell().append(label);
      return radio;
    });
  }

  /** The buttons of the lines in which nothing is chosen yet. */
  get missing(): readonly HTMLInputElement[] {
    return this.#groups.filter((group) => !group.some(({ checked }) => checked)).map(([first]) => first!);
  }

  get choice(): ConflictChoice {
    const { mine, theirs, fields } = this.#conflict;
    const sides = this.#groups.map((group) => group.find(({ checked }) => checked)!.value as "mine" | "theirs");
    if (mine === undefined || theirs === undefined) return sides[0]!;
    const chosen: Record<string, unknown> = {};
    for (const [index, { field }] of this.#lines.entries()) putIn(chosen, field, fields[field]![sides[index]!]);
    return chosen;
  }
}
