import { follow, Value } from "../src/engine/index.ts";
import type { Comparison, Side } from "./harness.ts";

const FOLLOWERS = 10_000;
const TIMES = 100;

function ironwood(): Side {
  const value = new Value(0);
  let sum = 0;
  const following = Array.from({ length: FOLLOWERS }, (_, i) =>
    follow(
      () => value.read(),
      (now) => {
        sum += now ^ i;
      },
    ),
  );
  return {
    run() {
      for (let i = 0; i < TIMES; i++) value.write(value.peek() + 1);
    },
    result: () => sum,
    end: () => following.forEach((follower) => follower.stop()),
  };
}

function byHand(): Side {
  let value = 0;
  let sum = 0;
  const callbacks: ((now: number, before: number) => void)[] = Array.from({ length: FOLLOWERS }, (_, i) => (now) => {
    sum += now ^ i;
  });
  const set = (next: number): void => {
    if (next === value) return;
    const before = value;
    value = next;
    for (const callback of callbacks) callback(next, before);
  };
  return {
    run() {
      for (let i = 0; i < TIMES; i++) set(value + 1);
    },
    result: () => sum,
  };
}

export const p2: Comparison[] = [
  {
    id: "P2",
    work: "one value, 10,000 followers, 100 changes; by hand: loop over callbacks",
    byHand,
    ironwood,
    budget: 6,
  },
];
