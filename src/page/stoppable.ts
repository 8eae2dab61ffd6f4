import { dispose } from "../engine/index.ts";
import type { Stoppable } from "../engine/index.ts";

/** What is stopped by a function. */
export const stoppable = (stop: () => void): Stoppable => ({ stop, [dispose]: stop });
