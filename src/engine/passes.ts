import { IronwoodError } from "../errors/index.ts";
import { type DeepNode, finishCutShort } from "./deep.ts";
import { CLEAN, type Link, mark, setTracker, type Source, type Target } from "./graph.ts";
import { level } from "./journal.ts";
import { platform } from "./platform.ts";

/** What brought a change about. */
export interface Change {
  /**
   * `typed` by a person, set by `code`, by a `command`, taken back by `revert`, taken back or brought again by `undo`,
   * or read from where it is kept.
   */
  readonly cause: "typed" | "code" | "command" | "revert" | "undo" | "saved" | "stored";
  /** The control that a person used. */
  readonly control?: unknown;
  /** The field that was changed. */
  readonly field?: unknown;
  /** The row of a table that the field belongs to, as it is there; none where the entry is over no table. */
  readonly row?: unknown;
}

/** What a pass runs. */
export interface Waiting {
  state: number;
  readonly name: string;
  /** Looks again if something that it read has changed. */
  run(change: Change): void;
  /** Looks again in any case. */
  lookAgain(change: Change): void;
}

/** Sees the work of the engine, as an inspector does; it must neither write nor follow. */
export interface PassWatcher {
  /** A source that something follows was written. */
  wrote(source: Source, change: Change): void;
  /** A follower is about to look whether something that it read has changed. */
  runs(follower: Waiting, change: Change): void;
}

let watcher: PassWatcher | undefined;

/** Has a watcher see every write that is followed and every follower that runs; there is one at a time. @returns what ends it */
export function watchPasses(next: PassWatcher): () => void {
  watcher = next;
  return () => {
    if (watcher === next) watcher = undefined;
  };
}

/** After so many passes in a row, followers are taken to write for ever. */
const MOST_PASSES = 100;

const byCode: Change = { cause: "code" };
let current: Change = byCode;
let first: Change | undefined;
/** Two queues in turn, counted by hand: setting an array's length to 0 gives its memory back each time. */
let waiting: (Waiting | undefined)[] = [];
let spare: (Waiting | undefined)[] = [];
let count = 0;
let passing = false;

/**
 * Which change a write belongs to: everything of one outermost transaction, or one write by itself, together with all
 * that followers write because of it, has one number.
 */
let unit = 0;
let unitsOpen = 0;

/** The number of the change that a write now belongs to. A write outside transactions and passes begins one. */
export function unitNow(): number {
  if (level === 0 && !passing && unitsOpen === 0) unit++;
  return unit;
}

/** What the change that is being made is called, where it has a name. */
let unitName: (() => string) | undefined;

export const nameOfUnit = (): (() => string) | undefined => unitName;

/** Makes all writes of `work` one named change, up to its first `await`; inside another such call, part of that change. */
export function inOneUnit<T>(name: () => string, work: () => T): T {
  beginUnit();
  const outer = unitName;
  unitName ??= name;
  unitsOpen++;
  try {
    return work();
  } finally {
    unitsOpen--;
    unitName = outer;
    beginUnit();
  }
}

/** To be called where an outermost transaction begins. */
export function beginUnit(): void {
  if (unitsOpen === 0 && !passing) unit++;
}

/** Puts a follower into the pass to come. */
export function enqueue(follower: Waiting): void {
  waiting[count++] = follower;
}

/** Runs `work`; followers of what it writes get `change` as the cause. */
export function because<T>(change: Change, work: () => T): T {
  const previous = current;
  current = change;
  try {
    return work();
  } finally {
    current = previous;
  }
}

/** As {@link because}, without a function, for hot code: the caller passes the result to {@link endCause} in a `finally`. */
export function beginCause(change: Change): Change {
  const previous = current;
  current = change;
  return previous;
}

export function endCause(previous: Change): void {
  current = previous;
}

/** The cause of the running pass; outside a pass, the cause that a write would have now. */
export function changeNow(): Change {
  return passing ? (first ?? byCode) : current;
}

/**
 * To be called after each change of a source that something follows. Outside a transaction, its followers run now.
 *
 * As long as there is only one target after the other, each is evaluated on the way down: nothing else has changed, so
 * each of them is needed, and neither marks nor a walk back up are. Where the way parts, what follows is marked.
 */
export function spread(source: Source): void {
  if (watcher !== undefined) watcher.wrote(source, changeNow());
  if (level > 0 || passing) {
    mark(source);
    return changed();
  }
  let from = source;
  let link: Link = source.firstTarget!;
  while (link.nextTarget === undefined && link.target.state === CLEAN) {
    const target = link.target;
    if (target.follows) return runAlone(target as Target & Waiting);
    const before = target.version;
    if (!(target as Source as DeepNode).evaluate()) finishCutShort(target as Source as DeepNode);
    if (target.version === before || target.firstTarget === undefined) return;
    from = target;
    link = target.firstTarget;
  }
  mark(from);
  changed();
}

function runAlone(follower: Waiting): void {
  passing = true;
  // What the follower asks and writes belongs to the same cause, as in a pass of many.
  if (current !== byCode) first = current;
  try {
    if (watcher !== undefined) watcher.runs(follower, current);
    follower.lookAgain(current);
  } catch (error) {
    setTracker(undefined);
    platform.report(error);
  }
  passing = false;
  if (count > 0) return runPasses();
  if (first !== undefined) first = undefined;
  if (unitsOpen === 0) unit++;
}

function changed(): void {
  // Storing a reference costs the garbage collector's write barrier, so the usual cause is not stored.
  if (current !== byCode && first === undefined) first = current;
  if (level === 0 && !passing) runPasses();
}

/** Runs the followers that wait, and those that wait because of what these write, until all is quiet. */
export function runPasses(): void {
  if (passing) return;
  passing = true;
  const change = first ?? byCode;
  let passes = 0;
  // Nothing in a pass throws, so this needs no `finally`.
  while (count > 0 && passes++ < MOST_PASSES) onePass(change);
  passing = false;
  if (unitsOpen === 0) unit++;
  if (first !== undefined) first = undefined;
  if (count > 0) throw tooManyPasses();
}

function onePass(change: Change): void {
  if (count > 1) return manyInOnePass(change);
  const follower = waiting[0]!;
  waiting[0] = undefined;
  count = 0;
  runOne(follower, change);
}

function manyInOnePass(change: Change): void {
  const batch = waiting;
  const size = count;
  waiting = spare;
  count = 0;
  spare = batch;
  for (let i = 0; i < size; i++) {
    const follower = batch[i]!;
    batch[i] = undefined;
    runOne(follower, change);
  }
}

function runOne(follower: Waiting, change: Change): void {
  try {
    if (watcher !== undefined) watcher.runs(follower, change);
    follower.run(change);
  } catch (error) {
    setTracker(undefined);
    platform.report(error);
  }
}

function tooManyPasses(): IronwoodError {
  const endless = waiting.slice(0, count) as Waiting[];
  const names = [...new Set(endless.map((follower) => follower.name))];
  for (const follower of endless) follower.state = CLEAN;
  waiting.fill(undefined);
  count = 0;
  return new IronwoodError("tooManyPasses", `Followers were still changing values after ${MOST_PASSES} passes`, {
    expected: "followers that write only what differs",
    names,
  });
}
