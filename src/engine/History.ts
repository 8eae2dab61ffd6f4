import { requireOptions } from "../errors/index.ts";
import { HistoryStep, type Kept, type Undoable } from "./HistoryStep.ts";
import { level, record, type Restorable } from "./journal.ts";
import { because, unitNow } from "./passes.ts";
import { platform } from "./platform.ts";
import { transaction } from "./transaction.ts";
import { Value } from "./Value.ts";

/** One thing that can be undone, or done again. */
export interface UndoStep {
  /** What did it, as a command; `undefined` for changes that a person made field by field. */
  readonly name: string | undefined;
  /** What people call that which it changed. */
  readonly titles: readonly string[];
}

/** What an undo came to. What has been changed elsewhere since is in `skipped`, by its title, and stays as it is. */
export type Undone =
  | {
      readonly ok: true;
      readonly step: UndoStep;
      readonly skipped: readonly string[];
      /** What was put back: for bindings, which lead the focus there. */
      readonly changed: readonly Undoable[];
    }
  | { readonly ok: false };

/** Options of `newHistory`. */
export interface HistoryOptions {
  /** How many steps are kept, or an eighth more for a while; the oldest go first. Default: 1,000. */
  readonly maxItems?: number | undefined;
}

/** Typing in one field is one step until the field is left, or until no key is pressed for this time in milliseconds. */
const PAUSE = 1000;

/**
 * What was changed, step by step, to be taken back and brought again. Each entry has one of its own unless several are
 * given the same: then a step is undone in the order in which it was done, whichever of them it was in.
 */
export class History implements Restorable {
  #done: HistoryStep[] = [];
  #undone: HistoryStep[] = [];
  #walking = false;
  readonly #maxItems: number;
  /** What shows whether there is something to undo follows this. */
  readonly #version = new Value(0);

  constructor(options: HistoryOptions = {}) {
    requireOptions("newHistory", options, { maxItems: "count" });
    this.#maxItems = options.maxItems ?? 1000;
  }

  /** What {@link undo} would take back; `undefined` when there is nothing. */
  get undoes(): UndoStep | undefined {
    this.#version.read();
    return factsOf(this.#done.at(-1));
  }

  /** What {@link redo} would bring again; `undefined` when there is nothing. */
  get redoes(): UndoStep | undefined {
    this.#version.read();
    return factsOf(this.#undone.at(-1));
  }

  /** Takes the last step back. Followers see it as one change, with the cause `undo`. */
  undo(): Undone {
    return this.#walk(this.#done, this.#undone, "before");
  }

  /** Brings the step again that was taken back last. A new change ends what can be brought again. */
  redo(): Undone {
    return this.#walk(this.#undone, this.#done, "after");
  }

  /** Nothing is added to the last step any more: its field was left. */
  close(): void {
    const last = this.#done.at(-1);
    if (last !== undefined) last.group = undefined;
  }

  /** Drops what belongs to an owner: it is another row now, or is gone. */
  forget(owner: object): void {
    const [done, undone] = [this.#done, this.#undone];
    const dropped: (readonly [step: HistoryStep, cell: Undoable, kept: Kept])[] = [];
    const isKept = (step: HistoryStep): boolean => {
      for (const [cell, kept] of step.changes)
        if (cell.owner === owner) {
          step.delete(cell);
          dropped.push([step, cell, kept]);
        }
      return !step.isEmpty;
    };
    this.#done = done.filter(isKept);
    this.#undone = undone.filter(isKept);
    if (level > 0)
      record(this, () => {
        for (const [step, cell, { before, after }] of dropped) step.set(cell, before, after);
        [this.#done, this.#undone] = [done, undone];
      });
    this.#bumpVersion();
  }

  /**
   * For what can be undone: to be called before each change.
   *
   * @param group - changes with the same group are one step as long as they come within a second
   * @param joins - whether it is part of the last step of its group however late it comes
   */
  note(cell: Undoable, before: unknown, after: unknown, group?: unknown, joins = false): void {
    if (this.#walking || this.#maxItems === 0) return;
    const unit = unitNow();
    const last = this.#done.at(-1);
    if (last !== undefined && this.#belongs(last, unit, group, joins))
      return this.#add(last, unit, cell, before, after);
    const undone = this.#undone;
    const step = new HistoryStep(unit, group, undone, cell, before, after);
    this.#done.push(step);
    this.#dropOldest();
    if (undone.length > 0) this.#undone = [];
    if (level > 0) this.#recordNew(step, undone);
  }

  /** A method of its own, since a closure slows its whole function down even when it is not created. */
  #recordNew(step: HistoryStep, undone: HistoryStep[]): void {
    record(this, () => {
      this.#take(step);
      this.#undone = undone;
    });
  }

  /** For what can be undone: to be called after a change that was noted. */
  noted(): void {
    if (!this.#walking) this.#bumpVersion();
  }

  /** Removing one step from the front copies the whole list, so the oldest are removed in batches of an eighth. */
  #dropOldest(): void {
    const beyond = this.#done.length - this.#maxItems;
    if (beyond > this.#maxItems >> 3) this.#done.splice(0, beyond);
  }

  #belongs(last: HistoryStep, unit: number, group: unknown, joins: boolean): boolean {
    if (last.unit === unit) return true;
    if (group === undefined || last.group !== group || this.#undone.length > 0) return false;
    return joins || platform.now() - last.at < PAUSE;
  }

  /** Adds a change to a step. What is again as it was is no change, and a step without changes is none. */
  #add(step: HistoryStep, unit: number, cell: Undoable, before: unknown, after: unknown): void {
    const was = step.get(cell);
    const { at, unit: unitBefore } = step;
    const first = was === undefined ? before : was.before;
    if (cell.isSame(first, after)) step.delete(cell);
    else step.set(cell, first, after);
    step.at = platform.now();
    step.unit = unit;
    const gone = step.isEmpty;
    if (gone) {
      this.#take(step);
      this.#undone = step.ended;
    }
    if (level > 0) this.#recordMore(step, cell, was, at, unitBefore, gone);
  }

  #recordMore(step: HistoryStep, cell: Undoable, was: Kept | undefined, at: number, unit: number, gone: boolean): void {
    record(this, () => {
      if (was === undefined) step.delete(cell);
      else step.set(cell, was.before, was.after);
      step.at = at;
      step.unit = unit;
      if (!gone) return;
      this.#done.push(step);
      this.#undone = [];
    });
  }

  #take(step: HistoryStep): void {
    const at = this.#done.lastIndexOf(step);
    if (at >= 0) this.#done.splice(at, 1);
  }

  #walk(from: HistoryStep[], to: HistoryStep[], side: keyof Kept): Undone {
    const step = from.at(-1);
    if (step === undefined) return { ok: false };
    const skipped: string[] = [];
    const changed: Undoable[] = [];
    const walking = this.#walking;
    this.#walking = true;
    try {
      because({ cause: "undo" }, () =>
        transaction(() => {
          record(this, () => {
            to.pop();
            from.push(step);
          });
          from.pop();
          step.group = undefined;
          to.push(step);
          for (const [cell, kept] of step.changes)
            if (cell.holds(side === "before" ? kept.after : kept.before)) {
              cell.putBack(kept[side]);
              changed.push(cell);
            } else skipped.push(cell.title);
          this.#bumpVersion();
        }),
      );
    } finally {
      this.#walking = walking;
    }
    return { ok: true, step: factsOf(step)!, skipped, changed };
  }

  #bumpVersion(): void {
    this.#version.write(this.#version.peek() + 1);
  }

  /** For the journal: each note was recorded together with the function that takes it back. */
  restore(takeBack: unknown): undefined {
    (takeBack as () => void)();
    return undefined;
  }
}

function factsOf(step: HistoryStep | undefined): UndoStep | undefined {
  if (step === undefined) return undefined;
  const titles = step.changes.map(([cell]) => cell.title).filter((title) => title !== "");
  const name = step.name?.();
  return { name: name === "" ? undefined : name, titles: [...new Set(titles)] };
}

/**
 * Begins a history that several entries share.
 *
 * @throws `wrongOption` when `maxItems` is no whole number
 * @example
 * const history = newHistory();
 * const site = newEntry(siteModel, { history });
 * const order = newEntry(orderModel, { history });
 */
export function newHistory(options: HistoryOptions = {}): History {
  return new History(options);
}
