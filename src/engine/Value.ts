import { IronwoodError } from "../errors/index.ts";
import { countChange, Source, track, tracker } from "./graph.ts";
import { level, record, type Restorable } from "./journal.ts";
import { spread } from "./passes.ts";

/** A value that can be read and written. Writing what is there already is nothing. */
export class Value<T> extends Source implements Restorable {
  /**
   * @param current - what it holds first
   * @param same - when two values are the same; without it, identity, with `-0` as `0` and `NaN` as itself
   */
  constructor(
    private current: T,
    protected readonly same?: (a: T, b: T) => boolean,
  ) {
    super();
  }

  read(): T {
    if (tracker !== undefined) track(this, tracker);
    return this.current;
  }

  /** What it holds, without noting that it was read. */
  peek(): T {
    return this.current;
  }

  /** @throws `writeWhileCalculating` inside a calculation or a followed expression. */
  write(next: T): void {
    const before = this.current;
    if (next === before) return;
    if (this.same === undefined ? next !== next && before !== before : this.same(before, next)) return;
    this.replace(next);
  }

  /** As {@link write}, where it is known already that it is something else. */
  protected replace(next: T): void {
    if (tracker !== undefined) throw writeWhileCalculating();
    if (level > 0) record(this, this.current);
    this.put(next);
  }

  /**
   * Replaces the value and notifies nobody, so it may be called while something is calculated. For a value that follows
   * from another one, of whose change every reader was notified already.
   */
  correct(next: T): void {
    if (level > 0) record(this, this.current);
    this.current = next;
  }

  restore(before: unknown): unknown {
    const undone = this.current;
    this.put(before as T);
    return undone;
  }

  private put(next: T): void {
    this.current = next;
    this.version++;
    countChange();
    if (this.firstTarget !== undefined) spread(this);
  }
}

function writeWhileCalculating(): IronwoodError {
  return new IronwoodError("writeWhileCalculating", "A value was written while something was being calculated", {
    expected: "a write in the reaction of follow(), in a command, or in ordinary code",
  });
}
