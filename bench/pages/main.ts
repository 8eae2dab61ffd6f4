import { p5 } from "./p5-bind.ts";
import { p6 } from "./p6-input.ts";
import { p12 } from "./p12-grid.ts";

const ROUNDS = 25;
const WARM_UP = 5;
type Name = "byHand" | "ironwood";

const median = (times: number[]): number => times.toSorted((a, b) => a - b)[times.length >> 1]!;
const pause = (): Promise<unknown> => new Promise((resolve) => setTimeout(resolve, 0));

/** So that no side pays for what the other left behind. */
const collectYoung = (): void => (globalThis as { gc?: (options: object) => void }).gc?.({ type: "minor" });

interface Run {
  readonly took: number;
  readonly left: string;
  readonly stop: () => void;
}

/**
 * Both sides in turn, each in a form of its own, compared by what they leave. A form is released once the next of its side is done:
 * where nothing of a side is left alive, the platform throws away what it has found out about its code, and each round would
 * measure how that is compiled anew. In an application there is always a form.
 */
async function inTurn(run: (name: Name) => Run): Promise<{ byHandMs: number; ironwoodMs: number }> {
  const before: Partial<Record<Name, Run>> = {};
  const times: Record<Name, number[]> = { byHand: [], ironwood: [] };
  for (let round = -WARM_UP; round < ROUNDS; round++) {
    const left: Partial<Record<Name, string>> = {};
    for (const name of round % 2 === 0 ? (["byHand", "ironwood"] as const) : (["ironwood", "byHand"] as const)) {
      await pause();
      collectYoung();
      const result = run(name);
      before[name]?.stop();
      before[name] = result;
      left[name] = result.left;
      if (round >= 0) times[name].push(result.took);
    }
    if (left.byHand !== left.ironwood)
      throw new Error(`The two sides differ:\n${firstDifference(left.byHand!, left.ironwood!)}`);
  }
  return { byHandMs: median(times.byHand), ironwoodMs: median(times.ironwood) };
}

function firstDifference(a: string, b: string): string {
  let place = 0;
  while (a[place] === b[place]) place++;
  return `by hand …${a.slice(Math.max(0, place - 80), place + 120)}\nIronwood …${b.slice(Math.max(0, place - 80), place + 120)}`;
}

Object.assign(globalThis, {
  p12,
  p5: () =>
    inTurn((name) => {
      const form = p5.newForm();
      const start = performance.now();
      const stop = p5[name](form);
      const took = performance.now() - start;
      return { took, left: p5.state(form), stop };
    }),
  p6: () => inTurn((name) => typed(p6[name])),
  p6draft: () => inTurn((name) => typed(name === "byHand" ? p6.ironwood : p6.withDraft)),
});

function typed(bind: (form: HTMLFormElement) => () => void): Run {
  const form = p6.newForm();
  const stop = bind(form);
  const start = performance.now();
  p6.type(form);
  const took = performance.now() - start;
  return { took, left: p6.state(form), stop };
}
