import { IronwoodError, shown } from "../errors/index.ts";
import { platform } from "../engine/index.ts";
import { BLANK } from "./reader.ts";

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

/** What a function of the model gives where it has no result of its own, and how the builder is told that it threw. */
export interface Otherwise<T> {
  /** Where it ended at the first read of something missing or unreadable. */
  readonly blank: T;
  readonly broken: T;
  readonly code: "ruleFailed" | "calculationFailed";
  /** What it is, before the name: `The calculation of`. */
  readonly what: string;
}

/** Runs a function of the model over a row. What is the engine's own passes through; all else that it throws is reported. */
export function runOverRow<T>(
  work: (row: never) => T,
  reader: object,
  name: string,
  { blank, broken, code, what }: Otherwise<T>,
): T {
  try {
    return work(reader as never);
  } catch (reason) {
    if (reason === BLANK) return blank;
    if (isEngines(reason)) throw reason;
    const why = reason instanceof Error ? `: ${reason.message.replace(/[.]$/, "")}` : ` ${shown(reason)}`;
    reportOnce(work, code, `${what} "${name}" threw${why}`, reason);
    return broken;
  }
}
