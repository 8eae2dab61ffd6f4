/**
 * What reads what. A *source* is read (a value, a calculation); a *target* reads (a calculation, a follower).
 * A link joins one source to one target and stays in place as long as the target keeps reading in the same order, so
 * that a change in a settled graph allocates nothing.
 *
 * A source keeps a link to its targets only while something follows them (they are *live*). A calculation that
 * nobody follows is kept by nobody, and checks its sources' versions when it is read.
 */

// Where a target stands between a change and its next evaluation.
export const CLEAN = 0;
/** Something that it read may have changed. */
export const CHECK = 1;
/** It has never been evaluated, or its last evaluation was cut short. */
export const NEW = 2;
/** Its sources are being looked into. */
export const PENDING = 3;
/** Its function is running. */
export const RUNNING = 4;
/** Its evaluation was cut short; a source that lies too deep is evaluated first. */
export const WAITING = 5;
export const STOPPED = 6;

/** One read: `target` has read `source` when the source had `seenVersion`. */
export class Link {
  seenVersion: number;
  nextSource: Link | undefined = undefined;
  previousTarget: Link | undefined = undefined;
  nextTarget: Link | undefined = undefined;
  attached = false;

  constructor(
    readonly source: Source,
    readonly target: Target,
  ) {
    this.seenVersion = source.version;
  }
}

export abstract class Source {
  /** Whether it has to be brought up to date before it is looked at. */
  declare readonly calculates: boolean;
  /** Counts the real changes. */
  version = 0;
  firstTarget: Link | undefined = undefined;
  lastTarget: Link | undefined = undefined;
  /** The number of the evaluation that read this last: tells a repeated read without a search, and keeps nothing alive. */
  readIn = 0;
}

// What is the same for all of a class stands at the class, not in each of a million values.
Object.assign(Source.prototype, { calculates: false });

export abstract class Target extends Source {
  state = NEW;
  firstSource: Link | undefined = undefined;
  /** The link used last in the evaluation that is running. */
  cursor: Link | undefined = undefined;
  /** The number of its evaluation that is running or ran last. */
  evaluation = 0;
  /** Whether it always wants to be told of changes; otherwise it does while something follows it. */
  declare readonly follows: boolean;
  /** Called once when a source may have changed; only a follower does something here. */
  queue(): void {}
}

Object.assign(Target.prototype, { follows: false });

/** What is being evaluated, and so what a read belongs to: one for all, as JavaScript runs one thing at a time. */
export let tracker: Target | undefined = undefined;

/** What a target has read, in the order in which it did: for explanations. */
export function sourcesOf(target: Target): Source[] {
  const sources: Source[] = [];
  for (let link = target.firstSource; link !== undefined; link = link.nextSource) sources.push(link.source);
  return sources;
}

/** Whether something is being calculated or looked at, so that nothing may be written. */
export const inCalculation = (): boolean => tracker !== undefined;

export function setTracker(target: Target | undefined): void {
  tracker = target;
}

/** Counts every change anywhere: a calculation that nobody follows is right while this has not moved. */
export let changeCount = 1;

export function countChange(): void {
  changeCount++;
}

let evaluations = 0;

/** Gets a target ready for an evaluation. */
export function begin(target: Target): void {
  tracker = target;
  target.cursor = undefined;
  target.evaluation = ++evaluations;
}

/** Notes that what is being evaluated has read `source`. */
export function track(source: Source, target: Target): void {
  const last = target.cursor;
  const expected = last === undefined ? target.firstSource : last.nextSource;
  if (expected !== undefined && expected.source === source) {
    expected.seenVersion = source.version;
    source.readIn = target.evaluation;
    target.cursor = expected;
    return;
  }
  trackNew(source, target, last, expected);
}

function trackNew(source: Source, target: Target, last: Link | undefined, expected: Link | undefined): void {
  if (source.readIn === target.evaluation) return;
  source.readIn = target.evaluation;
  const link = new Link(source, target);
  link.nextSource = expected;
  if (last === undefined) target.firstSource = link;
  else last.nextSource = link;
  target.cursor = link;
  if (target.follows || target.firstTarget !== undefined) attach(link);
}

/** Whether the evaluation that has just ended did not use all links of the one before. */
export function hasUnused(target: Target): boolean {
  const last = target.cursor;
  return (last === undefined ? target.firstSource : last.nextSource) !== undefined;
}

/** Drops the links that the evaluation which has just ended did not use. */
export function dropUnused(target: Target): void {
  const last = target.cursor;
  let unused = last === undefined ? target.firstSource : last.nextSource;
  if (last === undefined) target.firstSource = undefined;
  else last.nextSource = undefined;
  while (unused !== undefined) {
    const next: Link | undefined = unused.nextSource;
    if (unused.attached) detach(unused);
    unused = next;
  }
}

/** Drops all links: nothing holds the target any more, and it holds nothing. */
export function dropAll(target: Target): void {
  target.cursor = undefined;
  dropUnused(target);
}

/** Joins a link to its source; a calculation that was followed by nobody becomes live, and so on downwards. */
function attach(first: Link): void {
  const waiting: Link[] = [first];
  for (let link = waiting.pop(); link !== undefined; link = waiting.pop()) {
    if (link.attached) continue;
    const source = link.source;
    const wasLive = source.firstTarget !== undefined;
    append(source, link);
    if (!wasLive && source instanceof Target) {
      for (let inner = source.firstSource; inner !== undefined; inner = inner.nextSource) waiting.push(inner);
    }
  }
}

function append(source: Source, link: Link): void {
  link.attached = true;
  link.previousTarget = source.lastTarget;
  if (source.lastTarget === undefined) source.firstTarget = link;
  else source.lastTarget.nextTarget = link;
  source.lastTarget = link;
}

/** Takes a link from its source; a calculation that is followed by nobody any more lets go of its own sources. */
function detach(first: Link): void {
  const waiting: Link[] = [first];
  for (let link = waiting.pop(); link !== undefined; link = waiting.pop()) {
    if (!link.attached) continue;
    const source = link.source;
    remove(source, link);
    if (source.firstTarget === undefined && source instanceof Target) {
      for (let inner = source.firstSource; inner !== undefined; inner = inner.nextSource) waiting.push(inner);
    }
  }
}

function remove(source: Source, link: Link): void {
  const { previousTarget, nextTarget } = link;
  if (previousTarget === undefined) source.firstTarget = nextTarget;
  else previousTarget.nextTarget = nextTarget;
  if (nextTarget === undefined) source.lastTarget = previousTarget;
  else nextTarget.previousTarget = previousTarget;
  link.attached = false;
  link.previousTarget = undefined;
  link.nextTarget = undefined;
}

/** Counted by hand, as `pop()` at the bottom of an array gives memory back that the next `push()` must get again. */
const branches: (Link | undefined)[] = [];
let branch = 0;

/** Tells every live target of `source`, near and far, that something may have changed. Visits each link once. */
export function mark(source: Source): void {
  let link = source.firstTarget;
  for (;;) {
    while (link !== undefined) {
      const target: Target = link.target;
      const next: Link | undefined = link.nextTarget;
      if (target.state === CLEAN) {
        target.state = CHECK;
        const deeper: Link | undefined = target.firstTarget;
        if (deeper !== undefined) {
          if (next !== undefined) branches[branch++] = next;
          link = deeper;
          continue;
        }
        target.queue();
      }
      link = next;
    }
    if (branch === 0) return;
    link = branches[--branch];
    branches[branch] = undefined;
  }
}

/** Runs `read` so that what it reads is not noted as read by what is being evaluated. */
export function untracked<T>(read: () => T): T {
  const previous = tracker;
  tracker = undefined;
  try {
    return read();
  } finally {
    tracker = previous;
  }
}
