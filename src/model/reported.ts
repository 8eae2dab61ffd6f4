import { IronwoodError } from "../errors/index.ts";
import { platform } from "../engine/index.ts";

const reported = new WeakSet<object>();

/** Tells the builder that a function of the model failed: once for each function, however often it fails. */
export function reportOnce(work: object, code: "ruleFailed" | "calculationFailed" | "wrongVerdict", what: string, cause: unknown): void {
  if (reported.has(work)) return;
  reported.add(work);
  platform.report(new IronwoodError(code, what, code === "wrongVerdict" ? { received: cause, expected: "true, false or a message" } : { cause }));
}
