/**
 * What keeps a graph of any depth off the stack of the platform. Shallow graphs are brought up to date by recursion,
 * which is fastest; beyond {@link DEEPEST} levels a graph that was evaluated before is walked with a stack of our own,
 * and a first evaluation, which must recurse as it runs the builder's functions inside each other, is cut short,
 * to go on once what lies too deep has been evaluated.
 */
import { CHECK, type Link, NEW, PENDING, type Target, WAITING } from "./graph.ts";

/** So many levels are left to recursion: well inside the stack of every platform. */
export const DEEPEST = 200;
/** So many evaluations may run inside each other on top of that. */
export const CUT_AT = 300;

/** What is thrown through a builder's functions to cut them short. */
export const CUT_SHORT = Symbol("cut short");

/** What this file asks of a calculation. */
export interface DeepNode extends Target {
  isStale(): boolean;
  /** Brings it up to date. @returns false when that was cut short */
  refresh(): boolean;
  evaluate(): boolean;
  markClean(): void;
}

/** How many evaluations and checks are running inside each other, and where they were cut short. */
export let depth = 0;
export let tooDeep: DeepNode | undefined = undefined;

export function deeper(by: 1 | -1): void {
  depth += by;
}

export function cutShortAt(node: DeepNode): false {
  tooDeep = node;
  return false;
}

/**
 * Brings up to date whatever lies too deep, then what waited for it, and at last `top`. Only to be called where nothing
 * is being evaluated.
 */
export function finishCutShort(top: DeepNode): void {
  const waiting: DeepNode[] = [top];
  while (waiting.length > 0) {
    const next = tooDeep ?? waiting.pop()!;
    if (tooDeep !== undefined) waiting.at(-1)!.state = WAITING;
    else if (next.state === WAITING) next.state = NEW;
    tooDeep = undefined;
    if (!next.refresh()) waiting.push(next);
  }
}

/**
 * The stack of the walk: the calculations whose sources are being looked into, and the link at which each was left.
 * It is counted by hand: `pop()` at the bottom of an array gives memory back that the next `push()` must get again.
 */
const nodes: (DeepNode | undefined)[] = [];
const links: (Link | undefined)[] = [];
let height = 0;

/** As {@link DeepNode.refresh}, without recursion. */
export function refreshFlat(top: DeepNode): boolean {
  const base = height;
  let node = top;
  let link = node.firstSource;
  for (;;) {
    const stale = firstStale(node, link);
    if (stale !== undefined) {
      node.state = PENDING;
      nodes[height] = node;
      links[height++] = stale;
      node = stale.source as DeepNode;
      link = node.firstSource;
      continue;
    }
    if (!mustEvaluate) node.markClean();
    else if (!node.evaluate()) {
      while (height > base) comeBack();
      return false;
    }
    if (height === base) return true;
    node = nodes[height - 1]!;
    link = comeBack();
  }
}

function comeBack(): Link | undefined {
  const node = nodes[--height]!;
  const link = links[height];
  nodes[height] = undefined;
  links[height] = undefined;
  if (node.state === PENDING) node.state = CHECK;
  return link;
}

/** The second half of what {@link firstStale} finds. */
let mustEvaluate = false;

/**
 * Judges a node by the sources it has read, from `link` on, in the order they were read, so that a source which would
 * not be read any more is not evaluated.
 *
 * @returns the link whose source must be brought up to date before this can be judged; if there is none, `mustEvaluate`
 *   says whether a source has changed
 */
function firstStale(node: DeepNode, link: Link | undefined): Link | undefined {
  mustEvaluate = false;
  if (!node.isStale()) return undefined;
  mustEvaluate = true;
  if (node.state === NEW) return undefined;
  for (; link !== undefined; link = link.nextSource) {
    const source = link.source;
    if (source.calculates && (source as DeepNode).isStale()) {
      // A source that is on its way may be a ring, or may have been one before: evaluating the node finds out.
      return (source as DeepNode).state >= PENDING ? undefined : link;
    }
    if (link.seenVersion !== source.version) return undefined;
  }
  mustEvaluate = false;
  return undefined;
}
