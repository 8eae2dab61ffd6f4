import type { RowCommand } from "../../command/index.ts";
import type { AnyModel } from "../../model/index.ts";
import { internal } from "../../engine/index.ts";
import { type OptionTypes, requireArgument, requireElement, requireOptions, requireRows } from "../../errors/index.ts";
import { type Table, type View, viewOf, type ViewState } from "../../table/index.ts";
import { type Binding, bindingOf, type BindOptions, bindOptions, keepListed, Undoing } from "../binding.ts";
import { judged } from "../judging/judged.ts";
import { Listening } from "../listening.ts";
import { offerLocale } from "../pageLocale.ts";
import { keepHeld } from "./HeldRows.ts";
import { RowTemplate } from "./RowTemplate.ts";
import { ShownRows } from "./ShownRows.ts";

/** Options of {@link bindRows}. */
export interface RowsOptions<M extends AnyModel = AnyModel> extends BindOptions {
  /** When what was entered is in the table: once its row is left (`row`, the default), or each control at once. */
  readonly edit?: "row" | "cell" | undefined;
  /** Whether people may only look now, or why; followed. */
  readonly readOnly?: (() => boolean | string) | undefined;
  /**
   * Whether a row is made the current one by a press and by arrow keys, Home and End. For templates with no controls: a row that has
   * some is the current one once the focus is in it.
   */
  readonly choose?: boolean | undefined;
  /** What buttons in the template run, each for its own row: `command="--take-out"` runs `takeOut`. */
  readonly commands?: Readonly<Record<string, RowCommand<M>>> | undefined;
}

/** What `bindRows` may be given. */
export const rowsOptions = {
  ...bindOptions,
  edit: ["row", "cell"],
  choose: "boolean",
  commands: "object",
  readOnly: "function",
} satisfies OptionTypes;

/**
 * Shows each row of a view, or of a table, by a copy of the `<template>` in a container. In it, `data-name` and the `name` of
 * controls are fields of the row, and buttons run commands for it. A copy stays with its row, and nothing is moved that is where
 * it should be; each has radio groups and ids of its own. The controls work like those of a form; what was entered is in the
 * table once the row is left, Escape takes it back.
 *
 * For thousands of rows use `bindGrid`, which has only those in the page that can be seen.
 *
 * @throws `wrongOption` when there is no template with one element; `unknownField`, `unknownCommand` with the nearest name;
 *   `page` with `strict: true`, when template and model do not agree
 * @example bindRows(document.querySelector("#tasks")!, view(tasks, { orderBy: "place" }), { commands: { remove } });
 */
export function bindRows<M extends AnyModel>(
  container: Element,
  rows: View<M> | Table<M>,
  options: RowsOptions<M> = {},
): Binding {
  requireElement("bindRows", container);
  requireRows("bindRows", rows);
  requireOptions("bindRows", options, rowsOptions);
  const { edit = "row", readOnly, choose = false, signal } = options;
  // Their rows are of the model; that each gets a row of the view is seen to where they are run.
  const given: object = options.commands ?? {};
  const commands = given as Readonly<Record<string, RowCommand>>;
  const shown = viewOf(rows)[internal] as ViewState;
  const model: AnyModel = shown.table.model;
  offerLocale(container, shown);
  const template = new RowTemplate(container, model, Object.keys(commands));
  requireArgument(!(choose && template.edits), "bindRows", "choose: true", "a template with no controls, or no choose");
  const verdicts = template.edits ? judged(options, (judge) => judge.ofTemplate(container, template.shown, model)) : [];
  const undoing = new Undoing();
  const listening = new Listening(container);
  undoing.add(() => listening.stop());
  const ways = { edit, readOnly, choose, commands };
  keepListed(undoing, "rows", container, shown, () => new ShownRows(container, shown, template, ways, listening));
  keepHeld(undoing, container as HTMLElement, container as HTMLElement, shown, listening);
  return bindingOf(undoing, verdicts, signal);
}
