import { Calculation, follow, transaction, Value } from "../src/engine/index.ts";
import type { Comparison, Side } from "./harness.ts";

const WRITES = 10_000;
const TIMES = 100;

function ironwood(): Side {
  const values = Array.from({ length: WRITES }, (_, i) => new Value(i));
  const total = new Calculation(() => {
    let sum = 0;
    for (const value of values) sum += value.read();
    return sum;
  });
  let seen = 0;
  const following = follow(
    () => total.read(),
    (sum) => {
      seen = sum;
    },
  );
  return {
    run() {
      for (let i = 0; i < TIMES; i++)
        transaction(() => {
          for (const value of values) value.write(value.peek() + 1);
        });
    },
    result: () => seen,
    end: () => following.stop(),
  };
}

/** Keeps what was there, to put it back if something throws; marks what has changed; sums once. */
function byHand(): Side {
  const values = Array.from({ length: WRITES }, (_, i) => ({ value: i, changed: false }));
  let seen = 0;
  const all = (work: (set: (i: number, next: number) => void) => void): void => {
    const places: number[] = [];
    const befores: number[] = [];
    try {
      work((i, next) => {
        const entry = values[i]!;
        if (entry.value === next) return;
        places.push(i);
        befores.push(entry.value);
        entry.value = next;
        entry.changed = true;
      });
    } catch (error) {
      while (places.length > 0) values[places.pop()!]!.value = befores.pop()!;
      throw error;
    }
    let sum = 0;
    for (const entry of values) {
      sum += entry.value;
      entry.changed = false;
    }
    seen = sum;
  };
  return {
    run() {
      for (let i = 0; i < TIMES; i++)
        all((set) => {
          for (let k = 0; k < WRITES; k++) set(k, values[k]!.value + 1);
        });
    },
    result: () => seen,
  };
}

export const p3: Comparison[] = [
  {
    id: "P3",
    work: "transaction of 10,000 writes under one calculated total, 100 times; by hand: loop that can restore, one sum",
    byHand,
    ironwood,
    budget: 4,
  },
];
