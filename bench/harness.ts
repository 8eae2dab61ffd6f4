/**
 * Two ways of the same work, measured in turn in one run. Each side is handed to the engine of the platform several
 * times before it is measured, and both must leave the same result, or the figure is refused.
 */
export interface Comparison {
  readonly id: string;
  readonly work: string;
  readonly byHand: () => Side;
  readonly ironwood: () => Side;
  /** The ratio of medians, Ironwood to by hand, that is agreed. */
  readonly budget: number;
  /** How often each side is measured; for work that takes seconds less often, and never under nine times. */
  readonly rounds?: number;
}

/** One side, set up and ready: `run` does the work once, `result` gives what must be the same on both sides. */
export interface Side {
  /** What has to be there first, and is not measured. */
  before?(): void;
  run(): void;
  result(): unknown;
  end?(): void;
}

export interface Figure {
  readonly id: string;
  readonly work: string;
  readonly byHandMs: number;
  readonly ironwoodMs: number;
  readonly ratio: number;
  /** None where none is agreed. */
  readonly budget: number | undefined;
  readonly within: boolean;
}

/** A figure that is not a ratio: a time or a size that is agreed as such. */
export interface Measure {
  readonly id: string;
  readonly work: string;
  readonly value: number;
  readonly unit: string;
  readonly budget: number | undefined;
  readonly within: boolean;
}

export const ROUNDS = 15;
const WARM_UP = 3;

const median = (times: number[]): number => times.toSorted((a, b) => a - b)[times.length >> 1]!;

/** Collects garbage first, so that neither side pays for what the other, or its own set-up, has left behind. */
function time(side: Side): number {
  side.before?.();
  (globalThis as { gc?: () => void }).gc?.();
  const start = performance.now();
  side.run();
  return performance.now() - start;
}

export function compare(comparison: Comparison): Figure {
  const byHand = comparison.byHand();
  const ironwood = comparison.ironwood();
  const times: { byHand: number[]; ironwood: number[] } = { byHand: [], ironwood: [] };
  const { rounds = ROUNDS } = comparison;
  for (let round = rounds < ROUNDS ? -1 : -WARM_UP; round < rounds; round++) {
    // In turn, and each first every other time, so that neither always runs on the other's garbage.
    const order = round % 2 === 0 ? (["byHand", "ironwood"] as const) : (["ironwood", "byHand"] as const);
    for (const side of order) {
      const took = time(side === "byHand" ? byHand : ironwood);
      if (round >= 0) times[side].push(took);
    }
    const [a, b] = [JSON.stringify(byHand.result()), JSON.stringify(ironwood.result())];
    if (a !== b) throw new Error(`${comparison.id}: the two sides differ: by hand ${a}, Ironwood ${b}`);
  }
  byHand.end?.();
  ironwood.end?.();
  return figure(comparison, median(times.byHand), median(times.ironwood));
}

export function figure(
  { id, work, budget }: Pick<Comparison, "id" | "work" | "budget">,
  byHandMs: number,
  ironwoodMs: number,
): Figure {
  const ratio = ironwoodMs / byHandMs;
  return { id, work, byHandMs, ironwoodMs, ratio, budget, within: ratio <= budget };
}
