import type { Stoppable } from "../engine/index.ts";

/** What is stopped by a function. */
export const stoppable = (stop: () => void): Stoppable => ({ stop, [Symbol.dispose]: stop });
