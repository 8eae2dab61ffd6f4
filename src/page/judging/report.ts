import { IronwoodError } from "../../errors/index.ts";
import { platform } from "../../engine/index.ts";
import type { Verdict } from "../../markup/index.ts";

/** Reports what does not agree, all at once; refuses to bind where that is wanted. */
export function report(verdicts: readonly Verdict[], strict: boolean | undefined): void {
  if (verdicts.length === 0) return;
  const error = new IronwoodError("page", reportText(verdicts));
  if (strict === true) throw error;
  platform.report(error);
}

function reportText(verdicts: readonly Verdict[]): string {
  const count = verdicts.length === 1 ? "one place" : `${verdicts.length} places`;
  const lines = verdicts.map(
    ({ code, message, place }, number) => `  ${number + 1}. ${place}\n     ${message} [${code}]`,
  );
  return `The page does not agree with what it is bound to in ${count}:\n${lines.join("\n")}`;
}
