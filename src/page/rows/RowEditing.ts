import type { RowCommand } from "../../command/index.ts";
import { follow, mirror, type Stoppable, untracked } from "../../engine/index.ts";
import { CalculatedFieldState } from "../../entry/index.ts";
import { say, sayer } from "../../model/index.ts";
import { adopt, openEntryAt, TableEntryState } from "../../rows/index.ts";
import type { ViewState } from "../../table/index.ts";
import { Undoing } from "../binding.ts";
import { CommandButton } from "../commandButton.ts";
import { type ControlContext, groupsOf, makeControl } from "../controls/index.ts";
import { toggleAttribute } from "../dom.ts";
import type { Listening } from "../listening.ts";
import { showOutput } from "../output.ts";
import { commitLast, commitRow, sayGoneHere } from "./commitRow.ts";
import type { Copy } from "./RowTemplate.ts";

/** How the rows of a template are edited. */
export interface RowWays {
  readonly view: ViewState;
  readonly edit: "row" | "cell";
  readonly readOnly: (() => boolean | string) | undefined;
  readonly listening: Listening;
  /** The prefix of the ids of elements that are made here. */
  readonly prefix: string;
}

/** The buttons of a copy run their commands for the row that it shows. */
export function bindCommands(
  { parts }: Copy,
  row: object,
  commands: Readonly<Record<string, RowCommand>>,
  listening: Listening,
): Undoing {
  const bound = new Undoing();
  for (const { what, name, element } of parts)
    if (what === "command")
      bound.keep(new CommandButton(element as HTMLButtonElement, commands[name]!.on(row), listening));
  return bound;
}

/** A copy of a template whose controls edit its row. */
export class RowEditing {
  #entry: TableEntryState;
  #isOwn = false;
  #bound = new Undoing();
  readonly #following: Stoppable;
  readonly #copy: Copy;
  readonly #ways: RowWays;

  constructor(
    copy: Copy,
    readonly slot: number,
    ways: RowWays,
  ) {
    this.#copy = copy;
    this.#ways = ways;
    this.#entry = this.#take();
    this.#bind();
    // A details form over the same row may come and go; while it is there, what is typed in one is in the other.
    this.#following = follow(
      () => openEntryAt(ways.view.table, slot),
      (entry) => {
        if (entry === this.#entry) return;
        this.#letGo();
        this.#entry = this.#take();
        this.#bind();
      },
    );
  }

  #take(): TableEntryState {
    const { table } = this.#ways.view;
    const there = openEntryAt(table, this.slot);
    this.#isOwn = there === undefined || adopt(there);
    return there ?? new TableEntryState(table, this.slot, { readOnly: this.#ways.readOnly });
  }

  /** Nobody may lose what was entered because somebody else shows the row now, or because the rows are stopped. */
  #letGo(): void {
    this.#bound.stop();
    if (this.#isOwn) commitLast(this.#ways.view, this.#entry);
  }

  #bind(): void {
    const copy = this.#copy;
    const entry = this.#entry;
    const { view, listening } = this.#ways;
    const { locale } = view.table;
    const prefix = `${this.#ways.prefix}-${copy.number}`;
    const context: ControlContext = {
      listening,
      prefix,
      scope: `${prefix}.`,
      say: (name, facts) => say(locale, name, facts),
      sayOf: (inEnglish, name, facts) => sayer(inEnglish)(locale, name, facts),
    };
    const controls = new Map<string, HTMLElement[]>();
    for (const { what, name, element } of copy.parts) {
      if (what === "command") continue;
      const field = entry.core.field(name);
      if (what === "output" || field instanceof CalculatedFieldState) this.#bound.keep(showOutput(element, field));
      else controls.set(name, [...(controls.get(name) ?? []), element]);
    }
    for (const [name, elements] of controls) {
      const field = entry.core.field(name);
      if (field instanceof CalculatedFieldState) continue;
      for (const group of groupsOf(elements, field)) {
        const control = makeControl(field, group, context)?.start();
        if (control !== undefined) this.#bound.add(() => control.stop());
      }
    }
    this.#bound.keep(mirror(() => this.#showMarks(), "the marks of a row"));
  }

  #showMarks(): void {
    const { element } = this.#copy;
    const wrong = this.#entry.visibleProblems.some(({ severity }) => severity === "error");
    toggleAttribute(element, "data-changed", this.#entry.changed ? "" : undefined);
    toggleAttribute(element, "data-wrong", wrong ? "" : undefined);
  }

  /** The history for the undo keys: the table's, else that of the entry, whose changes are not in the table yet. */
  get undoing(): ViewState["table"] | TableEntryState {
    const { table } = this.#ways.view;
    return table.history === undefined ? this.#entry : table;
  }

  /** Whether something was entered in it that is not in the table. */
  get changed(): boolean {
    return untracked(() => this.#entry.changed);
  }

  /** Whether a person types in a control of it, and does not only press it. */
  isTypedIn(active: Element): boolean {
    const isControl = this.#copy.parts.some(({ what, element }) => what === "control" && element === active);
    return isControl && !/^(checkbox|radio|button|range)$/.test((active as HTMLInputElement).type);
  }

  /** Says that others have taken the row out of the view. */
  sayGone(): void {
    sayGoneHere(this.#entry);
  }

  /** A control was left, or the row. Of a row that others edit too, they say when it is left. */
  leave(row: boolean): void {
    if (this.#entry.changed && (row ? this.#isOwn : this.#ways.edit === "cell")) this.commit();
  }

  /** Puts what was changed into the table. */
  commit(): void {
    commitRow(this.#ways.view, this.#entry, () => {});
  }

  /** Takes back what was changed: in the control that a person is in, else in the row. @returns whether there was something */
  revert(active: Element | null): boolean {
    // A button of the row has the name of its command.
    const name = this.#copy.parts.find(({ what, element }) => what === "control" && element === active)?.name;
    const field = name === undefined ? undefined : this.#entry.core.field(name);
    const inControl = field !== undefined && !(field instanceof CalculatedFieldState) && field.changed;
    if (!inControl && !this.#entry.changed) return false;
    if (inControl) field.revert();
    else this.#entry.revert();
    return true;
  }

  stop(): void {
    this.#following.stop();
    this.#letGo();
  }
}
