import {
  CUT_AT,
  CUT_SHORT,
  cutShortAt,
  DEEPEST,
  deeper,
  type DeepNode,
  depth,
  finishCutShort,
  refreshFlat,
  tooDeep,
} from "./deep.ts";
import {
  begin,
  changeCount,
  CLEAN,
  dropUnused,
  hasUnused,
  NEW,
  PENDING,
  RUNNING,
  setTracker,
  type Source,
  Target,
  track,
  tracker,
} from "./graph.ts";
import { type NodeIdentity, nodeName } from "./NodeIdentity.ts";
import { RingError } from "./RingError.ts";

interface Failure {
  readonly error: unknown;
}

/** A value worked out from others. It is evaluated when it is read, at most once per change, and never in vain. */
export class Calculation<T> extends Target implements DeepNode {
  private current: T | undefined = undefined;
  private failure: Failure | undefined = undefined;
  /** The state of the whole engine at which this was last found right; used while nobody follows it. */
  private checkedAt = 0;

  /**
   * @param work - must have no side effects: it may be run again, or not at all
   * @param identity - what it is, for explanations; a text is the name of a calculation
   * @param same - when two results are the same, so that nothing downstream has to run; without it, identity
   */
  constructor(
    private readonly work: () => T,
    private readonly given: NodeIdentity | string = "",
    private readonly same?: (a: T, b: T) => boolean,
  ) {
    super();
  }

  /** What it is and what it belongs to. */
  get identity(): NodeIdentity {
    return typeof this.given === "string" ? { sort: "calculation", of: this.given } : this.given;
  }

  get name(): string {
    return nodeName(this.identity);
  }

  /** The value as of now. @throws what its function threw, and `ring` when it reads itself by way of others. */
  read(): T {
    if (this.state !== CLEAN || (this.firstTarget === undefined && this.checkedAt !== changeCount))
      this.bringUpToDate();
    if (tracker !== undefined) track(this, tracker);
    if (this.failure !== undefined) throw this.failure.error;
    return this.current as T;
  }

  /** Whether the evaluation that is running has read this and nothing else so far. */
  hasReadOnly(source: Source): boolean {
    return this.cursor !== undefined && this.cursor === this.firstSource && this.cursor.source === source;
  }

  /** Evaluates it if it is out of date, without noting a read and without throwing what its function throws. */
  bringUpToDate(): void {
    if (this.state > PENDING) {
      if (tracker !== undefined) track(this, tracker);
      throw new RingError(this);
    }
    if (this.refresh()) return;
    if (depth > 0) throw CUT_SHORT;
    finishCutShort(this);
  }

  isStale(): boolean {
    return this.state !== CLEAN || (this.firstTarget === undefined && this.checkedAt !== changeCount);
  }

  markClean(): void {
    this.state = CLEAN;
    this.checkedAt = changeCount;
  }

  refresh(): boolean {
    if (depth >= DEEPEST) return depth >= CUT_AT ? cutShortAt(this) : refreshFlat(this);
    if (this.state !== NEW) {
      let link = this.firstSource;
      for (; link !== undefined; link = link.nextSource) {
        const source = link.source as DeepNode;
        if (source.calculates && source.isStale()) {
          // What is on its way may be a ring, or may have been one before: evaluating this finds out.
          if (source.state >= PENDING) break;
          deeper(1);
          const done = source.refresh();
          deeper(-1);
          if (!done) return false;
        }
        if (link.seenVersion !== source.version) break;
      }
      if (link === undefined) {
        this.markClean();
        return true;
      }
    }
    return this.evaluate();
  }

  evaluate(): boolean {
    const previous = tracker;
    begin(this);
    this.state = RUNNING;
    deeper(1);
    let value: T | undefined;
    let failure: Failure | undefined;
    try {
      value = this.work();
    } catch (error) {
      failure = this.failed(error);
    }
    deeper(-1);
    setTracker(previous);
    if (tooDeep !== undefined) {
      this.state = NEW;
      return false;
    }
    if (hasUnused(this)) dropUnused(this);
    this.state = CLEAN;
    if (this.firstTarget === undefined) this.checkedAt = changeCount;
    if (failure !== undefined || this.failure !== undefined || this.version === 0 || !this.isSame(value as T)) {
      this.current = value;
      this.failure = failure;
      this.version++;
    }
    return true;
  }

  private failed(error: unknown): Failure {
    if (error instanceof RingError) error.passes(this, this.name);
    return { error };
  }

  private isSame(value: T): boolean {
    const current = this.current as T;
    if (value === current) return true;
    return this.same === undefined ? value !== value && current !== current : this.same(current, value);
  }
}

Object.assign(Calculation.prototype, { calculates: true });
