import { IronwoodError } from "../errors/index.ts";
import { platform } from "../engine/index.ts";

/**
 * Whether what was thrown is the engine's own and has to pass: it cuts deep evaluations short by throwing a symbol, and
 * a ring's error gathers the names of the calculations that it passes through.
 */
export const isEngines = (reason: unknown): boolean =>
  typeof reason === "symbol" || (reason instanceof IronwoodError && reason.code === "ring");

const reported = new WeakSet<object>();

/** Tells the builder that a function of the model failed: once for each function, however often it fails. */
export function reportOnce(
  work: object,
  code: "ruleFailed" | "calculationFailed" | "wrongVerdict",
  what: string,
  cause: unknown,
): void {
  if (reported.has(work)) return;
  reported.add(work);
  platform.report(
    new IronwoodError(
      code,
      what,
      code === "wrongVerdict" ? { received: cause, expected: "true, false or a message" } : { cause },
    ),
  );
}
