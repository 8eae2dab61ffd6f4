import { Calculation, follow, Value } from "../src/engine/index.ts";
import type { Comparison, Side } from "./harness.ts";

const TIMES = 1_000_000;

function ironwood(): Side {
  const girth = new Value(0);
  const diameter = new Calculation(() => girth.read() * 2);
  let seen = 0;
  const following = follow(
    () => diameter.read(),
    (value) => {
      seen = value;
    },
  );
  let from = 0;
  return {
    run() {
      for (let i = 1; i <= TIMES; i++) girth.write(from + i);
      from += TIMES;
    },
    result: () => seen,
    end: () => following.stop(),
  };
}

/**
 * One listener on the platform's own event target. As with Ironwood and with the closures, equal values are skipped, and
 * the observer is told the new value and the one before, which on this platform is an event with a `detail`.
 */
function eventTarget(): Side {
  const target = new EventTarget();
  let girth = 0;
  let diameter = 0;
  let seen = 0;
  const setGirth = (next: number): void => {
    if (next === girth) return;
    girth = next;
    const before = diameter;
    diameter = girth * 2;
    if (diameter !== before) target.dispatchEvent(new CustomEvent("change", { detail: { value: diameter, before } }));
  };
  target.addEventListener("change", (event) => {
    seen = (event as CustomEvent<{ value: number; before: number }>).detail.value;
  });
  let from = 0;
  return {
    run() {
      for (let i = 1; i <= TIMES; i++) setGirth(from + i);
      from += TIMES;
    },
    result: () => seen,
  };
}

/** What a builder writes who wants no library: a setter that skips equal values, works out, and calls its listeners. */
function closures(): Side {
  const listeners = new Set<(value: number, before: number) => void>();
  let girth = 0;
  let diameter = 0;
  const setGirth = (next: number): void => {
    if (next === girth) return;
    girth = next;
    const before = diameter;
    diameter = girth * 2;
    if (diameter !== before) for (const listener of listeners) listener(diameter, before);
  };
  let seen = 0;
  listeners.add((value) => {
    seen = value;
  });
  let from = 0;
  return {
    run() {
      for (let i = 1; i <= TIMES; i++) setGirth(from + i);
      from += TIMES;
    },
    result: () => seen,
  };
}

const work = "set a value that one calculation reads and one observer follows, 1,000,000 times";

export const p1: Comparison[] = [
  { id: "P1a", work: `${work}; by hand: EventTarget`, byHand: eventTarget, ironwood, budget: 0.5 },
  { id: "P1b", work: `${work}; by hand: closures`, byHand: closures, ironwood, budget: 8 },
];
