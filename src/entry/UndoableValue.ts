import { type History, inCalculation, type Undoable, Value } from "../engine/index.ts";
import type { AnyKind, AnyModel } from "../model/index.ts";
import { type Entered, FOLLOWING, sameEntered } from "./Entered.ts";

/** How a change is noted in the history. */
export interface UndoOptions {
  /** Whether changes of this value within a second are one undo step, as for typing. */
  readonly grouped?: boolean;
  /** Whether the change joins the last undo step of this value, whenever that was: for what leaving a control makes of the typed text. */
  readonly joins?: boolean;
}

/** The owner of a value whose changes can be undone. */
export interface UndoOwner {
  readonly model: AnyModel;
  readonly locale: string;
  readonly history: History;
}

/** A value of an entry whose changes can be undone. */
export abstract class UndoableValue<T> extends Value<T> implements Undoable {
  constructor(
    first: T,
    same: (a: T, b: T) => boolean,
    readonly owner: UndoOwner,
  ) {
    super(first, same);
  }

  abstract readonly title: string;

  isSame(a: unknown, b: unknown): boolean {
    return this.same!(a as T, b as T);
  }

  /** Writes so that the change can be undone. */
  change(next: T, { grouped = false, joins = false }: UndoOptions = alone): void {
    const before = this.peek();
    if (before === next || this.isSame(before, next)) return;
    // A write where nothing may be written is refused by the value itself.
    if (!this.isInHistory || inCalculation()) return this.replace(next);
    const { history } = this.owner;
    history.note(this, before, next, grouped || joins ? this : undefined, joins);
    this.replace(next);
    history.noted();
  }

  protected abstract readonly isInHistory: boolean;

  holds(content: unknown): boolean {
    return this.isSame(this.peek(), content);
  }

  putBack(content: unknown): void {
    this.write(content as T);
  }
}

const alone: UndoOptions = {};

/** What a field holds. */
export class UndoableEntered extends UndoableValue<Entered> {
  constructor(
    entered: Entered,
    readonly name: string,
    readonly kind: AnyKind,
    owner: UndoOwner,
  ) {
    super(entered, sameEntered(kind), owner);
  }

  get title(): string {
    return this.owner.model.titleOf(this.name, this.owner.locale);
  }

  /** A secret is nowhere but in its field. */
  protected get isInHistory(): boolean {
    return this.kind.options.writeOnly !== true;
  }

  /** A text that was tidied, or read again in another locale, counts as the same content if its value is the same. */
  override holds(content: unknown): boolean {
    const now = this.peek();
    const then = content as Entered;
    if (now === then) return true;
    if (now === FOLLOWING || then === FOLLOWING) return false;
    const readable = now.unreadable === undefined && then.unreadable === undefined;
    return readable ? this.kind.same(now.value, then.value) : this.isSame(now, then);
  }
}
