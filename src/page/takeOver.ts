import { getOrMake, platform } from "../engine/index.ts";
import { IronwoodError } from "../errors/index.ts";
import { placeOf } from "./dom.ts";

/** What is bound to elements now, by what it is: what ends it. */
const holders = new WeakMap<Element, Map<string, () => void>>();

/** Whether an element is bound as something now. */
export const isBound = (what: string, element: Element): boolean => holders.get(element)?.has(what) === true;

/**
 * Has an element be bound once: what was bound to it before ends, and its builder is told. Two that save, run or show would each do so.
 *
 * @param what - as what it is bound
 * @param end - ends this binding, when another takes the element over
 * @returns what is to be called when this binding has ended
 */
export function takeOver(what: string, element: Element, end: () => void): () => void {
  const held = getOrMake(holders, element, () => new Map<string, () => void>());
  const before = held.get(what);
  if (before !== undefined) {
    before();
    const is = `${placeOf(element)} was bound already as ${what === "rows" ? "" : "a "}${what}, and that binding has ended`;
    platform.report(new IronwoodError("boundTwice", is, { expected: "stop() of the first binding before the second" }));
  }
  held.set(what, end);
  return () => {
    if (held.get(what) === end) held.delete(what);
  };
}
