/// <reference lib="esnext.disposable" preserve="true" />
// What can be stopped can be disposed of, also for programs whose library does not have that yet.
import type { Calculation } from "./Calculation.ts";
import { dispose } from "./dispose.ts";
import {
  begin,
  CHECK,
  CLEAN,
  dropAll,
  dropUnused,
  hasUnused,
  setTracker,
  type Source,
  STOPPED,
  Target,
  track,
  tracker,
} from "./graph.ts";
import { type AbortSignalLike, platform } from "./platform.ts";
import { type Change, changeNow, enqueue, type Waiting } from "./passes.ts";
import { sameValue } from "./sameValue.ts";

/** Something that goes on until it is stopped. */
export interface Stoppable {
  /** Ends it; again, nothing happens. */
  stop(): void;
  [Symbol.dispose](): void;
}

/** What is called with the new value, the one before, and what brought the change about. */
export type FollowCallback<T> = (value: T, before: T, change: Change) => void;

/** What looks again, at the end of a transaction, when something that it read has changed. */
export class Follower<T> extends Target implements Stoppable, Waiting {
  private before: T | undefined = undefined;
  private unlisten: (() => void) | undefined = undefined;

  /**
   * @param look - evaluated now and later with its reads noted; must not write
   * @param react - called, with its reads not noted, when what `look` gives has changed
   */
  constructor(
    private look: () => T,
    private react: FollowCallback<T> | undefined,
    readonly name: string,
    signal?: AbortSignalLike,
    /** Whether not to look now: for what shows already what it would show; then {@link watch} says what to wait for. */
    later = false,
  ) {
    super();
    if (signal !== undefined) this.stopWith(signal);
    if (later) this.state = CLEAN;
    else if (this.state !== STOPPED) this.lookFirst();
  }

  /** Looks when one of these changes, as if it had read them; it is told so before it has looked for the first time. */
  watch(...sources: readonly Source[]): void {
    const previous = tracker;
    begin(this);
    for (const source of sources) track(source, this);
    setTracker(previous);
  }

  override queue(): void {
    enqueue(this);
  }

  /** To be called by a pass only, where nothing is being evaluated; what this throws, the pass reports. */
  run(change: Change): void {
    if (this.state !== CHECK) return;
    this.state = CLEAN;
    if (this.hasNews()) this.lookAgain(change);
  }

  lookAgain(change: Change): void {
    begin(this);
    const value = this.look();
    setTracker(undefined);
    if (hasUnused(this)) dropUnused(this);
    const { before, react } = this;
    if (value === before || react === undefined || sameValue(value, before)) return;
    this.before = value;
    react(value, before as T, change);
  }

  private lookFirst(): void {
    const previous = tracker;
    begin(this);
    try {
      this.before = this.look();
    } catch (error) {
      this.stop();
      throw error;
    } finally {
      setTracker(previous);
      if (this.state === (STOPPED as number)) dropAll(this);
      else this.state = CLEAN;
    }
  }

  private hasNews(): boolean {
    for (let link = this.firstSource; link !== undefined; link = link.nextSource) {
      const source = link.source;
      if (source.calculates && (source as Calculation<unknown>).isStale())
        (source as Calculation<unknown>).bringUpToDate();
      if (link.seenVersion !== source.version) return true;
    }
    return false;
  }

  stop(): void {
    if (this.state === STOPPED) return;
    this.state = STOPPED;
    this.look = nothing as () => T;
    this.react = undefined;
    this.before = undefined;
    this.unlisten?.();
    this.unlisten = undefined;
    if (tracker === this) setTracker(undefined);
    dropAll(this);
  }

  [dispose](): void {
    this.stop();
  }

  private stopWith(signal: AbortSignalLike): void {
    if (signal.aborted) {
      this.state = STOPPED;
      return;
    }
    const stop = (): void => this.stop();
    signal.addEventListener("abort", stop, { once: true });
    this.unlisten = () => signal.removeEventListener("abort", stop);
  }
}

Object.assign(Follower.prototype, { follows: true });

const nothing = (): void => {};

/**
 * Does `work` now, and again at the end of each transaction in which something that it read has changed. For showing:
 * it may not write values.
 */
export function mirror(work: () => void, name = "a mirror"): Stoppable {
  return new Follower<void>(work, undefined, name);
}

/** A {@link mirror} of what is shown already: it does its work when what it is told to watch changes. */
export function laterMirror(work: () => void, name: string): Follower<unknown> {
  return new Follower<unknown>(work, undefined, name, undefined, true);
}

/** A {@link mirror} that takes its time: it looks so many milliseconds after a change, once however many there were since. */
class DelayedMirror extends Follower<unknown> {
  #timer: unknown = undefined;
  #isDue = false;
  readonly #delay: number;

  constructor(work: () => void, delay: number, name: string) {
    super(work, undefined, name);
    this.#delay = delay;
  }

  override queue(): void {
    this.#timer = platform.after(this.#delay, () => this.#look());
  }

  /** What follows one value alone is asked to look without having been marked. */
  override lookAgain(change: Change): void {
    if (this.#isDue) return super.lookAgain(change);
    this.state = CHECK;
    this.queue();
  }

  #look(): void {
    this.#isDue = true;
    try {
      this.run(changeNow());
    } catch (error) {
      platform.report(error);
    } finally {
      this.#isDue = false;
    }
  }

  override stop(): void {
    platform.cancel(this.#timer);
    super.stop();
  }
}

/**
 * Does `work` now, and again so many milliseconds after something that it read has changed, once however often that was: a change
 * costs next to nothing meanwhile. For writing down what is entered; it may not write values.
 */
export const delayedMirror = (work: () => void, delay: number, name: string): Stoppable =>
  new DelayedMirror(work, delay, name);
