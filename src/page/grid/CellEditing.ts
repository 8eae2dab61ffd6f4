import { notices } from "../../command/index.ts";
import { CalculatedFieldState, type FieldState } from "../../entry/index.ts";
import { type MessageFacts, type CheckingMessage, say, sayer } from "../../model/index.ts";
import type { TableEntryState } from "../../rows/index.ts";
import { sayGoneHere } from "../rows/commitRow.ts";
import type { ControlContext } from "../controls/index.ts";
import type { Listening } from "../listening.ts";
import { CellEditor } from "./CellEditor.ts";
import { CellMessage } from "./CellMessage.ts";
import type { Column } from "./gridColumns.ts";
import type { GridStage } from "./GridStage.ts";
import type { OpenEntries } from "./OpenEntries.ts";

/** When what is entered is in the table, and why nothing can be entered now. */
export interface EditWays {
  readonly edit: "row" | "cell" | "none";
  readonly readOnly: () => boolean | string;
}

/** Whether nothing can be entered now. */
export const isLocked = ({ edit, readOnly }: EditWays): boolean => edit === "none" || readOnly() !== false;

/** The one cell of a grid that is edited, and whether cells can be. */
export class CellEditing {
  readonly message: CellMessage;
  #editor: CellEditor | undefined;
  /** The entry of the row whose cell is edited. */
  #entry: TableEntryState | undefined;
  /** Whether the person knows that the row is not in the view any more. */
  #isTold = false;
  #working = false;
  /** The row in which a person has changed a cell since the cursor came to it. */
  #changed: number | undefined;
  readonly #stage: GridStage;
  readonly #entries: OpenEntries;
  readonly #ways: EditWays;
  readonly #listening: Listening;

  constructor(stage: GridStage, entries: OpenEntries, ways: EditWays, listening: Listening) {
    this.#stage = stage;
    this.#entries = entries;
    this.#ways = ways;
    this.#listening = listening;
    this.message = new CellMessage(stage.window);
  }

  #say(name: CheckingMessage, facts?: MessageFacts): string {
    return say(this.#stage.view.table.locale, name, facts);
  }

  /** The control that a cell has while it is edited. */
  get control(): HTMLElement | undefined {
    return this.#editor?.element;
  }

  /** The row whose cell is edited. */
  get slot(): number | undefined {
    return this.#editor?.row.slot;
  }

  /** Whether the cell that is edited is of the row of an entry. */
  isOf(entry: TableEntryState): boolean {
    return this.#entry === entry;
  }

  /** The number of the column whose cell is edited. */
  get column(): number | undefined {
    return this.#editor?.row.editing;
  }

  /** Whether the row whose cell is edited is not in the view any more. */
  get isGone(): boolean {
    return this.#editor !== undefined && this.#editor.row === this.#stage.body.gone;
  }

  /** Whether the control has its list open: the keys are its own then. */
  get isOpen(): boolean {
    return this.#editor?.isOpen === true;
  }

  /** Whether the page is being changed here: what loses the focus then is not left by the person. */
  get isWorking(): boolean {
    return this.#working;
  }

  /** Does something that moves the focus on its own account. */
  quietly(work: () => void): void {
    this.#working = true;
    try {
      work();
    } finally {
      this.#working = false;
    }
  }

  /** Why nothing can be changed now; `undefined` where it can. */
  get whyLocked(): string | undefined {
    if (!isLocked(this.#ways)) return undefined;
    const reason = this.#ways.readOnly();
    return typeof reason === "string" ? reason : this.#say("readOnly");
  }

  /** What can be done with the cells of a column. */
  sortOf({ command, kind, fixed }: Column): "edited" | "toggled" | "pressed" | "shown" {
    if (command !== undefined) return "pressed";
    if (fixed || isLocked(this.#ways)) return "shown";
    return kind!.kind === "boolean" && kind!.empty === false ? "toggled" : "edited";
  }

  /** Begins to edit a cell. @param replace - whether what is typed takes the place of what is there */
  begin(slot: number, column: number, replace: boolean): void {
    const { title, id } = this.#stage.columns[column]!;
    const field = this.#fieldToChange(slot, this.#stage.columns[column]!);
    const row = this.#stage.body.rowFor(slot);
    if (field === undefined || row === undefined) return;
    const context: ControlContext = {
      listening: this.#listening,
      inCell: true,
      prefix: `${id.replace(/\W/g, "-")}-cell`,
      say: (name, facts) => this.#say(name, facts),
      sayOf: (inEnglish, name, facts) => sayer(inEnglish)(this.#stage.view.table.locale, name, facts),
    };
    const messageId = this.message.element.id;
    this.#entry = this.#entries.over(slot);
    this.#isTold = false;
    this.quietly(() => {
      this.#editor = new CellEditor(row, column, field, context, { title, messageId, replace });
    });
  }

  /** Changes a cell that needs no control of its own. */
  change(slot: number, column: number, work: (field: FieldState) => void): void {
    const field = this.#fieldToChange(slot, this.#stage.columns[column]!);
    if (field === undefined) return;
    work(field);
    field.leave();
    this.#changed = slot;
    this.#commitCell(slot);
  }

  /** The field of a cell if a person may change it; why not is said. */
  #fieldToChange(slot: number, column: Column): FieldState | undefined {
    const { view } = this.#stage;
    // To look at a row is no reason to make it the current one; to change it is.
    view.currentKey = view.table.keyAt(slot);
    const current = view.currentKey;
    // The row before may not be left.
    if (current === undefined || view.table.slotFor(current) !== slot) return undefined;
    const field = isLocked(this.#ways) || column.fixed ? undefined : this.#entries.over(slot).core.field(column.name!);
    if (field !== undefined && !(field instanceof CalculatedFieldState) && !field.readOnly && field.relevant)
      return field;
    const own = field instanceof CalculatedFieldState ? undefined : field?.reason;
    notices.sayNow(own ?? this.whyLocked ?? this.#say("readOnly"), "error");
    return undefined;
  }

  /** Puts a line break where the person is, if the text may have some. */
  breakLine(): void {
    this.#editor?.breakLine();
  }

  /** Says once that others have taken the row that is edited out of the view. */
  sayGone(): void {
    const entry = this.#entry;
    if (entry === undefined || !this.isGone || this.#isTold) return;
    this.#isTold = true;
    sayGoneHere(entry);
  }

  /** Ends it with what was entered, or with what was there before. */
  end(keep: boolean): void {
    const editor = this.#editor;
    if (editor === undefined) return;
    const { isGone } = this;
    const entry = this.#entry!;
    this.#editor = undefined;
    this.#entry = undefined;
    const { slot } = editor.row;
    this.quietly(() => editor.stop(keep));
    editor.row.forget();
    this.message.show(undefined, "");
    // The person is not in this row any more, and can't leave it.
    if (isGone) this.#entries.close(entry);
    else if (keep) {
      this.#changed = slot;
      this.#commitCell(slot);
      // Code has made another row the current one meanwhile.
      const { view } = this.#stage;
      if (view.currentKey === undefined || view.table.slotFor(view.currentKey) !== slot) this.#entries.commit(slot);
    }
    this.#stage.measure();
    this.#stage.showAgain();
  }

  /**
   * Puts the row that was changed in cells into the table, as somebody leaves it for another one. A details form over the same row
   * may ask about what was entered there; what was entered here needs no question.
   */
  leaveRow(to: number | undefined): void {
    const slot = this.#changed;
    if (slot === undefined || slot === to) return;
    this.#changed = undefined;
    // With `edit: "row"` the row is put into the table when it is left.
    if (!this.#entries.owns(slot)) this.#entries.commit(slot, false);
  }

  #commitCell(slot: number): void {
    if (this.#ways.edit === "cell") this.#entries.commit(slot, false);
  }
}
