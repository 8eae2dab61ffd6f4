import { Calculation, follow, Value } from "../src/engine/index.ts";
import type { Comparison, Side } from "./harness.ts";

/** `depth` calculations, each reading the one before; `width` of them side by side, read by one total. */
function ironwood(depth: number, width: number, times: number): Side {
  const start = new Value(0);
  const ends: { read(): number }[] = [];
  for (let i = 0; i < width; i++) {
    let last: { read(): number } = start;
    for (let k = 0; k < depth; k++) {
      const source = last;
      last = new Calculation(() => source.read() + 1);
    }
    ends.push(last);
  }
  let seen = 0;
  const following = follow(
    () => {
      let sum = 0;
      for (const end of ends) sum += end.read();
      return sum;
    },
    (sum) => {
      seen = sum;
    },
  );
  return {
    run() {
      for (let i = 0; i < times; i++) start.write(start.peek() + 1);
    },
    result: () => seen,
    end: () => following.stop(),
  };
}

/** An array of functions, run in order, with an out-of-date flag each. */
function byHand(depth: number, width: number, times: number): Side {
  let start = 0;
  const values: number[] = [];
  const outOfDate: boolean[] = [];
  const functions: (() => number)[] = [];
  for (let i = 0; i < width; i++)
    for (let k = 0; k < depth; k++) {
      const place = i * depth + k;
      functions.push(k === 0 ? () => start + 1 : () => values[place - 1]! + 1);
      values.push(0);
      outOfDate.push(false);
    }
  let seen = 0;
  const set = (next: number): void => {
    if (next === start) return;
    start = next;
    outOfDate.fill(true);
    for (let i = 0; i < functions.length; i++) {
      if (!outOfDate[i]) continue;
      values[i] = functions[i]!();
      outOfDate[i] = false;
    }
    let sum = 0;
    for (let i = 0; i < width; i++) sum += values[i * depth + depth - 1]!;
    seen = sum;
  };
  return {
    run() {
      for (let i = 0; i < times; i++) set(start + 1);
    },
    result: () => seen,
  };
}

const chain = (id: string, depth: number, width: number, times: number): Comparison => ({
  id,
  work: `${width} × chain of ${depth.toLocaleString("en")} calculations, ${times} changes; by hand: functions in order`,
  byHand: () => byHand(depth, width, times),
  ironwood: () => ironwood(depth, width, times),
  budget: 6,
});

export const p4: Comparison[] = [
  chain("P4", 1_000, 1, 200),
  chain("P4 deep", 10_000, 1, 20),
  chain("P4 deepest", 100_000, 1, 4),
  chain("P4 wide", 1, 10_000, 20),
  chain("P4 widest", 1, 100_000, 4),
];
