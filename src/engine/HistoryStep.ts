import { nameOfUnit } from "./passes.ts";
import { platform } from "./platform.ts";

/** What can be taken back: it notes each of its changes in a history before it makes it. */
export interface Undoable {
  /** What it belongs to, as an entry: `History.forget` drops all steps of one owner. */
  readonly owner: object;
  /** What people call it; blank for what has no name of its own. */
  readonly title: string;
  /** Whether it still holds what a change made of it. */
  holds(content: unknown): boolean;
  /** Puts a content back, with no note in the history. */
  putBack(content: unknown): void;
  isSame(a: unknown, b: unknown): boolean;
}

export interface Kept {
  readonly before: unknown;
  readonly after: unknown;
}

/** What was changed at once. Most steps change one thing, which stands here by itself: each key makes one. */
export class HistoryStep {
  readonly name = nameOfUnit();
  at = platform.now();
  #cell: Undoable | undefined;
  #before: unknown;
  #after: unknown;
  /** All that was changed, where that is not one thing. */
  #more: Map<Undoable, Kept> | undefined;

  constructor(
    public unit: number,
    /** What may still be added to it, and until when: typing in one field. */
    public group: unknown,
    /** What could be done again until it was done. */
    readonly ended: HistoryStep[],
    cell: Undoable,
    before: unknown,
    after: unknown,
  ) {
    this.#cell = cell;
    this.#before = before;
    this.#after = after;
  }

  get isEmpty(): boolean {
    return this.#cell === undefined && (this.#more === undefined || this.#more.size === 0);
  }

  get changes(): readonly (readonly [cell: Undoable, kept: Kept])[] {
    if (this.#cell !== undefined) return [[this.#cell, { before: this.#before, after: this.#after }]];
    return [...(this.#more ?? [])];
  }

  get(cell: Undoable): Kept | undefined {
    return cell === this.#cell ? { before: this.#before, after: this.#after } : this.#more?.get(cell);
  }

  set(cell: Undoable, before: unknown, after: unknown): void {
    if (cell === this.#cell) {
      this.#before = before;
      this.#after = after;
      return;
    }
    this.#all().set(cell, { before, after });
  }

  delete(cell: Undoable): void {
    if (cell === this.#cell) this.#empty();
    else this.#more?.delete(cell);
  }

  #empty(): void {
    this.#cell = undefined;
    this.#before = undefined;
    this.#after = undefined;
  }

  #all(): Map<Undoable, Kept> {
    this.#more ??= new Map<Undoable, Kept>();
    if (this.#cell !== undefined) {
      this.#more.set(this.#cell, { before: this.#before, after: this.#after });
      this.#empty();
    }
    return this.#more;
  }
}
