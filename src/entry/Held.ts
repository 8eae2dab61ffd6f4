import { inCalculation, type Undoable, Value } from "../engine/index.ts";
import type { AnyKind } from "../model/index.ts";
import { type Content, FOLLOWING, sameContent } from "./content.ts";
import type { EntryCore } from "./EntryCore.ts";

/** How a change is noted in the history. */
export interface HoldOptions {
  /** Whether changes of this cell that come within a second are one step, as those of typing are. */
  readonly grouped?: boolean;
  /** Whether it is part of the last step of this cell, however late it comes: what leaving makes of what was typed. */
  readonly joins?: boolean;
}

/** Something of an entry that can be taken back. */
export abstract class Held<T> extends Value<T> implements Undoable {
  constructor(
    content: T,
    same: (a: T, b: T) => boolean,
    readonly owner: EntryCore,
  ) {
    super(content, same);
  }

  abstract readonly title: string;

  isSame(a: unknown, b: unknown): boolean {
    return this.same!(a as T, b as T);
  }

  /** Writes a content so that it can be taken back. */
  hold(content: T, { grouped = false, joins = false }: HoldOptions = alone): void {
    const before = this.peek();
    if (before === content || this.isSame(before, content)) return;
    // A write where nothing may be written is refused by the value itself.
    if (!this.kept || inCalculation()) return this.replace(content);
    const { history } = this.owner;
    history.note(this, before, content, grouped || joins ? this : undefined, joins);
    this.replace(content);
    history.noted();
  }

  /** Whether it is in the history at all. */
  protected abstract readonly kept: boolean;

  holds(content: unknown): boolean {
    return this.isSame(this.peek(), content);
  }

  putBack(content: unknown): void {
    this.write(content as T);
  }
}

const alone: HoldOptions = {};

/** What a field holds. */
export class HeldContent extends Held<Content> {
  constructor(
    content: Content,
    readonly name: string,
    readonly kind: AnyKind,
    owner: EntryCore,
  ) {
    super(content, sameContent(kind), owner);
  }

  get title(): string {
    return this.owner.model.titleOf(this.name);
  }

  /** A secret is nowhere but in its field. */
  protected get kept(): boolean {
    return this.kind.options.writeOnly !== true;
  }

  /** A text that was tidied or read again in another language still is what was entered, if it has the same value. */
  override holds(content: unknown): boolean {
    const now = this.peek();
    const then = content as Content;
    if (now === then) return true;
    if (now === FOLLOWING || then === FOLLOWING) return false;
    const readable = now.unreadable === undefined && then.unreadable === undefined;
    return readable ? this.kind.same(now.value, then.value) : this.isSame(now, then);
  }
}

/** What an entry began with. */
export class HeldStart extends Held<Readonly<Record<string, unknown>>> {
  readonly title = "";
  protected readonly kept = true;
}
